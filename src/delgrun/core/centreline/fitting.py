"""Tangents, arcs and transitions fitted to a polyline: the fewest that explain its points."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp, Legs, turns_of
from delgrun.core.centreline.parts import meeting
from delgrun.core.centreline.pieces import Stretch, noise_of, stretches
from delgrun.core.centreline.room import squeezed
from delgrun.core.errors import DesignInputError

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

# More points are thinned to so many for the cut into pieces, and refused beyond the most that are fitted.
_CUT_POINTS, MOST_POINTS = 1500, 20_000
# Straights that turn by less go on; an arc that turns by less is a straight. [rad]
_STRAIGHT = np.radians(0.5)
# A bend begins with transitions of this share of its arc. []
_FIRST_SHARE = 0.3
# What transitions must gain in squared residuals over the noise's: two of them, or one.
_BOTH, _ONE = 9.0, 7.0
# Tangents between two bends that are shorter may be none: what closing them may cost at most.
_SHORT_M, _CLOSE = 30.0, 9.0
# A bend less may cost so much, in the logarithm of the number of points; one that turns by less may be none. [rad]
_BEND_PRICE, _HARDLY, _MOST_TURN = 4.0, np.radians(2.5), np.radians(170)
# IPs so far apart move nothing together.
_APART = 4
# What is driven to nothing may be off by so much as a point by the noise. [m]
_NOTHING_M = 1e-3
# Steps of the differences: places [m], logarithm of the radius, transitions [m].
_STEP = np.array([0.01, 0.01, 1e-4, 0.05, 0.05])
# A corner without a point of its own is such a bend at first; a bend of fewer points is taken as it is.
_CORNER_M, _FEW = 50.0, 6
# Bends that overlap by so much are as bad as a point that is off by the noise. [m]
_OVER_M = 0.2
_ROUNDS = 25
_ENOUGH = 1e-4


@dataclass(frozen=True)
class Fitted:
    """IPs of the line, what the points scatter by, and how far the line lies from them. [m]"""

    ips: list[CentrelineIp]
    noise_m: float
    rms_m: float
    deviation_m: float


def fit_line(points: FloatArray, noise_m: float | None = None) -> Fitted:
    """Tangents, arcs and clothoids through (n, 2) points in their order.

    The points are cut into straights and arcs (`pieces.stretches`); each arc between two straights is a bend, its
    transitions come and go with what they gain, and all of it is fitted together by least squares of offsets.

    Parameters
    ----------
    noise_m : how far points may lie off; estimated where it is not given

    Raises
    ------
    DesignInputError
        Too few points, too many, or none that a road could follow.
    """
    way = np.concatenate([[True], np.hypot(*np.diff(points, axis=0).T) > 1e-3])
    xy = points[way]
    if len(xy) < 2:
        raise DesignInputError("file", "The polyline has fewer than two places.")
    if len(xy) > MOST_POINTS:
        raise DesignInputError("file", f"The polyline has {len(xy)} points, more than {MOST_POINTS}: thin it.")
    noise = noise_of(xy) if noise_m is None else noise_m
    few = xy[:: max(1, len(xy) // _CUT_POINTS)]
    fit = _Fit(xy, noise)
    ips = _first(few, _straightened(few, stretches(few, noise)), _Fit(few, noise))
    ips = fit.simplified(fit.solved(ips)[0])
    ips = fit.with_needed_transitions(ips)
    ips = fit.solved(ips)[0]
    ips = fit.closed(ips)
    off = fit.offsets(ips)
    return Fitted(_rounded(ips), noise, float(np.sqrt(np.mean(off**2))), float(np.abs(off).max()))


def _straightened(points: FloatArray, pieces: list[Stretch]) -> list[Stretch]:
    """Pieces that hardly turn as straights, those that go straight on as one, and a bend where two meet in a corner."""
    out: list[Stretch] = []
    for p in pieces:
        length = float(np.hypot(*np.diff(points[p.first : p.last + 1], axis=0).T).sum())
        if abs(p.curvature) * length <= _STRAIGHT:
            p = replace(p, curvature=0.0)
        if out and p.curvature == 0.0 == out[-1].curvature:
            turn = _kink(points, out[-1], p)
            if abs(turn) <= _STRAIGHT:
                p = replace(p, first=out.pop().first)
            else:
                out.append(Stretch(out[-1].last, p.first, float(np.sign(turn)) / _CORNER_M))
        out.append(p)
    return out


def _first(points: FloatArray, pieces: list[Stretch], fit: "_Fit") -> list[CentrelineIp]:
    """IPs where the tangents beside each bend meet; arcs of one sense that one bend explains are that bend."""
    if all(p.curvature == 0.0 for p in pieces):
        line = _through(points)
        return [_ip(_foot(line, p)) for p in (points[0], points[-1])]
    tangents: list[_Tangent] = []
    bends: list[CentrelineIp] = []
    i = 0
    while i < len(pieces):
        if pieces[i].curvature == 0.0:
            i += 1
            continue
        # The longest run of arcs of one sense that is one bend.
        j = i
        while j + 1 < len(pieces) and pieces[j + 1].curvature * pieces[i].curvature > 0:
            j += 1
        while True:
            before, after = _beside(points, pieces, i, -1), _beside(points, pieces, j, 1)
            bend, good = fit.alone(before, after, pieces[i : j + 1])
            if good or i == j:
                break
            j -= 1
        tangents.append(before.tangent)
        bends.append(bend)
        i = j + 1
    tangents.append(after.tangent)
    corners = [
        replace(bend, easting_m=float(at[0]), northing_m=float(at[1]))
        for bend, at in zip(bends, map(meeting, tangents, tangents[1:]), strict=True)
    ]
    return [_ip(_foot(tangents[0], points[0])), *corners, _ip(_foot(tangents[-1], points[-1]))]


_Tangent = tuple[FloatArray, float]


@dataclass(frozen=True)
class _Beside:
    """What lies beside a bend: the tangent there, and the point halfway along it."""

    tangent: _Tangent
    point: int


def _beside(points: FloatArray, pieces: list[Stretch], i: int, way: int) -> _Beside:
    """The straight before (-1) or after (1) a piece; where there is none, the tangent at its end."""
    k = i + way
    if 0 <= k < len(pieces) and pieces[k].curvature == 0.0:
        p = pieces[k]
        return _Beside(_through(points[p.first : p.last + 1]), (p.first + p.last) // 2)
    end = pieces[i].first if way < 0 else pieces[i].last
    return _Beside(_tangent_at(points, end), end)


def _kink(points: FloatArray, a: Stretch, b: Stretch) -> float:
    before, after = (_through(points[p.first : p.last + 1])[1] for p in (a, b))
    return float((after - before + np.pi) % (2 * np.pi) - np.pi)


def _through(points: FloatArray) -> tuple[FloatArray, float]:
    """The straight nearest to points: a place on it and its direction."""
    middle = points.mean(axis=0)
    _, _, axes = np.linalg.svd(points - middle, full_matrices=False)
    along = axes[0] if axes[0] @ (points[-1] - points[0]) >= 0 else -axes[0]
    return middle, float(np.arctan2(along[1], along[0]))


def _tangent_at(points: FloatArray, k: int) -> tuple[FloatArray, float]:
    """Direction of a line of points at one of them: that of a parabola through those around it."""
    around = points[max(k - 4, 0) : k + 5]
    s = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(around, axis=0).T))])
    at = s[min(k, 4)]
    slopes = [np.polyval(np.polyder(np.polyfit(s - at, v, min(2, len(s) - 1))), 0.0) for v in around.T]
    return points[k], float(np.arctan2(slopes[1], slopes[0]))


def _foot(tangent: tuple[FloatArray, float], p: FloatArray) -> FloatArray:
    at, heading = tangent
    unit = np.array([np.cos(heading), np.sin(heading)])
    found: FloatArray = at + unit * float((p - at) @ unit)
    return found


def _ip(at: FloatArray, radius: float = 0.0) -> CentrelineIp:
    return CentrelineIp(easting_m=float(at[0]), northing_m=float(at[1]), radius_m=radius)


_TYPED = ("easting_m", "northing_m", "radius_m", "transition_in_m", "transition_out_m")


def _rounded(ips: list[CentrelineIp]) -> list[CentrelineIp]:
    """To millimetres where that lets the bends fit as they are; plain numbers in any case."""

    def each(of: Callable[[float], float]) -> list[CentrelineIp]:
        return [CentrelineIp(**(vars(ip) | {name: of(getattr(ip, name)) for name in _TYPED})) for ip in ips]

    plain, out = each(float), each(lambda value: round(float(value), 3))
    try:
        Centreline(out)
    except DesignInputError:
        return plain
    return out


class _Fit:
    """Least squares of the offsets of points from a line given by its IPs; in units of the noise."""

    def __init__(self, points: FloatArray, noise_m: float) -> None:
        self.middle = points.mean(axis=0)
        self.points, self.noise = points, noise_m

    def offsets(self, ips: Sequence[CentrelineIp], some: IntArray | None = None) -> FloatArray:
        """Offsets of all points, or of some. [m]"""
        line = Centreline(_possible(list(ips))).line
        xy = self.points if some is None else self.points[some]
        return line.nearest(xy[:, 0], xy[:, 1]).offset_m

    def alone(self, before: _Beside, after: _Beside, arcs: list[Stretch]) -> tuple[CentrelineIp, bool]:
        """One bend between two tangents, and whether it explains the points there."""
        at = meeting(before.tangent, after.tangent)
        radius = 1 / max(abs(p.curvature) for p in arcs)
        some = np.arange(before.point, after.point + 1)
        ends = [_ip(_foot(t.tangent, self.points[t.point])) for t in (before, after)]
        turn = abs(after.tangent[1] - before.tangent[1] + np.pi) % (2 * np.pi) - np.pi
        length = _FIRST_SHARE * radius * abs(turn)
        bend = replace(_ip(at, radius), transition_in_m=length, transition_out_m=length)
        if len(some) < _FEW:
            return bend, len(arcs) == 1
        try:
            solved, chi = self.solved([ends[0], bend, ends[1]], some)
        except DesignInputError:
            return bend, False
        return solved[1], chi < len(some) + 4 * np.sqrt(2 * len(some)) + 5

    def simplified(self, ips: list[CentrelineIp]) -> list[CentrelineIp]:
        """The same without bends that hardly turn, and with two of one sense as one, where the points do not mind."""
        now = float((self.offsets(ips) ** 2).sum()) / self.noise**2
        price = _BEND_PRICE * float(np.log(len(self.points)))
        while True:
            for tried in _simpler(ips):
                try:
                    solved = self.solved(tried)[0]
                    chi = float((self.offsets(solved) ** 2).sum()) / self.noise**2
                except DesignInputError:
                    continue
                if chi < now + price:
                    ips, now = solved, chi
                    break
            else:
                return ips

    def with_needed_transitions(self, ips: list[CentrelineIp]) -> list[CentrelineIp]:
        """Each bend with both transitions, one of them or none, whichever the points ask for."""
        out = list(ips)
        line = Centreline(_possible(ips))
        chainage = line.line.nearest(*self.points.T).chainage_m
        for k, b in enumerate(line.bends):
            before = line.bends[k - 1].to_chainage_m if k else line.start_chainage_m
            after = line.bends[k + 1].from_chainage_m if k + 1 < len(line.bends) else line.end_chainage_m
            window = ((before + b.from_chainage_m) / 2, (b.to_chainage_m + after) / 2)
            some = np.flatnonzero((chainage >= window[0]) & (chainage <= window[1]))
            if len(some) < 6:
                continue
            ends = line.line.at(np.array(window))
            a, z = (_ip(np.array([ends.easting_m[i], ends.northing_m[i]])) for i in (0, 1))
            own = out[b.ip]
            tries = {}
            for first, second, price in ((1.0, 1.0, _BOTH), (1.0, 0.0, _ONE), (0.0, 1.0, _ONE), (0.0, 0.0, 0.0)):
                bend = replace(
                    own,
                    transition_in_m=max(own.transition_in_m, 10.0) * first,
                    transition_out_m=max(own.transition_out_m, 10.0) * second,
                )
                solved, chi = self.solved([a, bend, z], some)
                tries[chi + price] = solved[1]
            best = tries[min(tries)]
            out[b.ip] = replace(
                out[b.ip],
                radius_m=best.radius_m,
                transition_in_m=best.transition_in_m,
                transition_out_m=best.transition_out_m,
            )
        return out

    def closed(self, ips: list[CentrelineIp]) -> list[CentrelineIp]:
        """The same with short tangents between bends left away, where the points do not mind."""
        now = float((self.offsets(ips) ** 2).sum()) / self.noise**2
        for _ in range(len(ips)):
            gaps = _gaps(ips)
            short = [i for i, gap in gaps.items() if 1e-6 < abs(gap) < _SHORT_M]
            better = None
            for i in sorted(short, key=lambda i: abs(gaps[i])):
                tried = _touching(self.solved(ips, None, partial(_gap_at, i))[0], i)
                chi = float((self.offsets(tried) ** 2).sum()) / self.noise**2
                if chi < now + _CLOSE:
                    better, now = tried, chi
                    break
            if better is None:
                return ips
            ips = better
        return ips

    def solved(
        self,
        ips: list[CentrelineIp],
        some: IntArray | None = None,
        nothing: Callable[[list[CentrelineIp]], float] | None = None,
    ) -> tuple[list[CentrelineIp], float]:
        """IPs with the least squares nearby, transitions of 0 kept, and the sum; `nothing` is driven to 0 as well. [m]

        Levenberg and Marquardt's steps; each IP moves only its neighbourhood, so that four of each kind of difference
        give all of them.
        """
        free = _free(ips)

        def residuals(these: list[CentrelineIp]) -> FloatArray:
            off = self.offsets(these, some) / self.noise
            more = [] if nothing is None else [nothing(these) / _NOTHING_M]
            return np.concatenate([off, _overlaps(these) / _OVER_M, more])

        r = residuals(ips)
        damping, best = 1e-3, float(r @ r)
        for _ in range(_ROUNDS):
            jacobian = self._jacobian(ips, free, r, residuals, some)
            if nothing is not None:
                jacobian[-1] = _row(ips, free, lambda these: nothing(these) / _NOTHING_M)
            normal = jacobian.T @ jacobian
            gradient = jacobian.T @ r
            gained = False
            while damping < 1e8:
                step = np.asarray(
                    np.linalg.solve(normal + damping * np.diag(np.diag(normal) + 1e-9), -gradient), np.float64
                )
                tried = _stepped(ips, free, step)
                try:
                    anew = residuals(tried)
                except DesignInputError:
                    anew = np.full(1, np.inf)
                if float(anew @ anew) < best:
                    gained = True
                    break
                damping *= 8
            if not gained:
                break
            less = best - float(anew @ anew)
            ips, r, best = tried, anew, float(anew @ anew)
            damping = max(damping / 8, 1e-6)
            if less < _ENOUGH * max(best, 1.0):
                break
        return _possible(ips), best

    def _jacobian(
        self,
        ips: list[CentrelineIp],
        free: list[tuple[int, int]],
        r: FloatArray,
        residuals: Callable[[list[CentrelineIp]], FloatArray],
        some: IntArray | None,
    ) -> FloatArray:
        """Differences of the residuals: IPs four apart touch none of the same, and are moved at once."""
        out = np.zeros((len(r), len(free)))
        at, rows = self._places(ips, len(r), some)
        for kind in range(len(_STEP)):
            for colour in range(_APART):
                columns = [k for k, (i, own) in enumerate(free) if own == kind and i % _APART == colour]
                if not columns:
                    continue
                step = np.zeros(len(free))
                step[columns] = _STEP[kind]
                try:
                    change = (residuals(_stepped(ips, free, step)) - r) / _STEP[kind]
                except DesignInputError:
                    continue
                # Between two of them, what lies before the IP in the middle belongs to the first.
                ends = [at[free[k][0] + _APART // 2] for k in columns[:-1]]
                whose = np.searchsorted(ends, rows, side="right")
                out[np.arange(len(r)), np.array(columns)[whose]] = change
        return out

    def _places(self, ips: list[CentrelineIp], count: int, some: IntArray | None) -> tuple[FloatArray, FloatArray]:
        """Chainages of the IPs, and of what each residual is about. [m]"""
        line = Centreline(_possible(ips)).line
        plan = np.array([(ip.easting_m, ip.northing_m) for ip in ips])
        at = np.maximum.accumulate(line.nearest(*plan.T).chainage_m)
        xy = self.points if some is None else self.points[some]
        points = line.nearest(*xy.T).chainage_m
        inner = at[1:-1] if len(ips) > 2 else np.zeros(0)
        legs = (at[:-1] + at[1:]) / 2 if len(ips) > 2 else np.zeros(0)
        rows = np.concatenate([points, inner, legs])
        # What is driven to nothing besides stands last, about one leg: it is found by differences of its own.
        return at, np.append(rows, np.full(count - len(rows), np.inf))


def _free(ips: list[CentrelineIp]) -> list[tuple[int, int]]:
    """What may change: (IP, kind); ends move aside only, transitions that are none stay so."""
    out: list[tuple[int, int]] = []
    for i, ip in enumerate(ips):
        if i in (0, len(ips) - 1):
            out.append((i, 0))
            continue
        out += [(i, 0), (i, 1), (i, 2)]
        out += [(i, kind) for kind, length in ((3, ip.transition_in_m), (4, ip.transition_out_m)) if length > 0]
    return out


def _row(
    ips: list[CentrelineIp], free: list[tuple[int, int]], value: Callable[[list[CentrelineIp]], float]
) -> FloatArray:
    """Differences of one value by all that may change."""
    here = value(ips)
    out = np.zeros(len(free))
    for column, (_, kind) in enumerate(free):
        step = np.zeros(len(free))
        step[column] = _STEP[kind]
        out[column] = (value(_stepped(ips, free, step)) - here) / _STEP[kind]
    return out


def _stepped(ips: list[CentrelineIp], free: list[tuple[int, int]], step: FloatArray) -> list[CentrelineIp]:
    out = list(ips)
    for (i, kind), by in zip(free, step.tolist(), strict=True):
        ip = out[i]
        if i in (0, len(ips) - 1):
            other = ips[1] if i == 0 else ips[-2]
            away = np.array([other.easting_m - ips[i].easting_m, other.northing_m - ips[i].northing_m])
            away = away / np.hypot(*away)
            out[i] = replace(ip, easting_m=ip.easting_m - away[1] * by, northing_m=ip.northing_m + away[0] * by)
        elif kind == 0:
            out[i] = replace(ip, easting_m=ip.easting_m + by)
        elif kind == 1:
            out[i] = replace(ip, northing_m=ip.northing_m + by)
        elif kind == 2:
            out[i] = replace(ip, radius_m=ip.radius_m * float(np.exp(np.clip(by, -0.5, 0.5))))
        elif kind == 3:
            out[i] = replace(ip, transition_in_m=max(ip.transition_in_m + by, 0.1))
        else:
            out[i] = replace(ip, transition_out_m=max(ip.transition_out_m + by, 0.1))
    return out


def _overlaps(ips: list[CentrelineIp]) -> FloatArray:
    """By how much transitions turn too far, and bends overlap; 0 where they do not. [m]"""
    if len(ips) < 3:
        return np.zeros(0)
    turn = np.abs(turns_of(ips))
    over = [
        max(ip.transition_in_m + ip.transition_out_m - 1.98 * t * ip.radius_m, 0.0)
        for ip, t in zip(ips[1:-1], turn.tolist(), strict=True)
    ]
    return np.concatenate([over, np.maximum(-Legs.of(_arced(ips)).straight_m, 0.0)])


def _arced(ips: list[CentrelineIp]) -> list[CentrelineIp]:
    """IPs whose transitions leave an arc."""
    out = list(ips)
    for i, turn in enumerate(np.abs(turns_of(ips)).tolist(), 1):
        ip = ips[i]
        most, whole = 1.98 * turn * ip.radius_m, ip.transition_in_m + ip.transition_out_m
        if whole > most:
            less = most / whole
            out[i] = replace(ip, transition_in_m=ip.transition_in_m * less, transition_out_m=ip.transition_out_m * less)
    return out


def _possible(ips: list[CentrelineIp]) -> list[CentrelineIp]:
    """IPs whose transitions leave an arc and whose bends do not overlap."""
    return ips if len(ips) < 3 else squeezed(_arced(ips), np.inf)


def _simpler(ips: list[CentrelineIp]) -> Iterator[list[CentrelineIp]]:
    """A bend less, where one hardly turns, or where two of one sense stand close together."""
    if len(ips) < 3:
        return
    turn = [0.0, *turns_of(ips).tolist(), 0.0]
    straight = Legs.of(_arced(ips)).straight_m
    for i in sorted(range(1, len(ips) - 1), key=lambda i: abs(turn[i])):
        if abs(turn[i]) < _HARDLY:
            yield [*ips[:i], *ips[i + 1 :]]
    for i in range(1, len(ips) - 2):
        whole = turn[i] + turn[i + 1]
        if turn[i] * turn[i + 1] <= 0 or straight[i] > _SHORT_M or abs(whole) > _MOST_TURN:
            continue
        before, after = ((ips[k], ips[k + 1]) for k in (i - 1, i + 1))
        at = meeting(*(_leg(a, b) for a, b in (before, after)))
        larger = max((ips[i], ips[i + 1]), key=lambda ip: ip.radius_m)
        length = _FIRST_SHARE * larger.radius_m * abs(whole)
        one = replace(_ip(at, larger.radius_m), transition_in_m=length, transition_out_m=length)
        yield [*ips[:i], one, *ips[i + 2 :]]


def _leg(a: CentrelineIp, b: CentrelineIp) -> _Tangent:
    heading = float(np.arctan2(b.northing_m - a.northing_m, b.easting_m - a.easting_m))
    return np.array([a.easting_m, a.northing_m]), heading


def _gaps(ips: list[CentrelineIp]) -> dict[int, float]:
    """Lengths of tangents between two bends, by the IP before. [m]"""
    straight = Legs.of(ips).straight_m
    return {i: float(straight[i]) for i in range(1, len(ips) - 2)}


def _gap_at(i: int, ips: list[CentrelineIp]) -> float:
    return float(Legs.of(_possible(ips)).straight_m[i])


def _touching(ips: list[CentrelineIp], i: int) -> list[CentrelineIp]:
    """Bends at IPs i and i + 1 made larger or smaller by what is left between them."""
    legs = Legs.of(ips)
    share = float(legs.length_m[i] / (legs.at_start_m[i] + legs.at_end_m[i]))
    out = list(ips)
    for k in (i, i + 1):
        ip = ips[k]
        out[k] = replace(
            ip,
            radius_m=ip.radius_m * share,
            transition_in_m=ip.transition_in_m * share,
            transition_out_m=ip.transition_out_m * share,
        )
    return squeezed(out, np.inf)
