"""Ways to put an IP: on a grade from another, where two grades meet, at the ground; one split in two, two made one.

What is computed here is not rounded: a grade that was typed is that grade.
"""

from dataclasses import dataclass, replace
from typing import ClassVar, Literal

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.gradeline.around import Around
from delgrun.core.gradeline.edits import EditResult, add_ip, with_room
from delgrun.core.gradeline.grade_line import TOUCH_TOLERANCE_M, GradeLine
from delgrun.core.gradeline.ip import Ip, ip_field
from delgrun.core.gradeline.locks import DIGITS
from delgrun.core.gradeline.vertical_curve import check_share
from delgrun.core.units import chainage_text

# Grades that differ by less than this never meet. [m/m]
_PARALLEL = 1e-9
# IPs are at least so far apart. [m]
_APART_M = 1e-3


def meeting(s1: float, z1: float, grade1: float, s2: float, z2: float, grade2: float) -> tuple[float, float] | None:
    """Chainage and level where two grades meet; None where they are parallel. [m]

    References
    ----------
    Reference values 1.6 (two straight lines).
    """
    if abs(grade1 - grade2) < _PARALLEL:
        return None
    s = (z2 - z1 + grade1 * s1 - grade2 * s2) / (grade1 - grade2)
    return s, z1 + grade1 * (s - s1)


def _put(line: GradeLine, s: float, z: float) -> EditResult:
    """A new IP at just this place, with the curve that the limits ask for, or what there is room for."""
    i = int(np.searchsorted(line.chainage_m, s))
    # Both parts of a tangent whose grade is locked are.
    new = Ip(chainage_m=s, level_m=z, locked_grade=line.ips[i - 1].locked_grade)
    grown = line.of_ips((*line.ips[:i], new, *line.ips[i:])).held().possible("chainage_m")
    return EditResult(with_room(grown, i), i)


@dataclass(frozen=True, kw_only=True)
class AddOnGrade:
    """A new IP at a chainage, on a grade from another IP, ahead of it or behind."""

    what: ClassVar[Literal["on_grade"]] = "on_grade"
    ip: int = ip_field()
    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    grade: float = meant("grade", "grade", low=-2, high=2)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        if not 0 <= self.ip < len(line.ips):
            raise DesignInputError("ip", f"The line has no IP {self.ip}.")
        at, s = line.ips[self.ip], round(self.chainage_m, DIGITS)
        level = at.level_m + self.grade * (s - at.chainage_m)
        if not line.chainage_m[0] < s < line.chainage_m[-1] or s == at.chainage_m:
            # It says which chainages there are.
            return add_ip(line, s, level)
        beside = line.ips[self.ip + (1 if s > at.chainage_m else -1)]
        if abs(s - at.chainage_m) >= abs(beside.chainage_m - at.chainage_m):
            name = line.name(self.ip + (1 if s > at.chainage_m else -1))
            raise DesignInputError(
                "chainage_m",
                f"{name[0].upper()}{name[1:]} at {{there:chainage}} comes first: the grade from "
                f"{line.name(self.ip)} would end there.",
                there=beside.chainage_m,
            )
        return _put(line, s, level)

    def label(self, line: GradeLine) -> str:
        return f"Add an IP on a grade from {line.name(self.ip)}"


@dataclass(frozen=True, kw_only=True)
class Meet:
    """A new IP where a grade out of one IP meets a grade into a later one; those between the two are taken out."""

    what: ClassVar[Literal["meet"]] = "meet"
    ip: int = ip_field()
    to: int = meant("count", "IP ahead", low=0, high=1e6)
    grade_out: float = meant("grade", "grade out", low=-2, high=2)
    grade_in: float = meant("grade", "grade in", low=-2, high=2)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        if not 0 <= self.ip < self.to < len(line.ips):
            raise DesignInputError("to", f"The line has no IP {self.to} behind IP {self.ip}.")
        a, b = line.ips[self.ip], line.ips[self.to]
        straight = (b.level_m - a.level_m) / (b.chainage_m - a.chainage_m)
        found = meeting(a.chainage_m, a.level_m, self.grade_out, b.chainage_m, b.level_m, self.grade_in)
        if found is None or not a.chainage_m + _APART_M < found[0] < b.chainage_m - _APART_M:
            raise DesignInputError(
                "grade_in",
                f"These grades do not meet between {line.name(self.ip)} and {line.name(self.to)}: straight from one to "
                "the other it is {straight:exact_grade}, so that one of them must rise more than that, and the other "
                "less.",
                straight=straight,
            )
        left = line.of_ips(line.ips[: self.ip + 1] + line.ips[self.to :])
        return _put(left, *found)

    def label(self, line: GradeLine) -> str:
        return f"Let grades meet between {line.name(self.ip)} and {line.name(self.to)}"


@dataclass(frozen=True, kw_only=True)
class AddAtGround:
    """A new IP so much above the ground at its chainage."""

    what: ClassVar[Literal["at_ground"]] = "at_ground"
    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    above_m: float = meant("level", "above the ground", low=-1e4, high=1e4)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        level = np.nan if around.ground is None else around.ground(self.chainage_m)
        if np.isnan(level):
            raise DesignInputError("chainage_m", "There is no ground at {s:chainage}.", s=self.chainage_m)
        return add_ip(line, self.chainage_m, level + self.above_m)

    def label(self, line: GradeLine) -> str:
        return f"Add an IP at the ground at {chainage_text(self.chainage_m)}"


@dataclass(frozen=True, kw_only=True)
class Split:
    """An IP on the line at a chainage, without changing the line: within a curve two, whose curves touch there."""

    what: ClassVar[Literal["split"]] = "split"
    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        s = round(self.chainage_m, DIGITS)
        level = float(line.levels(np.array([s]))[0])
        within = (line.curve_start_m + TOUCH_TOLERANCE_M < s) & (s < line.curve_end_m - TOUCH_TOLERANCE_M)
        if not within.any():
            if not line.chainage_m[0] < s < line.chainage_m[-1] or (line.chainage_m == s).any():
                return add_ip(line, s, level)
            return _put(line, s, level)
        i = int(np.flatnonzero(within)[0])
        return EditResult(cut_curve(line, i, s, level), i)

    def label(self, line: GradeLine) -> str:
        return f"Add an IP on the line at {chainage_text(self.chainage_m)}"


def cut_curve(line: GradeLine, i: int, s: float, level: float) -> GradeLine:
    """The line with the curve of IP i as two that touch at a chainage: the same line."""
    ip = line.ips[i]
    start, end = float(line.curve_start_m[i]), float(line.curve_end_m[i])
    if line.before[i] != 0.5 and ip.shape == "parabola" and abs(s - ip.chainage_m) > TOUCH_TOLERANCE_M:
        raise DesignInputError(
            "chainage_m",
            f"The curve of {line.name(i)} is unsymmetrical: only at its IP, {{at:chainage}}, can it be split in two.",
            at=ip.chainage_m,
        )
    there = float(line.grades(np.array([s]))[0])
    grade_in, grade_out = float(line.grade[i - 1]), float(line.grade[i])
    before = meeting(start, ip.level_m - grade_in * (ip.chainage_m - start), grade_in, s, level, there)
    after = meeting(s, level, there, end, ip.level_m + grade_out * (end - ip.chainage_m), grade_out)
    if before is None or after is None:
        # Without a change of grade: an IP on a straight line.
        middles = np.array([start + s, s + end]) / 2
        before, after = zip(middles.tolist(), line.levels(middles).tolist(), strict=True)
    plain = replace(ip.freed(), in_share=None, locked_chainage_m=None, locked_level_m=None, locked_grade=None)
    first = replace(plain, chainage_m=before[0], level_m=before[1], curve_length_m=s - start)
    second = replace(plain, chainage_m=after[0], level_m=after[1], curve_length_m=end - s, locked_grade=ip.locked_grade)
    return line.of_ips((*line.ips[:i], first, second, *line.ips[i + 1 :])).held().possible("chainage_m")


@dataclass(frozen=True, kw_only=True)
class Merge:
    """One IP instead of it and the next, where the outer grades meet; its curve starts and ends where theirs do."""

    what: ClassVar[Literal["merge"]] = "merge"
    ip: int = ip_field()

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        i = self.ip
        if not 0 < i < len(line.ips) - 2:
            raise DesignInputError("ip", "Two IPs that follow each other, neither of them an end, become one.")
        a, b = line.ips[i - 1], line.ips[i + 2]
        found = meeting(
            a.chainage_m, a.level_m, float(line.grade[i - 1]), b.chainage_m, b.level_m, float(line.grade[i + 1])
        )
        start, end = float(line.curve_start_m[i]), float(line.curve_end_m[i + 1])
        if found is None or not start < found[0] < end:
            raise DesignInputError(
                "ip",
                f"The grade into {line.name(i)} and the one out of {line.name(i + 1)} do not meet between them: "
                "straighten here, or take one of the two out.",
            )
        share = (found[0] - start) / (end - start)
        symmetrical = abs(share - 0.5) * (end - start) < TOUCH_TOLERANCE_M
        ip = Ip(
            chainage_m=found[0],
            level_m=found[1],
            curve_length_m=end - start,
            in_share=None if symmetrical else share,
            locked_grade=line.ips[i + 1].locked_grade,
        )
        check_share(ip.in_share)
        return EditResult(line.of_ips((*line.ips[:i], ip, *line.ips[i + 2 :])).held().possible("ip"), i)

    def label(self, line: GradeLine) -> str:
        return f"Make one of {line.name(self.ip)} and {line.name(self.ip + 1)}"
