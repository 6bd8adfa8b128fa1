"""An intersection point of two grades, with what its vertical curve is and keeps."""

from dataclasses import dataclass, fields, replace
from typing import Any, Literal

from delgrun.core.fields import meant
from delgrun.core.gradeline.vertical_curve import HELD, SHAPES, Held
from delgrun.core.stopping import Heights

_HEIGHTS = tuple(f.name for f in fields(Heights))


@dataclass(frozen=True, kw_only=True)
class IpCurve:
    """What is said of the vertical curve of an IP.

    `held_k_m_per_pct` set: the curve keeps this K and its length follows the grades. Else `held` says what it keeps:
    its length, or a radius, a start or an end (`held_m`), a point it goes through (`held_m`, `held_level_m`), a sight
    distance (`held_m`), that it is the longest there is room for, or what the limits ask, as far as there is room.
    `in_share`: how much of a parabola's length lies
    before the IP; None is a half. Lengths that are asked for are rounded up to `step_m`, a circle's radius too; 0 is a
    millimetre.
    """

    curve_length_m: float = meant("length", "curve length", low=0, high=1e6, first=0.0)
    held_k_m_per_pct: float | None = meant("k", "held K", low=0, above=True, high=1e6, first=None, optional=True)
    shape: Literal["parabola", "circle"] = meant("word", "shape", choices=SHAPES, first="parabola")
    in_share: float | None = meant("factor", "share before the IP", low=0, high=1, first=None, optional=True)
    held: Held = meant("word", "keeps", choices=HELD, first="length")
    held_m: float | None = meant("plan", "kept", low=-1e8, high=1e8, first=None, optional=True)
    held_level_m: float | None = meant("level", "level of its point", low=-1e8, high=1e8, first=None, optional=True)
    step_m: float = meant("size", "rounded to", low=0, high=1e3, first=0.0)


@dataclass(frozen=True, kw_only=True)
class Ip(IpCurve):
    """Intersection point of two grades, or an end of the line (no curve).

    A sight distance is kept from the heights that the limits had when it was asked for. What is locked is kept by
    every edit until it is unlocked: its chainage, its level, the grade that leaves it.
    """

    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    level_m: float = meant("level", "level", low=-1e8, high=1e8)
    locked_chainage_m: float | None = meant(
        "chainage", "locked chainage", low=-1e8, high=1e8, first=None, optional=True
    )
    locked_level_m: float | None = meant("level", "locked level", low=-1e8, high=1e8, first=None, optional=True)
    locked_grade: float | None = meant("exact_grade", "locked grade out", low=-2, high=2, first=None, optional=True)
    held_eye_m: float | None = meant("size", "eye", low=0.3, high=4, first=None, optional=True)
    held_object_m: float | None = meant("size", "object", low=0, high=4, first=None, optional=True)
    held_headlight_m: float | None = meant("size", "headlights", low=0.1, high=3, first=None, optional=True)
    held_headlight_deg: float | None = meant("angle", "beam", low=0, high=10, first=None, optional=True)

    @property
    def seen_from(self) -> Heights | None:
        """The heights that a kept sight distance is seen from; None where nobody said them."""
        said = {name: getattr(self, f"held_{name}") for name in _HEIGHTS}
        return None if None in said.values() else Heights(**said)

    def seeing(self, heights: Heights | None) -> "Ip":
        """It, keeping a sight distance from these heights; None: from those of the printed forms."""
        said: dict[str, Any] = {f"held_{name}": heights and getattr(heights, name) for name in _HEIGHTS}
        return replace(self, **said)

    def freed(self, length_m: float | None = None) -> "Ip":
        """It, with a curve that keeps its length only: this one, or its own. [m]"""
        length = self.curve_length_m if length_m is None else length_m
        return replace(
            self, curve_length_m=length, held_k_m_per_pct=None, held="length", held_m=None, held_level_m=None
        )


def ip_field() -> int:
    """Declares the number of an IP in an edit: 0 is the start."""
    return meant("count", "IP", low=0, high=1e6)  # type: ignore[no-any-return]


@dataclass(frozen=True, kw_only=True)
class IpNumber:
    """One of several IPs."""

    ip: int = ip_field()
