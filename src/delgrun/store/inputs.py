"""Versions of inputs: core objects in and out of their tables, by their declared fields."""

from dataclasses import dataclass
from typing import Any

import numpy as np
import sqlalchemy as sa
from sqlalchemy import select
from sqlalchemy.orm import Session

from delgrun.core.inputs import KINDS, InputKind, RowList, kind_of
from delgrun.core.survey.points import Survey, SurveyHead
from delgrun.store import models as m
from delgrun.store import points_blob as blob

_BY_NAME = {kind.name: kind for kind in KINDS}


@dataclass(frozen=True, kw_only=True)
class SurveyInput(SurveyHead):
    """A survey as accepted: its head, its points, and what is said of how it was read (JSON)."""

    survey: Survey
    summary: bytes


def write(session: Session, project_id: int, value: object) -> int:
    """Store one version; returns its id."""
    kind = kind_of(value)
    version = m.Version(project_id=project_id, kind=kind.name)
    session.add(version)
    session.flush()
    head, rows = m.TABLES[kind.name]
    session.execute(
        sa.insert(head).values(version_id=version.id, **{f.name: getattr(value, f.name) for f in kind.fields})
    )
    for of in kind.lists:
        names = [f.name for f in of.fields]
        values = [
            {"version_id": version.id, "position": i, **{n: getattr(row, n) for n in names}}
            for i, row in enumerate(getattr(value, of.name))
        ]
        if values:
            session.execute(sa.insert(rows[of.name]), values)
    if isinstance(value, SurveyInput):
        _write_points(session, version.id, value)
    return version.id


def read(session: Session, version_id: int, kind_name: str) -> Any:
    """One version as its core object; of a survey only the head. Rules are not held against it here."""
    kind = _BY_NAME[kind_name]
    head, _ = m.TABLES[kind.name]
    found = session.execute(select(head).where(head.c.version_id == version_id)).mappings().one()
    values: dict[str, Any] = {f.name: found[f.name] for f in kind.fields}
    for of in kind.lists:
        values[of.name] = _read_rows(session, [version_id], kind, of).get(version_id, ())
    return kind.cls(**values)


def read_many(session: Session, versions: list[int], kind_name: str) -> dict[int, Any]:
    """Many versions of one kind at once, by a query and one for each of its lists."""
    kind = _BY_NAME[kind_name]
    head, _ = m.TABLES[kind.name]
    rows = {of.name: _read_rows(session, versions, kind, of) for of in kind.lists}
    heads = session.execute(select(head).where(head.c.version_id.in_(versions))).mappings()
    return {
        h["version_id"]: kind.cls(
            **{f.name: h[f.name] for f in kind.fields},
            **{name: found.get(h["version_id"], ()) for name, found in rows.items()},
        )
        for h in heads
    }


def _read_rows(session: Session, versions: list[int], kind: InputKind, of: RowList) -> dict[int, tuple[Any, ...]]:
    """The rows of a list by version, in their order."""
    table, names = m.TABLES[kind.name][1][of.name], [f.name for f in of.fields]
    found = session.execute(
        select(table.c.version_id, *(table.c[n] for n in names))
        .where(table.c.version_id.in_(versions))
        .order_by(table.c.version_id, table.c.position)
    )
    rows: dict[int, list[Any]] = {}
    for version, *values in found:
        rows.setdefault(version, []).append(of.of(**dict(zip(names, values, strict=True))))
    return {version: tuple(all_of_them) for version, all_of_them in rows.items()}


def _write_points(session: Session, vid: int, value: SurveyInput) -> None:
    s = value.survey
    parts: list[tuple[str, int, bytes]] = []
    for k in range(0, len(s.xyz), blob.CHUNK_POINTS):
        parts.append(("xyz", k // blob.CHUNK_POINTS, blob.pack_columns(s.xyz[k : k + blob.CHUNK_POINTS])))
    joined = np.concatenate([np.append(b, -1) for b in s.breaklines]) if s.breaklines else np.zeros(0, dtype=np.int64)
    for part, data in (
        ("breaklines", joined.astype(np.int64).tobytes()),
        ("name", blob.text_bytes(s.name)),
        ("code", blob.text_bytes(s.code)),
        ("summary", value.summary),
    ):
        parts += [(part, i, piece) for i, piece in enumerate(blob.pack_bytes(data))]
    for part, number, data in parts:
        session.add(m.SurveyChunk(version_id=vid, part=part, number=number, sha256=blob.checksum(data), data=data))
        session.flush()


def read_survey(session: Session, version_id: int) -> Survey:
    """Points and breaklines of a stored survey.

    Raises
    ------
    ValueError
        A chunk does not match its checksum.
    """
    pieces = _pieces(session, version_id, ("xyz", "breaklines", "name", "code", "text"))
    xyz = np.concatenate([blob.unpack_columns(d) for d in pieces["xyz"]])
    flat = np.frombuffer(blob.unpack_bytes(pieces["breaklines"]), dtype=np.int64)
    ends = np.flatnonzero(flat == -1)
    lines = [b[b >= 0] for b in np.split(flat, ends)[:-1]] if len(ends) else []
    if not pieces["text"]:
        return Survey(xyz, lines, *(blob.texts_of(blob.unpack_bytes(pieces[part])) for part in ("name", "code")))
    # As earlier versions stored them.
    texts = [t.split("\t") for t in blob.unpack_bytes(pieces["text"]).decode().split("\n")]
    return Survey(xyz, lines, np.array([t[0] for t in texts]), np.array([t[-1] for t in texts]))


def read_summary(session: Session, version_id: int) -> bytes:
    """What was said of a survey when it was read; empty for those of earlier versions."""
    found = _pieces(session, version_id, ("summary",))["summary"]
    return blob.unpack_bytes(found) if found else b""


def _pieces(session: Session, version_id: int, parts: tuple[str, ...]) -> dict[str, list[bytes]]:
    out: dict[str, list[bytes]] = {part: [] for part in parts}
    rows = session.execute(
        select(m.SurveyChunk.part, m.SurveyChunk.data, m.SurveyChunk.sha256)
        .where(m.SurveyChunk.version_id == version_id, m.SurveyChunk.part.in_(parts))
        .order_by(m.SurveyChunk.part, m.SurveyChunk.number)
    )
    for part, data, sha in rows:
        if blob.checksum(data) != sha:
            raise ValueError(f"a stored piece of survey version {version_id} ({part}) does not match its checksum")
        out[part].append(data)
    return out
