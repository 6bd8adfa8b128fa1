"""What comes in over the wire. Grades are ratios, everything else SI; a name carries its unit."""

from functools import reduce
from operator import or_
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import BaseModel, Field, create_model

from delgrun.service.declared import (
    CENTRELINE,
    EDITS,
    HIGHEST_ZOOM,
    KINDS,
    LOWEST_ZOOM,
    MOST_GROUND_ROWS,
    PRODUCTS,
    CentrelineIp,
    DrawingForm,
    Format,
    GroundEdit,
    Ip,
    Joins,
    Keeps,
    Paper,
    PartRole,
    SheetName,
    System,
    TableName,
    Unit,
    WriterName,
)
from delgrun.web.models import In, OneLine, body_of

Metres = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]
Name = Annotated[str, OneLine, Field(min_length=1, max_length=60, pattern=r"\S")]
Count = Annotated[int, Field(ge=0, le=2**31 - 1)]
Road = Annotated[str, Field(pattern=r"^centreline(-[0-9]{1,9})?$")]
Slot = Annotated[str, Field(pattern=r"^line-[0-9]{1,9}$")]
SectionSlot = Annotated[str, Field(pattern=r"^section(-[0-9]{1,9})?$")]
Meets = Annotated[str, Field(pattern=r"^(line-[0-9]{1,9})?$")]


class ProjectPath(BaseModel):
    project_id: Count


class LinePath(ProjectPath):
    slot: Annotated[str, Field(pattern=r"^line-[0-9]{1,9}$")]


class SearchPath(ProjectPath):
    search_id: Count


class UploadPath(ProjectPath):
    upload_id: Count


class PiecePath(UploadPath):
    number: Count


class JobPath(ProjectPath):
    job_id: Count


class SurveyPath(ProjectPath):
    slot: Annotated[str, Field(pattern=r"^survey(-[0-9]{1,9})?$")]


class RevisionQuery(BaseModel):
    revision: Count


class ShiftQuery(BaseModel):
    """A stretch of the road, and how far it is shifted to the right, below zero to the left."""

    revision: Count
    from_m: Metres
    to_m: Metres
    aside_m: Annotated[float, Field(ge=-30, le=30, allow_inf_nan=False)]


class KnownQuery(BaseModel):
    text: Annotated[str, Field(max_length=60)]
    vertical: bool = False


class TileQuery(BaseModel):
    """A tile of the ground: at zoom z a pixel is 2**-z m; contours at the multiples of `interval_m`, 0 for none."""

    revision: Count
    zoom: Annotated[int, Field(ge=LOWEST_ZOOM, le=HIGHEST_ZOOM)]
    column: Annotated[int, Field(ge=-(2**40), le=2**40)]
    row: Annotated[int, Field(ge=-(2**40), le=2**40)]
    interval_m: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]


class TilesQuery(BaseModel):
    """Some tiles of one zoom; `places` are columns and rows, as `3,4;3,5`."""

    revision: Count
    zoom: Annotated[int, Field(ge=LOWEST_ZOOM, le=HIGHEST_ZOOM)]
    places: Annotated[str, Field(pattern=r"^-?\d{1,12},-?\d{1,12}(;-?\d{1,12},-?\d{1,12}){0,15}$")]
    interval_m: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]

    @property
    def at(self) -> list[tuple[int, int]]:
        """Column and row of each."""
        pairs = (place.split(",") for place in self.places.split(";"))
        return [(int(column), int(row)) for column, row in pairs]


class AgainstQuery(BaseModel):
    """The ground as of `revision` over another: as of `against_revision`, or one survey of it alone."""

    revision: Count
    against_revision: Count
    against_slot: Annotated[str, Field(pattern=r"^survey(-[0-9]{1,9})?$")] | None = None


class DifferenceTileQuery(AgainstQuery):
    zoom: Annotated[int, Field(ge=LOWEST_ZOOM, le=HIGHEST_ZOOM)]
    column: Annotated[int, Field(ge=-(2**40), le=2**40)]
    row: Annotated[int, Field(ge=-(2**40), le=2**40)]


class BoxQuery(BaseModel):
    revision: Count
    west_m: Metres
    south_m: Metres
    east_m: Metres
    north_m: Metres


class SpotQuery(BaseModel):
    revision: Count
    easting_m: Metres
    northing_m: Metres


# Bodies


class NewProject(In):
    name: Annotated[str, OneLine, Field(min_length=1, max_length=120, pattern=r"\S")]
    units: System = "metric"


class Base(In):
    """`base` is the revision the change was made on; if another was saved since, nothing is written.

    `token` is the page's own name of the change: one whose answer was lost can be sent again and is saved once.
    """

    base: Count
    token: Annotated[str, Field(min_length=8, max_length=40)] | None = None


# Made from declared fields; a type checker is told what they all are.
if TYPE_CHECKING:
    CentrelineIpIn = In
    CentrelineCheck = In
    GroundEditIn = In
    IpIn = In
    Edit = In
    Wanted = str
else:
    CentrelineIpIn = body_of(CentrelineIp, "CentrelineIpIn")
    CentrelineCheck = body_of(CENTRELINE.cls, "CentrelineCheck")
    GroundEditIn = body_of(GroundEdit, "GroundEditIn")
    IpIn = body_of(Ip, "IpIn")
    Edit = Annotated[reduce(or_, map(body_of, EDITS.values())), Field(discriminator="what")]
    Wanted = Literal[tuple(p.name for p in PRODUCTS)]


class PlanIn(In):
    """A centreline that is typed or drawn over a revision of a project."""

    revision: Count
    start_chainage_m: Metres
    ips: Annotated[list[CentrelineIpIn], Field(min_length=2, max_length=2000)]  # type: ignore[valid-type]


class DraftIn(PlanIn):
    """`fit`: bends are made as large as there is room for; `beside_m`: offsets at which the ground is wanted too;
    `start_meets` and `end_meets`: as in `CentrelineIn`; `line`: the grade line that goes along, keeping `keeps`.
    """

    fit: bool = False
    beside_m: Annotated[list[Metres], Field(max_length=8, default_factory=list)]
    start_meets: Meets = ""
    end_meets: Meets = ""
    line: Meets = ""
    keeps: Keeps = "place"


class TablePath(ProjectPath):
    table: TableName


class FilePath(ProjectPath):
    file: WriterName


class OffsetsQuery(BaseModel):
    """Offsets to the right, `;` between them."""

    revision: Count
    offsets: Annotated[str, Field(pattern=r"^-?\d{1,4}(\.\d{1,3})?(;-?\d{1,4}(\.\d{1,3})?){0,19}$")] = "0"
    road: Road = "centreline"

    @property
    def offset_m(self) -> tuple[float, ...]:
        """Offsets in order, each once. [m]"""
        return tuple(sorted({float(text) for text in self.offsets.split(";")}))


class TableQuery(OffsetsQuery):
    """What is set out: each `interval_m`, of itself 20 m, or where sections are reported, and at critical points, at
    these offsets.

    `slot`: the grade line that gives design levels; without one, `road` is the centreline. `units`: what it is in.
    """

    interval_m: Annotated[float, Field(ge=0.1, le=10_000)] | None = None
    critical: bool = True
    slot: Slot | None = None
    units: System = "metric"


class TableFileQuery(TableQuery):
    form: Format


class SheetPath(ProjectPath):
    sheet: SheetName


class SheetQuery(BaseModel):
    """What is drawn: of a line from one chainage to another, 1 to `scale`; figures or sections each `interval_m`, of
    itself 20 m, or where sections are reported.
    """

    revision: Count
    slot: Slot
    from_m: Metres | None = None
    to_m: Metres | None = None
    interval_m: Annotated[float, Field(ge=1, le=10_000)] | None = None
    paper: Paper = "A3"
    scale: Annotated[float, Field(ge=20, le=100_000)] = 1000.0
    exaggeration: Annotated[float, Field(ge=0.1, le=200)] = 10.0
    units: System = "metric"


class SheetPageQuery(SheetQuery):
    page: Annotated[int, Field(ge=1, le=1000)] = 1


class SheetFileQuery(SheetQuery):
    form: DrawingForm


class EquationIn(In):
    at_m: Metres
    ahead_m: Metres


Vertex = Annotated[list[Metres], Field(min_length=3, max_length=3)]


class CentrelineIn(Base):
    """`keeps`: what grade lines and all else at a chainage keep: place, chainage, or share of the length.

    `road` is the centreline's slot; without it this is a further one. Name and junctions stay where they are null;
    `start_meets` and `end_meets` are slots of other roads' grade lines that hand over their level (and, if it is taken,
    how their surface rises), or empty;
    `equations`: chainages, and what is written on from there, where they change; `space`: easting, northing and level
    of a line in space whose levels become a grade line over it.
    """

    road: Road | None = "centreline"
    name: Name | None = None
    start_meets: Meets | None = None
    end_meets: Meets | None = None
    start_takes_grade: bool | None = None
    end_takes_grade: bool | None = None
    keeps: Keeps = "place"
    equations: Annotated[list[EquationIn], Field(max_length=100)] | None = None
    space: Annotated[list[Vertex], Field(max_length=20_000)] | None = None
    start_chainage_m: Metres
    ips: Annotated[list[CentrelineIpIn], Field(max_length=2000)]  # type: ignore[valid-type]


# The inputs that are put as a whole: their fields, and the body of a PUT.
PUT_KINDS = [kind for kind in KINDS if kind.put]
FIELDS: dict[str, type[BaseModel]] = {kind.name: body_of(kind.cls) for kind in PUT_KINDS}
PUTS: dict[str, type[Base]] = {
    kind.name: create_model(f"{kind.cls.__name__}In", __base__=Base, **{kind.name: (FIELDS[kind.name], ...)})  # type: ignore[call-overload]
    for kind in PUT_KINDS
}


class RoadIn(Base):
    road: Road = "centreline"


class StatesQuery(BaseModel):
    """States before a revision, the newest first."""

    before: Count = 2**31 - 1
    count: Annotated[int, Field(ge=1, le=500)] = 100


class StateName(In):
    """The name of the state as of a revision; empty takes it away."""

    revision: Count
    name: Annotated[str, OneLine, Field(max_length=60)]


class BackIn(Base):
    """As of which revision all is to be, or one grade line."""

    revision: Count
    slot: Slot | None


Ips = Annotated[list[IpIn], Field(min_length=2, max_length=1000)]  # type: ignore[valid-type]


class Question(In):
    """A case and what is wanted of it: a line as of `revision`, or the given IPs, with edits tried on it.

    `road` is the centreline's slot where it is not the line's own. `at_m` is the chainage of products that ask for
    one, `some_m` those of products that ask for several. `have` are digests of arrays that need not be sent again.
    `upon`, in the binary form: token of an answer whose lists need not be told again, empty for the first. Nothing is
    saved.
    """

    revision: Count
    slot: Slot | None
    road: Road | None = None
    ips: Ips | None
    edits: Annotated[list[Edit], Field(max_length=50)]
    want: Annotated[list[Wanted], Field(min_length=1, max_length=40)]
    at_m: Metres | None
    some_m: Annotated[list[Metres], Field(max_length=80)] = []  # noqa: RUF012 - the models copy it
    units: System = "metric"
    have: Annotated[list[Annotated[str, Field(pattern=r"^[0-9a-f]{18}$")]], Field(max_length=200)]
    upon: Annotated[str, Field(pattern=r"^[0-9a-f]{0,32}$")] | None = None


class JobIn(In):
    revision: Count


class SearchIn(In):
    revision: Count
    slot: Slot


class CutIn(In):
    """Picked points (easting, northing), in order."""

    revision: Count
    line: Annotated[
        list[Annotated[list[Metres], Field(min_length=2, max_length=2)]], Field(min_length=2, max_length=200)
    ]


class PictureIn(Base):
    """An uploaded picture, and the text of its world file where it does not say itself where it lies."""

    upload_id: Count
    world: Annotated[str, Field(max_length=500)] = ""


class PictureQuery(BaseModel):
    """A tile of a picture of one's own, on the map's grid."""

    picture: Count
    zoom: Annotated[int, Field(ge=-8, le=8)]
    column: Annotated[int, Field(ge=-(2**31), lt=2**31)]
    row: Annotated[int, Field(ge=-(2**31), lt=2**31)]


class GroundIn(Base):
    """A change of the ground by hand: points of one kind of change, and why."""

    note: Annotated[str, OneLine, Field(max_length=200)]
    rows: Annotated[list[GroundEditIn], Field(min_length=1, max_length=MOST_GROUND_ROWS)]  # type: ignore[valid-type]


class GroundPath(ProjectPath):
    slot: Annotated[str, Field(pattern=r"^ground-[0-9]{1,9}$")]


class Layout(In):
    delimiter: Literal["comma", "semicolon", "tab", "bar", "blanks"]
    header: bool
    decimal_comma: bool
    roles: Annotated[
        list[Literal["ignore", "easting", "northing", "level", "number", "code", "breakline"]], Field(max_length=200)
    ]
    unit: Unit = "metre"


class PartChosen(In):
    name: Annotated[str, Field(max_length=300)]
    role: PartRole


class PartsChosen(In):
    """What the parts of a file (layers, classes, surfaces) are read as, and the unit of its figures."""

    unit: Unit
    roles: Annotated[list[PartChosen], Field(max_length=2000)]


class UploadIn(In):
    """A file that is to come, in pieces; `size` in bytes."""

    file_name: Annotated[str, OneLine, Field(max_length=1000)]
    size: Annotated[int, Field(ge=0, le=2**53)]


class LookIn(In):
    """How a file is to be read; what isn't given is detected."""

    layout: Layout | None = None
    parts: PartsChosen | None = None


class ImportIn(LookIn):
    """How an uploaded file becomes ground. `longest_edge_m` null: as the points suggest; `within_m`: only what lies
    this near the centreline; `thin_m`: leave out points that the surface of the others gives within it;
    `on_grid`: its coordinates are the grid's, to be brought to the ground by the project's scale factor;
    `instead`: the slot of the survey whose place it takes.
    """

    revision: Count
    upload_id: Count
    longest_edge_m: Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)] | None = None
    joins: Joins = "alone"
    within_m: Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)] | None = None
    thin_m: Annotated[float, Field(gt=0, le=100, allow_inf_nan=False)] | None = None
    on_grid: bool = False
    instead: Annotated[str, Field(pattern=r"^survey(-[0-9]{1,9})?$")] | None = None
