"""Finds the corners of the chessboard in views of opencv-doc with the reference library, undistorted by the camera that
ships with them, and prints them as JSON (pixel centres at integers). Made core/test/chessboard-corners.json."""
import json

import cv2

DATA = "/usr/share/doc/opencv-doc/examples/data/"
storage = cv2.FileStorage(DATA + "left_intrinsics.yml", cv2.FILE_STORAGE_READ)
camera, distortion = storage.getNode("camera_matrix").mat(), storage.getNode("distortion_coefficients").mat()
views = {}
for name in ["left01.jpg", "left02.jpg", "left03.jpg", "left05.jpg", "left06.jpg", "left07.jpg", "left08.jpg", "left09.jpg"]:
    picture = cv2.imread(DATA + name, cv2.IMREAD_GRAYSCALE)
    found, corners = cv2.findChessboardCorners(picture, (9, 6))
    if not found:
        continue
    corners = cv2.cornerSubPix(picture, corners, (5, 5), (-1, -1), (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 50, 1e-4))
    views[name] = [[round(float(v), 3) for v in p] for p in cv2.undistortPoints(corners, camera, distortion, P=camera).reshape(-1, 2)]
print(json.dumps({"library": cv2.__version__, "camera": [float(v) for v in camera.reshape(-1)], "distortion": [float(v) for v in distortion.reshape(-1)], "views": views}))
