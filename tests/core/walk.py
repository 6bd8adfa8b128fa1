"""A side's outline and areas by another way: straight pieces cut with shapely's lines, areas of shapely's polygons."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from shapely import Geometry, LineString, Polygon, intersection, make_valid
from shapely.ops import unary_union

from delgrun.core.section.carriageway import BatterRule, Profile

Line = NDArray[np.float64]
Tops = list[Line]
Point = tuple[float, float]
Path = list[Point]


def level(line: Line, x: float) -> float:
    return float(np.interp(x, line[:, 0], line[:, 1]))


def first_meeting(p: Point, q: Point, line: Line) -> float | None:
    """Offset at which a straight piece first meets a polyline beyond where it begins."""
    hit = LineString([p, q]).intersection(LineString(line))
    xs = [] if hit.is_empty else [c[0] for g in getattr(hit, "geoms", [hit]) for c in g.coords]
    slope = (q[1] - p[1]) / (q[0] - p[0]) if q[0] > p[0] else 0.0
    # A vertex that is touched, but for rounding.
    xs += [x for x, y in line if p[0] < x <= q[0] and abs(p[1] + slope * (x - p[0]) - y) < 1e-9]
    return min((x for x in xs if x > p[0] + 1e-7), default=None)


@dataclass(frozen=True)
class Ends:
    caught: bool
    cut: bool


def walked(profile: Profile, tops: Tops, z: float) -> tuple[Path, int, Ends]:
    """Corners of a side's outline, the one at which the batter begins, and how it ends."""
    ground = tops[0]
    x0, y0 = profile.reference
    depth = level(ground, x0) - (z + y0)
    variant = [v for v in profile.variants if depth > v.above_m][-1]
    path = [(x + vx * z, y + vy * z) for x, y, vx, vy, _ in variant.formation.tolist()]
    hx, hy = path[-1]
    hinge = len(path) - 1
    if hx > ground[-1, 0]:
        return path, hinge, Ends(False, False)
    g = level(ground, hx)
    if abs(g - hy) < 1e-9:
        return path, hinge, Ends(True, False)
    cut = g > hy
    sign = 1 if cut else -1
    edge = profile.reserve.offset_m if profile.reserve else np.inf
    way: Path = []
    why = "none"
    for rule in profile.cut if cut else profile.fill:
        way, why = batter(path[-1], sign, rule, tops, edge, cut)
        if why != "high":
            break
    if why == "reserve":
        assert profile.reserve is not None
        least = profile.reserve.least_cut_run if cut else profile.reserve.least_fill_run
        high, wide = sign * (level(ground, edge) - hy), edge - hx
        steep = wide >= least * high
        foot = (edge, level(ground, edge) if steep else hy + sign * wide / least)
        x = first_meeting(path[-1], foot, ground)
        if x is not None and x < edge - 1e-9:
            way = [(x, hy + (foot[1] - hy) * (x - hx) / wide)]
        elif steep:
            way = [foot]
        else:
            way = [foot, (edge, level(ground, edge))] if wide > 0 else [(hx, level(ground, edge))]
        why = "ground"
    return path + way, hinge, Ends(why == "ground", cut)


def batter(p: Point, sign: int, rule: BatterRule, tops: Tops, edge: float, cut: bool) -> tuple[Path, str]:
    """Step by step, each a straight piece that is cut with all polylines; and why it ended."""
    ground, end = tops[0], tops[0][-1, 0]
    x, y = p
    foot, out, b = y, [], 0
    band = rule.bands[0]
    top = y + sign * band.height_m
    bench: float | None = None
    for _ in range(10_000):
        if x >= end:
            return out, "none"
        along = None
        if bench is not None:
            slope = -band.bench_fall
        else:
            material = 0
            if cut and len(tops) > 2:
                material, along = ahead(x, y, band.run, tops)
            slope = sign / band.run[material]
        stop = np.inf
        if along is not None:
            line = tops[along]
            i = int(np.searchsorted(line[:, 0], x + 1e-9, side="right"))
            stop = line[i, 0]
            slope = (line[i, 1] - line[i - 1, 1]) / (line[i, 0] - line[i - 1, 0])
        limits = [(stop, "strip"), (end, "end")]
        if bench is not None:
            limits.append((bench, "bench"))
        elif sign * slope > 0:
            limits.append((x + (top - y) / slope, "band"))
        if sign * slope > 0:
            limits.append((x + (foot + sign * rule.up_to_m - y) / slope, "high"))
        far, why = min([*limits, (edge, "reserve")], key=lambda limit: limit[0])
        q = (far, y + slope * (far - x))
        hits = [(first_meeting((x, y), q, ground), "ground")]
        if along is None and bench is None and cut:
            hits += [(first_meeting((x, y), q, t), "top") for t in tops[2:]]
        met = [(h, w) for h, w in hits if h is not None]
        if met and min(met)[0] <= far + 1e-9:
            far, why = min(met)
        x, y = far, y + slope * (far - x)
        out.append((x, y))
        if why in ("ground", "high", "reserve"):
            return out, why
        if why == "end":
            return out, "none"
        if why == "band" and band.bench_m > 0:
            bench = x + band.bench_m
        elif why in ("band", "bench"):
            bench = None
            b = min(b + 1, len(rule.bands) - 1)
            band = rule.bands[b]
            top = y + sign * band.height_m
    raise AssertionError("A batter without an end.")


def ahead(x: float, y: float, run: tuple[float, ...], tops: Tops) -> tuple[int, int | None]:
    """Which material a cut batter goes on in, and the top that it slides along, by what lies a little further out."""
    e, last = 1e-6, len(tops) - 2

    def top(m: int) -> float:
        """How far the top of material m lies over the place; the first has none."""
        return np.inf if m == 0 else level(tops[m + 1], x) - y

    def bottom(m: int) -> float:
        return -np.inf if m == last else level(tops[m + 2], x) - y

    def holds(m: int) -> bool:
        there = y + e / run[m]
        under = m == 0 or there <= level(tops[m + 1], x + e) + 1e-13
        return under and (m == last or there >= level(tops[m + 2], x + e) - 1e-13)

    near = [m for m in range(last + 1) if top(m) > -1e-8 and bottom(m) < 1e-8]
    for m in near:
        if holds(m):
            return m, None
    for m in near[1:]:
        s = (level(tops[m + 1], x + e) - level(tops[m + 1], x)) / e
        if 1 / run[m] > s > 1 / run[m - 1]:
            return m, m + 1
    return near[0], None


def solid(ring: Polygon) -> Geometry:
    """A ring as what it encloses, without the spikes that upright faces leave."""
    valid = make_valid(ring)
    return unary_union([g for g in getattr(valid, "geoms", [valid]) if g.area > 0])


def areas_by_polygons(path: Path, hinge: int, tops: Tops, cut: bool) -> list[float]:
    """Cut below each top from the stripped ground on, and fill: under and over the outline's two parts."""
    levels = [p[1] for p in path]
    low = min(*levels, *(t[:, 1].min() for t in tops)) - 50
    high = max(*levels, *(t[:, 1].max() for t in tops)) + 50
    end = tops[0][-1, 0]

    def area(part: Path, top: Line, *, fill: bool) -> float:
        if len(part) < 2 or min(part[-1][0], end) <= part[0][0]:
            return 0.0
        roof, floor = (low, high) if fill else (high, low)
        ours = Polygon([*part, (part[-1][0], roof), (part[0][0], roof)])
        theirs = Polygon([*map(tuple, top), (top[-1, 0], floor), (top[0, 0], floor)])
        both = solid(ours), solid(theirs)
        exact, on_grid = (float(intersection(*both, grid_size=g).area) for g in (0.0, 1e-10))
        # Once in some ten thousand the overlay misses a part; on a grid it is surer, and coarser.
        return exact if abs(exact - on_grid) < 1e-6 else on_grid

    road, way = path[: hinge + 1], path[hinge:]
    cuts = [area(road, top, fill=False) + (area(way, top, fill=False) if cut else 0.0) for top in tops[1:]]
    return [*cuts, area(road, tops[1], fill=True) + (0.0 if cut else area(way, tops[1], fill=True))]
