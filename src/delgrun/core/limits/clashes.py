"""Limits and level controls that no line can keep together, told as soon as they are entered."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.controls.level_room import level_room
from delgrun.core.limits.limit_set import LimitSet, most_rise
from delgrun.core.units import say

FloatArray = NDArray[np.float64]

# Levels are kept to the millimetre, and lines hold level controls at places metres apart.
_NONE_M = 0.005


@dataclass(frozen=True)
class Clash:
    """Two places that no line within the steepest grade joins, in words; or one that no level suits.

    `proven`: no line can keep it. Where it is not, no tangent can, and a vertical curve still might.
    """

    from_m: float
    to_m: float
    sentence: str
    proven: bool = True


@dataclass(frozen=True)
class _Gate:
    """A place that a line has to go through, between two levels; `what` says for whom. [m]"""

    at_m: float
    low_m: float
    high_m: float
    what: str


def clashes(limits: LimitSet, ends: tuple[float, float], ground: tuple[FloatArray, FloatArray] | None) -> list[Clash]:
    """What can't be kept together: a grade both steep and flat enough, and levels too far apart for their distance.

    Parameters
    ----------
    ends : chainages where the road starts and ends [m]
    ground : chainages (n,), rising, and levels (n,) there, for the greatest depths of cut and fill; NaN for gaps

    Notes
    -----
    Proven as far as it goes: each place of a line, curves included, is no steeper than what holds there. What vertical
    curves forbid besides is not looked at.
    """
    out = _grades(limits, ends)
    gates = sorted(_gates(limits, ends, ground), key=lambda g: g.at_m)
    low, high, at = -np.inf, np.inf, ends[0]
    lows: _Gate | None = None
    highs: _Gate | None = None
    for gate in gates:
        rise, fall = most_rise(limits, at, gate.at_m)
        low, high, at = low - fall, high + rise, gate.at_m
        if gate.low_m > high + _NONE_M and highs is not None:
            out.append(_clash(limits, highs, highs.high_m, gate, gate.low_m))
            high, highs = gate.high_m, gate
        elif gate.high_m < low - _NONE_M and lows is not None:
            out.append(_clash(limits, lows, lows.low_m, gate, gate.high_m))
            low, lows = gate.low_m, gate
        if gate.low_m >= low:
            low, lows = gate.low_m, gate
        if gate.high_m <= high:
            high, highs = gate.high_m, gate
    return out


def _grades(limits: LimitSet, ends: tuple[float, float]) -> list[Clash]:
    """Stretches where the flattest grade, one of tangents, is steeper than the steepest, one of the line itself."""
    least, most = limits.steps("min_grade"), limits.steps("max_grade")
    return [
        Clash(
            x,
            y,
            say(
                "From {a:chainage} to {b:chainage} no tangent is as steep as {least:percent} and no steeper than "
                "{most:percent}: only a vertical curve can lie there",
                a=x, b=y, least=flat, most=steep,
            ),
            proven=False,
        )
        for a, b, flat in least.along(*ends)
        for x, y, steep in most.along(a, b)
        if flat is not None and steep is not None and flat > steep
    ]  # fmt: skip


def _gates(limits: LimitSet, ends: tuple[float, float], ground: tuple[FloatArray, FloatArray] | None) -> list[_Gate]:
    out = [
        _Gate(at, tie.level_m, tie.level_m, f"the tie-in at the {name}")
        for name, tie, at in (("start", limits.start, ends[0]), ("end", limits.end, ends[1]))
        if tie.level_m is not None
    ]
    for band in limits.bands:
        held = level_room((band,), *ends)
        out += [
            _Gate(at, low, high, f"“{band.what}”")
            for at, low, high in zip(held.chainage_m.tolist(), held.low_m.tolist(), held.high_m.tolist(), strict=True)
        ]
    if ground is not None:
        s, z = ground
        for name, sign, what in (("most_cut_m", -1.0, "the deepest cut"), ("most_fill_m", 1.0, "the highest fill")):
            most = limits.steps(name).at(s)
            for at, level in np.column_stack([s, z + sign * most])[~np.isnan(z + most)].tolist():
                out.append(_Gate(at, level if sign < 0 else -np.inf, np.inf if sign < 0 else level, what))
    return out


def _clash(limits: LimitSet, first: _Gate, first_m: float, second: _Gate, second_m: float) -> Clash:
    apart, along = abs(second_m - first_m), second.at_m - first.at_m
    if along < _NONE_M:
        words = say(
            "{a} and {b} clash at {at:chainage}: no level there suits both, they miss by {d:length}",
            a=first.what, b=second.what, at=second.at_m, d=apart,
        )  # fmt: skip
        return Clash(second.at_m, second.at_m, words)
    rise, fall = most_rise(limits, first.at_m, second.at_m)
    most = (rise if second_m > first_m else fall) / along
    words = say(
        "{a} at {s:chainage} and {b} at {t:chainage} can't both be kept: {d:length} in level over {l:about} are "
        "{mean:percent}, and the steepest grade is {most:percent}",
        a=first.what, b=second.what, s=first.at_m, t=second.at_m, d=apart, l=along, mean=apart / along, most=most,
    )  # fmt: skip
    return Clash(first.at_m, second.at_m, words[0].upper() + words[1:])
