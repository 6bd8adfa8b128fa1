"""Looked at from the air: never too many triangles, and no spike lost."""

import numpy as np
import pytest

from delgrun.core.ground.bird import birds_eye
from delgrun.core.ground.tin import build_tin


def test_spikes_and_pits_stand_whatever_is_left_out():
    rng = np.random.default_rng(0)
    plan = rng.uniform(0, 500, (20_000, 2)) + [500_000, 4_200_000]
    z = 5 * np.sin(plan[:, 0] / 60)
    z[[17, 4000]] += [30, -30]
    tin = build_tin(np.column_stack([plan, z]))
    box = (500_000.0, 4_200_000.0, 500_500.0, 4_200_500.0)
    few = birds_eye(tin, box, 3000)
    assert not few.whole and len(few.triangles) < 4500
    assert (few.xyz[:, 2].max(), few.xyz[:, 2].min()) == (z.max(), z.min())
    near = birds_eye(tin, (500_100.0, 4_200_100.0, 500_120.0, 4_200_120.0))
    assert near.whole and near.xyz[near.triangles].mean(axis=1)[:, 0] == pytest.approx(500_110, abs=30)
