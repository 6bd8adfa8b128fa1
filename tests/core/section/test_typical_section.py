"""Typical sections as built: closed forms, shapely's polygons, and laws over made ones."""

from dataclasses import replace

import numpy as np
import pytest
from shapely import Polygon, unary_union

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.drawing.section import section_drawing
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_levels, evaluate_line
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import GroundSections, with_surface
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import BY_ID
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.section.area_kernels import DUG, WALLED
from delgrun.core.section.layered import SideShape
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import (
    Material,
    ReserveBounds,
    ReserveCorner,
    ReserveStretch,
    Strata,
    StratumDepth,
    Works,
)
from delgrun.core.section.section import section_of, shown_section
from delgrun.core.section.starting import STARTING
from delgrun.core.section.typical_section import Batter, Element, Layer, TypicalSection, mirrored
from laws import examples
from walk import solid

BATTERS = (Batter(kind="cut", h_over_v=1.0), Batter(kind="fill", h_over_v=2.0))
BARE = Works(topsoil_depth_m=0.0)


def both_sides(*parts: Element | Layer | Batter, name: str = "made") -> TypicalSection:
    kinds = (Element, Layer, Batter)
    elements, layers, batters = (tuple(p for p in parts if isinstance(p, k)) for k in kinds)
    right = TypicalSection(name=name, elements=elements, layers=layers, batters=batters or BATTERS)
    made = mirrored(right, "left")
    made.check()
    return made


def shapes_of_side(section: TypicalSection, side: str) -> tuple[SideShape, ...]:
    return RoadDesign(section).built_at(0.0)[("left", "right").index(side)][1]


def lane(width: float = 4.0, fall: float = 0.0) -> Element:
    return Element(kind="lane", name="lane", width_m=width, fall=fall)


def level_ground(count: int = 2, apart: float = 1000.0, level: float = 100.0, fall: float = 0.0) -> GroundSections:
    offset = np.tile([-80.0, 0.0, 80.0], count)
    s = np.arange(count) * apart
    return GroundSections(s, np.arange(count + 1) * 3, offset, level - fall * offset, np.full(count, level))


def at(design: RoadDesign, line: float, ground: float = 100.0, fall: float = 0.0):
    g = level_ground(1, level=ground, fall=fall)
    return section_of(design, *g.one(0), line)


def test_a_usual_two_lane_section():
    """Levels at edge, shoulder and formation, and the layers' volumes of a kilometre: common practice, no source."""
    section = both_sides(
        lane(3.0, 0.03),
        Element(kind="shoulder", name="shoulder", width_m=1.0, fall=0.05),
        *(Layer(name=str(t), thickness_m=t) for t in (0.03, 0.10, 0.20)),
    )
    (both,) = shapes_of_side(section, "right")
    shape = both.variant
    assert [p.level_m for p in both.points] == pytest.approx([-0.090, -0.140])
    assert shape.formation[-1, :2] == pytest.approx([4.0, -0.470])
    works = Earthworks.of(level_ground(), RoadDesign(section, BARE))
    rows = {r.name: r for r in evaluate_levels(works, np.full(2, 103.0), CostModel()).ledger.rows}
    assert [rows[str(t)].amount for t in (0.03, 0.10, 0.20)] == pytest.approx([240.0, 800.0, 1600.0])


def test_drains_and_benches_by_closed_forms():
    # A road of 8 m, 2 m below level ground with batters 1 : 1: (b + n h) h = 20 (reference values 4.1).
    flat = Element(
        kind="drain", name="drain", width_m=0.5, depth_m=0.4, front_h_over_v=2.0, back_h_over_v=1.0, built="in cut"
    )
    plain = at(RoadDesign(both_sides(lane()), BARE), 98.0)
    assert plain.cut_m2 == pytest.approx(20.0)
    # Each drain takes 1.7 m more at the road's level, 2 m high, and (0.5 + 1.7) / 2 * 0.4 below it.
    drained = at(RoadDesign(both_sides(lane(), flat), BARE), 98.0)
    assert drained.cut_m2 - plain.cut_m2 == pytest.approx(2 * (1.7 * 2.0 + 0.44))
    # V-shaped and with the batter at its bottom: 0.8 m out, then 1 : 1 from 0.4 m lower.
    v = replace(flat, width_m=0.0, back_h_over_v=None)
    assert at(RoadDesign(both_sides(lane(), v), BARE), 98.0).right.outline[-1].tolist() == pytest.approx([7.2, 100.0])
    # In fill there is none.
    assert at(RoadDesign(both_sides(lane(), flat), BARE), 102.0).fill_m2 == pytest.approx((8 + 2 * 2) * 2)
    # 5 m of cut with a bench of 1 m behind each 2 m: bands of 2, 2 and 1 m above 4, 7 and 10 m of half width.
    bands = Batter(kind="cut", h_over_v=1.0, height_m=2.0, bench_m=1.0)
    benched = at(RoadDesign(both_sides(lane(), bands, BATTERS[1]), BARE), 95.0)
    half = (4 + 6) / 2 * 2 + (7 + 9) / 2 * 2 + (10 + 11) / 2 * 1
    assert benched.cut_m2 == pytest.approx(2 * half) and benched.right.catch_offset_m == pytest.approx(11.0)


def test_a_fills_batter_goes_by_its_height_and_a_wider_verge_comes_with_a_high_fill():
    rules = (Batter(kind="fill", h_over_v=1.5, up_to_m=3.0), Batter(kind="fill", h_over_v=2.5))
    verge = Element(kind="verge", name="verge", width_m=1.0, built="in fill", exceeds_m=4.0)
    design = RoadDesign(both_sides(lane(), verge, BATTERS[0], *rules), BARE)
    reach = [at(design, 100.0 + h).right.catch_offset_m for h in (2.0, 3.5, 5.0)]
    assert reach == pytest.approx([4 + 3.0, 4 + 8.75, 5 + 12.5])


def test_layers_end_where_they_are_told_to():
    shoulder = Element(kind="shoulder", name="shoulder", width_m=1.0)
    drain = Element(kind="drain", name="drain", width_m=0.5, depth_m=0.5, front_h_over_v=2.0, built="in cut")
    base = Layer(name="base", thickness_m=0.2, last="lane", extend_m=0.3)
    subbase = Layer(name="subbase", thickness_m=0.1, ends="drain front")
    cut = shapes_of_side(both_sides(lane(), shoulder, drain, base, subbase), "right")[1].variant
    # The base goes 0.3 m under the shoulder. The subbase lies 0.1 m under what is there: under base, then under the
    # shoulder, and on to the front slope, which it meets 0.1 m down, 0.2 m out.
    assert cut.layers_m2 == pytest.approx((4.3 * 0.2, 5 * 0.1 + 0.1 * 0.2 / 2))
    assert cut.put_back_m2 == pytest.approx(0.0)
    # To the batter of 1 : 2 of a fill a layer of 0.1 m goes on by a triangle twice as wide as it is thick.
    own = Layer(name="gravel", thickness_m=0.1, ends="batter")
    fill, cut = (s.variant for s in shapes_of_side(both_sides(lane(), own), "right"))
    assert fill.layers_m2 == pytest.approx((4 * 0.1 + 0.1 * 0.2 / 2,)) and cut.layers_m2 == pytest.approx((0.4,))
    assert fill.formation[-1, :2] == pytest.approx([4.2, -0.1])


def test_an_overlay_goes_down_to_the_ground_and_no_thinner_than_its_least():
    """On ground that lies 0.3 m down and rises to the right: by half its width it fills, beyond it digs."""
    section = both_sides(lane(5.0), Layer(name="overlay", thickness_m=0.1, to_ground=True))
    design = RoadDesign(section, BARE)
    s = at(design, 100.0, ground=99.8, fall=-0.04)
    x = np.linspace(-5, 5, 200_001)
    ground = 99.8 + 0.04 * x
    from_ground = np.maximum(100.0 - ground, 0.1)
    assert s.left.columns[-1] + s.right.columns[-1] == pytest.approx(np.trapezoid(from_ground, x), rel=1e-6)
    works = Earthworks.of(replace_all(level_ground(2, 1.0), 99.8, -0.04), design)
    rows = {r.id: r.amount for r in evaluate_levels(works, np.full(2, 100.0), CostModel()).ledger.rows}
    assert rows["layer-0"] == pytest.approx(np.trapezoid(from_ground, x), rel=1e-6)
    dug = np.trapezoid(np.maximum(ground - 99.9, 0.0), x)
    assert rows["cut-0"] == pytest.approx(dug + (0.1**2) / 2 / (1 - 0.04), rel=1e-3)


def test_each_sides_overlay_fills_what_is_under_it_and_nothing_twice():
    """Of two materials, on ground 0.5 m down: half a metre of each on its own side."""
    layers = (
        Layer(side="left", name="stone", thickness_m=0.1, to_ground=True, price_per_m3=10.0),
        Layer(side="right", name="gravel", thickness_m=0.2, to_ground=True),
    )
    section = replace(both_sides(lane(5.0)), layers=layers)
    section.check()
    works = Earthworks.of(level_ground(2, 1.0, level=99.5), RoadDesign(section, BARE))
    got = evaluate_levels(works, np.full(2, 100.0), CostModel()).ledger
    rows = {r.name: r for r in got.rows}
    assert (rows["stone"].amount, rows["gravel"].amount) == pytest.approx((2.5, 2.5))
    assert rows["stone"].cost == pytest.approx(25.0) and got.other_cost == pytest.approx(25.0)
    # Beside the road's edges, where its bed is upright, earth fills: 1 : 2 from 0.1 or 0.2 m down.
    assert got.fill_m3 == pytest.approx(0.4**2 + 0.3**2)


def replace_all(g: GroundSections, level: float, fall: float) -> GroundSections:
    return replace(g, level_m=level - fall * g.offset_m, centre_level_m=np.full(len(g.chainage_m), level))


def made_section(rng: np.random.Generator) -> TypicalSection:
    """A section that somebody might build, its sides apart."""
    parts: list[Element | Layer | Batter] = []
    for side in ("left", "right"):
        kinds = [
            "lane",
            *rng.choice(["lane", "shoulder", "verge", "kerb", "berm", "piece", "wall"], rng.integers(0, 4)),
        ]
        own = [
            Element(
                side=side, kind=kind, name=f"{kind} {i}", width_m=float(rng.choice([0.3, 1.0, 3.5])),
                fall=float(rng.choice([-0.04, 0.0, 0.03, 0.5])) if kind == "piece" else float(rng.choice([0.0, 0.03])),
                drop_m=float(rng.choice([-0.15, 0.2, 1.0])) if kind in ("kerb", "wall") else None,
                built=str(rng.choice(["always", "always", "in cut", "in fill"])) if i else "always",
                exceeds_m=float(rng.choice([0.0, 1.0])),
            )
            for i, kind in enumerate(map(str, kinds))
        ]  # fmt: skip
        if rng.random() < 0.6:
            back = None if rng.random() < 0.5 else 1.0
            own.append(Element(side=side, kind="drain", name="drain", width_m=0.5, back_h_over_v=back, built="in cut"))
        names = ["", *(e.name for e in own if e.kind != "drain")]
        for k in range(rng.integers(0, 4)):
            parts.append(
                Layer(
                    side=side,
                    name=f"layer {k}",
                    thickness_m=float(rng.choice([0.05, 0.2])),
                    last=str(rng.choice(names)),
                    ends=str(rng.choice(["own edge", "drain front", "batter"])),
                    extend_m=float(rng.choice([0.0, 0.2, 0.7])),
                    extend_fall=None if rng.random() < 0.7 else float(rng.choice([0.0, 0.05])),
                )
            )
        parts += own
        parts.append(Batter(side=side, kind="cut", h_over_v=1.0, height_m=3.0, bench_m=1.0))
        if rng.random() < 0.5:
            parts.append(Batter(side=side, kind="fill", h_over_v=1.5, up_to_m=2.0))
        parts.append(Batter(side=side, kind="fill", h_over_v=2.0))
    kinds_of = (Element, Layer, Batter)
    elements, layers, batters = (tuple(p for p in parts if isinstance(p, k)) for k in kinds_of)
    made = TypicalSection(name="made", elements=elements, layers=layers, batters=batters)
    made.check()
    return made


def test_layers_lie_under_each_other_and_fill_what_is_over_the_formation():
    """Of made sections: rings that do not overlap, whose areas are the columns; with what is put back they are all that
    lies between surface and formation."""
    rng = np.random.default_rng(5)
    put_back = 0
    for _ in range(examples(300)):
        section = made_section(rng)
        for side in ("left", "right"):
            for shape in shapes_of_side(section, side):
                v = shape.variant
                rings = [Polygon(r) for layer in shape.layers for r in layer.rings]
                assert sum(v.layers_m2) == pytest.approx(sum(r.area for r in rings), abs=1e-9)
                assert unary_union(rings).area == pytest.approx(sum(v.layers_m2), abs=1e-7)
                surface, under = v.surface, v.formation[:, :2]
                edge = surface[-1, 0]
                # As far as the surface goes, without an upright face at its end.
                k = int(np.argmax(under[:, 0] >= edge))
                share = (edge - under[k - 1, 0]) / (under[k, 0] - under[k - 1, 0])
                below = [*under[:k].tolist(), (under[k - 1] + share * (under[k] - under[k - 1])).tolist()]
                over = solid(Polygon([*surface.tolist(), *reversed(below)]))
                window = Polygon([(0, -99), (edge, -99), (edge, 99), (0, 99)])
                here = sum(r.intersection(window).area for r in rings)
                assert over.area == pytest.approx(here + v.put_back_m2, abs=1e-6)
                put_back += v.put_back_m2 > 0.01
    assert put_back > 10


def test_sides_changed_over_and_chainages_reversed_take_the_same():
    rng = np.random.default_rng(6)
    for _ in range(examples(60)):
        section = made_section(rng)
        turned = replace(
            section,
            **{
                part: tuple(replace(r, side="left" if r.side == "right" else "right") for r in getattr(section, part))
                for part in ("elements", "layers", "batters")
            },
        )
        strata = Strata(
            materials=(Material(name="rock", batter_h_over_v=0.25, may_be_fill=False),),
            rows=(StratumDepth(from_m=0, to_m=60, material="rock", depth_m=2.0),),
        )
        n = 6
        z = np.cumsum(rng.normal(0, 1, (n, 9)), axis=1)
        ground = sections_from(z)
        back = sections_from(z[::-1, ::-1])
        level = ground.centre_level_m + rng.normal(0, 3, n)
        a = evaluate_levels(Earthworks.of(ground, RoadDesign(section, strata=strata)), level, CostModel()).ledger
        b = evaluate_levels(
            Earthworks.of(back, RoadDesign(turned, strata=strata)), level[::-1].copy(), CostModel()
        ).ledger
        names = {r.name: r.amount for r in b.rows}
        assert b.cost == pytest.approx(a.cost, rel=1e-9)
        for r in a.rows:
            assert names[r.name] == pytest.approx(r.amount, abs=1e-6, rel=1e-9)


def sections_from(z: np.ndarray) -> GroundSections:
    n, k = z.shape
    return GroundSections(
        np.arange(n) * 10.0, np.arange(n + 1) * k, np.tile(np.linspace(-60, 60, k), n), z.ravel().copy(),
        z[:, k // 2].copy(),
    )  # fmt: skip


def test_a_level_road_on_a_steep_hillside_has_one_side_in_cut_and_one_in_fill():
    side_slope = next(s.section for s in STARTING if s.id == "side-slope")
    s = at(RoadDesign(side_slope, BARE), 100.0, fall=0.45)
    assert (s.left.in_cut, s.right.in_cut) == (True, False) and s.left.caught and s.right.caught
    # A drain uphill alone: the left variant with one, the right without.
    assert s.left.outline[s.left.hinge, 0] > 4.0


def test_rock_stands_steeper_costs_more_and_what_is_useless_is_spoiled():
    strata = Strata(
        materials=(Material(name="rock", batter_h_over_v=0.5, cut_per_m3=20.0, may_be_fill=False),),
        rows=(StratumDepth(from_m=0, to_m=2000, material="rock", depth_m=2.0),),
    )
    design = RoadDesign(both_sides(lane()), BARE, strata)
    works = Earthworks.of(level_ground(), design)
    cost = CostModel(cut_per_m3=5.0, compacted_per_bank=0.9, spoil_per_m3=3.0)
    got = evaluate_levels(works, np.full(2, 96.0), cost)
    rows = {r.name: r for r in got.ledger.rows}
    # 4 m deep: 2 m of rock from 8 m wide at 1 : 2, then 2 m of soil from 10 m wide at 1 : 1; a kilometre.
    assert rows["rock"].amount == pytest.approx((8 + 10) / 2 * 2 * 1000)
    assert rows["soil"].amount == pytest.approx((10 + 14) / 2 * 2 * 1000)
    assert got.ledger.cut_cost == pytest.approx(20 * 18e3 + 5 * 24e3)
    # All is spoiled: soil as there is no fill, rock in any case, each by its own bulking.
    assert got.ledger.spoil_m3 == pytest.approx(0.9 * 24e3 + 1.1 * 18e3)
    assert got.ledger.net_m3 == pytest.approx(0.9 * 24e3)


def test_a_reserve_steepens_a_batter_and_then_walls_it():
    stretch = ReserveStretch(from_m=-1, to_m=1, side="right", offset_m=7.0)
    design = RoadDesign(both_sides(lane()), BARE, reserve=ReserveBounds(least_fill_h_over_v=1.0, rows=(stretch,)))
    assert at(design, 101.0).right.catch_offset_m == pytest.approx(6.0)
    steep = at(design, 102.0).right
    assert steep.catch_offset_m == pytest.approx(7.0) and steep.wall_m == 0.0
    walled = at(design, 105.0).right
    assert (walled.catch_offset_m, walled.wall_m) == pytest.approx((7.0, 2.0))
    assert walled.columns[WALLED] == pytest.approx(2.0)


def test_walls_at_the_reserve_are_told_with_their_stretch():
    stretch = ReserveStretch(from_m=15, to_m=45, side="right", offset_m=7.0)
    design = RoadDesign(both_sides(lane()), BARE, reserve=ReserveBounds(least_fill_h_over_v=1.0, rows=(stretch,)))
    works = Earthworks.of(level_ground(7, 10.0), design)
    line = GradeLine.of([Ip(chainage_m=0.0, level_m=105.0), Ip(chainage_m=60.0, level_m=105.0)])
    checked = Checked(line, LimitSet(), works, evaluate_line(works, line, CostModel()))
    (found,) = BY_ID["reserve_wall"].uses(checked)
    assert (found.from_chainage_m, found.to_chainage_m, found.value) == pytest.approx((20.0, 40.0, 2.0))


def test_a_boundary_line_is_met_at_right_angles_to_the_road():
    east = Centreline([CentrelineIp(easting_m=0.0, northing_m=0.0), CentrelineIp(easting_m=100.0, northing_m=0.0)])
    corners = [ReserveCorner(name="fence", easting_m=e, northing_m=n) for e, n in ((0.0, 9.0), (100.0, 19.0))]
    design = RoadDesign(both_sides(lane()), BARE, reserve=ReserveBounds(corners=tuple(corners)), centreline=east)
    assert design.reserve_m(np.array([0.0, 50.0, 100.0]))[:, 0] == pytest.approx([9.0, 14.0, 19.0])
    assert np.isinf(design.reserve_m(np.array([50.0]))[:, 1]).all()


def test_batters_run_to_what_is_chosen():
    stripped = RoadDesign(both_sides(lane()), Works(topsoil_depth_m=0.5, batters_to="stripped ground"))
    plain = RoadDesign(both_sides(lane()), Works(topsoil_depth_m=0.5))
    assert at(plain, 98.0).right.catch_offset_m == pytest.approx(6.0)
    assert at(stripped, 98.0).right.catch_offset_m == pytest.approx(5.5)
    assert at(stripped, 98.0).cut_m2 == pytest.approx((8 + 1.5) * 1.5)


@pytest.mark.parametrize("start", STARTING, ids=lambda s: s.id)
def test_sections_to_begin_with_can_be_built(start):
    start.section.check()
    for depth in (-6.0, 0.0, 6.0):
        s = at(RoadDesign(start.section), 100.0, ground=100.0 + depth)
        assert s.left.caught and s.right.caught and (s.left.columns[DUG:] >= 0).all()


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"elements": ()}, "elements"),
        ({"elements": (lane(), lane())}, "elements"),
        ({"layers": (Layer(name="base", last="nowhere"),)}, "layers"),
        ({"layers": (Layer(name="a", to_ground=True), Layer(name="b"))}, "to_ground"),
        ({"layers": (Layer(name="a"), Layer(name="a", price_per_m3=3.0))}, "price_per_m3"),
        ({"elements": (Element(kind="lane", name="lane", built="in cut"), lane())}, "elements"),
        ({"batters": BATTERS[:1]}, "batters"),
        ({"batters": (*BATTERS, replace(BATTERS[1], up_to_m=2.0))}, "up_to_m"),
        ({"elements": (lane(), Element(kind="wall", name="wall"))}, "drop_m"),
    ],
)
def test_what_cannot_be_built_says_why(change, field):
    right = TypicalSection(elements=(lane(),), batters=BATTERS)
    with pytest.raises(DesignInputError) as refused:
        mirrored(replace(right, **change), "left").check()
    assert refused.value.field == field


def test_batters_run_to_another_surveys_surface_and_what_is_dug_is_the_grounds():
    """The other surface lies a metre over the ground on the right, as far as it goes: a cut's batter goes on to it."""
    ground = level_ground(2, 10.0)
    other = GroundSections(
        ground.chainage_m, np.array([0, 2, 4]), np.tile([-20.0, 60.0], 2), np.tile([98.0, 102.0], 2), np.full(2, 99.0)
    )
    both = with_surface(ground, other)
    works = Earthworks.of(both, RoadDesign(both_sides(lane()), BARE))
    areas, caught = works.areas(np.full(2, 97.0))
    # On the right it is met where 97 + (x - 4) = 99 + x / 20, on the left where 97 + (x - 4) = 99 - x / 20.
    assert areas[0, -2:] == pytest.approx([6 / 1.05, 6 / 0.95]) and (caught == 3).all()
    # Earth is dug to the ground at 100 only: on the right all that lies below it, on the left as far as the batter.
    left = 6 / 1.05
    dug = 4 * 3 + 3 * 3 / 2 if 6 / 0.95 >= 7 else 4 * 3 + (3 + 3 - (6 / 0.95 - 4)) / 2 * (6 / 0.95 - 4)
    dug += 4 * 3 + (3 + 3 - (left - 4)) / 2 * (left - 4)
    assert areas[0, DUG] == pytest.approx(dug)


def test_what_is_drawn_has_the_areas_that_are_counted():
    """Of made sections on made ground, narrower than some of them: cut and fill as regions, and what is put back."""
    rng = np.random.default_rng(8)
    wide = unequal = 0
    for _ in range(examples(150)):
        section = made_section(rng)
        if rng.random() < 0.2:
            # Wider than the ground is known, now and then to the very end of it.
            far = float(rng.choice([20.0, 60.0, 70.0]))
            section = replace(section, elements=tuple(replace(e, width_m=far) for e in section.elements))
        held = ReserveStretch(from_m=-9, to_m=9, side="left", offset_m=float(rng.uniform(3, 30)))
        design = RoadDesign(section, reserve=ReserveBounds(rows=(held,)))
        x = np.unique(np.concatenate([[-60.0, 0.0, 60.0], rng.uniform(-60, 60, 9)]))
        z = np.cumsum(rng.normal(0, 2, len(x)))
        ground = GroundSections(np.zeros(1), np.array([0, len(x)]), x, z, np.interp([0.0], x, z))
        level = float(ground.centre_level_m[0] + rng.normal(0, 5))
        line = GradeLine.of([Ip(chainage_m=-1.0, level_m=level), Ip(chainage_m=1.0, level_m=level)])
        shown = shown_section(ground, 0.0, design, line)
        both = [(p, s) for (p, _), s in zip(design.built_at(shown.chainage_m), (shown.left, shown.right), strict=True)]
        back = sum(p.variants[side.variant].put_back_m2 for p, side in both)
        drawing = section_drawing(shown)
        cut, fill = (sum(Polygon(r.ring).area for r in drawing.regions if r.role == role) for role in ("cut", "fill"))
        assert (cut, fill + back) == pytest.approx((shown.cut_m2, shown.fill_m2), abs=1e-6)
        wide += any(p.variants[side.variant].formation[-1, 0] > 60 for p, side in both)
        unequal += back > 0.01
    assert wide > 3 and unequal > 3
