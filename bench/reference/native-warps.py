"""Times warps of the reference library itself (Debian's python3-opencv, one thread): the median over rounds of all of a frame's sub-frames, milliseconds.
Usage: native-warps.py WIDTH HEIGHT ACROSS DOWN QUAD STEPS SPEED"""
import json, sys, time
import cv2
import numpy as np

width, height, across, down = (int(a) for a in sys.argv[1:5])
quad, steps, speed = np.float32(json.loads(sys.argv[5])), int(sys.argv[6]), float(sys.argv[7])
cv2.setNumThreads(1)
source = np.random.default_rng(1).integers(0, 255, (down, across, 4), np.uint8)
corners = np.float32([[0, 0], [across, 0], [across, down], [0, down]])
maps = [cv2.getPerspectiveTransform(corners, quad + np.float32([1, 0.1]) * np.float32(speed * ((k + 0.5) / steps - 0.5) / 2)) for k in range(steps)]
times = []
for _ in range(9):
    started = time.perf_counter()
    for m in maps:
        cv2.warpPerspective(source, m, (width, height), flags=cv2.INTER_LINEAR)
    times.append(1000 * (time.perf_counter() - started))
print(sorted(times)[len(times) // 2])
