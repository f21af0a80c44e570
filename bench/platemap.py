#!/usr/bin/env python3
"""Ratios of the map of a plate (core/heat/sheet.go) to scipy on the same grid and machine.

Needs numpy and scipy (Debian: python3-scipy) and Go. Solves 400 × 240 cells: a plain plate by
a cosine transform and directly, one with holes and an uneven film directly, and prints how
many times longer than this program each takes, by the median of several runs each.
"""
import pathlib
import re
import statistics
import subprocess
import sys
import time

import numpy as np
from scipy.fft import dctn, idctn

root = pathlib.Path(__file__).resolve().parent.parent
sys.path.insert(0, str(root / "scripts" / "reference"))
import platemap  # noqa: E402

NX, NY, LENGTH, WIDTH, ALONG, FILM = 400, 240, 0.4, 0.24, 0.4, 16
PADS = [(0.04 + 0.1 * (i % 4), 0.03 + 0.08 * (i // 4), 0.01, 0.01, 5) for i in range(12)]
HOLES = [(0.1, 0.12, 0.03, 0.05), (0.27, 0.06, 0.06, 0.02)]


def median(f, runs):
    took = []
    for _ in range(runs):
        start = time.perf_counter()
        f()
        took.append(time.perf_counter() - start)
    return statistics.median(took)


def cosine():
    hx, hy = LENGTH / NX, WIDTH / NY
    q = np.zeros((NY, NX))
    q[100, 100] = 5
    own = ALONG * hy / hx * (2 - 2 * np.cos(np.pi * np.arange(NX) / NX))[None] + ALONG * hx / hy * (2 - 2 * np.cos(np.pi * np.arange(NY) / NY))[:, None] + FILM * hx * hy
    return lambda: idctn(dctn(q, type=2) / own, type=2)


def ours():
    out = subprocess.run(["go", "test", "./core/heat", "-run", "^$", "-bench", "Map", "-count", "5"], cwd=root, capture_output=True, text=True, check=True).stdout
    return {name: statistics.median(float(x) for x in re.findall(rf"BenchmarkMap/{name}\S*\s+\d+\s+(\d+) ns/op", out)) / 1e9 for name in ("plain", "holes")}


mine = ours()
transform = median(cosine(), 15)
plain = median(lambda: platemap.sheet(NX, NY, LENGTH, WIDTH, ALONG, lambda x: FILM + 0 * x, [], PADS), 3)
holes = median(lambda: platemap.sheet(NX, NY, LENGTH, WIDTH, ALONG, lambda x: 10 + 12 * x / LENGTH, HOLES, PADS), 3)
print("plain: %.1f ms; scipy's cosine transform %.1f ms, this takes %.2f times that; sparse solve %.0f ms, %.0f times this" % (mine["plain"] * 1e3, transform * 1e3, mine["plain"] / transform, plain * 1e3, plain / mine["plain"]))
print("holes and uneven film: %.1f ms; sparse solve %.0f ms, %.0f times this" % (mine["holes"] * 1e3, holes * 1e3, holes / mine["holes"]))
