"""What comes in about grade lines."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from delgrun.service.declared import COLOURS, Drains, Status, Unit
from delgrun.web.bodies import Base, Count, Edit, Ips, Metres, Name, Road, RoadIn
from delgrun.web.models import In
from delgrun.web.projects import UploadedFile


class NewLine(Base):
    name: Name


class StatusIn(Base):
    status: Status


class ColourIn(Base):
    """Number of a colour: each has a dash of its own, and none means anything else."""

    colour: Annotated[int, Field(ge=0, lt=COLOURS)]


class StraightLine(RoadIn):
    name: Name


class FittedLine(StraightLine):
    """`cut_m`, `fill_m`: greatest depths at the centreline, kept where it can be; empty: free. `drains`: over ground
    flatter than the flattest grade the line rises and falls by turns (`roll`), or has one `even` grade. `round`: grades
    of 0.1 %, IPs at 5 m or 10 ft.
    """

    cut_m: Annotated[float, Field(gt=0, le=1000)] | None = None
    fill_m: Annotated[float, Field(gt=0, le=1000)] | None = None
    drains: Drains = "roll"
    round: bool = False


class AdoptLine(RoadIn):
    name: Name
    ips: Ips


class EditIn(Base):
    edit: Edit


class WaysIn(In):
    """An edit that is refused, on a line as of `revision` with `edits` tried on it first."""

    revision: Count
    edits: Annotated[list[Edit], Field(max_length=50)]
    edit: Edit


class ProfileFile(BaseModel):
    """A file with profiles, and how one of them becomes a line: see `ProfileWish`."""

    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: UploadedFile
    revision: Count
    road: Road = "centreline"
    which: int | None = Field(default=None, ge=0, le=1000, description="which profile of several")
    deviation_m: float | None = Field(default=None, ge=0.001, le=100, description="fitted within it; none: as it is")
    exaggeration: float = Field(default=1.0, ge=0.01, le=1000)
    origin_chainage_m: Metres = 0.0
    origin_level_m: Metres = 0.0
    unit: Unit | None = Field(default=None, description="of a table's numbers; none: as it seems to be")
    curves: bool = Field(default=False, description="with curves that follow what the limits ask")
