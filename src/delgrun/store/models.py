"""Tables. History is append-only: inputs are versions, and revisions say which version holds in each slot."""

from datetime import datetime

import sqlalchemy as sa
from sqlalchemy.dialects import mysql
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    metadata = sa.MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_N_name)s",
            "pk": "pk_%(table_name)s",
        }
    )


# Microseconds, so that revisions of one second keep their order on screen.
Moment = sa.DateTime().with_variant(mysql.DATETIME(fsp=6), "mysql", "mariadb")
Blob = sa.LargeBinary().with_variant(mysql.MEDIUMBLOB(), "mysql", "mariadb")
LongText = sa.Text().with_variant(mysql.LONGTEXT(), "mysql", "mariadb")


def _version_key() -> Mapped[int]:
    return mapped_column(sa.ForeignKey("version.id"), primary_key=True)


class Project(Base):
    __tablename__ = "project"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(sa.String(120))
    created_at: Mapped[datetime] = mapped_column(Moment)


class Revision(Base):
    """One change of a project. `kind` is edit, undo or redo; `turns` is the edit an undo or redo is about."""

    __tablename__ = "revision"
    project_id: Mapped[int] = mapped_column(sa.ForeignKey("project.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    created_at: Mapped[datetime] = mapped_column(Moment)
    author: Mapped[str] = mapped_column(sa.String(60))
    kind: Mapped[str] = mapped_column(
        sa.Enum("edit", "undo", "redo", native_enum=False, create_constraint=True, name="kind", length=8)
    )
    turns: Mapped[int | None] = mapped_column()
    label: Mapped[str] = mapped_column(sa.String(200))


class Version(Base):
    """One version of one input; what it holds is in the table of its kind. Never changed."""

    __tablename__ = "version"
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(sa.ForeignKey("project.id"))
    kind: Mapped[str] = mapped_column(sa.String(16))


class RevisionSlot(Base):
    """What a revision changed: the slot's version from then on, none where it was taken away."""

    __tablename__ = "revision_slot"
    __table_args__ = (sa.ForeignKeyConstraint(["project_id", "revision"], ["revision.project_id", "revision.number"]),)
    project_id: Mapped[int] = mapped_column(primary_key=True)
    revision: Mapped[int] = mapped_column(primary_key=True)
    slot: Mapped[str] = mapped_column(sa.String(40), primary_key=True)
    version_id: Mapped[int | None] = mapped_column(sa.ForeignKey("version.id"))


class SurveyVersion(Base):
    __tablename__ = "survey_version"
    version_id: Mapped[int] = _version_key()
    file_name: Mapped[str] = mapped_column(sa.String(200))
    file_sha256: Mapped[str] = mapped_column(sa.String(64))
    point_count: Mapped[int]
    breakline_count: Mapped[int]
    left_out: Mapped[int]
    longest_edge_m: Mapped[float] = mapped_column(sa.Double)


class SurveyChunk(Base):
    """A piece of a survey, compressed: `part` is xyz, text, breaklines or the file as it came in."""

    __tablename__ = "survey_chunk"
    version_id: Mapped[int] = mapped_column(sa.ForeignKey("survey_version.version_id"), primary_key=True)
    part: Mapped[str] = mapped_column(sa.String(12), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    sha256: Mapped[str] = mapped_column(sa.String(64))
    data: Mapped[bytes] = mapped_column(Blob)


class CentrelineVersion(Base):
    __tablename__ = "centreline_version"
    version_id: Mapped[int] = _version_key()
    start_chainage_m: Mapped[float] = mapped_column(sa.Double)


class CentrelineIpRow(Base):
    __tablename__ = "centreline_ip"
    __table_args__ = (sa.CheckConstraint("radius_m >= 0", name="radius"),)
    version_id: Mapped[int] = mapped_column(sa.ForeignKey("centreline_version.version_id"), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    easting_m: Mapped[float] = mapped_column(sa.Double)
    northing_m: Mapped[float] = mapped_column(sa.Double)
    radius_m: Mapped[float] = mapped_column(sa.Double)


class LimitsVersion(Base):
    __tablename__ = "limits_version"
    __table_args__ = (sa.CheckConstraint("max_grade > 0 AND min_grade >= 0", name="grades"),)
    version_id: Mapped[int] = _version_key()
    design_speed_kmh: Mapped[float] = mapped_column(sa.Double)
    max_grade: Mapped[float] = mapped_column(sa.Double)
    min_grade: Mapped[float] = mapped_column(sa.Double)
    min_crest_k_m_per_pct: Mapped[float] = mapped_column(sa.Double)
    min_sag_k_m_per_pct: Mapped[float] = mapped_column(sa.Double)
    min_curve_length_m: Mapped[float] = mapped_column(sa.Double)
    min_ip_spacing_m: Mapped[float] = mapped_column(sa.Double)
    start_level_m: Mapped[float | None] = mapped_column(sa.Double)
    start_grade: Mapped[float | None] = mapped_column(sa.Double)
    end_level_m: Mapped[float | None] = mapped_column(sa.Double)
    end_grade: Mapped[float | None] = mapped_column(sa.Double)


class SectionVersion(Base):
    __tablename__ = "section_version"
    __table_args__ = (sa.CheckConstraint("lane_width_m > 0 AND interval_m > 0", name="sizes"),)
    version_id: Mapped[int] = _version_key()
    lane_width_m: Mapped[float] = mapped_column(sa.Double)
    lane_crossfall: Mapped[float] = mapped_column(sa.Double)
    shoulder_width_m: Mapped[float] = mapped_column(sa.Double)
    shoulder_crossfall: Mapped[float] = mapped_column(sa.Double)
    pavement_thickness_m: Mapped[float] = mapped_column(sa.Double)
    topsoil_depth_m: Mapped[float] = mapped_column(sa.Double)
    cut_batter_h_over_v: Mapped[float] = mapped_column(sa.Double)
    fill_batter_h_over_v: Mapped[float] = mapped_column(sa.Double)
    interval_m: Mapped[float] = mapped_column(sa.Double)


class CostVersion(Base):
    __tablename__ = "cost_version"
    __table_args__ = (sa.CheckConstraint("compacted_per_bank > 0", name="factor"),)
    version_id: Mapped[int] = _version_key()
    currency: Mapped[str] = mapped_column(sa.String(3))
    cut_per_m3: Mapped[float] = mapped_column(sa.Double)
    fill_per_m3: Mapped[float] = mapped_column(sa.Double)
    haul_per_m3_m: Mapped[float] = mapped_column(sa.Double)
    borrow_per_m3: Mapped[float] = mapped_column(sa.Double)
    spoil_per_m3: Mapped[float] = mapped_column(sa.Double)
    compacted_per_bank: Mapped[float] = mapped_column(sa.Double)


class GradeLineVersion(Base):
    __tablename__ = "grade_line_version"
    version_id: Mapped[int] = _version_key()
    name: Mapped[str] = mapped_column(sa.String(60))
    colour: Mapped[int]


class GradeLineIpRow(Base):
    __tablename__ = "grade_line_ip"
    __table_args__ = (sa.CheckConstraint("curve_length_m >= 0", name="length"),)
    version_id: Mapped[int] = mapped_column(sa.ForeignKey("grade_line_version.version_id"), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    chainage_m: Mapped[float] = mapped_column(sa.Double)
    level_m: Mapped[float] = mapped_column(sa.Double)
    curve_length_m: Mapped[float] = mapped_column(sa.Double)
    held_k_m_per_pct: Mapped[float | None] = mapped_column(sa.Double)


class Job(Base):
    """A search in the background: how far it is, and the best it has so far (kept if its worker dies)."""

    __tablename__ = "job"
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(sa.ForeignKey("project.id"), index=True)
    revision: Mapped[int]
    slot: Mapped[str] = mapped_column(sa.String(40))
    status: Mapped[str] = mapped_column(sa.String(12))
    stage: Mapped[str] = mapped_column(sa.String(40))
    share: Mapped[float] = mapped_column(sa.Double)
    stop_asked: Mapped[bool]
    started_at: Mapped[datetime] = mapped_column(Moment)
    ended_at: Mapped[datetime | None] = mapped_column(Moment)
    lower_bound: Mapped[float | None] = mapped_column(sa.Double)
    best_cost: Mapped[float | None] = mapped_column(sa.Double)
    message: Mapped[str] = mapped_column(sa.String(500))
    result: Mapped[str | None] = mapped_column(LongText)
