"""Tables. History is append-only: inputs are versions, and revisions say which version holds in each slot."""

from datetime import datetime
from typing import Any

import sqlalchemy as sa
from sqlalchemy.dialects import mysql
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

from delgrun.core.fields import Field
from delgrun.core.inputs import KINDS, InputKind


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


class Project(Base):
    __tablename__ = "project"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(sa.String(120))
    created_at: Mapped[datetime] = mapped_column(Moment)


class Revision(Base):
    """One change of a project. `kind` is edit, undo or redo; `turns` is the edit an undo or redo is about.

    `undo_top` is the edit that undo would turn next after this revision, `redo_top` the undo that redo would
    turn back; each revision points to them, so that neither needs a walk through the history. `token` is the
    page's own name of the change: sent twice, it is saved once.
    """

    __tablename__ = "revision"
    project_id: Mapped[int] = mapped_column(sa.ForeignKey("project.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    created_at: Mapped[datetime] = mapped_column(Moment)
    author: Mapped[str] = mapped_column(sa.String(60))
    kind: Mapped[str] = mapped_column(
        sa.Enum("edit", "undo", "redo", native_enum=False, create_constraint=True, name="kind", length=8)
    )
    turns: Mapped[int | None] = mapped_column()
    undo_top: Mapped[int | None] = mapped_column()
    redo_top: Mapped[int | None] = mapped_column()
    token: Mapped[str | None] = mapped_column(sa.String(40))
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
    __table_args__ = (
        sa.ForeignKeyConstraint(["project_id", "revision"], ["revision.project_id", "revision.number"]),
        # The newest version in a slot is found without reading the older ones.
        sa.Index("ix_revision_slot_newest", "project_id", "slot", "revision"),
    )
    project_id: Mapped[int] = mapped_column(primary_key=True)
    revision: Mapped[int] = mapped_column(primary_key=True)
    slot: Mapped[str] = mapped_column(sa.String(40), primary_key=True)
    version_id: Mapped[int | None] = mapped_column(sa.ForeignKey("version.id"))


class NamedState(Base):
    """The name of a project's state as of a revision."""

    __tablename__ = "named_state"
    __table_args__ = (sa.ForeignKeyConstraint(["project_id", "revision"], ["revision.project_id", "revision.number"]),)
    project_id: Mapped[int] = mapped_column(primary_key=True)
    revision: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(sa.String(60))
    named_at: Mapped[datetime] = mapped_column(Moment)


# Tables of inputs: columns and CHECKs follow from the declared fields.


def column_of(f: Field) -> "sa.Column[Any]":
    """The column of a field. A field that came later has, in older rows, its first value."""
    kind: Any = {
        "number": sa.Double(),
        "whole": sa.Integer(),
        "flag": sa.Boolean(),
        "text": sa.String(f.shown.longest or 40),
    }[f.shown.kind]
    return sa.Column(f.name, kind, nullable=f.optional)


def bounds_of(f: Field) -> str:
    """The physical bounds of a field as SQL; empty where it has none."""
    parts = []
    if f.low is not None:
        parts.append(f"{f.name} {'>' if f.above else '>='} {f.low!r}")
    if f.high is not None:
        parts.append(f"{f.name} <= {f.high!r}")
    return " AND ".join(parts)


def _checks(fields: tuple[Field, ...]) -> list[sa.CheckConstraint]:
    return [sa.CheckConstraint(bounds_of(f), name=f.name) for f in fields if bounds_of(f)]


def tables_of(kind: InputKind) -> tuple[sa.Table, dict[str, sa.Table]]:
    """The table of a kind's versions, and of the rows of each of its lists by the list's name."""
    key: sa.Column[int] = sa.Column("version_id", sa.ForeignKey("version.id"), primary_key=True)
    head = sa.Table(kind.table, Base.metadata, key, *map(column_of, kind.fields), *_checks(kind.fields))
    rows = {
        of.name: sa.Table(
            of.table,
            Base.metadata,
            sa.Column("version_id", sa.ForeignKey(f"{kind.table}.version_id"), primary_key=True),
            sa.Column("position", sa.Integer(), primary_key=True, autoincrement=False),
            *map(column_of, of.fields),
            *_checks(of.fields),
        )
        for of in kind.lists
    }
    return head, rows


# Table of the versions of each kind, and of the rows of each of its lists.
TABLES: dict[str, tuple[sa.Table, dict[str, sa.Table]]] = {kind.name: tables_of(kind) for kind in KINDS}


class SurveyChunk(Base):
    """A piece of a survey, compressed: `part` is xyz, name, code, breaklines or summary
    (of older ones text and file).
    """

    __tablename__ = "survey_chunk"
    version_id: Mapped[int] = mapped_column(sa.ForeignKey("survey_version.version_id"), primary_key=True)
    part: Mapped[str] = mapped_column(sa.String(12), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    sha256: Mapped[str] = mapped_column(sa.String(64))
    data: Mapped[bytes] = mapped_column(Blob)


class Upload(Base):
    """A file on its way in, or whole, as it came: surveys made from it point here."""

    __tablename__ = "upload"
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(sa.ForeignKey("project.id"), index=True)
    file_name: Mapped[str] = mapped_column(sa.String(200))
    size: Mapped[int] = mapped_column(sa.BigInteger)
    made_at: Mapped[datetime] = mapped_column(Moment)


class UploadPiece(Base):
    """A piece of an uploaded file, compressed; `size` is that of the piece as it came."""

    __tablename__ = "upload_piece"
    upload_id: Mapped[int] = mapped_column(sa.ForeignKey("upload.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    size: Mapped[int]
    sha256: Mapped[str] = mapped_column(sa.String(64))
    data: Mapped[bytes] = mapped_column(Blob)


class Job(Base):
    """A job in the background: what it is to do, how far it is, and what it has so far (kept if its worker dies).

    `asked` is what it was given besides a revision and a slot, as JSON.
    `beat_at` is when its worker last gave a sign of life, `attempt` how often it was taken up; `state` is what
    the next attempt goes on from.
    """

    __tablename__ = "job"
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(sa.ForeignKey("project.id"), index=True)
    kind: Mapped[str] = mapped_column(sa.String(16))
    revision: Mapped[int]
    slot: Mapped[str] = mapped_column(sa.String(40))
    asked: Mapped[str | None] = mapped_column(LongText)
    status: Mapped[str] = mapped_column(sa.String(12), index=True)
    stage: Mapped[str] = mapped_column(sa.String(40))
    share: Mapped[float] = mapped_column(sa.Double)
    stop_asked: Mapped[bool]
    attempt: Mapped[int]
    beat_at: Mapped[datetime | None] = mapped_column(Moment)
    started_at: Mapped[datetime] = mapped_column(Moment)
    ended_at: Mapped[datetime | None] = mapped_column(Moment)
    lower_bound: Mapped[float | None] = mapped_column(sa.Double)
    best_cost: Mapped[float | None] = mapped_column(sa.Double)
    message: Mapped[str] = mapped_column(sa.String(500))
    state: Mapped[str | None] = mapped_column(LongText)
    result: Mapped[str | None] = mapped_column(LongText)


class Glance(Base):
    """What the list of projects shows of one: derived from its newest revision, and made again when that moves on."""

    __tablename__ = "glance"
    project_id: Mapped[int] = mapped_column(sa.ForeignKey("project.id"), primary_key=True)
    revision: Mapped[int]
    made: Mapped[str] = mapped_column(LongText)


class Picture(Base):
    """A picture that a project brought itself; it is kept as its tiles."""

    __tablename__ = "picture"
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(sa.ForeignKey("project.id"))
    file_name: Mapped[str] = mapped_column(sa.String(200))
    made_at: Mapped[datetime] = mapped_column(Moment)


class PictureTile(Base):
    """A tile of the map's grid, as a file that a browser shows."""

    __tablename__ = "picture_tile"
    picture_id: Mapped[int] = mapped_column(sa.ForeignKey("picture.id"), primary_key=True)
    zoom: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    tile_column: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    tile_row: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    data: Mapped[bytes] = mapped_column(Blob)


class OwnStandard(Base):
    """A set of limits that an office brought itself, as the table it came as."""

    __tablename__ = "own_standard"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(sa.String(60), unique=True)
    text: Mapped[str] = mapped_column(LongText)
    made_at: Mapped[datetime] = mapped_column(Moment)


class LibraryEntry(Base):
    """A section, or a piece of one (`what`), kept for all projects: a version that was saved in one of them."""

    __tablename__ = "library_entry"
    __table_args__ = (sa.UniqueConstraint("what", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(sa.String(60))
    what: Mapped[str] = mapped_column(sa.String(20))
    version_id: Mapped[int] = mapped_column(sa.ForeignKey("version.id"))
    made_at: Mapped[datetime] = mapped_column(Moment)
