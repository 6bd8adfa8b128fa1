"""Roads to measure on: the demo's, and longer ones over ground of the same kind."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Corner
from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import GroundSections, ground_sections
from delgrun.core.ground.drawn import points_along
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.limits.limit_set import LimitSet, default_limits
from delgrun.core.search.problem import SearchProblem
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import Material, ReserveBounds, ReserveStretch, Strata, StratumDepth, Works
from delgrun.core.section.starting import STARTING
from delgrun.core.section.typical_section import SIDES, Layer
from delgrun.demo import scenario
from delgrun.demo.load import BY_HAND


@dataclass(frozen=True)
class BenchRoad:
    name: str
    tin: Tin
    centreline: Centreline
    ground: GroundSections
    works: Earthworks
    typical: RoadDesign
    limits: LimitSet
    cost: CostModel
    by_hand: GradeLine

    def problem(self) -> SearchProblem:
        ends = self.by_hand.level_m[[0, -1]].tolist()
        return SearchProblem(self.works, self.cost, self.limits, ends[0], ends[1])

    def levels_by_highs(self, linprog) -> float:
        """Least cost of cut and fill over the levels of the hand-made IPs, by a general linear solver."""
        s, w, ground = self.works.chainage_m, self.works.weight_m, self.works.centre_level_m
        base = self.by_hand
        m, n = len(base.ips), len(s)
        one = np.eye(m)

        def with_levels(z: NDArray[np.float64]) -> NDArray[np.float64]:
            ips = [replace(ip, level_m=float(v)) for ip, v in zip(base.ips, z, strict=True)]
            return GradeLine(tuple(ips)).levels(s)

        slopes = np.column_stack([with_levels(one[k]) for k in range(m)])
        rows, rhs = [], []
        for d in np.concatenate([np.arange(-12, 12, 0.5)]):
            here = self.works.areas(ground + d)[0]
            up = self.works.areas(ground + d + 0.01)[0]
            for c in (0, 1):
                g = (up[:, c] - here[:, c]) / 0.01
                block = np.zeros((n, m + 2 * n))
                block[:, :m] = g[:, None] * slopes
                block[np.arange(n), m + c * n + np.arange(n)] = -1
                rows.append(block)
                rhs.append(g * (ground + d) - here[:, c])
        cost = np.concatenate([np.zeros(m), self.cost.cut_per_m3 * w, self.cost.fill_per_m3 * w])
        bounds = [(None, None)] * m + [(0, None)] * (2 * n)
        bounds[0], bounds[m - 1] = (base.level_m[0],) * 2, (base.level_m[-1],) * 2
        solved = linprog(cost, A_ub=np.vstack(rows), b_ub=np.concatenate(rhs), bounds=bounds, method="highs")
        return float(solved.fun)


def _road(name: str, corners, xyz, strings, ends) -> BenchRoad:
    tin = build_tin(xyz, strings, 50.0)
    line = Centreline([CentrelineIp(easting_m=e, northing_m=n, radius_m=r) for e, n, r in corners])
    typical = RoadDesign.plain()
    s = line.priced_chainages(10.0)
    ground = ground_sections(tin, line, s, 60.0)
    works = Earthworks.of(ground, typical)
    z0, g0, z1, g1 = ends(line, ground)
    limits = replace(default_limits(70.0), start_level_m=z0, start_grade=g0, end_level_m=z1, end_grade=g1)
    hand = GradeLine((Ip(chainage_m=0.0, level_m=z0), Ip(chainage_m=line.end_chainage_m, level_m=z1)))
    return BenchRoad(name, tin, line, ground, works, typical, limits, CostModel(), hand)


def demo_road() -> BenchRoad:
    points = scenario.survey_points(points_along(scenario.CENTRELINE, 4.0))
    xyz = np.array([(p.easting_m, p.northing_m, p.level_m) for p in points]).round(3)
    strings: dict[str, list[int]] = {}
    for i, p in enumerate(points):
        if p.string:
            strings.setdefault(p.string, []).append(i)
    breaklines = [np.array(s) for s in strings.values()]
    road = _road("the demo, 4 km", scenario.CENTRELINE, xyz, breaklines, lambda *_: scenario.tie_ins())
    inner = [Ip(chainage_m=s, level_m=z, curve_length_m=length) for s, z, length in BY_HAND]
    return replace(road, by_hand=GradeLine((road.by_hand.ips[0], *inner, road.by_hand.ips[-1])))


def rich(road: BenchRoad) -> BenchRoad:
    """The same with the richest section: sides that differ, a drain in cut, benches, batters by height, layers, three
    strata, a reserve on a fifth of it, and superelevation: half of all sections lean by falls of their own.
    """
    section = next(start.section for start in STARTING if start.id == "side-slope")
    base = (Layer(side=side, name="base course", thickness_m=0.15, last="lane", extend_m=0.2) for side in SIDES)
    length = road.centreline.length_m
    materials = (Material(name="rippable", batter_h_over_v=0.8), Material(name="rock", batter_h_over_v=0.5))
    depths = tuple(
        StratumDepth(from_m=0.0, to_m=length, material=m.name, depth_m=d)
        for m, d in zip(materials, (1.5, 4.0), strict=True)
    )
    held = ReserveStretch(from_m=0.4 * length, to_m=0.6 * length, offset_m=10.0)
    design = RoadDesign(
        replace(section, layers=(*section.layers, *base)), Works(), Strata(materials=materials, rows=depths),
        ReserveBounds(rows=(held,)), centreline=road.centreline,
    )  # fmt: skip
    works = Earthworks.of(road.ground, design)
    return replace(road, name=f"{road.name}, richest section", works=leaning(works), typical=design)


def leaning(works: Earthworks) -> Earthworks:
    """Each other stretch of 200 m leans to one side, by up to 5 % that is reached and left along it."""
    s, built = works.chainage_m, works.road
    lean = np.where(s % 400 < 200, 0.05 * np.sin(np.pi * (s % 400) / 200), 0.0)
    profiles, which = list(built.profiles), built.which.copy()
    for i in np.flatnonzero(lean).tolist():
        for side, sign in ((0, -1.0), (1, 1.0)):
            own = profiles[built.which[i, side]]
            down = sign * lean[i]
            variants = tuple(
                replace(v, surface=_turned(v.surface, down), formation=_turned(v.formation, down)) for v in own.variants
            )
            which[i, side] = len(profiles)
            profiles.append(replace(own, variants=variants, surface=_turned(own.surface, down)))
    return replace(works, road=replace(built, profiles=tuple(profiles), which=which))


def _turned(corners: np.ndarray, down: float) -> np.ndarray:
    out = corners.copy()
    out[:, 1] -= down * corners[:, 0]
    return out


def long_road(length_m: float) -> BenchRoad:
    """Straights and bends over the demo's kind of hills, surveyed as densely as the demo."""
    rng = np.random.default_rng(3)
    legs = int(length_m / 500)
    e = 40_000 + np.arange(legs + 1) * length_m / legs
    n = 90_000 + rng.uniform(-90, 90, legs + 1)
    corners = [
        (float(a), float(b), 0.0 if i in (0, legs) else 400.0) for i, (a, b) in enumerate(zip(e, n, strict=True))
    ]
    count = int(length_m * 440 / scenario.POINT_SPACING_M**2)
    xy = np.column_stack([rng.uniform(e[0] - 80, e[-1] + 80, count), rng.uniform(89_780, 90_220, count)])
    xyz = np.column_stack([xy, scenario.level(xy[:, 0], xy[:, 1])])

    def ends(_, ground):
        return float(ground.centre_level_m[0]), None, float(ground.centre_level_m[-1]), None

    return _road(f"{length_m / 1000:.0f} km", corners, xyz, [], ends)


def random_lines(road: BenchRoad, count: int) -> list[GradeLine]:
    """Different grade lines with an IP each 200 m or so, near the ground."""
    rng = np.random.default_rng(9)
    end = road.centreline.end_chainage_m
    out = []
    for _ in range(count):
        x = np.linspace(0, end, int(end / 200) + 1)
        x[1:-1] += rng.uniform(-40, 40, len(x) - 2)
        z = np.interp(x, road.works.chainage_m, road.works.centre_level_m) + rng.normal(0, 2, len(x))
        ips = [Ip(chainage_m=float(a), level_m=float(b), curve_length_m=100.0) for a, b in zip(x, z, strict=True)]
        ips[0], ips[-1] = replace(ips[0], curve_length_m=0.0), replace(ips[-1], curve_length_m=0.0)
        out.append(GradeLine(tuple(ips)))
    return out


def winding(seed: int, bends: int = 5) -> Centreline:
    """A road as it is built: tangents of 60 m and more, arcs of 60 m and more, radii of 60 to 500 m.

    Transitions, where a bend has any, move its arc by 0.3 m and more; most are alike on both sides.
    """
    rng = np.random.default_rng(seed)
    heading, at, last = rng.uniform(-3, 3), np.array([5e5, 4.2e6]), 0.0
    rows = [(*at, 0.0, 0.0, 0.0)]
    for _ in range(bends):
        radius, first, second = rng.uniform(60, 500), 0.0, 0.0
        arc = rng.uniform(60, max(70, min(1.2 * radius, 260)))
        if rng.random() < 0.7:
            least = np.sqrt(24 * 0.3 * radius)
            first, second = rng.uniform(least, 1.8 * least, 2).tolist()
            second = first if rng.random() < 0.6 else second
        turn = min((arc + (first + second) / 2) / radius, 2.0) * rng.choice([-1, 1])
        corner = Corner(turn, radius, first, second)
        at = at + (last + rng.uniform(60, 400) + corner.tangent_in_m) * np.array([np.cos(heading), np.sin(heading)])
        rows.append((*at, radius, first, second))
        heading, last = heading + turn, corner.tangent_out_m
    at = at + (last + rng.uniform(80, 300)) * np.array([np.cos(heading), np.sin(heading)])
    rows.append((*at, 0.0, 0.0, 0.0))
    names = ("easting_m", "northing_m", "radius_m", "transition_in_m", "transition_out_m")
    return Centreline([CentrelineIp(**dict(zip(names, map(float, row), strict=True))) for row in rows])


def scattered(line: Centreline, step_m: float, noise_m: float, seed: int) -> NDArray[np.float64]:
    """(n, 2) places along a line, each off by a normal error in both directions. [m]"""
    s = np.append(np.arange(line.start_chainage_m, line.end_chainage_m, step_m), line.end_chainage_m)
    at = line.line.at(s)
    noise = np.random.default_rng(seed).normal(0, noise_m, (len(s), 2))
    return np.column_stack([at.easting_m, at.northing_m]) + noise
