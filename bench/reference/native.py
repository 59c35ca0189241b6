"""Times the reference library itself (Debian's python3-opencv, two threads) on a clip: only read, read and build the
pyramid, and ECC with a homography. Prints JSON, milliseconds a frame. Usage: native.py CLIP X0 Y0 X1 Y1 REFERENCE FRAMES"""
import json
import sys
import time

import cv2
import numpy

clip, x0, y0, x1, y1, reference, count = sys.argv[1], *map(int, sys.argv[2:])
cv2.setNumThreads(2)


def frames():
    capture = cv2.VideoCapture(clip)
    while True:
        ok, picture = capture.read()
        if not ok:
            return
        yield cv2.cvtColor(picture, cv2.COLOR_BGR2GRAY)


started = time.perf_counter()
total = sum(1 for _ in frames())
reading = (time.perf_counter() - started) / total

started = time.perf_counter()
for picture in frames():
    cv2.buildOpticalFlowPyramid(picture, (21, 21), 4)
pyramid = (time.perf_counter() - started) / total

template, warp, ecc, done = None, numpy.eye(3, dtype=numpy.float32), 0.0, 0
warp[0, 2], warp[1, 2] = x0, y0
for number, picture in enumerate(frames()):
    if number == reference:
        template = picture[y0:y1, x0:x1].copy()
    elif number > reference and done < count:
        started = time.perf_counter()
        _, warp = cv2.findTransformECC(template, picture, warp, cv2.MOTION_HOMOGRAPHY, (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 40, 1e-5), None, 5)
        ecc += time.perf_counter() - started
        done += 1
print(json.dumps({"version": cv2.__version__, "reading": 1000 * reading, "pyramid": 1000 * pyramid, "ecc": 1000 * ecc / done}))
