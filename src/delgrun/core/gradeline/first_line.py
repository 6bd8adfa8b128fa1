"""A first grade line for a road: near the ground, within the limits, with few IPs; found by linear programs.

One program on a close row of IPs keeps to the ground where it can and pays for each change of grade, which leaves few
of them; neighbours that bend one way become one IP, and a second program on these alone finds their levels.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.controls.bands import AT_M, slack_of
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.linear_fit import NO_BEND, Fit, Layout
from delgrun.core.gradeline.locks import DIGITS
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.units import say

FloatArray = NDArray[np.float64]

# What a change of grade costs against area between line and ground: a bump of a metre over 200 m is levelled. [m2]
_BEND_M2 = 1500.0
# The ground is looked at so often, and no oftener than so many times. [m]
_STEP_M, _MOST_PLACES = 12.0, 1200
# So often bends that are not used are taken out.
_ROUNDS = 3
# A line leaves its depths by less without a word. [m]
_SAID_M = 0.01


@dataclass(frozen=True)
class Depths:
    """Greatest depths of cut and of fill at the centreline, kept where it can be; None leaves one free. [m]"""

    cut_m: float | None = None
    fill_m: float | None = None


@dataclass(frozen=True)
class FirstLine:
    """The line, and stretches (from, to, most beyond) that lie deeper in cut, or higher in fill, than wished. [m]"""

    line: GradeLine
    too_deep: list[tuple[float, float, float]]
    too_high: list[tuple[float, float, float]]


def first_line(
    ground: tuple[FloatArray, FloatArray], ends: tuple[float, float], limits: LimitSet, depths: Depths
) -> FirstLine:
    """A line between the tie-ins, or the ground at the ends where these are free.

    Parameters
    ----------
    ground : chainages (n,), rising, and levels (n,) of the ground along the road; gaps are bridged [m]
    ends : chainages where the road starts and ends [m]

    Raises
    ------
    DesignInputError
        No line within the steepest grade joins the ends, or none keeps the limits.
    """
    start, end = ends
    s = np.linspace(start, end, int(min(max((end - start) / _STEP_M, 2), _MOST_PLACES)) + 1)
    z = np.interp(s, *ground)
    fit = Fit(s, z, limits, _end_levels((float(z[0]), float(z[-1])), end - start, limits), depths.cut_m, depths.fill_m)
    straight = limits.min_tangent_m or 0.0
    spacing = max(limits.min_ip_spacing_m, limits.min_curve_length_m + straight, 20.0)
    count = max(int((end - start) / spacing), 2)
    curves = np.full(count - 1, (end - start) / count - straight)
    close = Layout(np.linspace(start, end, count + 1), np.concatenate([[0.0], curves, [0.0]]))
    first = fit.levels(close, _BEND_M2)
    found = _few(fit, _merged(close, first, limits))
    # Few IPs may leave too little room for level controls; the close row had enough.
    few, level = found if found is not None else (close, first)
    level = _steep_enough(fit, few, level)
    line = _made(few, level, limits, fit.ends)
    over = z - line.levels(s)
    return FirstLine(line, _beyond(s, over, depths.cut_m), _beyond(s, -over, depths.fill_m))


def _few(fit: Fit, few: Layout) -> tuple[Layout, FloatArray] | None:
    """Levels of few IPs, those left out that do not bend; None where they can't keep the limits."""
    try:
        level = fit.levels(few, 0.0)
        for _ in range(_ROUNDS):
            # Bends that the second program does not use go, and the others have more room for it.
            used = few.without_idle(level)
            if len(used.x) == len(few.x):
                break
            fewer = _with_curves(used.x, fit.limits.min_tangent_m or 0.0)
            level = fit.levels(fewer, 0.0)
            few = fewer
    except DesignInputError:
        return None
    return few, level


def _end_levels(ground: tuple[float, float], length_m: float, limits: LimitSet) -> tuple[float, float]:
    """Levels at the ends: the tie-ins', or the ground's."""
    a, b = (
        round(level, DIGITS) if tie.level_m is None else tie.level_m
        for level, tie in zip(ground, (limits.start, limits.end), strict=True)
    )
    most = limits.max_grade if b > a else limits.fall
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
    straight = limits.min_tangent_m or 0.0
    spaced = _spaced(np.array(x), max(limits.min_ip_spacing_m, limits.min_curve_length_m + straight))
    return _with_curves(spaced, straight)


def _spaced(x: FloatArray, least: float) -> FloatArray:
    """Chainages no closer than this: of two that are, the one in their middle."""
    out = x.tolist()
    i = 1
    while i < len(out):
        if out[i] - out[i - 1] >= least or len(out) == 2:
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


def _with_curves(x: FloatArray, straight_m: float) -> Layout:
    """Curves as long as there is room for: each to the middle of the way to the nearer neighbour, whole at an end.

    Between two of them a straight is left.

    IPs stand at whole metres where there is room for that.
    """
    whole = np.concatenate([x[:1], np.round(x[1:-1]), x[-1:]])
    x = whole if (np.diff(whole) > 1.0).all() else x
    gap = np.diff(x)
    room = np.concatenate([[np.inf], gap]), np.concatenate([gap, [np.inf]])
    reach = [
        np.where(np.arange(len(x)) == 1, room[0], (room[0] - straight_m) / 2),
        np.where(np.arange(len(x)) == len(x) - 2, room[1], (room[1] - straight_m) / 2),
    ]
    length = np.floor(2 * np.minimum(*reach))
    length[[0, -1]] = 0.0
    return Layout(x, length)


def _steep_enough(fit: Fit, lay: Layout, level: FloatArray) -> FloatArray:
    """The levels with tangents no flatter than allowed, each to the side it leans to; else as they were."""
    grade, least = lay.grade @ level, fit.limits.min_grade
    if least <= 0 or not (np.abs(grade) < least).any():
        return level
    asked = np.where(grade >= 0, least, -least)
    # What a tie-in says of its tangent is said already.
    for tie, at in ((fit.limits.start, 0), (fit.limits.end, -1)):
        if tie.grade is not None:
            asked[at] = 0.0
    try:
        return fit.levels(lay, 0.0, asked)
    except DesignInputError:
        return level


def _made(lay: Layout, level: FloatArray, limits: LimitSet, ends: tuple[float, float]) -> GradeLine:
    """The line with levels and lengths as they are kept: curves as short as K and the shortest length allow."""
    places = [(round(float(x), DIGITS), round(float(z), DIGITS)) for x, z in zip(lay.x, level, strict=True)]
    # The ends are where they must be, to the last digit.
    places[0], places[-1] = (float(lay.x[0]), ends[0]), (float(lay.x[-1]), ends[1])
    ips = [Ip(chainage_m=x, level_m=z) for x, z in places]
    line = GradeLine(tuple(ips))
    long = [replace(ip, curve_length_m=float(length)) for ip, length in zip(ips, lay.length, strict=True)]
    for i in range(1, len(ips) - 1):
        change = line.change_of_grade(i)
        k = limits.min_crest_k_m_per_pct if change < 0 else limits.min_sag_k_m_per_pct
        asked = max(100 * k * abs(change), limits.min_curve_length_m)
        ips[i] = replace(ips[i], curve_length_m=float(min(np.ceil(asked - 1e-6), lay.length[i])))
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
