"""What goes out over the wire about files and surveys."""

from delgrun.service.declared import PartRole, Unit
from delgrun.web.bodies import Layout
from delgrun.web.outputs import JobOut, Out


class PreviewRow(Out):
    line: int
    cells: list[str]


class LineErrorOut(Out):
    line: int
    field: str
    text: str
    message: str


class CodeCount(Out):
    code: str
    count: int


class PartOut(Out):
    name: str
    holds: str
    count: int
    role: PartRole
    roles: list[PartRole]


class SurveyPreview(Out):
    """How a file reads: by columns (`layout`, with its first rows) or by parts, whichever its reader has.

    `as_before`: as the last file of the project was read. `share` of the file was looked at: below 1, the numbers of
    points are what that lets expect, and lines of the file's end have the number 0.
    """

    reader: str
    layout: Layout | None
    parts: list[PartOut]
    unit: Unit
    crs: str
    crs_name: str
    vertical: str
    as_before: bool
    roles: list[str]
    titles: list[str]
    rows: list[PreviewRow]
    line_count: int
    share: float
    problem: str | None
    points: int
    breaklines: int
    error_count: int
    errors: list[LineErrorOut]
    codes: list[CodeCount]
    box: list[float] | None
    suggested_longest_edge_m: float
    doubts: list[str]


class ImportSummary(Out):
    """What was read of a file and became of it. `of_points` is what the file gave before it was cut to a strip and
    thinned; `off_m` the most that a point thinned out is off the surface.
    """

    reader: str
    points: int
    of_points: int
    breaklines: int
    error_count: int
    errors: list[LineErrorOut]
    codes: list[CodeCount]
    box: list[float] | None
    longest_edge_m: float
    thinned_m: float | None = None
    off_m: float | None = None
    plan_area_m2: float
    points_per_m2: float
    doubts: list[str]
    seconds: float


class SummaryOut(Out):
    summary: ImportSummary | None


class ImportResult(Out):
    """How far an import is (bytes of `size`, points so far); in the end what was read, and the revision it is in."""

    read: int
    size: int
    points: int
    revision: int | None
    summary: ImportSummary | None


class ImportOut(JobOut):
    result: ImportResult | None


class NewestImport(Out):
    job: ImportOut | None


class KnownOut(Out):
    code: str
    name: str


class KnownSystems(Out):
    """Coordinate systems, the shortest name first."""

    systems: list[KnownOut]


class UploadOut(Out):
    """An upload: how large it is and how much of it has come, in bytes; and how large its pieces are."""

    id: int
    size: int
    received: int
    piece_bytes: int
