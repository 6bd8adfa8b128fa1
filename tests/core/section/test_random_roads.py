"""Laws over random roads that vary, on random grounds: what is drawn is what is counted, one by one as all together."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_line
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.section.along import NO_SECTION, AddedLane, SectionChange, SectionRange, SectionsAlong
from delgrun.core.section.area_kernels import DUG, FILLED
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.section import shown_section
from delgrun.core.section.typical_section import SIDES
from laws import examples, looked, looks
from varied import BARE, VILLAGE, leaning

Rng = np.random.Generator


def winding_road(rng: Rng) -> Centreline:
    """Bends to both sides, some of them hairpins, at once near the origin and far from it."""
    at = np.array([500_000.0, 4_200_000.0]) * rng.integers(0, 2)
    turn, corners = rng.uniform(0, 6.28), [at]
    for _ in range(rng.integers(1, 6)):
        turn += rng.uniform(-2.6, 2.6) if rng.random() < 0.3 else rng.uniform(-0.9, 0.9)
        at = at + rng.uniform(60, 220) * np.array([np.cos(turn), np.sin(turn)])
        corners.append(at)
    ends = 0, len(corners) - 1
    return Centreline(
        [
            CentrelineIp(
                easting_m=e, northing_m=n, radius_m=0.0 if i in ends else float(rng.choice([15.0, 30.0, 60.0])),
                transition_in_m=0.0 if i in ends else float(rng.choice([0.0, 10.0])),
                transition_out_m=0.0 if i in ends else float(rng.choice([0.0, 10.0])),
            )
            for i, (e, n) in enumerate(corners)
        ]
    )  # fmt: skip


def varied(rng: Rng, line: Centreline) -> RoadDesign:
    def stretch() -> dict[str, float]:
        start = rng.uniform(-20, line.end_chainage_m)
        tapers = {name: float(rng.choice([0.0, 5.0, 40.0])) for name in ("taper_in_m", "taper_out_m")}
        return {"from_m": float(start), "to_m": float(start + rng.uniform(1, line.end_chainage_m)), **tapers}

    def side() -> str:
        return str(rng.choice(SIDES))

    kinds = ("section-2", "section", NO_SECTION)
    along = SectionsAlong(
        ranges=tuple(SectionRange(**stretch(), section=str(rng.choice(kinds))) for _ in range(rng.integers(0, 4))),
        lanes=tuple(AddedLane(**stretch(), side=side(), name=f"added {i}") for i in range(rng.integers(0, 3))),
        changes=tuple(
            SectionChange(
                **stretch(), side=side(), point=str(rng.choice(["lane", "shoulder", "path"])),
                width_m=float(rng.uniform(0, 3)), reason=str(rng.choice(["", "gate"])),
            )
            for _ in range(rng.integers(0, 4))
        ),
    )  # fmt: skip
    about = str(rng.choice(["centreline", "inner edge", "outer edge"]))
    works = replace(BARE, reach_m=float(rng.choice([8.0, 20.0, 60.0])))
    return replace(leaning(line, about=about), along=along, others={"section-2": VILLAGE}, works=works)


def rough_ground(rng: Rng, line: Centreline) -> Tin:
    """A slope with noise and gaps, here and there ending beside the road."""
    east, north, _ = line.locate(np.linspace(0, line.end_chainage_m, 60))
    centre = np.array([east.mean(), north.mean()])
    half = max(np.ptp(east), np.ptp(north)) / 2 + rng.choice([15.0, 90.0, 350.0])
    grid = np.stack(np.meshgrid(np.linspace(-half, half, 36), np.linspace(-half, half, 36)), axis=-1).reshape(-1, 2)
    grid = grid[rng.random(len(grid)) >= rng.choice([0.0, 0.1, 0.5])]
    noise = rng.choice([0.0, 0.3, 3.0]) * rng.normal(size=len(grid))
    level = 100 + rng.uniform(-0.7, 0.7) * grid[:, 1] + noise + 4 * np.sin(grid[:, 0] / 50)
    return build_tin(np.column_stack([grid + centre, level]), longest_edge_m=float(half / 4 + 30))


@looks()
@settings(max_examples=examples(60), deadline=None)
@given(seed=st.integers(0, 2**32 - 1))
def test_what_is_drawn_is_what_is_counted_and_one_by_one_as_all_together(seed):
    rng = np.random.default_rng(seed)
    try:
        line = winding_road(rng)
    except DesignInputError:
        # Bends that overrun each other.
        return
    design, tin = varied(rng, line), rough_ground(rng, line)
    turns, steps = design.places
    s = line.priced_chainages(10.0, also=turns, steps=steps)
    ground = design.ground_reached(tin, line, s)
    if np.isnan(ground.centre_level_m).all():
        return
    start, end = float(np.nanmean(ground.centre_level_m)), line.end_chainage_m
    ips = [Ip(chainage_m=0, level_m=start), Ip(chainage_m=end, level_m=start + rng.uniform(-0.05, 0.05) * end)]
    grade_line = GradeLine.of(ips)
    evaluation = evaluate_line(Earthworks.of(ground, design), grade_line, CostModel())
    assert np.isfinite(evaluation.ledger.cost)
    for i in rng.integers(0, len(s), 12).tolist():
        shown = shown_section(ground, float(s[i]), design, grade_line, i)
        alone = design.ground_reached(tin, line, s[i : i + 1])
        for told, all_together in zip(alone.one(0), ground.one(i), strict=True):
            assert told == pytest.approx(all_together, abs=1e-6)
        if shown.left is None or shown.right is None:
            continue
        counted = evaluation.areas[i]
        assert shown.cut_m2 == pytest.approx(counted[DUG], rel=1e-6, abs=1e-5)
        assert shown.fill_m2 == pytest.approx(counted[FILLED], rel=1e-6, abs=1e-5)
        # The mark in a drawing and the finding along the road judge the same.
        assert (int(shown.left.caught) | 2 * int(shown.right.caught)) == evaluation.caught[i]
        looked()
