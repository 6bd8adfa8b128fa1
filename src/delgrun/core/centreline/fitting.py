"""Tangents, arcs and transitions fitted to a polyline: the fewest that explain its points."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import partial

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.least_squares import LeastSquares, arced, possible
from delgrun.core.centreline.legs import CentrelineIp, Legs, turns_of
from delgrun.core.centreline.parts import meeting
from delgrun.core.centreline.room import squeezed
from delgrun.core.centreline.segments import Segment, noise_of, segments
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
# A corner without a point of its own is such a bend at first; a bend of fewer points is taken as it is.
_CORNER_M, _FEW = 50.0, 6


@dataclass(frozen=True)
class Fitted:
    """IPs of the line, what the points scatter by, and how far the line lies from them. [m]"""

    ips: list[CentrelineIp]
    noise_m: float
    rms_m: float
    deviation_m: float


def fit_line(points: FloatArray, noise_m: float | None = None, stop: Callable[[], bool] = lambda: False) -> Fitted:
    """Tangents, arcs and clothoids through (n, 2) points in their order.

    The points are cut into straights and arcs (`segments.segments`); each arc between two straights is a bend, its
    transitions come and go with what they gain, and all of it is fitted together by least squares of offsets.

    Parameters
    ----------
    noise_m : how far points may lie off; estimated where it is not given
    stop : asked again and again; once it says so the line is refused

    Raises
    ------
    DesignInputError
        Too few points, too many, none that a road could follow, or stopped.
    """
    way = np.concatenate([[True], np.hypot(*np.diff(points, axis=0).T) > 1e-3])
    xy = points[way]
    if len(xy) < 2:
        raise DesignInputError("file", "The polyline has fewer than two places.")
    if len(xy) > MOST_POINTS:
        raise DesignInputError("file", f"The polyline has {len(xy)} points, more than {MOST_POINTS}: thin it.")
    noise = noise_of(xy) if noise_m is None else noise_m
    few = xy[:: max(1, len(xy) // _CUT_POINTS)]
    fit = _Fit(xy, noise, stop)
    ips = _first(few, _straightened(few, segments(few, noise)), _Fit(few, noise, stop))
    ips = fit.simplified(fit.solved(ips)[0])
    ips = fit.with_needed_transitions(ips)
    ips = fit.solved(ips)[0]
    ips = fit.closed(ips)
    off = fit.offsets(ips)
    return Fitted(_rounded(ips), noise, float(np.sqrt(np.mean(off**2))), float(np.abs(off).max()))


def _straightened(points: FloatArray, pieces: list[Segment]) -> list[Segment]:
    """Pieces that hardly turn as straights, those that go straight on as one, and a bend where two meet in a corner."""
    out: list[Segment] = []
    for p in pieces:
        length = float(np.hypot(*np.diff(points[p.first : p.last + 1], axis=0).T).sum())
        if abs(p.curvature) * length <= _STRAIGHT:
            p = replace(p, curvature=0.0)
        if out and p.curvature == 0.0 == out[-1].curvature:
            turn = _kink(points, out[-1], p)
            if abs(turn) <= _STRAIGHT:
                p = replace(p, first=out.pop().first)
            else:
                out.append(Segment(out[-1].last, p.first, float(np.sign(turn)) / _CORNER_M))
        out.append(p)
    return out


def _first(points: FloatArray, pieces: list[Segment], fit: "_Fit") -> list[CentrelineIp]:
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


def _beside(points: FloatArray, pieces: list[Segment], i: int, way: int) -> _Beside:
    """The straight before (-1) or after (1) a piece; where there is none, the tangent at its end."""
    k = i + way
    if 0 <= k < len(pieces) and pieces[k].curvature == 0.0:
        p = pieces[k]
        return _Beside(_through(points[p.first : p.last + 1]), (p.first + p.last) // 2)
    end = pieces[i].first if way < 0 else pieces[i].last
    return _Beside(_tangent_at(points, end), end)


def _kink(points: FloatArray, a: Segment, b: Segment) -> float:
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


class _Fit(LeastSquares):
    """What a line is tried without: bends, transitions, tangents."""

    def alone(self, before: _Beside, after: _Beside, arcs: list[Segment]) -> tuple[CentrelineIp, bool]:
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
        line = Centreline(possible(ips))
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


def _simpler(ips: list[CentrelineIp]) -> Iterator[list[CentrelineIp]]:
    """A bend less, where one hardly turns, or where two of one sense stand close together."""
    if len(ips) < 3:
        return
    turn = [0.0, *turns_of(ips).tolist(), 0.0]
    straight = Legs.of(arced(ips)).straight_m
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
    return float(Legs.of(possible(ips)).straight_m[i])


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
