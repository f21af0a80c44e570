"""Groupings of cells by an integer program (scipy's milp, HiGHS): the reference that
core/lot's groupings are held against. Run with Debian's python3-scipy.

Cells are those of a linear congruential generator, so that the test makes the same."""

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp


def cells(n, seed):
    out = []
    for _ in range(n):
        seed = (seed * 1103515245 + 12345) % 2**31
        out.append(1500 + seed // 65536 % 900)
    return sorted(out, reverse=True)


def weakest(c, series, parallel):
    """The strongest weakest group: binary x[cell, group], and z below every group's sum."""
    n = len(c)
    width = n * series + 1
    cost = np.zeros(width)
    cost[-1] = -1
    rows, low, high = [], [], []
    for i in range(n):  # every cell in one group
        row = np.zeros(width)
        row[i * series : (i + 1) * series] = 1
        rows.append(row), low.append(1), high.append(1)
    for g in range(series):
        count, total = np.zeros(width), np.zeros(width)
        for i in range(n):
            count[i * series + g] = 1
            total[i * series + g] = c[i]
        total[-1] = -1
        rows.append(count), low.append(parallel), high.append(parallel)
        rows.append(total), low.append(0), high.append(np.inf)
    found = milp(cost, constraints=LinearConstraint(np.array(rows), low, high), integrality=np.append(np.ones(width - 1), 0), bounds=Bounds(0, np.append(np.ones(width - 1), np.inf)), options={"time_limit": 60, "mip_rel_gap": 0})
    return round(-found.fun), found.status == 0


for n, series, parallel, seed in [(12, 4, 3, 1), (16, 4, 4, 2), (15, 5, 3, 3), (18, 6, 3, 4), (20, 4, 5, 5), (24, 2, 12, 6), (21, 3, 7, 7), (24, 4, 6, 8), (21, 7, 3, 9), (24, 8, 3, 10)]:
    c = cells(n, seed)
    z, proven = weakest(c, series, parallel)
    print(f"{{{n}, {series}, {parallel}, {seed}, {z}}}, mean {sum(c) // series}, {'proven' if proven else 'not proven'}")
