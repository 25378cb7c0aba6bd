"""Times of native OpenCV on one thread, as JSON: what bench/run.ts compares with. Needs Debian's python3-opencv."""
import json
import sys
import time

import cv2
import numpy as np

cv2.setNumThreads(1)
RUNS = 15
OUTLINES = json.load(sys.stdin)


def median(work):
    for _ in range(3):
        work()
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        work()
        times.append((time.perf_counter() - start) * 1000)
    return sorted(times)[RUNS // 2]


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

    out[f"curve fill {size}"] = median(fill)
    _, hard = cv2.threshold(mask, 127, 255, cv2.THRESH_BINARY)
    out[f"distance {size}"] = median(lambda: cv2.distanceTransform(hard, cv2.DIST_L2, cv2.DIST_MASK_PRECISE))
    gray = mask.astype(np.float32) / 255
    out[f"blur sigma 12 {size}"] = median(lambda: cv2.GaussianBlur(gray, (73, 73), 12))
    out[f"PNG 8 bit {size}"] = median(lambda: cv2.imencode(".png", mask, [cv2.IMWRITE_PNG_COMPRESSION, 1]))
print(json.dumps(out))
