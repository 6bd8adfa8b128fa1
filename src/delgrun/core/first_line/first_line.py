"""A first grade line for a road: near the ground, within the limits, with few IPs; found by linear programs.

One program on a close row of IPs keeps to the ground where it can and pays for each change of grade, which leaves few
of them; neighbours that bend one way become one IP, and a second program on these alone finds their levels.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from delgrun.core.controls.bands import AT_M, slack_of
from delgrun.core.errors import DesignInputError
from delgrun.core.first_line.linear_fit import NO_BEND, Asked, Fit, Layout
from delgrun.core.first_line.wishes import Depths, Drains, Round
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.locks import DIGITS
from delgrun.core.limits.limit_set import LimitSet, most_rise
from delgrun.core.units import say

FloatArray = NDArray[np.float64]

# What a change of grade costs against area between line and ground: a bump of a metre over 200 m is levelled. [m2]
_BEND_M2 = 1500.0
# The ground is looked at so often, and no oftener than so many times. [m]
_STEP_M, _MOST_PLACES = 12.0, 1200
# Places to look at the limits lie so far apart. [m]
_PLACE_M = 10.0
# A line that rolls has its IPs so many times as far apart as they may stand.
_ROLLS = (1.0, 1.5, 2.2)
# So often bends that are not used are taken out.
_ROUNDS = 3
# A line leaves its depths by less without a word. [m]
_SAID_M = 0.01


@dataclass(frozen=True)
class FirstLine:
    """The line, and stretches (from, to, most beyond) that lie deeper in cut, or higher in fill, than wished. [m]

    `flattest`: the grade that it keeps to drain where the ground is flatter; 0 where it need not. `other`: what the
    other choice of how to drain would give there, if it gives any. `uneven`: why it is not round as was wished.
    """

    line: GradeLine
    too_deep: list[tuple[float, float, float]]
    too_high: list[tuple[float, float, float]]
    flattest: float = 0.0
    other: GradeLine | None = None
    uneven: str = ""


def first_line(
    ground: tuple[FloatArray, FloatArray],
    ends: tuple[float, float],
    limits: LimitSet,
    depths: Depths,
    drains: Drains = "roll",
    even: Round | None = None,
) -> FirstLine:
    """A line between the tie-ins, or the ground at the ends where these are free.

    Parameters
    ----------
    ground : chainages (n,), rising, and levels (n,) of the ground along the road; gaps are bridged [m]
    ends : chainages where the road starts and ends [m]
    drains : what becomes of ground that is flatter than a line may be
    even : round grades and chainages, where limits leave room for that

    Raises
    ------
    DesignInputError
        No line within the steepest grade joins the ends, or none keeps the limits.
    """
    start, end = ends
    s = np.linspace(start, end, int(min(max((end - start) / _STEP_M, 2), _MOST_PLACES)) + 1)
    z = np.interp(s, *ground)
    fit = Fit(s, z, limits, _end_levels((float(z[0]), float(z[-1])), ends, limits), depths.cut_m, depths.fill_m)
    close = _close(start, end, limits, 1.0)
    first = fit.levels(close, _BEND_M2)
    found = _few(fit, _merged(close, first, limits))
    # Few IPs may leave too little room for level controls; the close row had enough.
    few, level = found if found is not None else (close, first)
    level = _steep_enough(fit, few, level)
    line, flat, other, uneven = _made(few, level, limits, fit.ends), 0.0, None, ""
    if _too_flat(few, level, limits):
        flat = float(Asked.of(limits, few).flattest.max())
        ways = {"roll": _rolling(fit, start, end), "even": _even(fit, start, end)}
        # An end that is free may have given way.
        lines = {k: _made(*w, limits, (float(w[1][0]), float(w[1][-1]))) for k, w in ways.items() if w is not None}
        line = lines.pop(drains, line)
        other = next(iter(lines.values()), None)
        uneven = _NOT_ROUND if even else ""
    elif even is not None:
        rounded = _rounded(fit, few, level, even)
        line, uneven = (line, _NOT_ROUND) if rounded is None else (rounded, "")
    over = z - line.levels(s)
    return FirstLine(line, _beyond(s, over, depths.cut_m), _beyond(s, -over, depths.fill_m), flat, other, uneven)


def _close(start: float, end: float, limits: LimitSet, share: float) -> Layout:
    """A row of IPs as close as limits let them stand where they are, or `share` times as far, with longest curves."""
    at = np.linspace(start, end, max(int((end - start) / _PLACE_M), 8) + 1)
    apart = share * np.array([_apart(limits, float(a), float(b)) for a, b in pairwise(at)])
    many = np.concatenate([[0.0], np.cumsum(np.diff(at) / apart)])
    count = max(int(many[-1] + 1e-9), 2)
    x = np.interp(np.linspace(0.0, many[-1], count + 1), many, at)
    # To the digits that are kept, before lengths are made of it: rounded later, two curves would overlap.
    x[1:-1] = np.round(x[1:-1], DIGITS)
    return _with_curves(x, limits, even=True)


_NOT_ROUND = "Its grades and chainages are not round: no line with round ones keeps the limits here."


def _rounded(fit: Fit, lay: Layout, level: FloatArray, even: Round) -> GradeLine | None:
    """The line with IPs at round chainages and round grades between them; None where none keeps the limits.

    Where two IPs would come too close one of them stays where it is. The last grade is what leads to the end.
    """
    x = lay.x.copy()
    for i in range(1, len(x) - 1):
        to = round(float(np.round(x[i] / even.length_m) * even.length_m), DIGITS)
        if all(
            abs(to - x[k]) >= min(_apart(fit.limits, *sorted((to, float(x[k])))), abs(lay.x[i] - x[k]))
            for k in (i - 1, i + 1)
        ):
            x[i] = to
    round_one = _with_curves(x, fit.limits, whole=False)
    grade, least = lay.grade @ level, Asked.of(fit.limits, round_one).flattest
    try:
        found = fit.levels(round_one, 0.0, _untied(np.where(grade >= 0, least, -least), fit.limits), even.grade)
    except DesignInputError:
        return None
    return _made(round_one, found, fit.limits, fit.ends, even.length_m)


def _apart(limits: LimitSet, a: float, b: float) -> float:
    """How close IPs may stand on a stretch. [m]"""
    curve, spacing = limits.over("min_curve_length_m", a, b), limits.over("min_ip_spacing_m", a, b)
    return max(spacing, curve + (limits.steps("min_tangent_m").over(a, b) or 0.0), 20.0)


def _too_flat(lay: Layout, level: FloatArray, limits: LimitSet) -> bool:
    """Whether tangents are flatter than they may be, but for those that a tie-in says."""
    least = _untied(Asked.of(limits, lay).flattest, limits)
    return bool((np.abs(lay.grade @ level) < least - 1e-9).any())


def _untied(grades: FloatArray, limits: LimitSet) -> FloatArray:
    """Grades asked of tangents, none of those that a tie-in says already."""
    for tie, at in ((limits.start, 0), (limits.end, -1)):
        if tie.grade is not None:
            grades[at] = 0.0
    return grades


def _rolling(fit: Fit, start: float, end: float) -> tuple[Layout, FloatArray] | None:
    """Up and down by turns near flat ground, no tangent flatter than it may be; None where nothing leads to the end."""
    best: tuple[float, Layout, FloatArray] | None = None
    for share in _ROLLS:
        lay = _close(start, end, fit.limits, share)
        least = Asked.of(fit.limits, lay).flattest
        h, ground = np.diff(lay.x), np.interp(lay.x, fit.chainage_m, fit.ground_m)
        ground[[0, -1]] = fit.ends
        asked, at = np.zeros(len(h)), float(fit.ends[0])
        for j in range(len(h)):
            rise = float(ground[j + 1]) - at
            asked[j] = least[j] if rise >= 0 else -least[j]
            at += rise if abs(rise) >= least[j] * h[j] else asked[j] * h[j]
        try:
            level = fit.levels(lay, 0.0, _untied(asked, fit.limits))
        except DesignInputError:
            continue
        off = float(np.abs(lay.levels(fit.chainage_m) @ level - fit.ground_m).mean())
        if best is None or off < best[0]:
            best = off, lay, level
    return None if best is None else best[1:]


def _even(fit: Fit, start: float, end: float) -> tuple[Layout, FloatArray] | None:
    """One grade from end to end, no flatter than it may be: an end that is free gives way, the far one first."""
    lay = Layout(np.array([start, end]), np.zeros(2))
    least = float(Asked.of(fit.limits, lay).flattest.max())
    a, b = fit.ends
    short = least * (end - start) - abs(b - a)
    if short > 0:
        by = short if b >= a else -short
        if fit.limits.end.level_m is None:
            b += by
        elif fit.limits.start.level_m is None:
            a -= by
        else:
            return None
    return lay, np.round([a, b], DIGITS)


def _few(fit: Fit, few: Layout) -> tuple[Layout, FloatArray] | None:
    """Levels of few IPs, those left out that do not bend; None where they can't keep the limits."""
    try:
        level = fit.levels(few, 0.0)
        for _ in range(_ROUNDS):
            # Bends that the second program does not use go, and the others have more room for it.
            used = few.without_idle(level)
            if len(used.x) == len(few.x):
                break
            fewer = _with_curves(used.x, fit.limits)
            level = fit.levels(fewer, 0.0)
            few = fewer
    except DesignInputError:
        return None
    return few, level


def _end_levels(ground: tuple[float, float], ends: tuple[float, float], limits: LimitSet) -> tuple[float, float]:
    """Levels at the ends: the tie-ins', or the ground's."""
    a, b = (
        round(level, DIGITS) if tie.level_m is None else tie.level_m
        for level, tie in zip(ground, (limits.start, limits.end), strict=True)
    )
    length_m = ends[1] - ends[0]
    most = most_rise(limits, *ends)[0 if b > a else 1] / length_m
    if abs(b - a) > most * length_m:
        raise DesignInputError(
            "max_grade",
            "From end to end it is {grade:percent}, the steepest allowed is {most:percent}: no line joins the ends. "
            "Make the road longer, or allow a steeper grade.",
            grade=abs(b - a) / length_m,
            most=most,
        )
    return a, b


def _merged(lay: Layout, level: FloatArray, limits: LimitSet) -> Layout:
    """Neighbours that bend one way become one IP, where the tangents before and behind them meet."""
    change = np.concatenate([[0.0], lay.change @ level, [0.0]])
    grade = lay.grade @ level
    x: list[float] = [float(lay.x[0])]
    i, m = 1, len(lay.x)
    while i < m - 1:
        if abs(change[i]) <= NO_BEND:
            i += 1
            continue
        j = i
        while j + 1 < m - 1 and change[j + 1] * change[i] > 0 and abs(change[j + 1]) > NO_BEND:
            j += 1
        before, after = grade[i - 1], grade[j]
        meets = (level[j] - level[i] + before * lay.x[i] - after * lay.x[j]) / (before - after)
        x.append(float(np.clip(meets, lay.x[i], lay.x[j])))
        i = j + 1
    x.append(float(lay.x[-1]))
    return _with_curves(_spaced(np.array(x), limits), limits)


def _spaced(x: FloatArray, limits: LimitSet) -> FloatArray:
    """Chainages no closer than limits let IPs stand: of two that are, the one in their middle."""
    out = x.tolist()
    i = 1
    while i < len(out):
        if out[i] - out[i - 1] >= _apart(limits, out[i - 1], out[i]) or len(out) == 2:
            i += 1
        elif i == len(out) - 1:
            del out[i - 1]
            i = max(i - 1, 1)
        elif i == 1:
            del out[1]
        else:
            out[i - 1 : i + 1] = [(out[i - 1] + out[i]) / 2]
            i -= 1
    return np.array(out)


def _with_curves(x: FloatArray, limits: LimitSet, *, even: bool = False, whole: bool = True) -> Layout:
    """Curves as long as there is room for: each to the middle of the way to the nearer neighbour, whole at an end.

    Between two of them a straight is left where one is asked for. IPs stand at `whole` metres where there is room for
    that, and `even` ones where they are, with curves to the middle at an end too.
    """
    metres = np.concatenate([x[:1], np.round(x[1:-1]), x[-1:]])
    x = metres if whole and not even and (np.diff(metres) > 1.0).all() else x
    gap = np.diff(x)
    steps = limits.steps("min_tangent_m")
    straight = np.array([steps.over(a, b) or 0.0 for a, b in pairwise(x.tolist())])
    half = (gap - straight) / 2
    if not even:
        half[[0, -1]] = gap[[0, -1]]
    elif len(half) > 1:
        half[0], half[-1] = half[0] + straight[0] / 2, half[-1] + straight[-1] / 2
    length = np.zeros(len(x))
    length[1:-1] = 2 * np.minimum(half[:-1], half[1:])
    return Layout(x, length if even else np.floor(length))


def _steep_enough(fit: Fit, lay: Layout, level: FloatArray) -> FloatArray:
    """The levels with tangents no flatter than allowed, each to the side it leans to; else as they were."""
    grade, least = lay.grade @ level, Asked.of(fit.limits, lay).flattest
    if not (np.abs(grade) < least).any():
        return level
    asked = _untied(np.where(grade >= 0, least, -least), fit.limits)
    try:
        return fit.levels(lay, 0.0, asked)
    except DesignInputError:
        return level


def _made(
    lay: Layout, level: FloatArray, limits: LimitSet, ends: tuple[float, float], step_m: float = 1.0
) -> GradeLine:
    """The line with levels and lengths as they are kept: curves as short as K and the shortest length allow.

    Lengths are multiples of `step_m` where there is room for that.
    """
    places = [(round(float(x), DIGITS), round(float(z), DIGITS)) for x, z in zip(lay.x, level, strict=True)]
    # The ends are where they must be, to the last digit.
    places[0], places[-1] = (float(lay.x[0]), ends[0]), (float(lay.x[-1]), ends[1])
    ips = [Ip(chainage_m=x, level_m=z) for x, z in places]
    line = GradeLine(tuple(ips))
    long = [replace(ip, curve_length_m=float(length)) for ip, length in zip(ips, lay.length, strict=True)]
    of = Asked.of(limits, lay)
    # A curve that carries a grade into a range stays as long as it was fitted.
    kept = {i for i, *_ in of.edges}
    for i in range(1, len(ips) - 1):
        if i in kept:
            ips[i] = long[i]
            continue
        change = line.change_of_grade(i)
        k = float((of.crest_k if change < 0 else of.sag_k)[i - 1])
        asked = max(100 * k * abs(change), float(of.curve_m[i - 1]))
        ips[i] = replace(ips[i], curve_length_m=float(min(np.ceil(asked / step_m - 1e-6) * step_m, lay.length[i])))
    short = GradeLine.of(ips)
    # With shorter curves it comes nearer to its IPs: where that leaves what a level control asks, they stay long.
    left = any((room := slack_of(short, band)) is not None and room.slack_m < -AT_M for band in limits.bands)
    return GradeLine.of(long) if left else short


def _beyond(s: FloatArray, depth: FloatArray, most: float | None) -> list[tuple[float, float, float]]:
    """Stretches deeper than wished: from, to, and by how much at most. [m]"""
    if most is None:
        return []
    over = depth > most + _SAID_M
    edges = np.flatnonzero(np.diff(np.concatenate([[False], over, [False]])))
    return [
        (float(s[a]), float(s[b - 1]), float(depth[a:b].max() - most))
        for a, b in zip(edges[::2], edges[1::2], strict=True)
    ]


def beyond_depths(made: FirstLine, depths: Depths) -> list[str]:
    """Where a line lies deeper, or higher, than wished, in sentences."""
    said = []
    for stretches, most, words in (
        (made.too_deep, depths.cut_m, "cut is deeper"),
        (made.too_high, depths.fill_m, "fill is higher"),
    ):
        said += [
            say(
                f"From {{a:chainage}} to {{b:chainage}} the {words} than {{most:length}}, by up to {{by:length}}.",
                a=a,
                b=b,
                most=most,
                by=by,
            )
            for a, b, by in stretches
        ]
    return said


def drained(made: FirstLine, drains: Drains, cost: Callable[[GradeLine], str] | None = None) -> list[str]:
    """Why a line leaves ground that is flatter than a line may be, in a sentence; none where it need not.

    `cost`: what a line costs, in words, where that is known.
    """
    if not made.flattest:
        return []
    other = "one even grade" if drains == "roll" else "a line that rises and falls by turns"
    how = "It rises and falls by turns" if drains == "roll" else "It has one even grade"
    here, there = (f" and costs {cost(line)}" if cost and line else "" for line in (made.line, made.other))
    way = f"{other} would be the other choice{there}" if made.other else f"{other} keeps no limits here"
    return [
        say(
            f"The ground is flatter than {{least:percent}}, which the road needs to drain. {how}{here}; {way}.",
            least=made.flattest,
        )
    ]
