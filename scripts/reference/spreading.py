#!/usr/bin/env python3
"""Reference figures for core/heat/spread.go: a source on a plate by finite differences.

Needs numpy and scipy (Debian: python3-scipy). Solves the plate in three dimensions on a
grid graded towards the source, a quarter of it by symmetry, with a film on both faces, and
prints the rise of the source for each watt, on average and at its middle. The figures it
prints stand in core/heat/spread_test.go.
"""
import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import spsolve


def edges(half, source, fine, coarse):
    """Cell edges from the middle out: fine within the source and a little beyond."""
    inner = np.linspace(0, source, fine + 1)
    if source >= half:
        return inner
    step = inner[1] - inner[0]
    out = list(inner)
    while out[-1] < half:
        step = min(step * 1.12, half / coarse)
        out.append(min(out[-1] + step, half))
    return np.array(out)


def plate(length, width, thick, k, top, back, source_l, source_w):
    x = edges(length / 2, source_l / 2, 12, 25)
    y = edges(width / 2, source_w / 2, 12, 25)
    z = np.linspace(0, thick, 21)
    nx, ny, nz = len(x) - 1, len(y) - 1, len(z) - 1
    dx, dy, dz = np.diff(x), np.diff(y), np.diff(z)
    index = np.arange(nx * ny * nz).reshape(nx, ny, nz)
    rows, cols, vals = [], [], []
    diag = np.zeros(nx * ny * nz)

    def link(a, b, g):
        rows.extend([a.ravel(), b.ravel()])
        cols.extend([b.ravel(), a.ravel()])
        vals.extend([-g.ravel(), -g.ravel()])
        np.add.at(diag, a.ravel(), g.ravel())
        np.add.at(diag, b.ravel(), g.ravel())

    face = np.einsum("j,k->jk", dy, dz)
    for i in range(nx - 1):
        link(index[i], index[i + 1], k * face / ((dx[i] + dx[i + 1]) / 2))
    face = np.einsum("i,k->ik", dx, dz)
    for j in range(ny - 1):
        link(index[:, j], index[:, j + 1], k * face / ((dy[j] + dy[j + 1]) / 2))
    face = np.einsum("i,j->ij", dx, dy)
    for m in range(nz - 1):
        link(index[:, :, m], index[:, :, m + 1], k * face / ((dz[m] + dz[m + 1]) / 2))
    # A film in series with half a cell.
    for m, h, d in ((0, top, dz[0]), (nz - 1, back, dz[-1])):
        if h > 0:
            np.add.at(diag, index[:, :, m].ravel(), (face / (1 / h + d / 2 / k)).ravel())
    q = np.zeros(nx * ny * nz)
    on = np.outer((x[1:] <= source_l / 2 + 1e-12), (y[1:] <= source_w / 2 + 1e-12))
    area = (face * on).sum()
    # The source lies on the face itself, between the film and half a cell.
    half = 2 * k / dz[0]
    q[index[:, :, 0].ravel()] = (face * on / area / 4 * half / (half + top)).ravel()
    n = nx * ny * nz
    a = coo_matrix((np.concatenate(vals + [diag]), (np.concatenate(rows + [np.arange(n)]), np.concatenate(cols + [np.arange(n)]))), shape=(n, n)).tocsr()
    t = spsolve(a, q).reshape(nx, ny, nz)
    surface = (on / area / 4 + half * t[:, :, 0]) / (half + top)
    return (surface * face * on).sum() / area, surface[0, 0]


for name, case in {
    "star on a sheet": (0.1, 0.08, 0.002, 200, 6, 6, 0.02, 0.02),
    "package on a fin base": (0.08, 0.06, 0.004, 200, 0, 60, 0.01, 0.012),
    "board on wood": (0.12, 0.09, 0.018, 0.12, 9, 9, 0.03, 0.02),
    "small pad on copper": (0.03, 0.03, 0.001, 390, 5, 200, 0.0034, 0.0034),
}.items():
    print(name, "%.5g K/W on average, %.5g K/W in the middle" % plate(*case))
