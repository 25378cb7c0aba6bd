"""Times of native OpenCV on one thread, as JSON: what bench/run.ts compares with. Needs Debian's python3-opencv."""
import json
import sys
import time

import cv2
import numpy as np

cv2.setNumThreads(1)
RUNS = 15
OUTLINES = json.load(sys.stdin)


def median(work, runs=RUNS):
    for _ in range(3):
        work()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append((time.perf_counter() - start) * 1000)
    return sorted(times)[runs // 2]


out = {}
for width, height in ((960, 540), (1920, 1080)):
    size = f"{width}x{height}"
    outline = np.array(OUTLINES[size], dtype=np.float64)
    shift = 8
    fixed = np.round(outline * 2**shift).astype(np.int32).reshape(-1, 1, 2)
    mask = np.zeros((height, width), np.uint8)

    def fill():
        mask[:] = 0
        cv2.fillPoly(mask, [fixed], 255, lineType=cv2.LINE_AA, shift=shift)

    out[f"curve fill, rough edges {size}"] = median(fill)
    # OpenCV's own anti-aliasing is off by up to a third of a step; eight by eight samples a pixel come near exact areas.
    fine = np.round(outline * 8 * 2**4).astype(np.int32).reshape(-1, 1, 2)

    def fill_fine():
        large = np.zeros((height * 8, width * 8), np.uint8)
        cv2.fillPoly(large, [fine], 255, lineType=cv2.LINE_8, shift=4)
        return cv2.resize(large, (width, height), interpolation=cv2.INTER_AREA)

    out[f"curve fill, equal quality {size}"] = median(fill_fine, 3)
    _, hard = cv2.threshold(mask, 127, 255, cv2.THRESH_BINARY)
    out[f"distance {size}"] = median(lambda: cv2.distanceTransform(hard, cv2.DIST_L2, cv2.DIST_MASK_PRECISE))
    gray = mask.astype(np.float32) / 255
    out[f"blur sigma 12 {size}"] = median(lambda: cv2.GaussianBlur(gray, (73, 73), 12))
    out[f"PNG 8 bit {size}"] = median(lambda: cv2.imencode(".png", mask, [cv2.IMWRITE_PNG_COMPRESSION, 1]))
print(json.dumps(out))
