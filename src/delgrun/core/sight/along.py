"""Sight along a grade line in both directions: how far one sees, by day or by headlights, and how far one must."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.pieces import mirrored
from delgrun.core.runs import runs
from delgrun.core.sight import kernels
from delgrun.core.stopping import Stopping

FloatArray = NDArray[np.float64]

# Between eyes so far apart a lack is looked for; where it begins and ends is found to a millimetre. [m]
EYES_M = 10.0
_FOUND_M = 1e-3
# Two that meet: how often the distance between them is enlarged, then halved; so far is endless; so near is met. [m]
_DOUBLINGS, _HALVINGS, _FAR_M, _MET_M = 12, 30, 1e6, 1e-3
# A shortfall below this is none. [m]
_NONE_M = 1e-3


@dataclass(frozen=True)
class Lack:
    """A stretch of eyes that see less than they must, by chainage.

    `at_m`: the eye of the greatest share; `seen_m` of `needed_m` there, hidden by the road at `top_m`.
    """

    from_m: float
    to_m: float
    at_m: float
    seen_m: float
    needed_m: float
    top_m: float


@dataclass(frozen=True)
class Sight:
    """Sight in one direction at (n,) chainages: seen [m], needed [m], the chainage that hides the rest, and lacks.

    Beyond the end of the line nothing is known: who sees to it sees enough (`seen` is infinite there).
    """

    at_m: FloatArray
    seen_m: FloatArray
    needed_m: FloatArray
    top_m: FloatArray
    lacks: tuple[Lack, ...]


@dataclass(frozen=True)
class AtRest:
    """Sight of a line that differs from the one that is looked at between two chainages only. [m]"""

    sight: Sight
    from_m: float
    to_m: float


@dataclass(frozen=True)
class Driven:
    """What is driven where: speeds (k + 1,) that hold between chainages (k,), rising. [km/h]"""

    edges_m: FloatArray
    kmh: FloatArray

    @staticmethod
    def everywhere(kmh: float) -> "Driven":
        return Driven(np.zeros(0), np.array([kmh]))

    def at(self, chainage_m: FloatArray) -> FloatArray:
        """(n,) speed at each chainage; at an edge that of the stretch behind it."""
        out: FloatArray = self.kmh[np.searchsorted(self.edges_m, chainage_m, side="right")]
        return out

    @cached_property
    def mirrored(self) -> "Driven":
        """The same driven the other way, chainages with their sign turned."""
        return Driven(-self.edges_m[::-1], self.kmh[::-1].copy())


@dataclass(frozen=True)
class Lights:
    """Headlights: their height, and how much steeper than the road they shine upwards at most. [m, m/m]"""

    height_m: float
    beam: float


def eyes_along(line: GradeLine) -> FloatArray:
    """Chainages at which sight is worked out: even ones, and where curves begin and end. [m]"""
    low, high = float(line.chainage_m[0]), float(line.chainage_m[-1])
    even = np.arange(np.ceil(low / EYES_M) * EYES_M, high, EYES_M)
    own = np.concatenate([line.chainage_m, line.curve_start_m, line.curve_end_m])
    return np.unique(np.clip(np.concatenate([even, own]), low, high))


def stopping_sight(
    line: GradeLine,
    rules: Stopping,
    driven: Driven | None = None,
    *,
    back: bool = False,
    lights: Lights | None = None,
    rest: AtRest | None = None,
) -> Sight:
    """Sight for stopping along a line, in the direction of chainage or against it; by night as far as `lights` reach.

    `driven`: what is driven where, if it is not the rules' speed everywhere. `rest`: the same sight of a line that
    differs in one stretch: eyes whose view and way to stop do not reach it are taken over from it.
    """
    own = Driven.everywhere(rules.speed_kmh) if driven is None else driven
    own = own.mirrored if back else own
    heights = (rules.eye_m, rules.object_m) if lights is None else (lights.height_m, lights.beam)

    def look(rows: FloatArray, at: FloatArray) -> _Looked:
        far, top = kernels.seen(rows, at, *heights) if lights is None else kernels.lit(rows, at, *heights)
        return far, _to_stop(rows, at, rules, own), top

    def ends(rows: FloatArray, good: FloatArray, bad: FloatArray) -> FloatArray:
        driving = rules.reacting_at(1.0), rules.braking_at(1.0)
        found: FloatArray = kernels.lack_ends(
            rows, good, bad, lights is not None, heights, own.edges_m, own.kmh, driving, rules.force, _NONE_M, _FOUND_M
        )
        return found

    return _sight(line, look, ends, back=back, rest=rest)


def meeting_sight(line: GradeLine, rules: Stopping, driven: Driven | None = None, *, back: bool = False) -> Sight:
    """Intermediate sight: two vehicles that meet on one lane see each other in time for both to stop.

    Each drives what is driven where it is, and the one that comes stops on the grades that it comes over. Seen is a
    vehicle as high as the driver's eye.

    References
    ----------
    Twice the stopping distance on even ground: common practice; on grades the sum of both.
    """
    own = Driven.everywhere(rules.speed_kmh) if driven is None else driven
    own, other = (own.mirrored, own) if back else (own, own.mirrored)

    def look(rows: FloatArray, at: FloatArray) -> _Looked:
        far, top = kernels.seen(rows, at, rules.eye_m, rules.eye_m)
        first, coming = np.minimum(_to_stop(rows, at, rules, own), _FAR_M), mirrored(rows)

        def more_than_both(apart: FloatArray) -> FloatArray:
            there = np.clip(at + apart, rows[0, 0], rows[-1, 1])
            return apart - first - np.minimum(_to_stop(coming, -there, rules, other), _FAR_M)

        needed = _first_enough(more_than_both, first)
        needed = np.where(needed < _FAR_M, needed, np.inf)
        return far, needed, top

    return _sight(line, look, _halving(look), back=back)


def passing_sight(line: GradeLine, eye_m: float, needed_at: Callable[[FloatArray], FloatArray], *, back: bool) -> Sight:
    """Sight of a vehicle as high as the eye that comes the other way; `needed_at` chainages (n,), for passing."""

    def look(rows: FloatArray, at: FloatArray) -> _Looked:
        far, top = kernels.seen(rows, at, eye_m, eye_m)
        return far, needed_at(-at if back else at), top

    return _sight(line, look, _halving(look), back=back)


# Seen [m], needed [m], and the chainage that hides the rest, NaN where nothing does.
_Looked = tuple[FloatArray, FloatArray, FloatArray]
_Look = Callable[[FloatArray, FloatArray], _Looked]
_Ends = Callable[[FloatArray, FloatArray, FloatArray], FloatArray]


def _to_stop(rows: FloatArray, at: FloatArray, rules: Stopping, driven: Driven) -> FloatArray:
    own = driven.at(at)
    out: FloatArray = kernels.stopped(rows, at, rules.reacting_at(own), rules.braking_at(own), rules.force)
    return out


def _first_enough(over: Callable[[FloatArray], FloatArray], least: FloatArray) -> FloatArray:
    """(n,) where `over` rises to nothing, from `least` (n,) on, to a millimetre or so; infinite if that is not found.

    Where the other one stops depends on how far away it is, on steep grades so much that taking the one for the other
    by turns ends in a to and fro. Source: Dowell and Jarratt, BIT 11, 1971 (the Illinois method), from both sides.
    """
    low, at_low = least.copy(), over(least)
    high, at_high = low.copy(), at_low.copy()
    for _ in range(_DOUBLINGS):
        short = at_high < 0
        if not short.any():
            break
        high = np.where(short, high - 2 * at_high, high)
        at_high = over(high)
    found = at_high >= 0
    best = high
    for _ in range(_HALVINGS):
        with np.errstate(invalid="ignore", divide="ignore"):
            middle = (low * at_high - high * at_low) / (at_high - at_low)
        middle = np.where((middle > low) & (middle < high), middle, (low + high) / 2)
        here = over(middle)
        up = here >= 0
        best = np.where(np.abs(here) < _MET_M, middle, np.where(up, middle, high))
        # The end that stays counts half, or it would stay for good.
        at_low, at_high = np.where(up, at_low / 2, here), np.where(up, here, at_high / 2)
        low, high = np.where(up, low, middle), np.where(up, middle, high)
        if (np.minimum(high - low, np.abs(here))[found] < _MET_M).all():
            break
    out: FloatArray = np.where(found, best, np.inf)
    return out


def _sight(line: GradeLine, look: _Look, ends: _Ends, *, back: bool, rest: AtRest | None = None) -> Sight:
    rows, eyes = line.pieces, eyes_along(line)
    if back:
        rows, eyes = mirrored(rows), -eyes[::-1]
    if rest is None:
        far, needed, top = look(rows, eyes)
        far = np.where(np.isnan(top), np.inf, far)
        found = _lacks(eyes, far, needed, top, lambda good, bad: ends(rows, good, bad))
    else:
        before = _turned(rest.sight) if back else rest.sight
        stretch = (-rest.to_m, -rest.from_m) if back else (rest.from_m, rest.to_m)
        far, needed, top, same = _taken_over(rows, eyes, look, before, stretch)
        found = _lacks(eyes, far, needed, top, lambda good, bad: ends(rows, good, bad), (before, same))
    sight = Sight(eyes, far, needed, top, found)
    return _turned(sight) if back else sight


def _turned(s: Sight) -> Sight:
    """The same, chainages with their sign turned."""
    lacks = tuple(Lack(-k.to_m, -k.from_m, -k.at_m, k.seen_m, k.needed_m, -k.top_m) for k in reversed(s.lacks))
    return Sight(-s.at_m[::-1], s.seen_m[::-1], s.needed_m[::-1], -s.top_m[::-1], lacks)


def _taken_over(
    rows: FloatArray, eyes: FloatArray, look: _Look, before: Sight, stretch: tuple[float, float]
) -> tuple[FloatArray, FloatArray, FloatArray, NDArray[np.bool_]]:
    """Seen, needed and what hides, with which eyes are as before: those that do not reach the stretch that changed."""
    old = before.at_m
    k = np.minimum(np.searchsorted(old, eyes), len(old) - 1)
    reach = np.maximum(before.seen_m, before.needed_m)[k]
    same: NDArray[np.bool_] = (old[k] == eyes) & ((eyes > stretch[1]) | (eyes + reach < stretch[0]))
    far, needed, top = before.seen_m[k], before.needed_m[k], before.top_m[k]
    anew = ~same
    if anew.any():
        seen, far_enough, hides = look(rows, eyes[anew])
        far[anew], needed[anew], top[anew] = np.where(np.isnan(hides), np.inf, seen), far_enough, hides
    return far, needed, top, same


def _lacks(
    eyes: FloatArray,
    far: FloatArray,
    needed: FloatArray,
    top: FloatArray,
    ends: Callable[[FloatArray, FloatArray], FloatArray],
    rest: tuple[Sight, NDArray[np.bool_]] | None = None,
) -> tuple[Lack, ...]:
    """Stretches where less is seen than needed; their ends lie between an eye that lacks and one that does not.

    `rest`: what was seen before, and which eyes see the same: a lack all of whose eyes do is the one that it was.
    """
    # Who sees to the end sees enough, however much is needed.
    lack = np.isfinite(far) & (needed > far + _NONE_M)
    found = np.array(runs(lack), dtype=int).reshape(-1, 2)
    if not len(found):
        return ()
    taken: dict[int, Lack] = {}
    if rest is not None:
        taken = _same_lacks(eyes, found, *rest)
        if len(taken) == len(found):
            return tuple(taken.values())
    anew = [k for k in range(len(found)) if k not in taken]
    first, last = found[anew].T
    good = np.concatenate([eyes[np.maximum(first - 1, 0)], eyes[np.minimum(last + 1, len(eyes) - 1)]])
    starts, stops = np.split(ends(good, np.concatenate([eyes[first], eyes[last]])), 2)
    for n, (a, b) in enumerate(zip(first.tolist(), last.tolist(), strict=True)):
        worst = a + int(np.argmax(needed[a : b + 1] / np.maximum(far[a : b + 1], 1e-9)))
        here = (float(eyes[worst]), float(far[worst]), float(needed[worst]), float(top[worst]))
        taken[anew[n]] = Lack(float(starts[n]), float(stops[n]), *here)
    return tuple(taken[k] for k in range(len(found)))


def _same_lacks(eyes: FloatArray, found: NDArray[np.int64], before: Sight, same: NDArray[np.bool_]) -> dict[int, Lack]:
    """Of stretches that lack (first and last eye) those that did before, between the same eyes, all as they were."""
    at = {lack.at_m: lack for lack in before.lacks}
    old = before.at_m
    out: dict[int, Lack] = {}
    for k, (a, b) in enumerate(found.tolist()):
        low, high = max(a - 1, 0), min(b + 1, len(eyes) - 1)
        if not same[low : high + 1].all():
            continue
        # No eye was between these that is none now.
        i = int(np.searchsorted(old, eyes[low]))
        if i + high - low < len(old) and old[i + high - low] == eyes[high]:
            lack = next((at[s] for s in eyes[a : b + 1].tolist() if s in at), None)
            # Ends were found between these eyes; between an eye at an end of the line and itself there is nothing.
            if lack is not None:
                out[k] = lack
    return out


def _halving(look: _Look) -> _Ends:
    """Ends of lacks by halving all of them at once."""

    def ends(rows: FloatArray, good: FloatArray, bad: FloatArray) -> FloatArray:
        good, bad = good.copy(), bad.copy()
        while np.abs(bad - good).max() > _FOUND_M:
            middle = (good + bad) / 2
            far, needed, top = look(rows, middle)
            lacks = ~np.isnan(top) & (needed - far > _NONE_M)
            bad[lacks], good[~lacks] = middle[lacks], middle[~lacks]
        return bad

    return ends
