"""Every edit of a grade line, each a frozen dataclass that applies itself and names itself for the undo list."""

from dataclasses import dataclass
from typing import ClassVar, Literal, get_args

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import check_fields, fields_of, meant
from delgrun.core.gradeline import edits
from delgrun.core.gradeline.edits import EditResult
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip, IpCurve
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.sight.stopping import design_stopping_sight_m
from delgrun.core.units import chainage_text


def _ip_field() -> int:
    return meant("count", "IP", low=0, high=1e6)  # type: ignore[no-any-return]


def _ip_name(line: GradeLine, ip: int) -> str:
    return "the start" if ip == 0 else "the end" if ip == len(line.ips) - 1 else f"IP {ip}"


@dataclass(frozen=True, kw_only=True)
class MoveIp:
    """`slide`: a drag, which stops at the last possible place; without it an impossible place is refused."""

    what: ClassVar[Literal["move"]] = "move"
    ip: int = _ip_field()
    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    level_m: float = meant("level", "level", low=-1e8, high=1e8)
    slide: bool = meant("flag", "slide")

    def apply(self, line: GradeLine, limits: LimitSet | None) -> EditResult:
        return edits.move_ip(line, self.ip, self.chainage_m, self.level_m, slide=self.slide)

    def label(self, line: GradeLine) -> str:
        return f"Move {_ip_name(line, self.ip)}"


@dataclass(frozen=True, kw_only=True)
class MoveStraight:
    """A drag kept to one way, as up and down or on a grade: it stops there at the last possible place."""

    what: ClassVar[Literal["straight"]] = "straight"
    ip: int = _ip_field()
    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    level_m: float = meant("level", "level", low=-1e8, high=1e8)

    def apply(self, line: GradeLine, limits: LimitSet | None) -> EditResult:
        return edits.move_straight(line, self.ip, self.chainage_m, self.level_m)

    def label(self, line: GradeLine) -> str:
        return f"Move {_ip_name(line, self.ip)}"


@dataclass(frozen=True, kw_only=True)
class AddIp:
    """A new IP, with the shortest curve that the limits allow or what there is room for."""

    what: ClassVar[Literal["add"]] = "add"
    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    level_m: float = meant("level", "level", low=-1e8, high=1e8)

    def apply(self, line: GradeLine, limits: LimitSet | None) -> EditResult:
        return edits.add_ip(line, self.chainage_m, self.level_m, limits.min_curve_length_m if limits else 0.0)

    def label(self, line: GradeLine) -> str:
        return f"Add an IP at {chainage_text(self.chainage_m)}"


@dataclass(frozen=True, kw_only=True)
class DeleteIp:
    """Take an IP out; the ends stay."""

    what: ClassVar[Literal["delete"]] = "delete"
    ip: int = _ip_field()

    def apply(self, line: GradeLine, limits: LimitSet | None) -> EditResult:
        return edits.delete_ip(line, self.ip)

    def label(self, line: GradeLine) -> str:
        return f"Delete {_ip_name(line, self.ip)}"


@dataclass(frozen=True, kw_only=True)
class SetLength:
    """A curve of this length, kept from now on."""

    what: ClassVar[Literal["length"]] = "length"
    ip: int = _ip_field()
    curve_length_m: float = meant("length", "curve length", low=0, high=1e6)

    def apply(self, line: GradeLine, limits: LimitSet | None) -> EditResult:
        return edits.set_length(line, self.ip, self.curve_length_m)

    def label(self, line: GradeLine) -> str:
        return f"Curve length of {_ip_name(line, self.ip)}"


@dataclass(frozen=True, kw_only=True)
class SetK:
    """A curve of this K, kept from now on."""

    what: ClassVar[Literal["k"]] = "k"
    ip: int = _ip_field()
    k_m_per_pct: float = meant("k", "K", low=0, above=True, high=1e6)

    def apply(self, line: GradeLine, limits: LimitSet | None) -> EditResult:
        return edits.set_k(line, self.ip, self.k_m_per_pct)

    def label(self, line: GradeLine) -> str:
        return f"K of {_ip_name(line, self.ip)}"


@dataclass(frozen=True, kw_only=True)
class SetCurve(IpCurve):
    """Another shape of curve, and what it keeps from now on."""

    what: ClassVar[Literal["curve"]] = "curve"
    ip: int = _ip_field()

    def apply(self, line: GradeLine, limits: LimitSet | None) -> EditResult:
        typed = {f.name: getattr(self, f.name) for f in fields_of(IpCurve)}
        # Where no sight distance is said it is the one to stop in at the design speed.
        if self.held == "sight" and self.held_m is None and limits is not None:
            typed["held_m"] = design_stopping_sight_m(limits.design_speed_kmh)
        return edits.set_curve(line, self.ip, Ip(chainage_m=0.0, level_m=0.0, **typed))

    def label(self, line: GradeLine) -> str:
        return f"Curve of {_ip_name(line, self.ip)}"


@dataclass(frozen=True, kw_only=True)
class SetGrade:
    """Lift or lower an IP so that its grade on one side becomes this one."""

    what: ClassVar[Literal["grade"]] = "grade"
    ip: int = _ip_field()
    grade: float = meant("grade", "grade", low=-2, high=2)
    side: Literal["in", "out"] = meant("text", "side", choices=("in", "out"))

    def apply(self, line: GradeLine, limits: LimitSet | None) -> EditResult:
        return edits.set_grade(line, self.ip, self.grade, self.side)

    def label(self, line: GradeLine) -> str:
        return f"Grade at {_ip_name(line, self.ip)}"


@dataclass(frozen=True, kw_only=True)
class SetIps:
    """All IPs at once, as from a spreadsheet; the ends keep their chainage."""

    what: ClassVar[Literal["ips"]] = "ips"
    ips: tuple[Ip, ...] = meant("count", "IPs", of=Ip, most=1000)

    def apply(self, line: GradeLine, limits: LimitSet | None) -> EditResult:
        return edits.set_ips(line, self.ips)

    def label(self, line: GradeLine) -> str:
        return "IPs from a table"


Edit = SetIps | MoveIp | MoveStraight | AddIp | DeleteIp | SetLength | SetK | SetCurve | SetGrade
EDITS: dict[str, type[Edit]] = {cls.what: cls for cls in get_args(Edit)}


def apply_edit(line: GradeLine, edit: Edit, limits: LimitSet | None) -> EditResult:
    """One edit on a line, its numbers held against their bounds first.

    Raises
    ------
    DesignInputError
        The edit's own numbers are impossible, or what it asks for is.
    """
    check_fields(edit)
    if isinstance(edit, SetIps) and len(edit.ips) < 2:
        raise DesignInputError("ips", "A grade line needs a start and an end.")
    return edit.apply(line, limits)
