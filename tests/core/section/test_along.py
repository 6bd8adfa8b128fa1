"""Sections that vary along a road: tapers in closed form, what a stretch without a section costs, and laws."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.centreline.centreline import STEP_M
from delgrun.core.centreline.superelevation import INNER, OUTER, OwnFalls
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_levels
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.along import GroundSections
from delgrun.core.section.along import NO_SECTION, AddedLane, LineCorner, SectionChange, SectionRange, SectionsAlong
from delgrun.core.section.painted import painted
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import TopsoilStretch, Works
from delgrun.core.section.starting import STARTING
from delgrun.core.section.typical_section import SIDES
from laws import examples
from varied import BARE, RURAL, STRAIGHT, VILLAGE, leaning, winding


def design(**along: object) -> RoadDesign:
    return RoadDesign(
        RURAL, BARE, centreline=STRAIGHT, others={"section-2": VILLAGE}, along=SectionsAlong(**along)
    )  # fmt: skip


def edge(d: RoadDesign, s: float, offset: float = 1.0) -> float:
    return float(d.resolve(np.array([s])).edge_m(np.array([offset]))[0])


def in_village(**more: object) -> SectionRange:
    return SectionRange(from_m=400.0, to_m=600.0, section="section-2", **more)


def test_a_taper_goes_straight_from_one_section_to_the_other():
    d = design(ranges=(in_village(taper_in_m=40.0, taper_out_m=20.0),))
    # Rural 4 m, village 5.2 m wide; the shoulder goes as the kerb and the path come.
    assert [edge(d, s) for s in (359.9, 360.0, 400.0, 500.0, 600.0, 620.0)] == pytest.approx([4, 4, 5.2, 5.2, 5.2, 4])
    assert [edge(d, s) for s in (370.0, 380.0, 610.0)] == pytest.approx([4 + 0.3, 4 + 0.6, 4 + 0.6])
    (left, _), (right, shapes) = d.built_at(380.0)
    lane, shoulder, kerb, path = shapes[0].elements
    assert lane[1][-1] == pytest.approx((3.25, -0.025 * 3.25))
    assert (shoulder[1][-1][0] - lane[1][-1][0], path[1][-1][0] - kerb[1][-1][0]) == pytest.approx((0.5, 0.75))
    assert kerb[1][1][1] - kerb[1][0][1] == pytest.approx(0.075)
    assert left.edge_m == right.edge_m
    # Layers of one name and price are one column: 0.2 to 0.3 m under 3.25 m of lane; asphalt as it comes in.
    assert [k.name for k in d.layers] == ["base", "asphalt"]


def test_without_a_taper_there_are_two_sections_where_it_jumps():
    d = design(ranges=(in_village(),))
    turns, steps = d.places
    assert {400.0, 600.0} <= set(steps) <= set(turns)
    s = STRAIGHT.priced_chainages(100.0, also=turns, steps=steps)
    assert s.tolist() == [0, 100, 200, 300, 400 - STEP_M, 400, 500, 600 - STEP_M, 600, 700, 800, 900, 1000]
    road = d.resolve(s)
    assert road.edge_m(np.ones(len(s))).tolist() == pytest.approx([4] * 5 + [5.2] * 3 + [4] * 5)
    # Right up to the road's end holds what holds before it.
    last = design(ranges=(in_village(), SectionRange(from_m=900.0, to_m=1000.0, section="section-2")))
    assert edge(last, 1000.0) == pytest.approx(5.2)


def level_ground(s: np.ndarray, level: float = 100.0) -> GroundSections:
    n = len(s)
    offset = np.tile([-60.0, 0.0, 60.0], n)
    return GroundSections(s, np.arange(n + 1) * 3, offset, np.full(3 * n, level), np.full(n, level))


def ledger(d: RoadDesign, level: float):
    s = STRAIGHT.priced_chainages(50.0, also=d.places[0], steps=d.places[1])
    return evaluate_levels(Earthworks.of(level_ground(s), d), np.full(len(s), level), CostModel()).ledger


def test_a_stretch_without_a_section_builds_nothing_and_its_length_is_told():
    """1 000 m of fill 3 m high less 200 m of it: volumes in proportion, to the litre."""
    whole = ledger(design(), 103.0)
    gap = ledger(design(ranges=(SectionRange(from_m=400.0, to_m=600.0, section=NO_SECTION),)), 103.0)
    assert (whole.unbuilt_m, gap.unbuilt_m) == pytest.approx((0.0, 200.0), abs=1e-5)
    for name in ("fill_m3", "footprint_m2", "cut_m3"):
        assert getattr(gap, name) == pytest.approx(0.8 * getattr(whole, name), rel=1e-7, abs=1e-6)
    rows = [{r.id: r.amount for r in one.rows} for one in (whole, gap)]
    assert rows[1]["layer-0"] == pytest.approx(0.8 * rows[0]["layer-0"], rel=1e-7)


def test_changes_widen_one_element_with_a_taper_and_exceptions_say_why():
    wider = SectionChange(from_m=200.0, to_m=300.0, taper_in_m=20.0, taper_out_m=20.0, point="shoulder", width_m=1.5)
    at = {"from_m": 250.0, "to_m": 250.0, "taper_in_m": 5.0, "taper_out_m": 5.0}
    gate = SectionChange(**at, point="shoulder", width_m=3.0, reason="gate")
    steep = SectionChange(from_m=200.0, to_m=300.0, side="left", cut_h_over_v=0.5)
    d = design(changes=(gate, wider, steep))
    assert [edge(d, s) for s in (180, 190, 200, 300, 310, 320)] == pytest.approx([4, 4.25, 4.5, 4.5, 4.25, 4])
    # The exception goes from what is there otherwise, whichever was typed first.
    assert [edge(d, s) for s in (245, 247.5, 250, 255)] == pytest.approx([4.5, 5.25, 6.0, 4.5])
    assert edge(d, 250.0, -1.0) == 4.0 and d.along.exceptions == (gate,)
    (left, _), (right, _) = d.built_at(250.0)
    assert left.cut[0].bands[0].run[0] == 0.5 and right.cut[0].bands[0].run[0] == 1.5
    for row, words in (
        (replace(gate, taper_in_m=0.0, taper_out_m=0.0), "no length"),
        (replace(wider, width_m=None), "changes nothing"),
        (replace(wider, point=""), "which element"),
        (replace(wider, led_by="fence"), "no line “fence”"),
    ):
        with pytest.raises(DesignInputError, match=words):
            SectionsAlong(changes=(row,)).check()


def test_an_added_lane_lies_behind_the_lanes_and_falls_as_they_do():
    d = design(lanes=(AddedLane(from_m=500.0, to_m=700.0, taper_in_m=100.0, taper_out_m=50.0, width_m=3.2),))
    assert [edge(d, s) for s in (400, 450, 500, 700, 725, 750)] == pytest.approx([4, 5.6, 7.2, 7.2, 5.6, 4])
    (_, _), (_, shapes) = d.built_at(600.0)
    assert [e.name for e, _ in shapes[0].elements] == ["lane", "added lane", "shoulder"]
    assert shapes[0].elements[1][1][-1] == pytest.approx((6.2, -0.186))
    # The base lies under all of it.
    assert shapes[0].variant.layers_m2 == pytest.approx((7.2 * 0.2,))


def test_an_edge_is_led_by_a_line_and_keeps_its_width_where_that_is_not_met():
    line = ((300, -3.6), (500, -4.6), (700, -3.6))
    corners = tuple(LineCorner(name="old edge", easting_m=x, northing_m=y) for x, y in line)
    led = SectionChange(from_m=0.0, to_m=1000.0, point="lane", led_by="old edge")
    d = design(changes=(led,), corners=corners)
    surface = [float(p.surface[1, 0]) for s in (200.0, 300.0, 400.0, 500.0, 600.0) for p, _ in d.built_at(s)[1:]]
    assert surface == pytest.approx([3.0, 3.6, 4.1, 4.6, 4.1], abs=1e-9)
    assert {300.0, 500.0, 700.0} <= set(np.round(d.places[0], 9))


def test_lanes_lean_shoulders_follow_their_rule_and_the_inner_side_widens():
    line = winding()
    (bend,) = line.bends
    d = leaning(line, least_widening_m=0.1)
    middle = (bend.from_chainage_m + bend.to_chainage_m) / 2
    (left, _), (right, _) = d.built_at(middle)
    # V / (9.5 sqrt R) + 2 l^2 / (2 R), 60 km/h, 6.1 m.
    wide = 60 / 9.5 / np.sqrt(150) + 6.1**2 / 150
    assert right.surface.tolist() == [
        pytest.approx(p) for p in ((0, 0), (3 + wide, -0.06 * (3 + wide)), (4 + wide, -0.06 * (4 + wide)))
    ]
    # The high side's shoulder falls 8 % against its lane: 6 % up, so 2 % down.
    assert left.surface.tolist() == [pytest.approx(p) for p in ((0, 0), (3, 0.18), (4, 0.16))]
    # On straights it is what it was.
    assert edge(d, 10.0) == 4.0


@pytest.mark.parametrize("about", [INNER, OUTER])
def test_about_an_edge_that_edge_keeps_its_level(about):
    line = winding()
    d = leaning(line, about=about, widened=False)
    s = np.linspace(0.0, line.end_chainage_m, 101)
    road = d.resolve(s)
    inner, outer = road.surface_m(np.full(101, 3.0)), road.surface_m(np.full(101, -3.0))
    kept, other = (inner, outer) if about == INNER else (outer, inner)
    assert kept == pytest.approx(np.full(101, -0.09))
    assert np.ptp(other) == pytest.approx(2 * 0.06 * 3 - 0 if about == INNER else 2 * 0.06 * 3, abs=0.2)
    middle = road.surface_m(np.zeros(101))
    assert middle.max() == pytest.approx(0.09 if about == INNER else 0.0) and middle[0] == 0.0


def test_rows_of_ones_own_stand_and_jump_where_they_end():
    own = OwnFalls(from_m=50.0, to_m=80.0, left_from=0.0, left_to=0.0, right_from=0.05, right_to=0.05)
    d = leaning(winding(), rows=(own,))
    assert {50.0, 80.0} <= set(d.places[1])
    levels = d.resolve(np.array([50.0 - STEP_M, 50.0, 80.0 - STEP_M, 80.0])).surface_m(np.full(4, 3.0))
    assert levels.tolist() == pytest.approx([-0.09, -0.15, -0.15, -0.09])


def test_a_resolved_road_is_the_same_section_by_section():
    """Whatever varies, each section of many is the one that is built at its chainage alone; areas too."""
    rng = np.random.default_rng(26)
    sections = [s.section for s in STARTING]
    for _ in range(examples(25)):
        a, b = (sections[int(rng.integers(len(sections)))] for _ in range(2))
        line = winding(float(rng.uniform(20, 90)), float(rng.choice([0.0, 40.0])))
        e = np.sort(rng.uniform(0, line.end_chainage_m, 6)).tolist()
        before, side, other = float(rng.choice([0, 30])), str(rng.choice(SIDES)), str(rng.choice(SIDES))
        along = SectionsAlong(
            ranges=(
                SectionRange(from_m=e[1], to_m=e[3], section="section-2", taper_in_m=before, taper_out_m=9.0),
                SectionRange(from_m=e[3] + 1, to_m=e[4] + 1, section=NO_SECTION),
            ),
            changes=(
                SectionChange(from_m=e[0], to_m=e[2], side=side, point=a.elements[0].name, width_m=4.0),
                SectionChange(from_m=e[2], to_m=e[5], taper_in_m=7.0, side="left", fill_h_over_v=3.0, reason="wet"),
            ),
            lanes=(AddedLane(from_m=e[0], to_m=e[1], taper_out_m=40.0, side=other),),
        )
        works = Works(rows=(TopsoilStretch(from_m=e[2], to_m=e[4], depth_m=0.3),))
        d = leaning(line, a, about=str(rng.choice([INNER, OUTER])), least_widening_m=0.1)
        d = replace(d, works=works, along=along, others={"section-2": b})
        turns, steps = d.places
        s = line.priced_chainages(20.0, also=turns, steps=steps)
        road = d.resolve(s)
        assert road.built is not None and not road.built.all()
        for i in rng.integers(0, len(s), 12).tolist():
            for k, (profile, shapes) in enumerate(d.built_at(float(s[i]))):
                one = road.profiles[road.which[i, k]]
                assert np.array_equal(one.surface, profile.surface) and len(shapes) == len(one.variants)
                for v, w in zip(one.variants, profile.variants, strict=True):
                    assert np.array_equal(v.formation, w.formation) and v.layers_m2 == w.layers_m2
        # Where it may not jump, it does not.
        inner = np.array(
            [t for t in turns if t not in steps and 1 < t < line.end_chainage_m - 1 and abs(t - s).min() < 1e-6]
        )
        for at in inner.tolist():
            before, behind = (d.resolve(np.array([at + e])) for e in (-1e-7, 1e-7))
            for side in (-1.0, 1.0):
                assert before.edge_m(np.array([side])) == pytest.approx(behind.edge_m(np.array([side])), abs=1e-4), at
                levels = (r.surface_m(np.array([side * 2.5])) for r in (before, behind))
                assert next(levels) == pytest.approx(next(levels), abs=1e-4), at


@settings(max_examples=examples(30), deadline=None)
@given(
    side=st.sampled_from(SIDES), start=st.floats(20, 400), length=st.floats(20, 200),
    taper=st.one_of(st.just(0.0), st.floats(0.1, 60)),
    village=st.floats(0, 500),
)  # fmt: skip
def test_lines_at_the_edges_of_lanes_are_where_the_lanes_end(side, start, length, taper, village):
    """In a widened bend, over a change of section whose taper meets that of a width, past an added lane: anywhere."""
    line = winding()
    lane = AddedLane(
        from_m=start, to_m=start + length, taper_in_m=min(taper, start), taper_out_m=taper, side=side, name="climbing"
    )
    range_ = SectionRange(from_m=village, to_m=village + 60, taper_in_m=0, taper_out_m=15, section="section-2")
    wider = SectionChange(
        from_m=village + 70, to_m=village + 80, taper_in_m=2 * taper, point="lane", side=side, width_m=4.0
    )
    # Another one further on; between the two there is no lane line.
    further = replace(lane, from_m=start + length + 130, to_m=start + length + 150, taper_in_m=0.0, taper_out_m=0.0)
    along = SectionsAlong(ranges=(range_,), lanes=(lane, further), changes=(wider,))
    design = replace(leaning(line), along=along, others={"section-2": VILLAGE})
    lines = painted(design, design.turns_along(line))
    s = np.random.default_rng(int(village * 1e6) % 2**32).uniform(0, line.end_chainage_m, 60)
    for column, (own, sign) in enumerate(zip(SIDES, (-1.0, 1.0), strict=True)):
        for what, added in (("edge line", True), ("lane line", False)):
            mine = [p for p in lines if p.what == what and p.side == own]
            told = design.lanes_m(s, added=added)[:, column]
            for at, edge in zip(s.tolist(), told.tolist(), strict=True):
                on = [p for p in mine if p.from_m < at < p.to_m]
                lanes = any(r.from_m - r.taper_in_m <= at <= r.to_m + r.taper_out_m for r in along.lanes)
                if what == "lane line" and not (own == side and lanes):
                    assert not on
                    continue
                (p,) = on
                offset = np.interp(at, [p.from_m, p.to_m], [p.from_offset_m, p.to_offset_m])
                assert sign * offset == pytest.approx(edge, abs=1e-3)
