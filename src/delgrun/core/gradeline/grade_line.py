"""The grade line: IPs with vertical curves, from one end of the centreline to the other."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Literal, get_args

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.gradeline import kernels
from delgrun.core.gradeline.governed import Asks, asked_length, asked_of, governs, roomy, unkept
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.locks import broken_lock
from delgrun.core.gradeline.pieces import pieces_of
from delgrun.core.gradeline.vertical_curve import VerticalCurve, check_share, circle_share
from delgrun.core.units import say

FloatArray = NDArray[np.float64]

# Curves may touch end to end; typed lengths carry rounding up to this. [m]
TOUCH_TOLERANCE_M = 1e-6
# A kept length may differ from the one its held K asks for by this. [m]
HELD_TOLERANCE_M = 0.002
# Steps of a drag are whole millimetres, so that curves closer than this cannot be brought closer. [m]
_TOUCH_M = 0.004


class Refused(DesignInputError):
    """An edit that would give a line that can't be; `wanted` is that line."""

    def __init__(self, field: str, template: str, wanted: "GradeLine", **values: Any) -> None:
        super().__init__(field, template, **values)
        self.wanted = wanted


@dataclass(frozen=True)
class GradeLine:
    """One vertical design over a centreline: the finished surface at the centreline.

    The first and last IPs are the ends of the line. Build one with `GradeLine.of`, which checks it. `asks` is what the
    limits ask of its curves, for those that follow them; without it these stay as they are.
    """

    ips: tuple[Ip, ...]
    asks: Asks | None = field(default=None, compare=False, repr=False)

    @staticmethod
    def of(ips: Sequence[Ip]) -> "GradeLine":
        """A line that can be computed.

        Raises
        ------
        DesignInputError
            Fewer than two IPs, chainages that do not rise, curves that overlap or run past an end.
        """
        line = GradeLine(tuple(ips))
        if len(line.ips) < 2:
            raise DesignInputError("ips", "A grade line needs a start and an end.")
        if line.ips[0].curve_length_m != 0 or line.ips[-1].curve_length_m != 0:
            raise DesignInputError("curve_length_m", "The ends of a grade line have no vertical curve.")
        return line.possible("ips")

    def possible(self, typed: str) -> "GradeLine":
        """It, where it can stand; raises Refused, naming the field `typed` into, where it can't."""
        why = self.conflict()
        if why is not None:
            raise Refused(typed, why, self)
        return self

    def of_ips(self, ips: Iterable[Ip]) -> "GradeLine":
        """Other IPs under the same limits."""
        return GradeLine(tuple(ips), self.asks)

    def under(self, asks: Asks | None) -> "GradeLine":
        """It, where curves follow these limits."""
        return GradeLine(self.ips, asks)

    def held(self) -> "GradeLine":
        """The line with the lengths that its curves keep or ask for; those that take what room there is come last."""
        if not any(governs(ip) for ip in self.ips) or not (np.diff(self.chainage_m) > 0).all():
            return self
        ips = list(self.ips)
        for i in range(1, len(ips) - 1):
            length = asked_length(ips[i], self.curve(i))
            if length is not None and length != ips[i].curve_length_m:
                ips[i] = replace(ips[i], curve_length_m=length)
        asked = np.array(
            [np.nan, *(asked_of(ips[i], self.curve(i), self.asks) for i in range(1, len(ips) - 1)), np.nan]
        )
        grown = self.of_ips(ips)
        return grown if np.isnan(asked).all() else self.of_ips(roomy(ips, grown.chainage_m, grown.before, asked))

    def curve(self, i: int) -> VerticalCurve:
        """The curve of interior IP i."""
        ip = self.ips[i]
        share = 0.5 if ip.in_share is None else ip.in_share
        return VerticalCurve(ip.shape, float(self.grade[i - 1]), float(self.grade[i]), ip.curve_length_m, share)

    @cached_property
    def chainage_m(self) -> FloatArray:
        return np.array([ip.chainage_m for ip in self.ips], dtype=float)

    @cached_property
    def level_m(self) -> FloatArray:
        return np.array([ip.level_m for ip in self.ips], dtype=float)

    @cached_property
    def curve_length_m(self) -> FloatArray:
        return np.array([ip.curve_length_m for ip in self.ips], dtype=float)

    @cached_property
    def grade(self) -> FloatArray:
        """(n - 1,) grade of each tangent, positive uphill with chainage. [m/m]"""
        return np.diff(self.level_m) / np.diff(self.chainage_m)

    @cached_property
    def before(self) -> FloatArray:
        """(n,) share of each IP's curve that lies before it: a half but for unsymmetrical curves and circles."""
        out = np.array([0.5 if ip.in_share is None else ip.in_share for ip in self.ips])
        for i in range(1, len(self.ips) - 1):
            if self.ips[i].shape == "circle":
                out[i] = circle_share(float(self.grade[i - 1]), float(self.grade[i]))
        return out

    @cached_property
    def radius_m(self) -> FloatArray:
        """(n,) radius of each circle that bends; 0 for parabolas. [m]"""
        out = np.zeros(len(self.ips))
        for i in range(1, len(self.ips) - 1):
            if self.ips[i].shape == "circle" and self.ips[i].curve_length_m > 0:
                radius = self.curve(i).radius_m
                out[i] = radius if np.isfinite(radius) else 0.0
        return out

    @cached_property
    def curve_start_m(self) -> FloatArray:
        """(n,) chainage where each IP's curve starts; the IP itself without a curve. [m]"""
        return self.chainage_m - self.curve_length_m * self.before

    @cached_property
    def curve_end_m(self) -> FloatArray:
        """(n,) chainage where each IP's curve ends. [m]"""
        return self.chainage_m + self.curve_length_m * (1 - self.before)

    @cached_property
    def pieces(self) -> FloatArray:
        """(m, 6) parabolas, circles and straights: see `pieces.py`."""
        return pieces_of(self)

    def levels(self, chainage_m: FloatArray) -> FloatArray:
        """(n,) level at each chainage, NaN past the ends. [m]"""
        return self._levels(chainage_m)[0]

    def grades(self, chainage_m: FloatArray) -> FloatArray:
        """(n,) grade at each chainage, at a kink that of the tangent before it; NaN past the ends. [m/m]"""
        return self._levels(chainage_m)[1]

    def _levels(self, chainage_m: FloatArray) -> tuple[FloatArray, FloatArray]:
        s = np.ascontiguousarray(chainage_m, dtype=np.float64)
        before = self.curve_length_m * self.before
        out: tuple[FloatArray, FloatArray] = kernels.line_levels(
            self.chainage_m, self.level_m, before, self.curve_length_m - before, self.radius_m, s
        )
        return out

    def change_of_grade(self, i: int) -> float:
        """A of IP i as a ratio: grade out less grade in, negative at a crest. [m/m]"""
        return float(self.grade[i] - self.grade[i - 1]) if 0 < i < len(self.ips) - 1 else 0.0

    def k(self, i: int) -> float:
        """K of the curve at interior IP i where it is sharpest; infinite without change of grade. [m/%]"""
        return self.curve(i).k_m_per_pct

    @cached_property
    def changes(self) -> list[float]:
        """A of each inner IP, in order. [m/m]"""
        return np.diff(self.grade).tolist()  # type: ignore[no-any-return]

    @cached_property
    def k_m_per_pct(self) -> list[float]:
        """K of the curve of each IP, infinite at the ends. [m/%]"""
        return [np.inf, *(self.k(i) for i in range(1, len(self.ips) - 1)), np.inf]

    def room_m(self, i: int) -> float:
        """Longest curve of its shape there is room for at IP i: up to the neighbours' curves. [m]"""
        if i in (0, len(self.ips) - 1):
            return 0.0
        before = self.chainage_m[i] - self.curve_end_m[i - 1]
        after = self.curve_start_m[i + 1] - self.chainage_m[i]
        share = float(self.before[i])
        return float(max(min(before / share, after / (1 - share)), 0.0))

    def turning_points(self) -> list[tuple[float, float, str]]:
        """High and low points as (chainage [m], level [m], "high" or "low"), in order."""
        return self._turning

    @cached_property
    def _turning(self) -> list[tuple[float, float, str]]:
        found = []
        grade = self.grade.tolist()
        for i, ip in enumerate(self.ips[1:-1], 1):
            if grade[i - 1] * grade[i] < 0:
                x = self.curve(i).turning_m if ip.curve_length_m > 0 else 0.0
                if x is not None:
                    found.append((float(self.curve_start_m[i] + x), "high" if grade[i - 1] > 0 else "low"))
        levels = self.levels(np.array([s for s, _ in found])).tolist()
        return [(s, z, kind) for (s, kind), z in zip(found, levels, strict=True)]

    def conflict(self) -> str | None:
        """Why the line cannot stand, in a sentence; None when it can."""
        for i in range(len(self.ips) - 1):
            a, b = self.chainage_m[i], self.chainage_m[i + 1]
            if not b > a:
                later, earlier = _capital(self.name(i + 1)), self.name(i)
                return say(f"{later} at {{b:chainage}} does not lie after {earlier} at {{a:chainage}}.", a=a, b=b)
        # There are grades only where chainages rise, and a circle begins where its grades say.
        for i in range(len(self.ips) - 1):
            over = self.curve_end_m[i] - self.curve_start_m[i + 1]
            if over > TOUCH_TOLERANCE_M:
                if i == 0:
                    return say("The curve of IP 1 starts {over:length} before the start of the line.", over=over)
                if i + 1 == len(self.ips) - 1:
                    return say(f"The curve of IP {i} ends {{over:length}} past the end of the line.", over=over)
                return say(f"The curves of IP {i} and IP {i + 1} overlap by {{over:length}}.", over=over)
        for i in range(1, len(self.ips) - 1):
            why = unkept(self.ips[i], self.curve(i), self.name(i)) if governs(self.ips[i]) else None
            if why is not None:
                return why
        return broken_lock(self.ips, [self.name(i) for i in range(len(self.ips))]) if self._has_locks else None

    @cached_property
    def _has_locks(self) -> bool:
        return any(
            lock is not None for ip in self.ips for lock in (ip.locked_chainage_m, ip.locked_level_m, ip.locked_grade)
        )

    def name(self, i: int) -> str:
        """What IP i is called in a sentence."""
        if i == 0:
            return "the start"
        return "the end" if i == len(self.ips) - 1 else f"IP {i}"

    def touching(self, before: "GradeLine") -> str | None:
        """Which curves or IPs touch here that did not in `before` (with as many IPs), in a sentence."""
        for i in range(len(self.ips) - 1):
            gap = self.curve_start_m[i + 1] - self.curve_end_m[i]
            if gap > _TOUCH_M or before.curve_start_m[i + 1] - before.curve_end_m[i] <= _TOUCH_M:
                continue
            a, b = self.name(i), self.name(i + 1)
            if self.curve_length_m[i] == 0 and self.curve_length_m[i + 1] == 0:
                return f"{_capital(b)} cannot come closer to {a}."
            if i == 0:
                return "The curve of IP 1 reaches the start of the line: shorten it to go on."
            if i + 1 == len(self.ips) - 1:
                return f"The curve of {a} reaches the end of the line: shorten it to go on."
            return f"The curves of {a} and {b} touch: shorten one of them to go on."
        return None


# Colours a line can have; the front end has one ink and one dash for each.
COLOURS = 6
Status = Literal["draft", "checking", "final"]
STATUSES: tuple[Status, ...] = get_args(Status)


@dataclass(frozen=True, kw_only=True)
class LineDesign:
    """A grade line as it is kept: its name, its colour number, the slot of its centreline, its status, and its IPs."""

    name: str = meant("name", "name")
    colour: int = meant("count", "colour", low=0, high=99, first=0)
    road: str = meant("word", "centreline", first="centreline")
    status: Literal["draft", "checking", "final"] = meant("word", "status", choices=STATUSES, first="draft")
    ips: tuple[Ip, ...] = meant("count", "IPs", of=Ip, most=1000)

    @cached_property
    def line(self) -> GradeLine:
        return GradeLine(self.ips)

    def check(self) -> None:
        """Every line that is kept can be computed and agrees with what its curves keep.

        Raises
        ------
        DesignInputError
            Curves overlap, chainages do not rise, or a length is not that of the K, radius or point that it keeps.
        """
        line = GradeLine.of(self.ips)
        for ip in self.ips:
            check_share(ip.in_share)
        for i, (ip, held) in enumerate(zip(line.ips, line.held().ips, strict=True)):
            if abs(ip.curve_length_m - held.curve_length_m) > HELD_TOLERANCE_M:
                raise DesignInputError(
                    "curve_length_m",
                    f"The curve of {line.name(i)} is {{length:length}} and what it keeps asks for {{asks:length}}.",
                    length=ip.curve_length_m,
                    asks=held.curve_length_m,
                )


def _capital(text: str) -> str:
    return text[0].upper() + text[1:]
