"""What goes out over the wire. Grades are ratios, everything else SI; a name carries its unit."""

from typing import Literal

from pydantic import BaseModel, ConfigDict

from delgrun.web.bodies import CentrelineIpIn, Cost, Edit, Layout, Limits, TypicalSectionFields


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
    id: int
    name: str
    revision: int
    saved_at: str


class ProjectList(Out):
    projects: list[ProjectItem]


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


class SurveyOut(Out):
    file_name: str
    point_count: int
    breakline_count: int
    left_out: int
    longest_edge_m: float


class CentrelineOut(Out):
    start_chainage_m: float
    ips: list[CentrelineIpIn]


class IpOut(Out):
    chainage_m: float
    level_m: float
    curve_length_m: float
    held_k_m_per_pct: float | None
    grade_in: float | None
    grade_out: float | None
    change_of_grade: float
    k_m_per_pct: float | None
    room_m: float
    curve_start_m: float
    curve_end_m: float


class LineOut(Out):
    slot: str
    name: str
    colour: int
    ips: list[IpOut]


class ProjectOut(Out):
    id: int
    name: str
    revision: int
    history: HistoryOut
    survey: SurveyOut | None
    centreline: CentrelineOut | None
    limits: Limits | None
    section: TypicalSectionFields | None
    cost: Cost | None
    lines: list[LineOut]


class Saved(Out):
    """The new revision; `slot` and `selected` where a line was made or edited."""

    revision: int
    slot: str | None = None
    selected: int | None = None


class WorstUse(Out):
    use: float
    name: str
    chainage_m: float


class LedgerOut(Out):
    cost: float
    cut_cost: float
    fill_cost: float
    haul_cost: float
    borrow_cost: float
    spoil_cost: float
    cut_m3: float
    fill_m3: float
    topsoil_m3: float
    haul_m3_m: float
    borrow_m3: float
    spoil_m3: float
    footprint_m2: float
    worst_use: WorstUse | None
    failures: int


class UseOut(Out):
    check: str
    from_chainage_m: float
    to_chainage_m: float
    value: float
    limit: float
    unit: str
    use: float
    ip: int


class FindingOut(UseOut):
    name: str
    brief: str
    sentence: str


class SideOut(Out):
    cut_m2: float
    fill_m2: float
    catch_offset_m: float
    catch_level_m: float
    caught: bool
    in_cut: bool


class SectionOut(Out):
    """The exact section at one chainage; points are (offset, level), offsets negative left."""

    chainage_m: float
    level_m: float | None
    ground_level_m: float | None
    grade: float | None
    cut_m2: float
    fill_m2: float
    ground: list[list[float]]
    road: list[list[float]]
    formation: list[list[float]]
    left: SideOut | None
    right: SideOut | None


class PreviewOut(Out):
    """A line's figures. As octet-stream: header length (4 bytes, little-endian), this header with
    `arrays` as (name, count) pairs, padding to 8 bytes, then the arrays as float32 in that order."""

    revision: int
    ips: list[IpOut]
    selected: int | None
    stopped: str | None
    ledger: LedgerOut
    uses: list[UseOut]
    findings: list[FindingOut]
    turning_points: list[tuple[float, float, str]]
    section: SectionOut | None
    arrays: dict[str, list[float | None]]


class BendOut(Out):
    ip: int
    radius_m: float
    deflection: float
    tangent_m: float
    arc_m: float
    from_chainage_m: float
    to_chainage_m: float


class TerrainOut(Out):
    """Ground, bends and contours along a centreline; arrays as for a preview."""

    start_m: float
    end_m: float
    origin: list[float]
    contour_interval_m: float
    bends: list[BendOut]
    strip_levels: list[float]
    strip_lengths: list[int]
    points: int
    triangles: int
    arrays: dict[str, list[float | None]]


class Remedy(Out):
    label: str
    edit: Edit
    cost_change: float


class Remedies(Out):
    remedies: list[Remedy]


class CentrelineRead(Out):
    ips: list[CentrelineIpIn]


class ElementOut(Out):
    """A row of the table of elements; radius is 0 on a tangent, positive in a bend to the right."""

    kind: Literal["tangent", "arc"]
    from_chainage_m: float
    to_chainage_m: float
    length_m: float
    radius_m: float


class Elements(Out):
    length_m: float
    elements: list[ElementOut]


class PreviewRow(Out):
    line: int
    cells: list[str]


class LineErrorOut(Out):
    line: int
    field: str
    text: str
    message: str


class SurveyPreview(Out):
    layout: Layout
    roles: list[str]
    titles: list[str]
    rows: list[PreviewRow]
    line_count: int
    problem: str | None
    points: int
    breaklines: int
    error_count: int
    errors: list[LineErrorOut]
    codes: list[tuple[str, int]]
    box: list[float] | None
    suggested_longest_edge_m: float
    doubts: list[str]


class FoundLine(Out):
    ips: list[IpOut]
    ledger: LedgerOut


class FrontPoint(Out):
    ips: int
    cost: float


class SearchResultOut(Out):
    offered: FoundLine
    best: FoundLine | None
    front: list[FrontPoint]
    gap: float | None


class SearchOut(Out):
    id: int
    revision: int
    slot: str
    status: Literal["waiting", "running", "done", "stopped", "failed", "interrupted"]
    stage: str
    share: float
    seconds: float
    lower_bound: float | None
    best_cost: float | None
    message: str
    result: SearchResultOut | None


class NewestSearch(Out):
    search: SearchOut | None


class SearchStarted(Out):
    id: int
