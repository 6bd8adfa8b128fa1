"""What comes in over the wire. Grades are ratios, everything else SI; a name carries its unit."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Metres = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]
Length = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]
Grade = Annotated[float, Field(ge=-2, le=2, allow_inf_nan=False)]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Positive = Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]
Money = Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)]
Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"\S")]
Count = Annotated[int, Field(ge=0, le=2**31 - 1)]


class In(BaseModel):
    """A body: nothing unknown, nothing converted."""

    model_config = ConfigDict(extra="forbid", strict=True)


class ProjectPath(BaseModel):
    project_id: Count


class LinePath(ProjectPath):
    slot: Annotated[str, Field(pattern=r"^line-[0-9]{1,9}$")]


class SearchPath(ProjectPath):
    search_id: Count


class AtRevision(BaseModel):
    revision: Count


class IpQuery(AtRevision):
    ip: Count


class SpeedQuery(BaseModel):
    design_speed_kmh: Annotated[float, Field(ge=20, le=130)]


# Bodies


class NewProject(In):
    name: Annotated[str, Field(min_length=1, max_length=120, pattern=r"\S")]


class Base(In):
    """`base` is the revision the change was made on; if another was saved since, nothing is written."""

    base: Count


class CentrelineIpIn(In):
    easting_m: Metres
    northing_m: Metres
    radius_m: Length


class CentrelineCheck(In):
    start_chainage_m: Metres
    ips: Annotated[list[CentrelineIpIn], Field(max_length=2000)]


class CentrelineIn(Base):
    start_chainage_m: Metres
    ips: Annotated[list[CentrelineIpIn], Field(max_length=2000)]


class Limits(In):
    """Bounds for the whole length; an empty tie-in leaves that end free."""

    design_speed_kmh: Annotated[float, Field(ge=20, le=130)]
    max_grade: Annotated[float, Field(gt=0, le=0.5)]
    min_grade: Annotated[float, Field(ge=0, le=0.1)]
    min_crest_k_m_per_pct: Length
    min_sag_k_m_per_pct: Length
    min_curve_length_m: Length
    min_ip_spacing_m: Length
    start_level_m: Metres | None
    start_grade: Grade | None
    end_level_m: Metres | None
    end_grade: Grade | None


class LimitsIn(Base):
    limits: Limits


class TypicalSectionFields(In):
    lane_width_m: Annotated[float, Field(gt=0, le=50)]
    lane_crossfall: Annotated[float, Field(ge=-0.2, le=0.2)]
    shoulder_width_m: Annotated[float, Field(gt=0, le=20)]
    shoulder_crossfall: Annotated[float, Field(ge=-0.2, le=0.2)]
    pavement_thickness_m: Annotated[float, Field(ge=0, le=3)]
    topsoil_depth_m: Annotated[float, Field(ge=0, le=2)]
    cut_batter_h_over_v: Annotated[float, Field(ge=0.05, le=20)]
    fill_batter_h_over_v: Annotated[float, Field(ge=0.05, le=20)]
    interval_m: Annotated[float, Field(ge=1, le=100)]


class SectionIn(Base):
    section: TypicalSectionFields


class Cost(In):
    """Cut per bank m3; fill, haul, borrow and spoil per compacted m3."""

    currency: Annotated[str, Field(pattern=r"^[A-Z]{3}$")]
    cut_per_m3: Money
    fill_per_m3: Money
    haul_per_m3_m: Money
    borrow_per_m3: Money
    spoil_per_m3: Money
    compacted_per_bank: Annotated[float, Field(gt=0.1, le=3)]


class CostIn(Base):
    cost: Cost


class NewLine(Base):
    name: Name


class IpIn(In):
    """An IP as it is kept; `held_k_m_per_pct` set: the curve keeps this K."""

    chainage_m: Metres
    level_m: Metres
    curve_length_m: Length
    held_k_m_per_pct: Positive | None


Ips = Annotated[list[IpIn], Field(min_length=2, max_length=1000)]


class AdoptLine(Base):
    name: Name
    ips: Ips


class MoveIp(In):
    """`slide`: a drag, which stops at the last possible place; without it an impossible place is refused."""

    what: Literal["move"]
    ip: Count
    chainage_m: Metres
    level_m: Metres
    slide: bool


class AddIp(In):
    what: Literal["add"]
    chainage_m: Metres
    level_m: Metres


class DeleteIp(In):
    what: Literal["delete"]
    ip: Count


class SetLength(In):
    what: Literal["length"]
    ip: Count
    curve_length_m: Length


class SetK(In):
    what: Literal["k"]
    ip: Count
    k_m_per_pct: Positive


class SetGrade(In):
    what: Literal["grade"]
    ip: Count
    grade: Grade
    side: Literal["in", "out"]


class SetIps(In):
    """All IPs at once, as from a spreadsheet; the ends keep their chainage."""

    what: Literal["ips"]
    ips: Ips


Edit = Annotated[SetIps | MoveIp | AddIp | DeleteIp | SetLength | SetK | SetGrade, Field(discriminator="what")]


class EditIn(Base):
    edit: Edit


class PreviewIn(In):
    """A line as of `revision`, or the given IPs, with one edit tried on it; nothing is saved."""

    revision: Count
    ips: Ips | None
    edit: Edit | None
    plumb_m: Metres | None


class SearchIn(In):
    revision: Count
    slot: Annotated[str, Field(pattern=r"^line-[0-9]{1,9}$")]


class Layout(In):
    delimiter: Literal["comma", "semicolon", "tab", "bar", "blanks"]
    header: bool
    decimal_comma: bool
    roles: Annotated[
        list[Literal["ignore", "easting", "northing", "level", "number", "code", "breakline"]], Field(max_length=200)
    ]
