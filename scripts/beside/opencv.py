"""The steps of a check with OpenCV, timed, to stand beside our own figures.

    scripts/beside/run

Debian's python3-opencv 4.6.0, which finds codes but is built without their
reader, so that the corners are ours. It knows nothing of sureness, states or
words: decode, find codes, straighten, even the light, find edges, and lay the
picture's edges on the drawing's distance map box by box.
"""
import json
import sys
import time

import cv2
import numpy as np

cv2.setNumThreads(1)
folder = sys.argv[1]
plan = json.load(open(folder + "/plan.json"))
columns, rows = plan["grid"]["columns"], plan["grid"]["rows"]
cell = 64


def lap(name, start):
    now = time.perf_counter()
    print(f"{name:12} {1000 * (now - start):7.0f} ms")
    return now


began = t = time.perf_counter()
photo = cv2.imread(folder + "/first.jpg")
t = lap("decode", t)
codes = cv2.QRCodeDetector().detectMulti(cv2.resize(photo, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA))
t = lap("tags", t)
w, h = columns * cell, rows * cell
quad = np.array(json.load(open(folder + "/check.json"))["corners"], np.float32)
to = cv2.getPerspectiveTransform(quad, np.array([[0, 0], [w, 0], [w, h], [0, h]], np.float32))
flat = cv2.cvtColor(cv2.warpPerspective(photo, to, (w, h), flags=cv2.INTER_AREA), cv2.COLOR_BGR2GRAY)
t = lap("straighten", t)
light = cv2.morphologyEx(flat, cv2.MORPH_CLOSE, np.ones((33, 33)))
ink = cv2.divide(flat, cv2.GaussianBlur(light, (0, 0), 16), scale=255)
t = lap("even light", t)
picture = cv2.resize(cv2.imread(folder + "/picture.png", 0), (w, h), interpolation=cv2.INTER_AREA)
drawn, wanted = cv2.Canny(ink, 40, 100), cv2.Canny(picture, 40, 100)
t = lap("edges", t)
far = np.minimum(cv2.distanceTransform(255 - drawn, cv2.DIST_L2, 5), 10)
t = lap("distances", t)
reach = 38
padded = np.pad(far, reach, constant_values=10)
shifts = {}
for r in range(rows):
    for c in range(columns):
        ys, xs = np.nonzero(wanted[r * cell:(r + 1) * cell, c * cell:(c + 1) * cell])
        if len(ys) < 10:
            continue
        ys, xs = ys[::3] + r * cell, xs[::3] + c * cell
        best = min((padded[ys + dy, xs + dx].mean(), dx - reach, dy - reach)
                   for dy in range(0, 2 * reach + 1, 2) for dx in range(0, 2 * reach + 1, 2))
        shifts[c, r] = best[1] / cell, best[2] / cell
t = lap("shifts", t)
lap("all", began)
off = np.array(list(shifts.values()))
print(f"{len(off)} boxes, median shift {np.median(np.abs(off)):.3f} of a box (drawn without error)")
