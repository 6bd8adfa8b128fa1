"""Core objects as plain values for the wire, and plain values as core objects."""

import struct
from dataclasses import asdict
from typing import Any

import numpy as np
import orjson

from delgrun.core.earthworks.evaluator import CostModel
from delgrun.core.gradeline.grade_line import GradeLine, Ip
from delgrun.core.limits.checks import LimitUse
from delgrun.core.limits.limit_set import LimitSet, TieIn
from delgrun.core.limits.wording import brief, check_name, sentence
from delgrun.store.inputs import CentrelineInput, LineInput, SectionInput
from delgrun.store.revisions import History, RevisionInfo

Json = dict[str, Any]


def pack(header: Json, arrays: dict[str, np.ndarray[Any, Any]]) -> bytes:
    """A binary answer: length of the header (4 bytes), the header, padding to 8, float32 arrays in its order."""
    blocks = {name: np.ascontiguousarray(a, dtype=np.float32).ravel() for name, a in arrays.items()}
    header = {**header, "arrays": [[name, len(a)] for name, a in blocks.items()]}
    text = orjson.dumps(header)
    text += b" " * (-(len(text) + 4) % 8)
    return struct.pack("<I", len(text)) + text + b"".join(a.tobytes() for a in blocks.values())


def as_json(packed: bytes) -> Json:
    """A binary answer with its arrays as lists, for whoever reads JSON; gaps in the arrays are null."""
    size = struct.unpack_from("<I", packed)[0]
    out: Json = orjson.loads(packed[4 : 4 + size])
    values = np.frombuffer(packed, dtype=np.float32, offset=4 + size)
    arrays, at = {}, 0
    for name, count in out["arrays"]:
        arrays[name] = [None if v != v else v for v in values[at : at + count].tolist()]
        at += count
    return {**out, "arrays": arrays}


def ips_json(line: GradeLine) -> list[Json]:
    """The IPs as typed, and what follows from them for card and table; grades are ratios."""
    out = []
    last = len(line.ips) - 1
    for i, ip in enumerate(line.ips):
        inner = 0 < i < last
        k = line.k(i) if inner else None
        out.append(
            {
                **vars(ip),
                "grade_in": float(line.grade[i - 1]) if i > 0 else None,
                "grade_out": float(line.grade[i]) if i < last else None,
                "change_of_grade": line.change_of_grade(i),
                "k_m_per_pct": k if k is not None and np.isfinite(k) else None,
                "room_m": line.room_m(i),
                "curve_start_m": float(line.curve_start_m[i]),
                "curve_end_m": float(line.curve_end_m[i]),
            }
        )
    return out


def use_json(u: LimitUse) -> Json:
    return {**vars(u)}


def finding_json(u: LimitUse) -> Json:
    return {**vars(u), "name": check_name(u.check), "brief": brief(u), "sentence": sentence(u)}


def limits_json(value: LimitSet) -> Json:
    row = asdict(value)
    start, end = row.pop("start"), row.pop("end")
    return {
        **row,
        "start_level_m": start["level_m"],
        "start_grade": start["grade"],
        "end_level_m": end["level_m"],
        "end_grade": end["grade"],
    }


def limits_of(row: Json) -> LimitSet:
    row = dict(row)
    start = TieIn(level_m=row.pop("start_level_m"), grade=row.pop("start_grade"))
    end = TieIn(level_m=row.pop("end_level_m"), grade=row.pop("end_grade"))
    return LimitSet(**row, start=start, end=end)


def section_json(value: SectionInput) -> Json:
    return {**asdict(value.typical), "interval_m": value.interval_m}


def cost_json(value: CostModel) -> Json:
    return asdict(value)


def centreline_json(value: CentrelineInput) -> Json:
    return {"start_chainage_m": value.start_chainage_m, "ips": [asdict(ip) for ip in value.ips]}


def line_json(slot: str, value: LineInput) -> Json:
    return {"slot": slot, "name": value.name, "colour": value.colour, "ips": ips_json(value.line)}


def line_of(ips: list[Json]) -> GradeLine:
    return GradeLine.of([Ip(**ip) for ip in ips])


def revision_json(r: RevisionInfo) -> Json:
    return {
        "number": r.number,
        "created_at": r.created_at.isoformat() + "Z",
        "author": r.author,
        "kind": r.kind,
        "label": r.label,
    }


def history_json(h: History) -> Json:
    return {
        "undo": h.undo[1] if h.undo else None,
        "redo": h.redo[1] if h.redo else None,
        "newest": [revision_json(r) for r in h.newest],
    }
