"""Core objects as plain values for the wire, and the binary form of answers with arrays."""

import hashlib
import struct
from collections.abc import Callable, Mapping
from dataclasses import asdict
from typing import Any

import numpy as np
import orjson

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.units import worded
from delgrun.exchange.tables import Sheet
from delgrun.store.revisions import History, RevisionInfo

Json = dict[str, Any]

# Single precision is good to a quarter of a millimetre up to here; what reaches further goes as doubles. [m]
_SINGLE_REACH = 4096.0


def pack(header: Json, arrays: Mapping[str, np.ndarray[Any, Any]], have: frozenset[str] = frozenset()) -> bytes:
    """A binary answer: length of the header (4 bytes), the header, padding to 8, then the arrays in its order.

    The header's `arrays` says of each (name, count, digest, kind, base): kind "f4" or "f8" are values less
    `base`, "same" is an array that whoever asks already has (its digest is in `have`) and isn't sent again.
    Doubles come first, so that each array begins at a multiple of its size.
    """
    rows: list[list[Any]] = []
    blocks: list[bytes] = []
    singles: list[tuple[list[Any], bytes]] = []
    for name, values in arrays.items():
        flat = np.ascontiguousarray(values, dtype=np.float64).ravel()
        digest = hashlib.blake2b(flat.tobytes(), digest_size=9).hexdigest()
        if digest in have:
            rows.append([name, len(flat), digest, "same", 0.0])
            continue
        base = _base(flat)
        less = flat - base
        if len(flat) and np.nanmax(np.abs(less), initial=0.0) > _SINGLE_REACH:
            rows.append([name, len(flat), digest, "f8", base])
            blocks.append(less.tobytes())
        else:
            singles.append(([name, len(flat), digest, "f4", base], less.astype(np.float32).tobytes()))
    rows += [row for row, _ in singles]
    blocks += [block for _, block in singles]
    return _headed(orjson.dumps({**header, "arrays": rows})) + b"".join(blocks)


def _headed(text: bytes) -> bytes:
    """A header with its length before it, and blanks behind it up to a multiple of 8."""
    text += b" " * (-(len(text) + 4) % 8)
    return struct.pack("<I", len(text)) + text


def with_header(packed: bytes, change: Callable[[bytes], bytes]) -> bytes:
    """A binary answer with its header changed."""
    size = struct.unpack_from("<I", packed)[0]
    text = packed[4 : 4 + size]
    changed = change(text)
    return packed if changed == text else _headed(changed) + packed[4 + size :]


def _base(flat: np.ndarray[Any, Any]) -> float:
    """What all values lie beyond: large chainages and levels go as what they are more than it."""
    if not len(flat) or np.isnan(flat).all():
        return 0.0
    low = float(np.nanmin(flat))
    return float(np.floor(low)) if abs(low) > 256 else 0.0


def as_json(packed: bytes) -> Json:
    """A binary answer with its arrays as lists, for whoever reads JSON; gaps in the arrays are null."""
    size = struct.unpack_from("<I", packed)[0]
    out: Json = orjson.loads(packed[4 : 4 + size])
    arrays, at = {}, 4 + size
    for name, count, _, kind, base in out["arrays"]:
        if kind == "same":
            continue
        values = np.frombuffer(packed, dtype=kind, count=count, offset=at)
        at += values.nbytes
        arrays[name] = [None if v != v else v + base for v in values.tolist()]
    return {**out, "arrays": arrays}


def line_of(ips: list[Json]) -> GradeLine:
    return GradeLine.of([Ip(**ip) for ip in ips])


def input_json(value: Any) -> Json | None:
    """An input's fields as they go over the wire."""
    return None if value is None else asdict(value)


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


def table_json(sheet: Sheet, most: int | None = None) -> Json:
    """A table for the screen: at most so many of its rows, and how many there are; nothing where there is no number."""
    rows = [[None if isinstance(c, float) and np.isnan(c) else c for c in row] for row in sheet.rows[:most]]
    return {
        "title": worded(sheet.title),
        "columns": [{"heading": c.heading, "digits": c.digits} for c in sheet.columns],
        "rows": rows,
        "count": len(sheet.rows),
    }
