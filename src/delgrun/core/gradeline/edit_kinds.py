"""Every edit of a grade line, each a frozen dataclass that applies itself and names itself for the undo list."""

from dataclasses import dataclass, replace
from typing import ClassVar, Literal, get_args

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import check_fields, meant
from delgrun.core.gradeline import edits
from delgrun.core.gradeline.around import ALONE, Around
from delgrun.core.gradeline.edits import EditResult
from delgrun.core.gradeline.grade_line import GradeLine, Refused
from delgrun.core.gradeline.ip import Ip, IpCurve, ip_field
from delgrun.core.gradeline.locks import lost_lock
from delgrun.core.gradeline.many_ips import CopyStretch, CurveMany, CurvesByLimits, Lock, MoveMany, Straighten
from delgrun.core.gradeline.placing import AddAtGround, AddOnGrade, Meet, Merge, Split
from delgrun.core.units import chainage_text


@dataclass(frozen=True, kw_only=True)
class MoveIp:
    """`slide`: a drag, which stops at the last possible place; without it an impossible place is refused."""

    what: ClassVar[Literal["move"]] = "move"
    ip: int = ip_field()
    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    level_m: float = meant("level", "level", low=-1e8, high=1e8)
    slide: bool = meant("flag", "slide")

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        return edits.move_ip(line, self.ip, self.chainage_m, self.level_m, slide=self.slide)

    def label(self, line: GradeLine) -> str:
        return f"Move {line.name(self.ip)}"


@dataclass(frozen=True, kw_only=True)
class MoveStraight:
    """A drag kept to one way, as up and down or on a grade: it stops there at the last possible place."""

    what: ClassVar[Literal["straight"]] = "straight"
    ip: int = ip_field()
    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    level_m: float = meant("level", "level", low=-1e8, high=1e8)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        return edits.move_straight(line, self.ip, self.chainage_m, self.level_m)

    def label(self, line: GradeLine) -> str:
        return f"Move {line.name(self.ip)}"


@dataclass(frozen=True, kw_only=True)
class AddIp:
    """A new IP, with the shortest curve that the limits allow or what there is room for."""

    what: ClassVar[Literal["add"]] = "add"
    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    level_m: float = meant("level", "level", low=-1e8, high=1e8)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        return edits.add_ip(line, self.chainage_m, self.level_m)

    def label(self, line: GradeLine) -> str:
        return f"Add an IP at {chainage_text(self.chainage_m)}"


@dataclass(frozen=True, kw_only=True)
class DeleteIp:
    """Take an IP out; the ends stay."""

    what: ClassVar[Literal["delete"]] = "delete"
    ip: int = ip_field()

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        return edits.delete_ip(line, self.ip)

    def label(self, line: GradeLine) -> str:
        return f"Delete {line.name(self.ip)}"


@dataclass(frozen=True, kw_only=True)
class SetLength:
    """A curve of this length, kept from now on."""

    what: ClassVar[Literal["length"]] = "length"
    ip: int = ip_field()
    curve_length_m: float = meant("length", "curve length", low=0, high=1e6)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        return edits.set_length(line, self.ip, self.curve_length_m)

    def label(self, line: GradeLine) -> str:
        return f"Curve length of {line.name(self.ip)}"


@dataclass(frozen=True, kw_only=True)
class SetK:
    """A curve of this K, kept from now on."""

    what: ClassVar[Literal["k"]] = "k"
    ip: int = ip_field()
    k_m_per_pct: float = meant("k", "K", low=0, above=True, high=1e6)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        return edits.set_k(line, self.ip, self.k_m_per_pct)

    def label(self, line: GradeLine) -> str:
        return f"K of {line.name(self.ip)}"


@dataclass(frozen=True, kw_only=True)
class SetCurve(IpCurve):
    """Another shape of curve, and what it keeps from now on."""

    what: ClassVar[Literal["curve"]] = "curve"
    ip: int = ip_field()

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        curve, sees = self, None
        if self.held == "sight" and around.stopping is not None:
            at = line.ips[self.ip].chainage_m if self.ip < len(line.ips) else 0.0
            sees = around.stopping(at)
            # Where no sight distance is said it is the one to stop in at the design speed.
            curve = replace(self, held_m=sees.design_m) if self.held_m is None else self
        return edits.set_curve(line, self.ip, curve, sees)

    def label(self, line: GradeLine) -> str:
        return f"Curve of {line.name(self.ip)}"


@dataclass(frozen=True, kw_only=True)
class SetGrade:
    """A grade into or out of an IP; this IP moves up or down, or the other one of that grade."""

    what: ClassVar[Literal["grade"]] = "grade"
    ip: int = ip_field()
    grade: float = meant("grade", "grade", low=-2, high=2)
    side: Literal["in", "out"] = meant("text", "side", choices=("in", "out"))
    moves: Literal["this", "other"] = meant("text", "moves", choices=("this", "other"))

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        return edits.set_grade(line, self.ip, self.grade, self.side, self.moves)

    def label(self, line: GradeLine) -> str:
        return f"Grade at {line.name(self.ip)}"


@dataclass(frozen=True, kw_only=True)
class SetIps:
    """All IPs at once, as from a spreadsheet; the ends keep their chainage."""

    what: ClassVar[Literal["ips"]] = "ips"
    ips: tuple[Ip, ...] = meant("count", "IPs", of=Ip, most=1000)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        return edits.set_ips(line, self.ips)

    def label(self, line: GradeLine) -> str:
        return "IPs from a table"


@dataclass(frozen=True, kw_only=True)
class Repair:
    """What mends something, as it was offered: the IPs of the whole line, and what was said of it."""

    what: ClassVar[Literal["repair"]] = "repair"
    words: str = meant("text", "words")
    ips: tuple[Ip, ...] = meant("count", "IPs", of=Ip, most=1000)

    def apply(self, line: GradeLine, around: Around) -> EditResult:
        return edits.set_ips(line, self.ips)

    def label(self, line: GradeLine) -> str:
        return self.words


Edit = (
    SetIps | Repair | MoveIp | MoveStraight | AddIp | DeleteIp | SetLength | SetK | SetCurve | SetGrade
    | AddOnGrade | Meet | AddAtGround | Split | Merge | MoveMany | CurveMany | CurvesByLimits
    | Straighten | CopyStretch | Lock
)  # fmt: skip
EDITS: dict[str, type[Edit]] = {cls.what: cls for cls in get_args(Edit)}


def apply_edit(line: GradeLine, edit: Edit, around: Around = ALONE) -> EditResult:
    """One edit on a line, its numbers held against their bounds first.

    Raises
    ------
    DesignInputError
        The edit's own numbers are impossible.
    Refused
        The line that it asks for is, or lacks what is locked.
    """
    check_fields(edit)
    if isinstance(edit, SetIps | Repair) and len(edit.ips) < 2:
        raise DesignInputError("ips", "A grade line needs a start and an end.")
    result = edit.apply(line.under(around.asks), around)
    if not isinstance(edit, Lock | Repair):
        why = lost_lock(line.ips, result.line.ips, [line.name(i) for i in range(len(line.ips))])
        if why is not None:
            raise Refused("ip", why, result.line)
    return result
