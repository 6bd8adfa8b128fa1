"""What a vertical curve keeps when its grades change: the length that this asks for, and where it can't be kept."""

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.vertical_curve import (
    BY_LIMITS,
    ByLimits,
    VerticalCurve,
    length_for_sight,
    length_of_k,
    length_of_radius,
    length_through,
)
from delgrun.core.units import say

FloatArray = NDArray[np.float64]

# Lengths are whole millimetres, but where a curve meets a point or a chainage: there it is as long as it takes.
_MM = 1e-3
# A curve's start, end or point may be missed by this. [m]
_MISSED_M = 1e-4


class Asks(Protocol):
    """What the limits ask of a curve whose IP lies at a chainage: its least length. [m]"""

    def __call__(self, chainage_m: float, curve: VerticalCurve, kind: ByLimits = "limits") -> float: ...


def governs(ip: Ip) -> bool:
    """Whether something else than its length is kept of a curve."""
    return ip.held_k_m_per_pct is not None or ip.held != "length"


def asked_length(ip: Ip, curve: VerticalCurve) -> float | None:
    """The length that what is kept asks for; None where it asks for none, or for what there is room for. [m]"""
    if ip.held_k_m_per_pct is not None:
        return _up(length_of_k(ip.held_k_m_per_pct, curve), ip.step_m)
    at = 0.0 if ip.held_m is None else ip.held_m
    match ip.held:
        case "length" | "longest" | "limits" | "stopping" | "intermediate" | "passing" | "headlight":
            return None
        case "radius":
            length = length_of_radius(_up(at, ip.step_m), curve)
            return _up(length, 0.0) if curve.shape == "parabola" else length
        case "sight":
            return _up(length_for_sight(at, curve, ip.seen_from), ip.step_m)
        case "start":
            return max((ip.chainage_m - at) / curve.before, 0.0)
        case "end":
            return max((at - ip.chainage_m) / (1 - curve.before), 0.0)
        case "through":
            level = ip.level_m if ip.held_level_m is None else ip.held_level_m
            return length_through(at - ip.chainage_m, level - ip.level_m, curve) or 0.0


def _up(length_m: float, step_m: float) -> float:
    step = step_m if step_m > 0 else _MM
    # Where no curve is needed it is nothing, not minus nothing.
    return round(math.ceil(length_m / step - 1e-6) * step, 6) + 0.0


def unkept(ip: Ip, curve: VerticalCurve, name: str) -> str | None:
    """Why a curve does not keep what it is to keep, in a sentence; None where it does."""
    at = 0.0 if ip.held_m is None else ip.held_m
    start = ip.chainage_m - curve.length_in_m
    match ip.held:
        case "start" if abs(start - at) > _MISSED_M:
            return say(f"The curve of {name} cannot start at {{at:chainage}}: its IP lies before that.", at=at)
        case "end" if abs(start + curve.length_m - at) > _MISSED_M:
            return say(f"The curve of {name} cannot end at {{at:chainage}}: its IP lies behind that.", at=at)
        case "through" if curve.length_m <= 0:
            level = ip.level_m if ip.held_level_m is None else ip.held_level_m
            return say(
                f"No curve of {name} goes through {{level:level}} at {{at:chainage}}: the point lies on the wrong "
                "side of the tangents.",
                at=at,
                level=level,
            )
    return None


def roomy(ips: Sequence[Ip], chainage_m: FloatArray, before: FloatArray, asked_m: FloatArray) -> tuple[Ip, ...]:
    """The IPs with curves that take what room there is, up to what is asked of each (n,); NaN: it stays as it is. [m]

    Where two of these meet, each first takes half of the way.
    """
    asked, at, share = asked_m.tolist(), chainage_m.tolist(), before.tolist()
    takes = [a == a for a in asked]
    length = [0.0 if takes[i] else ip.curve_length_m for i, ip in enumerate(ips)]

    def room(i: int, halves: bool) -> float:
        back = at[i] - at[i - 1] - length[i - 1] * (1 - share[i - 1])
        ahead = at[i + 1] - at[i] - length[i + 1] * share[i + 1]
        if halves:
            back = min(back, (at[i] - at[i - 1]) / 2) if takes[i - 1] else back
            ahead = min(ahead, (at[i + 1] - at[i]) / 2) if takes[i + 1] else ahead
        return float(max(min(back / share[i], ahead / (1 - share[i])), 0.0))

    for halves in (True, False):
        for i in range(1, len(length) - 1):
            if takes[i]:
                most = _up(asked[i], ips[i].step_m) if asked[i] < np.inf else np.inf
                step = ips[i].step_m or _MM
                there = room(i, halves)
                there = most if most <= there else round(math.floor(there / step + 1e-6) * step, 6)
                length[i] = max(there, length[i])
    return tuple(
        ip if ip.curve_length_m == own else replace(ip, curve_length_m=own) for ip, own in zip(ips, length, strict=True)
    )


def asked_of(ip: Ip, curve: VerticalCurve, asks: Asks | None) -> float:
    """What a curve may take of the room there is: endless, or as the limits ask; NaN: it takes none. [m]"""
    if ip.held_k_m_per_pct is not None:
        return np.nan
    if ip.held == "longest":
        return np.inf
    return asks(ip.chainage_m, curve, ip.held) if ip.held in BY_LIMITS and asks is not None else np.nan
