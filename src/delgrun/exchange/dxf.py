"""DXF: points, lines, polylines and 3D faces by layer."""

import io
import struct
from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache
from typing import Any, BinaryIO

import numpy as np
from ezdxf.document import Drawing
from ezdxf.filemanagement import dxf_stream_info
from ezdxf.lldxf.const import DXFError
from ezdxf.lldxf.tagger import binary_tags_loader

from delgrun.core.errors import DesignInputError
from delgrun.exchange.contents import Contents, Drawn, SurveyParts
from delgrun.exchange.survey_parts import Found, Part, PartRole
from delgrun.exchange.survey_text import Reading
from delgrun.exchange.text_columns import UNITS, unsaid_unit

# $INSUNITS of the DXF reference: 2 feet, 6 metres, 21 US survey feet, 0 unsaid.
_UNITS = {2: "foot", 6: "metre", 21: "us_survey_foot"}
_SAY_EACH = 5000
# Source: DXF reference, binary DXF files.
_BINARY = b"AutoCAD Binary DXF\r\n\x1a\x00"
# So many layers with something in them can be chosen among.
_MOST_PARTS = 1000
_KINDS = ("POINT", "LINE", "POLYLINE", "LWPOLYLINE", "3DFACE")


# What the library raises on a file that is none, or is cut off.
_UNREADABLE = (
    DXFError, OSError, ValueError, LookupError, AttributeError, TypeError, StopIteration, ArithmeticError,
    struct.error, AssertionError,
)  # fmt: skip


@contextmanager
def _in_words() -> Iterator[None]:
    """Whatever a drawing lacks that its reading needs is a DesignInputError."""
    try:
        yield
    except DesignInputError:
        raise
    except _UNREADABLE as e:
        why = str(e) or "it ends in the middle"
        raise DesignInputError("file", f"This is no DXF file that can be read: {why}.") from e


@lru_cache(maxsize=1)
def _document(data: bytes) -> Any:
    """A drawing from memory: whatever it speaks of, nothing else is opened."""
    with _in_words():
        if data.startswith(_BINARY):
            return Drawing.load(binary_tags_loader(data, errors="surrogateescape"))
        info = dxf_stream_info(io.TextIOWrapper(io.BytesIO(data), "utf-8", "ignore"))
        return Drawing.read(io.TextIOWrapper(io.BytesIO(data), info.encoding, "surrogateescape"))


@_in_words()
def _survey(data: bytes, how: Reading) -> SurveyParts:
    drawing = _document(data)
    layers: dict[tuple[str, str], Found] = {}
    flat = 0
    entities = drawing.modelspace()
    for number, entity in enumerate(entities):
        if number % _SAY_EACH == 0:
            how.say(number / len(entities), number)
        kind = entity.dxftype()
        if kind not in _KINDS:
            continue
        layer = str(entity.dxf.layer)
        if kind == "POINT":
            own = _of(layers, layer, "points")
            own.points.append(np.array([list(entity.dxf.location)], dtype=np.float64))
        elif kind == "3DFACE":
            own = _of(layers, layer, "faces")
            a, b, c, d = (list(entity.dxf.get(f"vtx{i}", entity.dxf.vtx2)) for i in range(4))
            faces = [[a, b, c]] if d in (a, c) else [[a, b, c], [a, c, d]]
            own.faces.append(np.array(faces, dtype=np.float64))
        else:
            line = _line(entity, kind)
            if len(line) > 1:
                flat += bool((line[:, 2] == 0).all())
                _of(layers, layer, "lines").lines.append(line)
    if not layers:
        raise DesignInputError("file", "The drawing holds no points, lines, polylines or 3D faces in its model space.")
    out = []
    for own in layers.values():
        if own.points:
            own.points[:] = [np.concatenate(own.points)]
        if own.faces:
            own.faces[:] = [np.concatenate(own.faces)]
        count = sum(map(len, own.points)) + len(own.lines) + sum(map(len, own.faces))
        p = own.part
        # Lines without levels are drawings of something: as breaklines they would pull the ground down to level 0.
        plain = bool(own.lines) and not any(line[:, 2].any() for line in own.lines)
        role: PartRole = "ignore" if plain else p.role
        out.append(Found(Part(p.name, p.holds, count, role, p.roles), own.points, own.lines, own.faces))
    unit = _unit(drawing)
    doubts = []
    if unit is None:
        doubts.append("The drawing's units are neither metres nor feet: its figures are read as metres.")
    if flat:
        doubts.append(
            f"{flat} lines lie at level 0: lines without levels are no breaklines. Layers of nothing else are left out."
        )
    return SurveyParts(out, unit or "metre", doubts)


def _unit(drawing: Any) -> str | None:
    """The unit that a drawing is in; None where it is neither metres nor feet."""
    said = int(drawing.header.get("$INSUNITS", 0))
    return unsaid_unit() if said == 0 else _UNITS.get(said)


def _of(layers: dict[tuple[str, str], Found], layer: str, holds: str) -> Found:
    key = (layer, holds)
    if key not in layers:
        if len(layers) == _MOST_PARTS:
            raise DesignInputError(
                "file",
                f"More than {_MOST_PARTS} layers of this drawing hold points, lines or faces: export those of the "
                "survey alone.",
            )
        name = f"{layer} ({holds})"
        part = {
            "points": Part(name, "points", 0, "points", ("points", "ignore")),
            "lines": Part(name, "lines and polylines", 0, "breaklines", ("breaklines", "points", "ignore")),
            "faces": Part(name, "3D faces", 0, "surface", ("surface", "points", "ignore")),
        }[holds]
        layers[key] = Found(part)
    return layers[key]


def _line(entity: Any, kind: str) -> np.ndarray:  # type: ignore[type-arg]
    """(k, 3) points of a line or polyline; one that is closed ends where it began."""
    if kind == "LINE":
        return np.array([list(entity.dxf.start), list(entity.dxf.end)], dtype=np.float64)
    if kind == "LWPOLYLINE":
        level = float(entity.dxf.get("elevation", 0.0))
        points = [[x, y, level] for x, y in entity.get_points("xy")]
        closed = entity.closed
    else:
        points = [list(v.dxf.location) for v in entity.vertices]
        closed = entity.is_closed
    return np.array([*points, points[0]] if closed and len(points) > 2 else points, dtype=np.float64).reshape(-1, 3)


# Vertices on the arcs of a polyline stand so close that none is further from its arc. [m]
_FLATTENED_M = 0.001
# And in this share of an arc's radius, from some hundred kilometres on.
_COARSEST = 1e-8


def contents(file: BinaryIO) -> Contents:
    """Points, lines and 3D faces by layer, and what is drawn in plan or in space."""
    data = file.read()
    return Contents(survey=lambda how: _survey(data, how), lines=lambda: _lines(data))


@_in_words()
def _lines(data: bytes) -> list[Drawn]:
    """Lines, arcs, splines and polylines by the name of their layer; of arcs and splines only the plan. [m]"""
    drawing = _document(data)
    unit = UNITS[_unit(drawing) or "metre"]
    out = []
    for entity in drawing.modelspace():
        kind = entity.dxftype()
        plan = _plan(entity, _FLATTENED_M / unit) * unit
        straight = kind in ("LINE", "LWPOLYLINE") or (
            kind == "POLYLINE" and not (entity.is_poly_face_mesh or entity.is_polygon_mesh)
        )
        xyz = _line(entity, kind) * unit if straight else None
        if len(plan) or xyz is not None:
            out.append(Drawn(str(entity.dxf.layer)[:60], plan, xyz))
    return out


def _plan(entity: Any, sagitta: float) -> np.ndarray:  # type: ignore[type-arg]
    """(k, 2) vertices of a line, arc, spline or polyline, in the drawing's unit; none of anything else."""
    match entity.dxftype():
        case "LINE":
            points = [entity.dxf.start, entity.dxf.end]
        case "ARC":
            # An arc so large that it has no end of vertices is no road; it is drawn coarsely, and refused as a place.
            points = list(entity.flattening(max(sagitta, _COARSEST * abs(entity.dxf.radius))))
        case "SPLINE":
            points = list(entity.flattening(sagitta))
        case "LWPOLYLINE" | "POLYLINE":
            parts = [_plan(part, sagitta) for part in entity.virtual_entities()]
            return _chained([part for part in parts if len(part) > 1])
        case _:
            return np.zeros((0, 2))
    return np.array([(p.x, p.y) for p in points], dtype=np.float64)


def _chained(parts: list[np.ndarray]) -> np.ndarray:  # type: ignore[type-arg]
    """Parts of a polyline one behind the other; its arcs always run to the left, whichever way it goes."""
    if not parts:
        return np.zeros((0, 2))
    if len(parts) > 1:
        ends = parts[1][[0, -1]]
        near = [np.hypot(*(ends - end).T).min() for end in parts[0][[0, -1]]]
        out = parts[0] if near[1] <= near[0] else parts[0][::-1]
    else:
        out = parts[0]
    for part in parts[1:]:
        near = np.hypot(*(part[[0, -1]] - out[-1]).T)
        out = np.concatenate([out, (part if near[0] <= near[1] else part[::-1])[1:]])
    return out
