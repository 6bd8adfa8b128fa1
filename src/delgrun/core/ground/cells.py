"""The index of a surface's triangles, carried over to a surface that differs in a few of them."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground.tin import CellIndex, Tin


def patched(old: Tin, new: Tin, changed: NDArray[np.int64]) -> CellIndex:
    """The index of the new triangles, from that of the old ones and the numbers of those that differ."""
    c = old.cells
    before = _cells_of(old, c, changed[changed < len(old.triangles)])
    after = _cells_of(new, c, changed[changed < len(new.triangles)])
    touched = np.unique(before[:, 0])
    keep = np.ones(len(c.triangle), dtype=bool)
    is_changed = np.zeros(max(len(old.triangles), len(new.triangles)), dtype=bool)
    is_changed[changed] = True
    for cell in touched.tolist():
        span = slice(int(c.start[cell]), int(c.start[cell + 1]))
        keep[span] = ~is_changed[c.triangle[span]]
    more = np.bincount(after[:, 0], minlength=c.nx * c.ny) if len(after) else np.zeros(c.nx * c.ny, dtype=np.int64)
    less = np.zeros(c.nx * c.ny, dtype=np.int64)
    for cell in touched.tolist():
        less[cell] = int((~keep[int(c.start[cell]) : int(c.start[cell + 1])]).sum())
    order = np.argsort(after[:, 0], kind="stable")
    put = c.start[after[order, 0] + 1]
    grown = np.insert(c.triangle, put, after[order, 1].astype(np.int32))
    stays = np.insert(keep, put, True)
    start = c.start + np.concatenate([[0], np.cumsum(more - less)])
    return CellIndex(c.x0, c.y0, c.size, c.nx, c.ny, start, np.ascontiguousarray(grown[stays]))


def _cells_of(tin: Tin, c: CellIndex, which: NDArray[np.int64]) -> NDArray[np.int64]:
    """(k, 2) cell and triangle for each cell that a triangle's box touches."""
    out = [np.zeros((0, 2), dtype=np.int64)]
    box = tin.xyz[tin.triangles[which], :2]
    low = ((box.min(axis=1) - [c.x0, c.y0]) / c.size).astype(np.int64)
    high = ((box.max(axis=1) - [c.x0, c.y0]) / c.size).astype(np.int64)
    low, high = np.maximum(low, 0), np.minimum(high, [c.nx - 1, c.ny - 1])
    for t, (i0, j0), (i1, j1) in zip(which.tolist(), low.tolist(), high.tolist(), strict=True):
        i, j = np.meshgrid(np.arange(i0, i1 + 1), np.arange(j0, j1 + 1), indexing="ij")
        out.append(np.column_stack([(i * c.ny + j).ravel(), np.full(i.size, t)]))
    return np.concatenate(out)
