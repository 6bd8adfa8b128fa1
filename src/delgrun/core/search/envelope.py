"""LDL' factorisation of a symmetric quasi-definite matrix stored by its envelope.

Row i holds the entries from column first[i] to i - 1 side by side, from value[start[i]]; the diagonal
stands apart. Unknowns sorted by chainage keep the envelope narrow, so the work grows linearly with
the length of road.
"""

import numpy as np

from delgrun.core.kernels import fast_kernel, kernel


@kernel
def row_starts(first):
    """(n + 1,) where each row's entries begin."""
    n = first.shape[0]
    start = np.zeros(n + 1, np.int64)
    for i in range(n):
        start[i + 1] = start[i] + i - first[i]
    return start


@fast_kernel
def factor(first, start, value, diag):
    """Replace value and diag by the factors L and D, in place."""
    n = first.shape[0]
    for i in range(n):
        fi = first[i]
        row = start[i]
        for j in range(fi, i):
            fj = first[j]
            lo = max(fi, fj)
            total = value[row + j - fi]
            a, b = row - fi, start[j] - fj
            for k in range(lo, j):
                total -= value[a + k] * value[b + k]
            value[row + j - fi] = total
        d = diag[i]
        for j in range(fi, i):
            scaled = value[row + j - fi]
            value[row + j - fi] = scaled / diag[j]
            d -= scaled * value[row + j - fi]
        diag[i] = d


@fast_kernel
def solve(first, start, value, diag, x):
    """Replace x by the solution of L D L' y = x, in place."""
    n = first.shape[0]
    for i in range(n):
        fi = first[i]
        row = start[i]
        total = x[i]
        for j in range(fi, i):
            total -= value[row + j - fi] * x[j]
        x[i] = total
    for i in range(n):
        x[i] /= diag[i]
    for i in range(n - 1, -1, -1):
        fi = first[i]
        row = start[i]
        for j in range(fi, i):
            x[j] -= value[row + j - fi] * x[i]
