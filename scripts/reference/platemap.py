#!/usr/bin/env python3
"""Reference figures for core/heat/sheet.go and plate.go.

Needs numpy and scipy (Debian: python3-scipy). Prints the rise of chosen cells of a sheet with
a hole and an uneven film, solved directly on the same grid, and how small pads off the middle
of a plate warm themselves and each other, in three dimensions on a grid graded towards them.
The figures it prints stand in core/heat/reference_test.go.
"""
import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import spsolve


def assemble(n, links, diag):
    rows, cols, vals = [np.arange(n)], [np.arange(n)], [diag.copy()]
    for a, b, g in links:
        a, b, g = a.ravel(), b.ravel(), np.asarray(g).ravel()
        np.add.at(vals[0], a, g)
        np.add.at(vals[0], b, g)
        rows += [a, b]
        cols += [b, a]
        vals += [-g, -g]
    return coo_matrix((np.concatenate(vals), (np.concatenate(rows), np.concatenate(cols))), shape=(n, n)).tocsc()


def sheet(nx, ny, length, width, along, films, holes, pads):
    """Rise of each cell, row by row along y; pads are (x, y, length, width, watts)."""
    hx, hy = length / nx, width / ny
    x, y = (np.arange(nx) + 0.5) * hx, (np.arange(ny) + 0.5) * hy
    X, Y = np.meshgrid(x, y)
    cut = np.zeros((ny, nx), bool)
    for hx0, hy0, hl, hw in holes:
        cut |= (abs(X - hx0) < hl / 2) & (abs(Y - hy0) < hw / 2)
    index = np.arange(nx * ny).reshape(ny, nx)
    gx = np.where(cut[:, :-1] | cut[:, 1:], 0, along * hy / hx)
    gy = np.where(cut[:-1] | cut[1:], 0, along * hx / hy)
    diag = np.where(cut, 1, films(X) * hx * hy).ravel().astype(float)
    q = np.zeros((ny, nx))
    for px, py, pl, pw, watts in pads:
        sx = np.clip(np.minimum(px + pl / 2, x + hx / 2) - np.maximum(px - pl / 2, x - hx / 2), 0, None)
        sy = np.clip(np.minimum(py + pw / 2, y + hy / 2) - np.maximum(py - pw / 2, y - hy / 2), 0, None)
        q += watts * np.outer(sy, sx) / (pl * pw)
    a = assemble(nx * ny, [(index[:, :-1], index[:, 1:], gx), (index[:-1], index[1:], gy)], diag)
    return spsolve(a, q.ravel()).reshape(ny, nx)


def graded(side, centres, pad, cells):
    """Cell edges along a side, fine within pads and growing away from them."""
    out = [0.0]
    fine = pad / cells
    marks = sorted(e for c in centres for e in (c - pad / 2, c + pad / 2)) + [side]
    while out[-1] < side - 1e-12:
        here = out[-1]
        near = min(0 if c - pad / 2 - 1e-12 <= here < c + pad / 2 - 1e-12 else min(abs(here - c + pad / 2), abs(here - c - pad / 2)) for c in centres)
        step = min(fine + 0.15 * near, side / 15)
        stop = min(m for m in marks if m > here + 1e-12)
        n = max(round((stop - here) / step), 1)
        out.append(here + (stop - here) / n)
    return np.array(out)


def pads3d(length, width, thick, k, film, pad, spots, cells):
    """K/W of each pad for each pad above the mean of the plate, on average over the pad's face."""
    ex, ey, ez = graded(length, [s[0] for s in spots], pad, cells), graded(width, [s[1] for s in spots], pad, cells), np.linspace(0, thick, 13)
    dx, dy, dz = np.diff(ex), np.diff(ey), np.diff(ez)
    nx, ny, nz = len(dx), len(dy), len(dz)
    index = np.arange(nx * ny * nz).reshape(nx, ny, nz)
    links = [
        (index[:-1], index[1:], k * np.outer(dy, dz)[None] / ((dx[:-1] + dx[1:]) / 2)[:, None, None]),
        (index[:, :-1], index[:, 1:], k * np.outer(dx, dz)[:, None] / ((dy[:-1] + dy[1:]) / 2)[None, :, None]),
        (index[..., :-1], index[..., 1:], k * np.outer(dx, dy)[..., None] / ((dz[:-1] + dz[1:]) / 2)[None, None]),
    ]
    face = np.outer(dx, dy)
    diag = np.zeros(nx * ny * nz)
    for m in (0, nz - 1):
        diag[index[..., m].ravel()] += (face / (1 / film + dz[m] / 2 / k)).ravel()
    a = assemble(nx * ny * nz, links, diag)
    mean = 1 / (2 * film * length * width)
    on = [np.outer((ex[:-1] >= x - pad / 2 - 1e-9) & (ex[1:] <= x + pad / 2 + 1e-9), (ey[:-1] >= y - pad / 2 - 1e-9) & (ey[1:] <= y + pad / 2 + 1e-9)) for x, y in spots]
    half = 2 * k / dz[0]
    out = []
    for j in range(len(spots)):
        q = np.zeros(nx * ny * nz)
        into = face * on[j] / (face * on[j]).sum()
        q[index[..., 0].ravel()] = (into * half / (half + film)).ravel()
        t = spsolve(a, q).reshape(nx, ny, nz)[..., 0]
        surface = (into / face + half * t) / (half + film)
        out.append([(surface * face * o).sum() / (face * o).sum() - mean for o in on])
    return np.array(out)


if __name__ == "__main__":
    rise = sheet(100, 60, 0.3, 0.18, 0.4, lambda x: 10 + 12 * np.floor(x / 0.003) / 100, [(0.15, 0.09, 0.04, 0.06)], [(0.05, 0.05, 0.01, 0.01, 5), (0.21, 0.1, 0.0133, 0.007, 5)])
    print("sheet with a hole, K, at cells", {(i, j): round(float(rise[j, i]), 4) for i, j in [(16, 16), (70, 33), (0, 0), (99, 59), (43, 30), (57, 30), (50, 5)]})
    # A pad's own rise falls with the size of the cells, to the first order: from two grids.
    for name, case in {
        "pads of 3.4 mm on 2 mm of 200 W/mK": (0.1, 0.08, 0.002, 200, 8, 0.0034, [(0.03, 0.03), (0.06, 0.05), (0.0375, 0.03)]),
        "pads of 10 mm on 3 mm of 120 W/mK": (0.12, 0.08, 0.003, 120, 10, 0.01, [(0.03, 0.03), (0.08, 0.05)]),
    }.items():
        print(name + ", K/W\n", 2 * pads3d(*case, 12) - pads3d(*case, 6))
