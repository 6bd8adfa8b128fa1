"""What goes out over the wire. Grades are ratios, everything else SI; a name carries its unit."""

from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict, create_model

from delgrun.service.declared import (
    CENTRELINE,
    KINDS,
    PRODUCTS,
    SURVEY,
    Bend,
    BendSpeed,
    Difference,
    Suspect,
    SuspectWhy,
    TriangleAt,
    Why,
)
from delgrun.service.products import IpFigures, LedgerFigures
from delgrun.web.bodies import CentrelineIpIn, EquationIn
from delgrun.web.models import body_of


class Out(BaseModel):
    """An answer; tests hold the real ones against these."""

    model_config = ConfigDict(extra="forbid")


class Problem(Out):
    """What is wrong, in which field, and what to do. `head` comes with a conflict: what was saved since."""

    message: str
    field: str | None = None
    step: str | None = None
    head: "RevisionOut | None" = None


class ProjectItem(Out):
    """A project in the list: what was saved last (`label`), when and by whom."""

    id: int
    name: str
    revision: int
    saved_at: str
    author: str
    label: str


class ProjectList(Out):
    projects: list[ProjectItem]


class GlanceOut(Out):
    """A project at a glance: points are (chainage, level); null and empty where there is no ground or line yet."""

    length_m: float | None
    cost: float | None
    currency: str
    failures: int | None
    ground: list[list[float]]
    line: list[list[float]]


class RevisionOut(Out):
    number: int
    created_at: str
    author: str
    kind: str
    label: str


class HistoryOut(Out):
    """Labels of what undo and redo would turn; the newest revisions."""

    undo: str | None
    redo: str | None
    newest: list[RevisionOut]


class LineOut(Out):
    slot: str
    road: str
    name: str
    colour: int
    ips: list[IpFigures]


CentrelineOut = create_model(
    "CentrelineOut", __base__=body_of(CENTRELINE.cls, "CentrelineDesign"), slot=(str, ...), still_key=(str, ...)
)
SurveyOut = create_model("SurveyOut", __base__=body_of(SURVEY.cls, "SurveyHead"), slot=(str, ...))


class _ProjectHead(Out):
    """A project's inputs by kind, null where there is none yet.

    `land_key` names the ground, a centreline's `still_key` what STILL products along it are made of; the main road's
    centreline comes first.
    """

    id: int
    name: str
    revision: int
    history: HistoryOut
    land_key: str
    surveys: list[SurveyOut]  # type: ignore[valid-type]
    centrelines: list[CentrelineOut]  # type: ignore[valid-type]
    lines: list[LineOut]


ProjectOut = create_model(
    "ProjectOut",
    __base__=_ProjectHead,
    **{kind.name: (body_of(kind.cls) | None, ...) for kind in KINDS if not kind.many},  # type: ignore[call-overload]
)


class Saved(Out):
    """The new revision and the project as it is then; `slot` and `selected` where a line was made or edited.

    `fell_off`: what stood at a chainage and finds no place on a new centreline; `road`: the slot of that.
    """

    revision: int
    project: ProjectOut  # type: ignore[valid-type]
    slot: str | None = None
    selected: int | None = None
    fell_off: list[str] = []
    road: str | None = None


Products = create_model(
    "Products",
    __doc__="What was wanted of the case; those that hold only arrays are null.",
    __base__=Out,
    **{p.name: (p.shape if p.shape is None else p.shape | None, None) for p in PRODUCTS},  # type: ignore[call-overload]
)


class FiguresOut(Out):
    """The wanted products of a case: which line as of which revision, what an edit selects, why a drag stopped.

    As octet-stream: header length (4 bytes, little-endian), this header with `arrays` as (name, count, digest,
    kind, base) rows, padding to 8 bytes, then the arrays in that order: "f8" or "f4" values less `base`, nothing
    for "same".
    """

    revision: int
    slot: str | None
    selected: int | None
    stopped: str | None
    products: Products  # type: ignore[valid-type]
    arrays: dict[str, list[float | None]]


class TileOut(Out):
    """A tile, binary as figures are: `level` (cells x cells) from the south with one cell more all round, contours
    (`line` points, `line_start`, `line_level`), `edge` pieces of breaklines, `side` edges of triangles, `point` with
    its `point_row`; coordinates are less `corner`.
    """

    corner: tuple[float, float]
    cells: int
    arrays: dict[str, list[float | None]]


class TileHead(Out):
    corner: tuple[float, float]
    cells: int


class TilesOut(Out):
    """Tiles in the order asked for, binary as figures are: each array of the first is named `0.level` and so on."""

    tiles: list[TileHead]
    arrays: dict[str, list[float | None]]


class DifferenceTileOut(Out):
    """A tile of differences, binary as figures are: `level` (cells x cells) from the south, null where one ground is
    missing.
    """

    corner: tuple[float, float]
    cells: int
    arrays: dict[str, list[float | None]]


class DifferenceOut(Out):
    """What lies between two grounds where both are: areas, volumes, extremes with their places."""

    difference: Difference


class BirdsEyeOut(Out):
    """Triangles of the ground within a box, binary as figures are: `xyz` less `middle`, `triangle` numbers of points;
    `whole`: no point is left out.
    """

    middle: list[float]
    whole: bool
    arrays: dict[str, list[float | None]]


class SpotOut(Out):
    """The ground at one place: slope as a ratio, the bearing it falls to [rad], the nearest corner of its triangle."""

    level_m: float | None
    slope: float | None
    falls_to: float | None
    point_row: int | None
    point_easting_m: float | None
    point_northing_m: float | None
    point_level_m: float | None
    point_away_m: float | None
    point_name: str
    point_code: str


class TriangleOut(Out):
    """A triangle's corners, its edge nearest to the place, the diagonal that edge could be swapped for, and why not."""

    triangle: TriangleAt | None


class CutOut(Out):
    """Ground along picked points, binary as figures are: `distance`, `level`, `gap`; `corners` are their distances."""

    corners: list[float]
    arrays: dict[str, list[float | None]]


class AlignmentOut(Out):
    """One line of a file; `deviation_m` is how far what is made of it lies from what the file says."""

    name: str
    start_chainage_m: float
    ips: list[CentrelineIpIn]  # type: ignore[valid-type]
    deviation_m: float
    equations: list[EquationIn]


class CentrelineRead(Out):
    lines: list[AlignmentOut]


class ElementOut(Out):
    """A row of the table of elements; radii, at its start and its end, are 0 where straight, positive to the right."""

    kind: Literal["tangent", "arc", "transition"]
    from_chainage_m: float
    to_chainage_m: float
    length_m: float
    radius_m: float
    to_radius_m: float


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
    """Lines of a file, the longest first, and what was fitted to one; null where one must be chosen."""

    lines: list[LineInFile]
    fitted: FittedOut | None


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
    bend: Bend
    speed: BendSpeed


class DraftOut(Out):
    """What a centreline would be; where it can't be, `problem` says why and `remedies` what would mend it.

    `ips` are those whose bends were made to fit. Arrays: `plan_e`, `plan_n` draw it; `ground_chainage`, `ground_level`
    and `ground_gap` as in figures; `beside_level` is the ground at each offset at all of `beside_chainage`.
    """

    problem: PlanProblem | None
    remedies: list[PlanRemedyOut]
    misfits: list[Misfit]
    ips: list[CentrelineIpIn] | None  # type: ignore[valid-type]
    length_m: float | None
    elements: list[ElementOut]
    bends: list[BendRow]
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


class TableColumn(Out):
    heading: str
    digits: int | None


class TableOut(Out):
    """The first rows of a table, and how many it has; null where there is no value."""

    columns: list[TableColumn]
    rows: list[list[str | float | None]]
    count: int


class FoundLine(Out):
    ips: list[IpFigures]
    ledger: LedgerFigures


class FrontPoint(Out):
    ips: int
    cost: float


class GapPartOut(Out):
    why: Why
    share: float


class SearchResultOut(Out):
    offered: FoundLine
    best: FoundLine | None
    front: list[FrontPoint]
    gap: float | None
    # Searches of earlier versions say nothing of it.
    parts: list[GapPartOut] = []


class JobOut(Out):
    id: int
    revision: int
    slot: str
    status: Literal["waiting", "running", "done", "stopped", "failed"]
    stage: str
    share: float
    seconds: float
    lower_bound: float | None
    best_cost: float | None
    message: str
    ahead: int


class SearchOut(JobOut):
    result: SearchResultOut | None


@dataclass(frozen=True)
class SuspectOut(Suspect):
    """A suspect, as it was found, with the point's own number and code."""

    name: str
    code: str


class SuspectCount(Out):
    why: SuspectWhy
    count: int


class SuspectsResult(Out):
    """The suspects, at most 3000 of a kind, and how many there are of each."""

    suspects: list[SuspectOut]
    counts: list[SuspectCount]


class SuspectsOut(JobOut):
    result: SuspectsResult | None


class NewestSuspects(Out):
    job: SuspectsOut | None


class JobStarted(Out):
    id: int


class NewestSearch(Out):
    search: SearchOut | None
