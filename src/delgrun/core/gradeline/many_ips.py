"""Edits of several IPs at once: move, raise, tilt, give curves, straighten, copy from another line; and locks."""

from dataclasses import dataclass, replace
from typing import ClassVar, Literal

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.gradeline.around import Around
from delgrun.core.gradeline.edits import EditResult, last_possible, with_room
from delgrun.core.gradeline.grade_line import TOUCH_TOLERANCE_M, GradeLine, Refused
from delgrun.core.gradeline.ip import Ip, IpNumber, ip_field
from delgrun.core.gradeline.locks import DIGITS, drawn_along
from delgrun.core.gradeline.vertical_curve import BY_LIMITS, ByLimits
from delgrun.core.units import say

# Two lines that differ by less than this in level and grade run on as one. [m], [m/m]
_ONE_M, _ONE_GRADE = 1e-3, 1e-5


def _chosen(line: GradeLine, rows: tuple[IpNumber, ...]) -> list[int]:
    chosen = sorted({row.ip for row in rows})
    if not chosen:
        raise DesignInputError("ips", "No IP is chosen.")
    if chosen[-1] >= len(line.ips):
        raise DesignInputError("ips", f"The line has no IP {chosen[-1]}.")
    return chosen


@dataclass(frozen=True, kw_only=True)
class MoveMany:
    """Several IPs moved along and up together, or tilted about a chainage; the ends move in level only.

    `slide`: they stop at the last possible place on the way, and it is said why.
    """

    what: ClassVar[Literal["move_many"]] = "move_many"
    ips: tuple[IpNumber, ...] = meant("count", "IPs", of=IpNumber, most=1000)
    along_m: float = meant("plan", "along", low=-1e8, high=1e8)
    up_m: float = meant("level", "up", low=-1e4, high=1e4)
    tilt: float = meant("exact_grade", "tilt", low=-2, high=2)
    about_m: float = meant("chainage", "tilted about", low=-1e8, high=1e8)
    slide: bool = meant("flag", "slide")

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        chosen = _chosen(line, self.ips)
        whole = self._moved(line, chosen, 1.0)
        why = whole.conflict()
        if why is None:
            return EditResult(whole, None)
        if not self.slide:
            raise Refused("along_m", why, whole)
        last = last_possible(lambda share: self._moved(line, chosen, share))
        return EditResult(last, None, last.touching(line) or why)

    def _moved(self, line: GradeLine, chosen: list[int], share: float) -> GradeLine:
        if share == 0:
            # Not even rounded.
            return line
        ips = list(line.ips)
        for i in chosen:
            ip = ips[i]
            up = share * (self.up_m + self.tilt * (ip.chainage_m - self.about_m))
            along = 0.0 if i in (0, len(ips) - 1) else share * self.along_m
            chainage = ip.chainage_m if along == 0 else round(ip.chainage_m + along, DIGITS)
            ips[i] = replace(ip, chainage_m=chainage, level_m=round(ip.level_m + up, DIGITS))
        followed = tuple(ips)
        if (np.diff([ip.chainage_m for ip in ips]) > 0).all():
            for i in chosen:
                followed = drawn_along(followed, i)
        return line.of_ips(followed).held()

    def label(self, line: GradeLine) -> str:
        how = "Tilt" if self.tilt else "Move"
        return f"{how} {len(self.ips)} IPs"


@dataclass(frozen=True, kw_only=True)
class CurveMany:
    """One length, or one K, for the curves of several IPs; the ends have none."""

    what: ClassVar[Literal["curve_many"]] = "curve_many"
    ips: tuple[IpNumber, ...] = meant("count", "IPs", of=IpNumber, most=1000)
    curve_length_m: float | None = meant("length", "curve length", low=0, high=1e6, optional=True)
    k_m_per_pct: float | None = meant("k", "K", low=0, above=True, high=1e6, optional=True)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        if (self.curve_length_m is None) == (self.k_m_per_pct is None):
            raise DesignInputError("curve_length_m", "Type a curve length or a K, one of the two.")
        ips = list(line.ips)
        for i in _chosen(line, self.ips):
            if 0 < i < len(ips) - 1:
                ips[i] = replace(ips[i].freed(self.curve_length_m), held_k_m_per_pct=self.k_m_per_pct)
        field = "k_m_per_pct" if self.curve_length_m is None else "curve_length_m"
        return EditResult(line.of_ips(ips).held().possible(field), None)

    def label(self, line: GradeLine) -> str:
        return f"{'K' if self.curve_length_m is None else 'Curve length'} of {len(self.ips)} IPs"


@dataclass(frozen=True, kw_only=True)
class CurvesByLimits:
    """Curves of several IPs as the limits ask, where there is room; `follow`: they go on to, when limits change.

    `said` names those with less room, and why.
    """

    what: ClassVar[Literal["curves_by_limits"]] = "curves_by_limits"
    ips: tuple[IpNumber, ...] = meant("count", "IPs", of=IpNumber, most=1000)
    kind: ByLimits = meant("word", "for", choices=BY_LIMITS)
    follow: bool = meant("flag", "follow")

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        if line.asks is None:
            raise DesignInputError("ips", "This project has no limits yet that could ask for curves.")
        chosen = [i for i in _chosen(line, self.ips) if 0 < i < len(line.ips) - 1]
        ips = list(line.ips)
        for i in chosen:
            ips[i] = replace(ips[i].freed(), held=self.kind)
        made = line.of_ips(ips).held()
        said = tuple(why for i in chosen if (why := lacking(made, i, self.kind)))
        if not self.follow:
            made = line.of_ips(ip.freed() if i in chosen else ip for i, ip in enumerate(made.ips))
        return EditResult(made.possible("ips"), None, said=said)

    def label(self, line: GradeLine) -> str:
        return f"Curves of {len(self.ips)} IPs from the limits"


def lacking(line: GradeLine, i: int, kind: ByLimits = "limits") -> str | None:
    """Why the curve of IP i is shorter than the limits ask, in a sentence; None where it is not."""
    asked = 0.0 if line.asks is None else line.asks(line.ips[i].chainage_m, line.curve(i), kind)
    if line.curve_length_m[i] >= asked - 2 * 10.0**-DIGITS:
        return None
    before, after = line.curve_start_m[i] - line.curve_end_m[i - 1], line.curve_start_m[i + 1] - line.curve_end_m[i]
    near = i - 1 if before <= after else i + 1
    ends = near in (0, len(line.ips) - 1)
    return say(
        f"IP {i} has a curve of {{has:length}} where the limits ask for {{asked:length}}: {line.name(near)} "
        f"{'is too near' if ends else 'and its curve leave no more room'}.",
        has=line.ips[i].curve_length_m,
        asked=asked,
    )


@dataclass(frozen=True, kw_only=True)
class Straighten:
    """One grade from an IP to a later one: those between are taken out."""

    what: ClassVar[Literal["straighten"]] = "straighten"
    ip: int = ip_field()
    to: int = meant("count", "IP ahead", low=0, high=1e6)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        if not 0 <= self.ip < self.to < len(line.ips):
            raise DesignInputError("to", f"The line has no IP {self.to} behind IP {self.ip}.")
        if self.to == self.ip + 1:
            raise DesignInputError("to", f"Between {line.name(self.ip)} and {line.name(self.to)} it is straight.")
        left = line.of_ips(line.ips[: self.ip + 1] + line.ips[self.to :])
        return EditResult(left.held().possible("to"), self.ip)

    def label(self, line: GradeLine) -> str:
        return f"Straighten from {line.name(self.ip)} to {line.name(self.to)}"


@dataclass(frozen=True, kw_only=True)
class CopyStretch:
    """A stretch as another line of the road has it, with an IP at each of its ends where the two differ."""

    what: ClassVar[Literal["stretch"]] = "stretch"
    line: str = meant("word", "line")
    from_m: float = meant("chainage", "from", low=-1e8, high=1e8)
    to_m: float = meant("chainage", "to", low=-1e8, high=1e8)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        other = around.lines.get(self.line)
        if other is None:
            raise DesignInputError("line", "This grade line is not in the project any more: choose another one.")
        start = max(self.from_m, float(line.chainage_m[0]), float(other.chainage_m[0]))
        end = min(self.to_m, float(line.chainage_m[-1]), float(other.chainage_m[-1]))
        if not end > start:
            raise DesignInputError("to_m", "A stretch ends behind its start, and lies on both lines.")
        for name, at in (("from_m", start), ("to_m", end)):
            cut = (other.curve_start_m + TOUCH_TOLERANCE_M < at) & (at < other.curve_end_m - TOUCH_TOLERANCE_M)
            if cut.any():
                i = int(np.flatnonzero(cut)[0])
                raise DesignInputError(
                    name,
                    "A curve of the other line is cut there: it runs from {a:chainage} to {b:chainage}.",
                    a=float(other.curve_start_m[i]),
                    b=float(other.curve_end_m[i]),
                )
        inner = [ip for ip in other.ips[1:-1] if start < ip.chainage_m < end]
        before = [ip for ip in line.ips if ip.chainage_m < start]
        after = [ip for ip in line.ips if ip.chainage_m > end]
        joints = [Ip(chainage_m=s, level_m=float(other.levels(np.array([s]))[0])) for s in (start, end)]
        first = [joints[0]] if not before or not _runs_on(line, other, start) else []
        last = [joints[1]] if not after or not _runs_on(line, other, end) else []
        made = line.of_ips((*before, *first, *inner, *last, *after)).held().possible("from_m")
        for joint in joints:
            if joint in made.ips[1:-1]:
                made = with_room(made, made.ips.index(joint))
        return EditResult(made, None)

    def label(self, line: GradeLine) -> str:
        return "Copy a stretch of another line"


def _runs_on(line: GradeLine, other: GradeLine, at_m: float) -> bool:
    """Whether two lines are one at a chainage: in level and in grade, on a tangent of each."""
    at = np.array([at_m])
    level, grade = line.levels(at) - other.levels(at), line.grades(at) - other.grades(at)
    on_curve = ((line.curve_start_m < at_m) & (at_m < line.curve_end_m)) | (line.chainage_m == at_m)
    return bool(abs(level[0]) < _ONE_M and abs(grade[0]) < _ONE_GRADE and not on_curve.any())


@dataclass(frozen=True, kw_only=True)
class Lock:
    """What of an IP every edit keeps from now on: its chainage, its level, the grades that meet in it."""

    what: ClassVar[Literal["lock"]] = "lock"
    ip: int = ip_field()
    chainage: bool = meant("flag", "chainage")
    level: bool = meant("flag", "level")
    grade_in: bool = meant("flag", "grade in")
    grade_out: bool = meant("flag", "grade out")

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        i, last = self.ip, len(line.ips) - 1
        if not 0 <= i <= last:
            raise DesignInputError("ip", f"The line has no IP {i}.")
        ips = list(line.ips)
        ip = ips[i]
        ips[i] = replace(
            ip,
            locked_chainage_m=ip.chainage_m if self.chainage else None,
            locked_level_m=ip.level_m if self.level else None,
            locked_grade=_lock(ip.locked_grade, line, i) if self.grade_out and i < last else None,
        )
        if i > 0:
            locked = _lock(ips[i - 1].locked_grade, line, i - 1) if self.grade_in else None
            ips[i - 1] = replace(ips[i - 1], locked_grade=locked)
        return EditResult(line.of_ips(ips), i)

    def label(self, line: GradeLine) -> str:
        return f"Locks of {line.name(self.ip)}"


def _lock(now: float | None, line: GradeLine, i: int) -> float:
    """A grade that is locked stays as it is, whatever the levels were rounded to since."""
    grade = float(line.grade[i]) if now is None else now
    if abs(grade) > _STEEPEST_LOCKED:
        raise DesignInputError(
            "grade_out", "A grade of {grade:grade} can't be locked: {most:percent} is the most.",
            grade=grade, most=_STEEPEST_LOCKED,
        )  # fmt: skip
    return grade


# As steep as a kept grade may be (`Ip.locked_grade`).
_STEEPEST_LOCKED = 2.0
