"""How a road leans and widens in its bends: the diagram of its lanes' falls, left and right apart, along the road."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Bend
from delgrun.core.centreline.speeds import BendRules, BendSpeed, RoadWidth, runoff_m
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant

FloatArray = NDArray[np.float64]
ABOUT = CENTRELINE, INNER, OUTER = "centreline", "inner edge", "outer edge"
INSIDE, BOTH = WIDENED = "inside", "both sides alike"

# A stretch shorter than this is none. [m]
_LEAST_M = 0.1
# Nothing is turned within less. [m]
_SAME_M = 1e-6
# Bends that near touch. [m]
_TOUCH_M = 1e-3


@dataclass(frozen=True, kw_only=True)
class OwnFalls:
    """Falls of the lanes along a stretch in place of those that follow from the bends; between its ends straight."""

    from_m: float = meant("chainage", "from", low=-1e8, high=1e8)
    to_m: float = meant("chainage", "to", low=-1e8, high=1e8)
    left_from: float = meant("fall", "left, from", low=-0.2, high=0.2, first=0.03)
    left_to: float = meant("fall", "left, to", low=-0.2, high=0.2, first=0.03)
    right_from: float = meant("fall", "right, from", low=-0.2, high=0.2, first=0.03)
    right_to: float = meant("fall", "right, to", low=-0.2, high=0.2, first=0.03)
    reason: str = meant("line", "reason", first="")
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class Superelevation:
    """How sections lean and widen in bends. How much a bend is banked follows from its speed, by the rules for bends.

    The first values are common practice, no source, but where they say so.
    """

    built: bool = meant("flag", "sections lean in bends", first=True)
    about: Literal["centreline", "inner edge", "outer edge"] = meant(
        "word", "turned about", choices=ABOUT, first=CENTRELINE, says="edge of the lanes, which keeps its level"
    )
    on_tangent: float = meant(
        "factor", "run-off on the tangent", low=0, high=1, first=0.67, says="of bends without a transition"
    )
    shoulder_difference: float = meant(
        "fall", "lane against shoulder", low=0, high=0.3, first=0.08, aside="at most", says="difference of their falls"
    )
    least_slope: float = meant(
        "fall", "slope that drains", low=0, high=0.1, first=0.005, aside="at least", says="of fall and grade together"
    )
    crown_kept_m: float | None = meant(
        "size", "crown kept from", low=10, high=1e5, first=None, optional=True,
        says="radius from which a bend is not turned; free, every bend is",
    )  # fmt: skip
    widened: bool = meant("flag", "sections widen in bends", first=True)
    widened_on: Literal["inside", "both sides alike"] = meant("word", "widened", choices=WIDENED, first=INSIDE)
    least_widening_m: float = meant(
        "size", "widening", low=0, high=5, first=0.5, aside="at least", says="less is not built"
    )
    rows: tuple[OwnFalls, ...] = meant("count", "falls of one's own", of=OwnFalls, most=200, first=())

    def check(self) -> None:
        """Raises DesignInputError where a stretch has no length."""
        for row in self.rows:
            if row.to_m - row.from_m < _LEAST_M:
                raise DesignInputError(
                    "to_m", "The falls from {a:chainage} to {b:chainage} have no length.", a=row.from_m, b=row.to_m
                )


@dataclass(frozen=True)
class Segment:
    """A stretch along which the road is turned evenly: `from_bank` to `to_bank`, above 0 where it falls to the right.

    `turns`: 1 where it is a bend to the right, or its ramp, whose left lanes are no higher than this bank and whose
    right lanes no flatter; -1 to the left; 0 where all lanes are as this bank, between two bends. `pivot`: what share
    of the turning is about the right as its inner side, at both ends. `relative`: greatest grade of the edge against
    the axis that is allowed; `turned_m`: width whose run-off counts, n w b_w. [m, ratios]
    """

    from_m: float
    to_m: float
    from_bank: float
    to_bank: float
    turns: int
    pivot: tuple[float, float]
    relative: float
    ip: int
    turned_m: float = 0.0


@dataclass(frozen=True)
class Key:
    """A chainage at which the diagram turns, and what that is of which bend's IP."""

    chainage_m: float
    what: str
    ip: int


@dataclass(frozen=True)
class Lean:
    """At (n,) chainages, left and right (n, 2): between which falls the lanes lie, and how much they are widened [m];
    `pivot` (n,): what share of the turning is about the right as its inner side.
    """

    low: FloatArray
    high: FloatArray
    widening_m: FloatArray
    pivot: FloatArray

    def falls(self, side: int, own: FloatArray | float) -> FloatArray:
        """(n,) falls of lanes on a side, 0 left and 1 right, that fall by so much on straights."""
        out: FloatArray = np.clip(own, self.low[:, side], self.high[:, side])
        return out


@dataclass(frozen=True, eq=False)
class Diagram:
    """The falls of a road's lanes along it: segments that follow each other, and stretches of one's own over them.

    `widenings`: (s0, s1, s2, s3, left, right) each: none to s0, all from s1 to s2, none from s3 on. [m] `turned_m`:
    width whose run-off counts, n w b_w.
    """

    settings: Superelevation
    segments: tuple[Segment, ...] = ()
    widenings: tuple[tuple[float, float, float, float, float, float], ...] = ()
    keys: tuple[Key, ...] = ()
    turned_m: float = 0.0
    own: tuple[OwnFalls, ...] = ()
    relative: float = 0.005
    steepest: float = 0.08

    @cached_property
    def places(self) -> list[float]:
        """Chainages at which anything of it turns. [m]"""
        found = {k.chainage_m for k in self.keys} | {s for g in self.segments for s in (g.from_m, g.to_m)}
        found |= {s for w in self.widenings for s in w[:4]}
        return sorted(found | set(self.steps))

    @property
    def stretches(self) -> list[tuple[float, float]]:
        """From where to where it says anything. [m]"""
        return [(g.from_m, g.to_m) for g in self.segments] + [(row.from_m, row.to_m) for row in self.own]

    @cached_property
    def steps(self) -> list[float]:
        """Chainages at which it may jump. [m]"""
        return sorted({s for row in self.own for s in (row.from_m, row.to_m)})

    def at(self, chainage_m: FloatArray) -> Lean:
        """What it says at (n,) chainages; stretches hold from their beginning on, not at their end."""
        s = chainage_m
        n = len(s)
        low, high = np.full((n, 2), -np.inf), np.full((n, 2), np.inf)
        pivot = np.ones(n)
        for g in self.segments:
            on = np.flatnonzero((s >= g.from_m) & (s < g.to_m))
            share = (s[on] - g.from_m) / (g.to_m - g.from_m)
            bank = g.from_bank + (g.to_bank - g.from_bank) * share
            pivot[on] = g.pivot[0] + (g.pivot[1] - g.pivot[0]) * share
            if g.turns >= 0:
                low[on, 1], high[on, 0] = bank, -bank
            if g.turns <= 0:
                low[on, 0], high[on, 1] = -bank, bank
        for row in self.own:
            on = np.flatnonzero((s >= row.from_m) & (s < row.to_m))
            share = (s[on] - row.from_m) / (row.to_m - row.from_m)
            for side, (a, b) in enumerate(((row.left_from, row.left_to), (row.right_from, row.right_to))):
                low[on, side] = high[on, side] = a + (b - a) * share
            pivot[on] = high[on, 1] >= high[on, 0]
        widening = np.zeros((n, 2))
        for s0, s1, s2, s3, *wide in self.widenings:
            share = np.interp(s, _rising((s0, s1, s2, s3)), [0.0, 1.0, 1.0, 0.0])
            np.maximum(widening, share[:, None] * np.array(wide), out=widening)
        return Lean(low, high, widening, pivot)


def _rising(places: Sequence[float]) -> list[float]:
    """The same where none lies before the one before it."""
    out = list(places)
    for i in range(1, len(out)):
        out[i] = max(out[i], out[i - 1])
    return out


@dataclass
class _Turn:
    """A banked bend: its full bank `bank` from `full_m` to `ends_m`; level, of the ramps, at `in_m` and `out_m`."""

    ip: int
    bank: float
    relative: float
    in_m: float
    full_m: float
    ends_m: float
    out_m: float
    turned_m: float

    @property
    def sign(self) -> int:
        return 1 if self.bank > 0 else -1


def diagram_of(
    bends: Sequence[Bend],
    speeds: Sequence[BendSpeed],
    roads: Sequence[RoadWidth],
    rules: BendRules,
    settings: Superelevation,
    road: str,
    crown: float,
) -> Diagram:
    """The diagram of a road's bends.

    Parameters
    ----------
    speeds : what each bend is banked by and widened
    roads : lanes and fall on straights where each bend is
    road : whose falls of one's own count
    crown : the steepest that any lane of the road falls on straights; ramps begin there

    Notes
    -----
    The run-off is L = w n e b_w / d, over one side's lanes where they turn about the centreline, over all where about
    an edge; b_w = (1 + 0.5 (n - 1)) / n (reference values 7.4). In a bend with transitions it takes the transition, or
    more, before it, where that is shorter; else a share of it lies on the tangent. The run-out is as steep as the
    run-off. Where there is no room for the crown between two bends the road turns straight from one to the other.
    Widening grows and shrinks with the run-off. Common practice, but for the length.
    """
    if not settings.built:
        return Diagram(settings)
    turned = 0.0
    turns: list[_Turn] = []
    lanes = max(rules.lanes / 2, 1.0) if settings.about == CENTRELINE else max(rules.lanes, 1.0)
    shared = (1 + 0.5 * (lanes - 1)) / lanes
    widenings = []
    ip_before, arc_ends, bend_ends = -1, -np.inf, -np.inf
    for bend, speed, width in zip(bends, speeds, roads, strict=True):
        touches = bend.from_chainage_m - bend_ends < _TOUCH_M
        sign = 1.0 if bend.deflection > 0 else -1.0
        relative = rules.relative_grade(speed.design_kmh)
        own_turned = width.lane_m * lanes * shared
        turned = max(turned, own_turned)
        runoff = max(runoff_m(width.lane_m, lanes, speed.superelevation, relative, shared), _SAME_M)
        kept = settings.crown_kept_m is not None and bend.radius_m >= settings.crown_kept_m
        made = _turn(bend, sign * speed.superelevation, relative, runoff, settings, own_turned)
        if turns and touches and turns[-1].bank * sign > 0 and turns[-1].ip == ip_before:
            # One arc hands over to the next.
            turns[-1].ends_m, made.full_m = arc_ends, bend.from_chainage_m + bend.transition_in_m
        if settings.widened and speed.widening_m >= settings.least_widening_m > 0:
            both = settings.widened_on == BOTH
            left, right = (speed.widening_m * (0.5 if both else float(inside)) for inside in (sign < 0, sign > 0))
            widenings.append((made.in_m, made.full_m, made.ends_m, made.out_m, left, right))
        if not kept and speed.superelevation > 0:
            turns.append(made)
        ip_before, bend_ends = bend.ip, bend.to_chainage_m
        arc_ends = bend_ends - bend.transition_out_m
    own = tuple(row for row in settings.rows if row.road == road)
    segments, keys = _chained(turns, crown)
    least = min((t.relative for t in turns), default=rules.relative_grade(rules.fastest_kmh))
    return Diagram(
        settings, tuple(segments), tuple(widenings), tuple(keys), turned, own, least, rules.max_superelevation
    )


def _turn(bend: Bend, bank: float, relative: float, runoff: float, settings: Superelevation, turned_m: float) -> _Turn:
    """Where the ramps of a bend lie."""
    arc_from, arc_to = bend.from_chainage_m + bend.transition_in_m, bend.to_chainage_m - bend.transition_out_m
    ends = []
    for at, transition, way in ((arc_from, bend.transition_in_m, 1.0), (arc_to, bend.transition_out_m, -1.0)):
        full = at if transition > 0 else at + way * (1 - settings.on_tangent) * runoff
        ends.append((full - way * max(runoff, transition), full))
    (begins, full), (out, over) = ends
    if full > over:
        # The arc is too short for both: they meet, and are steeper than they should be.
        full = over = (full + over) / 2
    return _Turn(bend.ip, bank, relative, begins, full, over, out, turned_m)


def _chained(turns: Sequence[_Turn], crown: float) -> tuple[list[Segment], list[Key]]:
    """Segments and keys of banked bends in order."""
    turns = [replace(t) for t in turns]
    linked = [_linked(a, b, crown) for a, b in pairwise(turns)]
    segments: list[Segment] = []
    keys: list[Key] = []
    for i, t in enumerate(turns):
        pivot = float(t.sign > 0)
        if i == 0 or not linked[i - 1]:
            segments.append(_ramp(t, crown, begins=True))
            keys += _ramp_keys(t, crown, begins=True)
        keys.append(Key(t.full_m, "full", t.ip))
        if t.ends_m > t.full_m:
            segments.append(
                Segment(t.full_m, t.ends_m, t.bank, t.bank, t.sign, (pivot, pivot), t.relative, t.ip, t.turned_m)
            )
            keys.append(Key(t.ends_m, "full ends", t.ip))
        if i + 1 < len(turns) and linked[i]:
            n = turns[i + 1]
            alike = t.sign if t.sign == n.sign else 0
            to = float(n.sign > 0)
            segments.append(
                Segment(
                    t.ends_m,
                    n.full_m,
                    t.bank,
                    n.bank,
                    alike,
                    (pivot, to),
                    min(t.relative, n.relative),
                    n.ip,
                    max(t.turned_m, n.turned_m),
                )
            )
            if not alike:
                level = t.ends_m + (n.full_m - t.ends_m) * t.bank / (t.bank - n.bank)
                keys.append(Key(level, "level", n.ip))
        else:
            segments.append(_ramp(t, crown, begins=False))
            keys += _ramp_keys(t, crown, begins=False)
    return [g for g in segments if g.to_m > g.from_m], keys


def _linked(a: _Turn, b: _Turn, crown: float) -> bool:
    """Whether there is no room for the crown between two bends; moves where their full banks end and begin."""
    ends, begins = _ramp(a, crown, begins=False).to_m, _ramp(b, crown, begins=True).from_m
    if ends <= begins:
        return False
    needed = abs(b.bank - a.bank) * max(a.turned_m, b.turned_m) / min(a.relative, b.relative)
    if b.full_m - a.ends_m < needed:
        # As long as it must be, about the middle, as far as both bends go.
        middle = (a.ends_m + b.full_m) / 2
        a.ends_m = max(min(a.ends_m, middle - needed / 2), a.full_m)
        b.full_m = min(max(b.full_m, middle + needed / 2), b.ends_m)
        b.full_m = max(b.full_m, a.ends_m + _LEAST_M)
        b.ends_m = max(b.ends_m, b.full_m)
    return True


def _ramp(t: _Turn, crown: float, *, begins: bool) -> Segment:
    """From the crown to the full bank, or back."""
    level, full = (t.in_m, t.full_m) if begins else (t.out_m, t.ends_m)
    # The run-out is as steep as the run-off.
    ends = level + (level - full) * crown / abs(t.bank)
    pivot = float(t.sign > 0)
    at = (t.bank, -t.sign * crown)
    if begins:
        return Segment(ends, full, at[1], at[0], t.sign, (pivot, pivot), t.relative, t.ip, t.turned_m)
    return Segment(full, ends, at[0], at[1], t.sign, (pivot, pivot), t.relative, t.ip, t.turned_m)


def _ramp_keys(t: _Turn, crown: float, *, begins: bool) -> list[Key]:
    g = _ramp(t, crown, begins=begins)
    level, full = (t.in_m, t.full_m) if begins else (t.out_m, t.ends_m)
    removed = level + (full - level) * crown / abs(t.bank)
    ends = g.from_m if begins else g.to_m
    found = [Key(ends, "crown ends" if begins else "crown begins", t.ip), Key(level, "level", t.ip)]
    if abs(t.bank) > crown:
        found.append(Key(removed, "crown turned" if begins else "crown turned back", t.ip))
    return found if begins else found[::-1]
