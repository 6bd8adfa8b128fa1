"""Grounds, costs and limits of many kinds, made from seeds: what the search and its bound are held against."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.controls.bands import Band
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks
from delgrun.core.earthworks.volumes import section_weights
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.along import GroundSections
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.search.polish import level_line
from delgrun.core.search.problem import SearchProblem
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import Material, ReserveBounds, ReserveStretch, Strata, StratumDepth, Works
from delgrun.core.section.starting import STARTING

FloatArray = NDArray[np.float64]
_REACH_M = 400.0


def _waves(
    s: FloatArray, rng: np.random.Generator, heights: tuple[float, ...], lengths: tuple[float, ...]
) -> FloatArray:
    return np.asarray(
        sum(h * np.sin(2 * np.pi * s / w + rng.uniform(0, 6)) for h, w in zip(heights, lengths, strict=True))
    )


def _gorge(s: FloatArray, rng: np.random.Generator) -> FloatArray:
    at, deep, wide = rng.uniform(0.3, 0.7) * s[-1], rng.uniform(25, 60), rng.uniform(60, 140)
    return _waves(s, rng, (4,), (700,)) - deep * np.exp(-(((s - at) / wide) ** 2))


# Levels along the line by kind of ground.
GROUNDS: dict[str, Callable[[FloatArray, np.random.Generator], FloatArray]] = {
    "flat": lambda s, r: 0.002 * s,
    "gentle": lambda s, r: _waves(s, r, (3, 1), (900, 320)),
    "rolling": lambda s, r: _waves(s, r, (9, 4, 1.5), (1100, 420, 160)),
    "rugged": lambda s, r: _waves(s, r, (22, 9, 4), (900, 300, 120)),
    "noise": lambda s, r: _waves(s, r, (5,), (800,)) + r.normal(0, 0.3, len(s)),
    "sawtooth": lambda s, r: np.abs((s % 260) - 130) / 130 * 9,
    "terraces": lambda s, r: np.floor(s / 180) * 3.0,
    "gorge": _gorge,
    "valley": lambda s, r: np.abs(s - s[-1] / 2) * 0.14,
    "ridge": lambda s, r: -np.abs(s - s[-1] / 2) * 0.12,
}
# Unit costs by kind: cut, fill, haul per m, borrow, spoil.
COSTS: dict[str, tuple[float, float, float, float, float]] = {
    "usual": (6, 4, 0.0012, 6, 3),
    "dear haul": (6, 4, 0.05, 6, 3),
    "haul for nothing": (6, 4, 0.0, 6, 3),
    "dear borrow": (6, 4, 0.0012, 60, 3),
    "dear spoil": (3, 1, 0.002, 2, 25),
    "cut costs most": (40, 1, 0.001, 1, 1),
    "only fill": (0.1, 12, 0.001, 8, 0.1),
}


def turned(p: SearchProblem) -> SearchProblem:
    """The same road from its end to its start."""
    works, lim = p.works, p.limits
    ground = works.ground
    count = len(ground.chainage_m)
    order = np.arange(count)[::-1]
    pieces = [slice(int(ground.start[i]), int(ground.start[i + 1])) for i in order]
    sizes = [piece.stop - piece.start for piece in pieces]
    # Left and right change places too.
    across = GroundSections(
        ground.chainage_m[-1] - ground.chainage_m[order],
        np.concatenate([[0], np.cumsum(sizes)]).astype(np.int64),
        np.concatenate([-ground.offset_m[piece][::-1] for piece in pieces]),
        np.concatenate([ground.level_m[piece][::-1] for piece in pieces]),
        ground.centre_level_m[order],
    )
    start, end = (None if g is None else -g for g in (lim.start_grade, lim.end_grade))
    # By value what it was: sides change places, whatever is built on them.
    turned = replace(works.road, chainage_m=across.chainage_m, which=works.road.which[order, ::-1].copy())
    in_ground = replace(works.in_ground, depth_m=works.in_ground.depth_m[order])
    return SearchProblem(
        replace(works, ground=across, weight_m=section_weights(across.chainage_m), road=turned, in_ground=in_ground),
        p.cost,
        replace(lim, start_grade=end, end_grade=start),
        p.end_level_m,
        p.start_level_m,
    )


def dearer(cost: CostModel, times: float) -> CostModel:
    """All unit costs so many times as high."""
    prices = {name: times * value for name, value in vars(cost).items() if "_per_m3" in name}
    return replace(cost, **prices)


def made(seed: int, sections: int = 90, *, holes: bool = False, rich: bool = False) -> tuple[str, SearchProblem]:
    """A problem and its name; `sections` is about how many it has. With `holes`, a stretch has no
    ground; a `rich` road has sides that differ, a drain in cut, benches, batters by height, rock that may be of no use,
    and on a part of it a reserve.
    """
    rng = np.random.default_rng(seed)
    ground = list(GROUNDS)[seed % len(GROUNDS)]
    cost = list(COSTS)[int(rng.integers(len(COSTS)))]
    spacing = float(rng.choice([5.0, 10.0, 10.0, 20.0]))
    s = np.arange(sections) * spacing
    uneven = seed // len(GROUNDS) % 3
    if uneven:
        # Ends of arcs stand anywhere, also centimetres beside an even chainage.
        beside = rng.choice(s[2:-2], max(sections // 12, 2), replace=False)
        apart = rng.uniform(0.02, 0.5, len(beside)) if uneven == 1 else rng.uniform(0.02, 0.9, len(beside)) * spacing
        s = np.unique(np.concatenate([s, beside + apart]))
    level = 200 + GROUNDS[ground](s, rng)
    cross = rng.choice([0.0, 0.15, 0.4]) * np.ones(len(s)) * (1 if seed % 2 else np.sin(s / 150))
    if holes:
        a = int(rng.integers(2, len(s) * 2 // 3))
        level[a : a + len(s) // 6] = np.nan
    sections_of = GroundSections(
        s,
        np.arange(len(s) + 1, dtype=np.int64) * 2,
        np.tile([-_REACH_M, _REACH_M], len(s)),
        (level[:, None] + cross[:, None] * np.array([-_REACH_M, _REACH_M])).ravel(),
        level,
    )
    half = float(rng.choice([3.0, 4.5, 6.0]))
    # A road without pavement on flat ground costs next to nothing: then tables that are good to 0.02 m2 show.
    pavement = 0.0 if rng.random() < 0.2 else 0.45
    typical = RoadDesign.plain(
        lane_width_m=half / 2, lane_crossfall=0.0, shoulder_width_m=half / 2, shoulder_crossfall=0.0,
        pavement_thickness_m=pavement, topsoil_depth_m=pavement / 3, cut_batter_h_over_v=1.0 + (seed % 2) * 0.5,
        fill_batter_h_over_v=2.0,
    )  # fmt: skip
    if rich:
        typical = _rich(np.random.default_rng(seed + 1000), float(s[-1]))
    steepest = float(rng.choice([0.06, 0.08, 0.12]))
    crest, sag, shortest = (float(rng.choice(of)) for of in ([5.0, 12.0, 30.0], [6.0, 14.0], [30.0, 60.0]))
    limits = LimitSet(
        design_speed_kmh=60, max_grade=steepest, min_grade=0.0, min_crest_k_m_per_pct=crest, min_sag_k_m_per_pct=sag,
        min_curve_length_m=shortest, min_ip_spacing_m=60.0,
    )  # fmt: skip
    rise = np.clip(level[-1] - level[0], -0.7 * steepest * s[-1], 0.7 * steepest * s[-1])
    if rng.random() < 0.5:
        along = float(rise / s[-1])
        limits = LimitSet(
            **{
                **vars(limits),
                "start_grade": float(np.clip(along + rng.uniform(-0.02, 0.02), -0.8 * steepest, 0.8 * steepest)),
                "end_grade": float(np.clip(along + rng.uniform(-0.02, 0.02), -0.8 * steepest, 0.8 * steepest)),
            }
        )
    cut, fill, haul, borrow, spoil = COSTS[cost]
    money = CostModel(
        cut_per_m3=cut, fill_per_m3=fill, haul_per_m3_m=haul, borrow_per_m3=borrow, spoil_per_m3=spoil,
        compacted_per_bank=float(rng.choice([0.85, 1.0, 1.1])),
    )  # fmt: skip
    works = Earthworks.of(sections_of, typical)
    ties = "tied" if limits.start.grade is not None else "free"
    even = ("even", "pairs", "uneven")[uneven]
    name = f"{seed} {ground}, {cost}, {even}, {ties}"
    return name, SearchProblem(works, money, limits, float(level[0]), float(level[0] + rise))


def _rich(rng: np.random.Generator, length_m: float) -> RoadDesign:
    side_slope = next(start.section for start in STARTING if start.id == "side-slope")
    rock = Material(
        name="rock", batter_h_over_v=0.5, cut_per_m3=float(rng.choice([4.0, 20.0])),
        may_be_fill=bool(rng.random() < 0.5),
    )  # fmt: skip
    depth = StratumDepth(from_m=-1.0, to_m=0.7 * length_m, material="rock", depth_m=float(rng.uniform(0.5, 4.0)))
    side = "left" if rng.random() < 0.5 else "right"
    held = ReserveStretch(from_m=0.3 * length_m, to_m=0.6 * length_m, side=side, offset_m=float(rng.uniform(7, 15)))
    return RoadDesign(side_slope, Works(), Strata(materials=(rock,), rows=(depth,)), ReserveBounds(rows=(held,)))


def controlled(p: SearchProblem, line: GradeLine, seed: int) -> SearchProblem:
    """The same problem with level controls that a line keeps, and that the cheapest one seldom does."""
    rng = np.random.default_rng(seed)
    s = p.chainage_m
    bands = []
    for row, what in enumerate(("at least", "at most", "at", "between")):
        a = float(rng.uniform(s[0] + 40, s[-1] - 40))
        b = a if what == "at" or rng.random() < 0.4 else min(a + float(rng.uniform(5, 120)), float(s[-1]) - 20)
        at = np.array([a]) if b == a else np.linspace(a, b, 40)
        level, room = line.levels(at), float(rng.uniform(0.0, 0.3)) + 0.004
        match what:
            case "at least":
                bands.append(Band("control", row, what, at, level - room, 0.0, np.inf))
            case "at most":
                ends = at[[0, -1]] if b > a else at
                bands.append(Band("control", row, what, ends, np.full(len(ends), level.max()), -np.inf, room))
            case "at":
                bands.append(Band("control", row, what, at, level, 0.0, 0.0))
            case _:
                bands.append(Band("control", row, what, at, level, -room, room))
    return replace(p, limits=p.limits.with_bands(bands))


def another_line(p: SearchProblem, seed: int) -> GradeLine | None:
    """A line that keeps the limits of a problem, somewhere else than the cheapest; None where this try found none."""
    rng = np.random.default_rng(seed)
    s = p.chainage_m
    count = max(int((s[-1] - s[0]) / rng.uniform(1.3, 3.0) / max(p.limits.min_ip_spacing_m, 60.0)), 2)
    x = np.linspace(s[0], s[-1], count + 1)
    length = np.full(count + 1, 0.95 * (x[1] - x[0]))
    length[[0, -1]] = 0.0
    # The same work on other ground.
    works, g = p.works, p.works.ground
    other = works.centre_level_m + rng.uniform(0.5, 4.0) * np.sin(s / rng.uniform(40, 160))
    lifted = g.level_m + np.repeat(other - works.centre_level_m, np.diff(g.start))
    there = replace(p, works=replace(works, ground=replace(g, level_m=lifted, centre_level_m=other)))
    found = level_line(there, x, np.interp(x, s, other), length, 0.001)
    return found.line() if found.kept else None


# What is asked beside the usual: ranges, changes of grade without curves, a fall of its own, tangents between curves,
# ground flatter than a line may be, and roads of a few hundred metres with long curves.
OPTIONS = ("ranges", "kinks", "falls", "tangents", "plain", "short", "far range")


def varied(seed: int, sections: int = 60) -> tuple[str, SearchProblem]:
    """A problem with one of the options, and its name."""
    option = OPTIONS[seed % len(OPTIONS)]
    rng = np.random.default_rng(1000 + seed)
    # Of ten kinds of ground the plains are the flat one.
    own = seed * 10 if option == "plain" else seed
    name, p = made(own, 25 + seed % 20 if option == "short" else sections)
    lim, s = replace(p.limits, start_grade=None, end_grade=None), p.chainage_m
    ranges = []
    match option:
        case "ranges" | "far range":
            for _ in range(2 if option == "ranges" else 1):
                a = float(rng.uniform(s[0], s[-1] - 100))
                b = a + float(rng.uniform(40, 300)) if option == "ranges" else a + 12.0
                ranges.append(
                    LimitRange(
                        from_m=a, to_m=b, max_grade=lim.max_grade * float(rng.uniform(0.5, 1.3)),
                        min_crest_k_m_per_pct=lim.min_crest_k_m_per_pct * float(rng.uniform(0.6, 1.6)),
                        min_curve_length_m=3 * lim.min_curve_length_m if option == "far range" else None,
                        min_ip_spacing_m=200.0 if option == "far range" else None,
                    )
                )  # fmt: skip
        case "kinks":
            lim = replace(lim, most_kink=float(rng.choice([0.003, 0.01])))
        case "falls":
            lim = replace(lim, max_fall=lim.max_grade * float(rng.uniform(0.7, 1.2)))
        case "tangents":
            lim = replace(lim, min_tangent_m=float(rng.choice([10.0, 40.0])))
        case "plain":
            lim = replace(lim, min_grade=0.005)
        case "short":
            lim = replace(lim, min_curve_length_m=120.0, min_ip_spacing_m=120.0)
    limits = lim.with_ranges(ranges) if ranges else lim
    return f"{option}: {name}", SearchProblem.under(p.works, p.cost, limits, (p.start_level_m, p.end_level_m))
