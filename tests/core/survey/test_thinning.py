"""Thinning keeps its word: whatever the land, no point that is left out is off the surface by more than was allowed."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from matplotlib.tri import LinearTriInterpolator, Triangulation

from delgrun.core.ground.tin import build_tin
from delgrun.core.survey.points import Survey
from delgrun.core.survey.thinning import thin
from laws import examples, looked, looks

KINDS = ["hills", "cliff", "gaps", "noise", "grid", "band", "doubles", "flat"]


def made(kind: str, rng: np.random.Generator, count: int) -> np.ndarray:
    e, n = rng.uniform(0, 300, count), rng.uniform(0, 200, count)
    z = 4 * np.sin(e / 40) + n / 30
    if kind == "cliff":
        z = np.where(e + 0.3 * n > 170, z + 25, z)
    elif kind == "gaps":
        e, n, z = (v[(np.hypot(e - 150, n - 100) > 45) & ((e < 60) | (e > 80))] for v in (e, n, z))
    elif kind == "noise":
        z = z + rng.normal(0, 0.3, count)
    elif kind == "grid":
        e, n = np.floor(e / 5) * 5, np.floor(n / 5) * 5
        z = 4 * np.sin(e / 40) + n / 30
    elif kind == "band":
        n = 60 * np.sin(e / 50) + rng.uniform(-6, 6, count)
    elif kind == "doubles":
        e, n = np.r_[e, e[:50]], np.r_[n, n[:50]]
        z = np.r_[z, z[:50] + 1]
    elif kind == "flat":
        z = np.full(count, 7.0)
    return np.column_stack([e + 500_000, n + 4_200_000, z]).round(3)


@looks()
@settings(max_examples=examples(70))
@given(
    kind=st.sampled_from(KINDS),
    seed=st.integers(0, 10**6),
    count=st.sampled_from([5, 60, 900, 3000]),
    tolerance=st.sampled_from([0.003, 0.05, 0.5, 30.0]),
    longest=st.sampled_from([0.0, 15.0, 60.0]),
)
def test_no_point_left_out_is_off_by_more_than_allowed(kind, seed, count, tolerance, longest):
    rng = np.random.default_rng(seed)
    xyz = made(kind, rng, count)
    lines = [np.sort(rng.choice(len(xyz), 4, replace=False))] if len(xyz) > 500 and seed % 2 else []
    found = thin(Survey(xyz, lines), tolerance, longest)
    left = np.ones(len(xyz), dtype=bool)
    left[found.kept] = False
    assert (found.survey.xyz == xyz[found.kept]).all()
    for line in lines:
        assert not left[line].any()
        assert found.survey.xyz[found.survey.breaklines[0]].tolist() == xyz[line].tolist()
    if not left.any():
        return
    looked()
    # Looked up by another library, on the surface that is handed on.
    tin = build_tin(found.survey.xyz, found.survey.breaklines, longest)
    origin = xyz[:, :2].min(axis=0)
    other = Triangulation(*(tin.xyz[:, :2] - origin).T, tin.triangles)
    # On the outline another library may see a point outside, a hair from it.
    plan = (xyz[left, :2] - origin) * (1 - 1e-9) + 1e-9 * (xyz[left, :2] - origin).mean(axis=0)
    level = LinearTriInterpolator(other, tin.xyz[:, 2])(*plan.T)
    off = np.abs(np.ma.filled(level, np.nan) - xyz[left, 2])
    ours = np.abs(tin.level_at(*xyz[left, :2].T) - xyz[left, 2])
    assert not np.isnan(ours).any() and ours.max() <= tolerance + 1e-9
    assert np.nanmax(off, initial=0.0) <= tolerance + 1e-4
    assert found.off_m == pytest.approx(ours.max(), abs=1e-9)


def test_a_plane_needs_next_to_nothing_and_a_spike_stays():
    e, n = (v.ravel() for v in np.meshgrid(np.arange(0, 400, 2.0), np.arange(0, 300, 2.0)))
    xyz = np.column_stack([e, n, 100 + e / 20 - n / 50])
    xyz[12_345, 2] += 3
    found = thin(Survey(xyz), 0.02, 0.0)
    assert 12_345 in found.kept and len(found.kept) < 0.01 * len(xyz)


def test_the_outline_stays_where_it_was():
    """A crescent: its bay is kept free of ground, and its ends are not eaten up."""
    rng = np.random.default_rng(3)
    way, radius = rng.uniform(0, 1.7 * np.pi, 40_000), rng.uniform(80, 120, 40_000)
    xyz = np.column_stack([radius * np.cos(way), radius * np.sin(way), np.sin(way)])
    found = thin(Survey(xyz), 0.05, 12.0)
    whole, thinned = (build_tin(s, [], 12.0) for s in (xyz, found.survey.xyz))
    at = rng.uniform(-125, 125, (20_000, 2))
    there = [~np.isnan(t.level_at(*at.T)) for t in (whole, thinned)]
    assert (there[0] != there[1]).mean() < 0.01 and len(found.kept) < 0.15 * len(xyz)
