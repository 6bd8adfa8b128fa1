"""The index of a surface's triangles, carried over to a surface that differs in a few of them."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground.tin import CellIndex, Tin


def patched(old: Tin, new: Tin, changed: NDArray[np.int64]) -> CellIndex:
    """The index of the new triangles, from that of the old ones and the numbers of those that differ."""
    c = old.cells
    before = _cells_of(old, c, changed[changed < len(old.triangles)])
    after = _cells_of(new, c, changed[changed < len(new.triangles)])
    is_changed = np.zeros(max(len(old.triangles), len(new.triangles)), dtype=bool)
    is_changed[changed] = True
    after = after[np.argsort(after[:, 0], kind="stable")]
    grown = np.zeros(c.nx * c.ny + 1, dtype=np.int64)
    parts, done = [], 0
    for cell in np.unique(np.concatenate([before[:, 0], after[:, 0]])).tolist():
        first, end = int(c.start[cell]), int(c.start[cell + 1])
        own = c.triangle[first:end]
        came = after[slice(*np.searchsorted(after[:, 0], [cell, cell + 1])), 1].astype(np.int32)
        stays = own[~is_changed[own]]
        parts += [c.triangle[done:first], stays, came]
        grown[cell + 1] = len(stays) + len(came) - len(own)
        done = end
    start = c.start + np.cumsum(grown)
    return CellIndex(c.x0, c.y0, c.size, c.nx, c.ny, start, np.concatenate([*parts, c.triangle[done:]]))


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
