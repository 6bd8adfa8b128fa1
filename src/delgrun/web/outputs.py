"""What goes out over the wire. Grades are ratios, everything else SI; a name carries its unit."""

from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict, create_model

from delgrun.service.declared import (
    CENTRELINE,
    KINDS,
    PRODUCTS,
    SECTION,
    SURVEY,
    Difference,
    Status,
    Suspect,
    SuspectWhy,
    TriangleAt,
    Unit,
    Why,
)
from delgrun.service.products import IpFigures, LedgerFigures
from delgrun.service.profiles import ProfileHead
from delgrun.service.refusals import WayFigures
from delgrun.web.bodies import IpIn
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


class Alive(Out):
    """The server answers."""

    alive: bool


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


class StateOut(RevisionOut):
    """A state: its name (empty: none), and the slots that changed in it."""

    name: str
    slots: list[str]


class StatesOut(Out):
    states: list[StateOut]


class LineOut(Out):
    slot: str
    road: str
    name: str
    colour: int
    status: Status
    ips: list[IpFigures]


CentrelineOut = create_model(
    "CentrelineOut", __base__=body_of(CENTRELINE.cls, "CentrelineDesign"), slot=(str, ...), still_key=(str, ...)
)
SectionOut = create_model("SectionOut", __base__=body_of(SECTION.cls, "TypicalSection"), slot=(str, ...))
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
    sections: list[SectionOut]  # type: ignore[valid-type]
    centrelines: list[CentrelineOut]  # type: ignore[valid-type]
    lines: list[LineOut]


ProjectOut = create_model(
    "ProjectOut",
    __base__=_ProjectHead,
    **{kind.name: (body_of(kind.cls) | None, ...) for kind in KINDS if not kind.many},  # type: ignore[call-overload]
)


class Saved(Out):
    """The new revision and the project as it is then; `slot` and `selected` where a line was made or edited.

    `fell_off`: what stood at a chainage and finds no place on a new centreline; `road`: the slot of that; `said`: what
    there is to know of a line that was made.
    """

    revision: int
    project: ProjectOut  # type: ignore[valid-type]
    slot: str | None = None
    selected: int | None = None
    fell_off: list[str] = []
    road: str | None = None
    said: list[str] = []


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
    for "same". Where `upon` was given, the header has the `token` of this answer, and lists of the answer `upon` are
    told as `{"runs": [[from, count], ...], "rows": [...]}`: stretches of the list that was sent then, and, where `from`
    is -1, so many of the new rows.
    """

    revision: int
    slot: str | None
    selected: int | None
    stopped: str | None
    products: Products  # type: ignore[valid-type]
    arrays: dict[str, list[float | None]]


class MadeLineOut(Out):
    """A line made of a profile: how far it lies from the profile's points, and what was done to it."""

    name: str
    ips: list[IpIn]  # type: ignore[valid-type]
    deviation_m: float
    said: list[str]


class ProfilesOut(Out):
    """Profiles of a file, and the line made of one; null where one must be chosen.

    `unit`: what a table's numbers were taken for, and `why`; null where the file says it.
    """

    profiles: list[ProfileHead]
    made: MadeLineOut | None
    unit: Unit | None
    why: str


class RefusalOut(Out):
    """Why an edit can't be, null where it can; and what could be instead."""

    reason: str | None
    ways: list[WayFigures]


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


class ShiftOut(Out):
    """What a shifted stretch costs more: as single prices add up, and planned anew; how much of it has no ground."""

    told: float
    planned: float
    open_m: float


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
