"""What goes out about centrelines: lines of files, drafts, tables."""

from delgrun.service.declared import Bend, BendSpeed, Finding
from delgrun.web.bodies import CentrelineIpIn, EquationIn
from delgrun.web.outputs import Out


class AlignmentOut(Out):
    """One line of a file; `deviation_m` is how far what is made of it lies from what the file says."""

    name: str
    start_chainage_m: float
    ips: list[CentrelineIpIn]  # type: ignore[valid-type]
    deviation_m: float
    equations: list[EquationIn]


class CentrelineRead(Out):
    lines: list[AlignmentOut]


class LineInFile(Out):
    name: str
    points: int
    length_m: float


class FittedOut(Out):
    """IPs fitted to a line's points: what these scatter by, and how far the furthest of them is off."""

    name: str
    points: int
    ips: list[CentrelineIpIn]  # type: ignore[valid-type]
    noise_m: float
    rms_m: float
    deviation_m: float


class FitOut(Out):
    """Lines of a file, the longest first, and what was fitted to one; null where one must be chosen, or none can be
    (`refused` says why). `vertices`: those of the line as IPs without bends, where they are few; `space`: easting,
    northing and level of each, where it is a line in space.
    """

    lines: list[LineInFile]
    fitted: FittedOut | None
    vertices: list[CentrelineIpIn]  # type: ignore[valid-type]
    refused: str
    space: list[list[float]]


class PlanProblem(Out):
    message: str
    field: str


class PlanChange(Out):
    at: int
    ip: CentrelineIpIn  # type: ignore[valid-type]


class PlanRemedyOut(Out):
    """IPs that take the place of those with these numbers, from 0, in the words of a button."""

    label: str
    changes: list[PlanChange]


class Misfit(Out):
    """A bend that was made smaller than wished."""

    ip: int
    reason: str


class BendRow(Out):
    """A bend, what it allows and needs, and what is to be said of it."""

    bend: Bend
    speed: BendSpeed
    too_tight: bool
    marks: list[str]


class DraftOut(Out):
    """What a centreline would be; where it can't be, `problem` says why and `remedies` what would mend it.

    `ips` are those whose bends were made to fit; `advice` is of the grade line that goes along. Arrays: `plan_e`,
    `plan_n` draw it, `plan_starts` are numbers of the points where bends begin; `ground_chainage`, `ground_level` and
    `ground_gap` as in figures; `beside_level` is the ground at each offset at all of `beside_chainage`;
    `line_chainage` and `line_level` draw the grade line.
    """

    problem: PlanProblem | None
    remedies: list[PlanRemedyOut]
    misfits: list[Misfit]
    ips: list[CentrelineIpIn] | None  # type: ignore[valid-type]
    length_m: float | None
    bends: list[BendRow]
    advice: list[Finding]
    arrays: dict[str, list[float | None]]


class BesideOut(Out):
    """Arrays: `beside_level` is the ground at each offset at all of `beside_chainage`, offset by offset."""

    arrays: dict[str, list[float | None]]


class UsualBend(Out):
    radius_m: float
    transition_m: float


class StandardBends(Out):
    """IPs with the bends that rules and design speed ask for, and those that found no room for theirs."""

    ips: list[CentrelineIpIn]  # type: ignore[valid-type]
    misfits: list[Misfit]


class SheetOut(Out):
    """What each page of a sheet shows."""

    pages: list[str]


class TableColumn(Out):
    heading: str
    digits: int | None


class UtilityRead(Out):
    """A utility of a file: its name, and easting, northing and level of its vertices. [m]"""

    name: str
    xyz: list[list[float]]


class BoundaryRead(Out):
    """A line of a file: its vertices' easting and northing. [m]"""

    name: str
    xy: list[tuple[float, float]]


class BoundariesRead(Out):
    lines: list[BoundaryRead]


class UtilitiesRead(Out):
    utilities: list[UtilityRead]


class TableOut(Out):
    """The first rows of a table, and how many it has; null where there is no value."""

    title: str
    columns: list[TableColumn]
    rows: list[list[str | float | None]]
    count: int
