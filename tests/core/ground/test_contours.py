"""Contours against `contourpy` on a grid, and by what every contour has to keep on any ground."""

import contourpy
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from delgrun.core.ground.contours import Contours, contours
from delgrun.core.ground.tin import build_tin


def length_m(lines: Contours) -> float:
    step = np.hypot(*np.diff(lines.plan, axis=0).T)
    step[lines.start[1:-1] - 1] = 0
    return float(step.sum())


def test_on_a_grid_they_are_those_of_contourpy():
    # The same triangles on both sides: contourpy's "tri" corner masks are no triangulation, so cells are cut alike.
    x, y = np.meshgrid(np.arange(60.0), np.arange(40.0))
    z = 5 * np.sin(x / 7) + 4 * np.cos(y / 5) + 0.01 * x
    lines = contours(build_tin(np.column_stack([x.ravel() + 1e-9 * y.ravel(), y.ravel(), z.ravel()])), 1.0)
    other = contourpy.contour_generator(x, y, z)
    levels = np.arange(np.ceil(z.min()), np.floor(z.max()) + 1)
    theirs = sum(np.hypot(*np.diff(line, axis=0).T).sum() for v in levels for line in other.lines(v))
    assert length_m(lines) == pytest.approx(theirs, rel=0.004)
    assert sorted(set(lines.level.tolist())) == levels.tolist()


@given(seed=st.integers(0, 10_000), flat=st.booleans())
def test_every_line_lies_on_the_ground_and_ends_at_its_outline_or_nowhere(seed, flat):
    rng = np.random.default_rng(seed)
    z = rng.integers(0, 6, 80).astype(float) if flat else rng.normal(0, 4, 80)
    tin = build_tin(np.column_stack([rng.uniform(0, 50, (80, 2)), z]))
    lines = contours(tin, 1.0)
    levels = tin.level_at(lines.plan[:, 0].copy(), lines.plan[:, 1].copy())
    assert levels == pytest.approx(np.repeat(lines.level, np.diff(lines.start)), abs=1e-6)
    corner = np.sort(np.concatenate([tin.triangles[:, [0, 1]], tin.triangles[:, [1, 2]], tin.triangles[:, [2, 0]]]))
    edge, times = np.unique(corner, axis=0, return_counts=True)
    a, b = (tin.xyz[edge[times == 1][:, k], :2] for k in (0, 1))
    for i in range(len(lines.level)):
        first, last = lines.plan[lines.start[i]], lines.plan[lines.start[i + 1] - 1]
        if np.hypot(*(last - first)) < 1e-9:
            continue
        for end in (first, last):
            along = np.clip(((end - a) * (b - a)).sum(axis=1) / ((b - a) ** 2).sum(axis=1), 0, 1)[:, None]
            assert np.hypot(*(a + along * (b - a) - end).T).min() < 1e-6
