"""Versions of inputs: core objects in and out of their tables."""

from dataclasses import dataclass, fields

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from delgrun.core.centreline.centreline import CentrelineIp
from delgrun.core.earthworks.evaluator import CostModel
from delgrun.core.gradeline.grade_line import GradeLine, Ip
from delgrun.core.limits.limit_set import LimitSet, TieIn
from delgrun.core.section.typical_section import TypicalSection
from delgrun.core.survey.points import Survey
from delgrun.store import models as m
from delgrun.store import points_blob as blob


@dataclass(frozen=True, kw_only=True)
class SurveyInput:
    """A survey as accepted: its points, the file they came from, and how the ground is bounded."""

    survey: Survey
    file_name: str
    file: bytes
    left_out: int
    longest_edge_m: float


@dataclass(frozen=True, kw_only=True)
class SurveyHead:
    """What a list says of a survey without its points."""

    file_name: str
    file_sha256: str
    point_count: int
    breakline_count: int
    left_out: int
    longest_edge_m: float


@dataclass(frozen=True)
class CentrelineInput:
    ips: tuple[CentrelineIp, ...]
    start_chainage_m: float


@dataclass(frozen=True)
class SectionInput:
    """The typical section and the interval of the priced sections."""

    typical: TypicalSection
    interval_m: float


@dataclass(frozen=True)
class LineInput:
    """A grade line with its name and colour number."""

    name: str
    colour: int
    line: GradeLine


Input = SurveyInput | CentrelineInput | LimitSet | SectionInput | CostModel | LineInput

_TYPICAL = [f.name for f in fields(TypicalSection)]
_COST = [f.name for f in fields(CostModel)]
_LIMITS = [f.name for f in fields(LimitSet) if f.name not in ("start", "end")]


def kind_of(value: Input) -> str:
    """Name of the table family an input goes to."""
    return {
        SurveyInput: "survey",
        CentrelineInput: "centreline",
        LimitSet: "limits",
        SectionInput: "section",
        CostModel: "cost",
        LineInput: "line",
    }[type(value)]


def write(session: Session, project_id: int, value: Input) -> int:
    """Store one version; returns its id."""
    version = m.Version(project_id=project_id, kind=kind_of(value))
    session.add(version)
    session.flush()
    vid = version.id
    if isinstance(value, SurveyInput):
        _write_survey(session, vid, value)
    elif isinstance(value, CentrelineInput):
        session.add(m.CentrelineVersion(version_id=vid, start_chainage_m=value.start_chainage_m))
        session.flush()
        for i, ip in enumerate(value.ips):
            session.add(
                m.CentrelineIpRow(
                    version_id=vid, position=i, easting_m=ip.easting_m, northing_m=ip.northing_m, radius_m=ip.radius_m
                )
            )
    elif isinstance(value, LimitSet):
        row = {name: getattr(value, name) for name in _LIMITS}
        session.add(
            m.LimitsVersion(
                version_id=vid,
                **row,
                start_level_m=value.start.level_m,
                start_grade=value.start.grade,
                end_level_m=value.end.level_m,
                end_grade=value.end.grade,
            )
        )
    elif isinstance(value, SectionInput):
        row = {name: getattr(value.typical, name) for name in _TYPICAL}
        session.add(m.SectionVersion(version_id=vid, **row, interval_m=value.interval_m))
    elif isinstance(value, CostModel):
        session.add(m.CostVersion(version_id=vid, **{name: getattr(value, name) for name in _COST}))
    else:
        session.add(m.GradeLineVersion(version_id=vid, name=value.name, colour=value.colour))
        session.flush()
        for i, p in enumerate(value.line.ips):
            session.add(
                m.GradeLineIpRow(
                    version_id=vid,
                    position=i,
                    chainage_m=p.chainage_m,
                    level_m=p.level_m,
                    curve_length_m=p.curve_length_m,
                    held_k_m_per_pct=p.held_k_m_per_pct,
                )
            )
    session.flush()
    return vid


def read(
    session: Session, version_id: int, kind: str
) -> SurveyHead | CentrelineInput | LimitSet | SectionInput | CostModel | LineInput:
    """One version as its core object; of a survey only the head."""
    if kind == "survey":
        s = session.get_one(m.SurveyVersion, version_id)
        return SurveyHead(
            file_name=s.file_name,
            file_sha256=s.file_sha256,
            point_count=s.point_count,
            breakline_count=s.breakline_count,
            left_out=s.left_out,
            longest_edge_m=s.longest_edge_m,
        )
    if kind == "centreline":
        c = session.get_one(m.CentrelineVersion, version_id)
        ips = session.scalars(
            select(m.CentrelineIpRow).filter_by(version_id=version_id).order_by(m.CentrelineIpRow.position)
        )
        return CentrelineInput(
            tuple(CentrelineIp(easting_m=r.easting_m, northing_m=r.northing_m, radius_m=r.radius_m) for r in ips),
            c.start_chainage_m,
        )
    if kind == "limits":
        lim = session.get_one(m.LimitsVersion, version_id)
        return LimitSet(
            **{name: getattr(lim, name) for name in _LIMITS},
            start=TieIn(level_m=lim.start_level_m, grade=lim.start_grade),
            end=TieIn(level_m=lim.end_level_m, grade=lim.end_grade),
        )
    if kind == "section":
        t = session.get_one(m.SectionVersion, version_id)
        return SectionInput(TypicalSection(**{name: getattr(t, name) for name in _TYPICAL}), t.interval_m)
    if kind == "cost":
        cost = session.get_one(m.CostVersion, version_id)
        return CostModel(**{name: getattr(cost, name) for name in _COST})
    g = session.get_one(m.GradeLineVersion, version_id)
    rows = session.scalars(
        select(m.GradeLineIpRow).filter_by(version_id=version_id).order_by(m.GradeLineIpRow.position)
    )
    line = GradeLine(
        tuple(
            Ip(
                chainage_m=r.chainage_m,
                level_m=r.level_m,
                curve_length_m=r.curve_length_m,
                held_k_m_per_pct=r.held_k_m_per_pct,
            )
            for r in rows
        )
    )
    return LineInput(g.name, g.colour, line)


def _write_survey(session: Session, vid: int, value: SurveyInput) -> None:
    s = value.survey
    session.add(
        m.SurveyVersion(
            version_id=vid,
            file_name=value.file_name[:200],
            file_sha256=blob.checksum(value.file),
            point_count=len(s.xyz),
            breakline_count=len(s.breaklines),
            left_out=value.left_out,
            longest_edge_m=value.longest_edge_m,
        )
    )
    session.flush()
    parts: list[tuple[str, int, bytes]] = []
    for k in range(0, len(s.xyz), blob.CHUNK_POINTS):
        parts.append(("xyz", k // blob.CHUNK_POINTS, blob.pack_columns(s.xyz[k : k + blob.CHUNK_POINTS])))
    joined = np.concatenate([np.append(b, -1) for b in s.breaklines]) if s.breaklines else np.zeros(0, dtype=np.int64)
    texts = "\n".join(f"{n}\t{c}" for n, c in zip(s.name, s.code, strict=True)).encode()
    for part, data in (("breaklines", joined.astype(np.int64).tobytes()), ("text", texts), ("file", value.file)):
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
    pieces: dict[str, list[bytes]] = {"xyz": [], "breaklines": [], "text": []}
    rows = session.execute(
        select(m.SurveyChunk.part, m.SurveyChunk.data, m.SurveyChunk.sha256)
        .where(m.SurveyChunk.version_id == version_id, m.SurveyChunk.part != "file")
        .order_by(m.SurveyChunk.part, m.SurveyChunk.number)
    )
    for part, data, sha in rows:
        if blob.checksum(data) != sha:
            raise ValueError(f"a stored piece of survey version {version_id} ({part}) does not match its checksum")
        pieces[part].append(data)
    xyz = np.concatenate([blob.unpack_columns(d) for d in pieces["xyz"]])
    flat = np.frombuffer(blob.unpack_bytes(pieces["breaklines"]), dtype=np.int64)
    ends = np.flatnonzero(flat == -1)
    lines = [b[b >= 0] for b in np.split(flat, ends)[:-1]] if len(ends) else []
    texts = [t.split("\t") for t in blob.unpack_bytes(pieces["text"]).decode().split("\n")]
    return Survey(xyz, lines, np.array([t[0] for t in texts]), np.array([t[-1] for t in texts]))
