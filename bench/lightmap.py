#!/usr/bin/env python3
"""Ratio of the map of an area (core/lighting/plane.go) to a plain numpy version of the same.

Needs numpy (Debian: python3-numpy) and Go. 60 × 120 cells under 100 emitters behind lenses of
90°: numpy takes a power of the cosine for every cell and emitter, as one would write it down;
prints how many times longer it takes, by the median of several runs, and by how much the two
differ at most.
"""
import pathlib
import re
import statistics
import subprocess
import time

import numpy as np

root = pathlib.Path(__file__).resolve().parent.parent


def field():
    x = (np.arange(120) + 0.5) * 0.01
    y = (np.arange(60) + 0.5) * 0.01
    half = np.radians(45)
    m = np.log(0.5) / np.log(np.cos(half))
    peak = 100 * (m + 1) / (2 * np.pi)
    lux = np.zeros((60, 120))
    for i in range(100):
        dx, dy, h = x[None] - (0.06 + 0.12 * (i % 10)), y[:, None] - (0.03 + 0.06 * (i // 10)), 0.3
        r2 = dx * dx + dy * dy + h * h
        c = h / np.sqrt(r2)
        lux += peak * c**m * c / r2
    return lux


took = []
for _ in range(15):
    start = time.perf_counter()
    field()
    took.append(time.perf_counter() - start)
text = subprocess.run(["go", "test", "-run", "^$", "-bench", "Map$|Drag$|Walls$|Tank$", "-count", "5", "./core/lighting"], cwd=root, capture_output=True, text=True, check=True).stdout
ns = {name: statistics.median(float(n) for n in re.findall(rf"Benchmark{name}\S*\s+\d+\s+([\d.]+) ns/op", text)) for name in ("Map", "Drag", "Walls", "Tank")}
numpy = statistics.median(took)
print(f"numpy {1e3 * numpy:.2f} ms, this program {1e-6 * ns['Map']:.2f} ms: {numpy * 1e9 / ns['Map']:.1f} times")
print(f"one lamp moved {1e-6 * ns['Drag']:.3f} ms, with walls {1e-6 * ns['Walls']:.0f} ms, a tank {1e-6 * ns['Tank']:.0f} ms")
