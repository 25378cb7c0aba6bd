"""What bench/compose.ts compares with: native OpenCV on one thread, in float. Milliseconds as JSON. Needs Debian's python3-opencv."""
import json
import time

import cv2
import numpy as np

cv2.setNumThreads(1)
RUNS = 9


def median(work):
    work()
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        work()
        times.append((time.perf_counter() - start) * 1000)
    return sorted(times)[RUNS // 2]


def picture(width, height):
    rng = np.random.default_rng(1)
    out = rng.random((height, width, 4), dtype=np.float32)
    out[..., 3] = 1
    return out


def matte(width, height):
    out = np.zeros((height, width), np.float32)
    cv2.circle(out, (width // 2, height // 2), height // 3, 1, -1)
    return cv2.GaussianBlur(out, (0, 0), 3)


def blur_behind(plate, gray, sigma):
    """The plate cut by what is behind, blurred, its colours got back, and the subject laid over."""
    rest = cv2.merge([1 - gray] * 4)
    cut = cv2.GaussianBlur(cv2.multiply(plate, rest), (0, 0), sigma)
    alpha = cv2.merge([cv2.extractChannel(cut, 3)] * 4)
    colours = cv2.divide(cut, cv2.max(alpha, 1e-5))
    return cv2.add(cv2.multiply(plate, 1 - rest), cv2.multiply(colours, rest))


def graded(plate, gain):
    out = cv2.multiply(plate, (gain, gain, gain, 1.0))
    luma = cv2.transform(out, np.array([[0.2126, 0.7152, 0.0722, 0]], np.float32))
    return cv2.addWeighted(out, 0.7, cv2.merge([luma] * 4), 0.3, 0)


def moved(layer, across, down):
    height, width = layer.shape[:2]
    return cv2.warpAffine(layer, np.array([[1, 0, across], [0, 1, down]], np.float32), (width, height), flags=cv2.INTER_CUBIC)


def over(under, layer):
    alpha = cv2.merge([cv2.extractChannel(layer, 3)] * 4)
    return cv2.add(layer, cv2.multiply(under, 1 - alpha))


def shutter(plate, layers, instants):
    sums = np.zeros_like(plate)
    for k in range(instants):
        one = plate
        for side, layer in zip((-1, 1), layers):
            one = over(one, moved(layer, side * 1.5 * k, 0.3))
        sums = cv2.add(sums, one)
    return sums / instants


out = {}
for width, height in ((960, 540), (1920, 1080)):
    size = f"{width}x{height}"
    plate, gray = picture(width, height), matte(width, height)
    out[f"one blur behind {size}"] = median(lambda: blur_behind(plate, gray, 8 * width / 1920))
    out[f"three effects and a title {size}"] = median(lambda: over(graded(blur_behind(plate, gray, 4), 1.1), graded(plate, 0.9)))
    small = picture(640, 360)
    layers = [cv2.copyMakeBorder(small, 0, height - 360, 0, width - 640, cv2.BORDER_CONSTANT, value=(0, 0, 0, 0))] * 2
    out[f"motion blur of two layers {size}"] = median(lambda: shutter(plate, layers, 16))
print(json.dumps(out))
