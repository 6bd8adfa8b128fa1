"""LandXML alignments: tangents, arcs and clothoids in, and out with the profiles that are designed over them."""

import io
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Any, BinaryIO
from xml.etree import ElementTree as Plain

import numpy as np
from defusedxml import ElementTree
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.parts import Part, ips_of
from delgrun.core.centreline.points import bearing_of
from delgrun.core.centreline.stations import Stations
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.units import one_line
from delgrun.exchange.alignments import Alignment, checked
from delgrun.exchange.landxml_file import in_words, plain_tag, unit_of

FloatArray = NDArray[np.float64]

NAMESPACE = "http://www.landxml.org/schema/LandXML-1.2"
# Coordinates beyond are none.
_FURTHEST = 1e9
_STRAIGHT, _ARC, _SPIRAL = "Line", "Curve", "Spiral"


def read(file: BinaryIO, _layout: object = None, _how: object = None) -> list[Alignment]:
    """All alignments of a file as IPs, each with how far it lies from what the file says.

    Raises
    ------
    DesignInputError
        No LandXML, no alignment in it, or one that IPs can't say; it names the element.
    """
    unit = 1.0
    found: list[Alignment] = []
    with in_words():
        for _, node in ElementTree.iterparse(io.BytesIO(file.read()), events=("end",)):
            match plain_tag(node.tag):
                case "Metric" | "Imperial":
                    unit = unit_of(node)
                case "Alignment":
                    found.append(_alignment(node, unit, len(found) + 1))
                    node.clear()
    if not found:
        raise DesignInputError("file", "The file holds no alignment: a surface of it is read under Survey.")
    return found


def _alignment(node: Any, unit: float, number: int) -> Alignment:
    name = (node.get("name") or f"alignment {number}")[:60]
    geometry = next((g for g in node if plain_tag(g.tag) == "CoordGeom"), None)
    parts = [] if geometry is None else [_part(child, unit, name) for child in geometry if len(child)]
    if not parts:
        raise DesignInputError("file", f"The alignment “{name}” has no geometry.")
    for i, (a, b) in enumerate(pairwise(parts), 1):
        apart = float(np.hypot(*(b.start - a.end)))
        if apart > 0.01:
            raise DesignInputError(
                "file",
                f"The alignment “{{name}}” is broken between its elements {i} and {i + 1}: they lie {{apart:length}} "
                "apart.",
                name=name,
                apart=apart,
            )
    start = float(node.get("staStart", 0.0)) * unit
    equations = _equations([e for e in node if plain_tag(e.tag) == "StaEquation"], unit)
    places = np.array([p.start for p in parts] + [parts[-1].end])
    return replace(checked(name, start, ips_of(parts, name), places), equations=equations)


def _equations(nodes: list[Any], unit: float) -> tuple[tuple[float, float], ...]:
    """Where a chainage that runs on is written on as another: from the internal value, or from those back."""
    rows: list[tuple[float, float]] = []
    for node in nodes:
        back, ahead = (float(node.get(name, "nan")) * unit for name in ("staBack", "staAhead"))
        inner = float(node.get("staInternal", "nan")) * unit
        if np.isnan(inner):
            inner = back - sum(a - s for s, a in rows[-1:])
        if not np.isfinite([inner, ahead]).all():
            raise ValueError("a chainage equation without its values")
        rows.append((inner, ahead))
    return tuple(rows)


def _part(node: Any, unit: float, name: str) -> Part:
    kind = plain_tag(node.tag)
    points = {plain_tag(p.tag): _place(p, unit) for p in node if p.text and p.text.strip()}
    if kind not in (_STRAIGHT, _ARC, _SPIRAL) or "Start" not in points or "End" not in points:
        raise DesignInputError(
            "file", f"The alignment “{name}” has an element “{kind}” that is no line, curve or spiral with both ends."
        )
    start, end = points["Start"], points["End"]
    if kind == _STRAIGHT:
        heading = _heading(end - start)
        return Part(start, end, heading, heading, float(np.hypot(*(end - start))), 0.0, 0.0)
    side = {"ccw": 1.0, "cw": -1.0}.get(node.get("rot", ""))
    if side is None:
        raise DesignInputError("file", f"A {kind.lower()} of “{name}” does not say which way it turns (rot).")
    if kind == _ARC:
        return _arc(node, points, side, unit, name)
    if node.get("spiType", "clothoid") != "clothoid":
        raise DesignInputError(
            "file", f"A spiral of “{name}” is of type “{node.get('spiType')}”: only clothoids can be read."
        )
    length = float(node.get("length", "nan")) * unit
    k0, k1 = (side / (r * unit) if np.isfinite(r) else 0.0 for r in map(_radius, _radii(node)))
    turn = (k0 + k1) / 2 * length
    along = points.get("PI")
    heading = _heading(end - start) - _chord_angle(k0, k1, length) if along is None else _heading(along - start)
    return Part(start, end, heading, heading + turn, length, k0, k1)


def _arc(node: Any, points: dict[str, FloatArray], side: float, unit: float, name: str) -> Part:
    start, end, centre = points["Start"], points["End"], points.get("Center")
    if centre is None:
        raise DesignInputError("file", f"A curve of “{name}” has no centre.")
    if node.get("crvType", "arc") != "arc":
        raise DesignInputError(
            "file", f"A curve of “{name}” is of type “{node.get('crvType')}”: only arcs can be read."
        )
    radius = float(node.get("radius", "nan")) * unit
    if not np.isfinite(radius):
        radius = float(np.hypot(*(start - centre)))
    heading = _heading(start - centre) + side * np.pi / 2
    turn = side * ((side * (_heading(end - centre) - _heading(start - centre))) % (2 * np.pi))
    return Part(start, end, heading, heading + turn, abs(turn) * radius, side / radius, side / radius)


def look(file: BinaryIO, _layout: object = None) -> list[Alignment]:
    """Alignments are few: they are read whole to look at them."""
    return read(file)


def _chord_angle(k0: float, k1: float, length: float) -> float:
    """Direction of a clothoid's chord against its start, by Simpson's rule on its direction (its ends turn little)."""
    s = np.linspace(0, length, 201)
    angle = k0 * s + (k1 - k0) / length * s**2 / 2
    return float(np.arctan2(np.trapezoid(np.sin(angle), s), np.trapezoid(np.cos(angle), s)))


def _radii(node: Any) -> tuple[str, str]:
    return node.get("radiusStart", "INF"), node.get("radiusEnd", "INF")


def _radius(text: str) -> float:
    return np.inf if text.strip().upper() == "INF" else float(text)


def _place(node: Any, unit: float) -> FloatArray:
    """Easting and northing; LandXML writes northing first."""
    northing, easting, *_ = map(float, node.text.split())
    if not abs(northing) + abs(easting) < _FURTHEST:
        raise ValueError(f"a place at {node.text.strip()[:60]}")
    return np.array([easting, northing]) * unit


def _heading(v: FloatArray) -> float:
    return float(np.arctan2(v[1], v[0]))


# Writing


@dataclass(frozen=True)
class Written:
    """One alignment to be written: its name, its line, its grade lines by name, and what is written along it."""

    name: str
    line: Centreline
    grade_lines: tuple[tuple[str, GradeLine], ...] = ()
    stations: Stations = field(default_factory=lambda: Stations(()))


def write(roads: Iterable[Written]) -> bytes:
    """A file of alignments, their grade lines as profiles; lengths in metres, directions in degrees from north.

    Source: LandXML 1.2, elements Alignment, CoordGeom, Profile.
    """
    Plain.register_namespace("", NAMESPACE)
    root = Plain.Element(f"{{{NAMESPACE}}}LandXML", {"version": "1.2", "language": "English", "readOnly": "false"})
    units = _sub(root, "Units")
    _sub(
        units,
        "Metric",
        areaUnit="squareMeter",
        linearUnit="meter",
        volumeUnit="cubicMeter",
        temperatureUnit="celsius",
        pressureUnit="HPA",
        angularUnit="decimal degrees",
        directionUnit="decimal degrees",
    )
    _sub(root, "Application", name="Delgrun")
    alignments = _sub(root, "Alignments")
    for road in roads:
        line = road.line
        own = {"name": road.name, "length": _n(line.length_m), "staStart": _n(line.start_chainage_m)}
        alignment = _sub(alignments, "Alignment", **own)
        _geometry(_sub(alignment, "CoordGeom"), line)
        for k, at in enumerate(road.stations.at.tolist()):
            ahead, back = road.stations.written(at), road.stations.back(k)
            _sub(alignment, "StaEquation", staAhead=_n(ahead), staBack=_n(back), staInternal=_n(at), desc="")
        for name, grade_line in road.grade_lines:
            _profile(_sub(_sub(alignment, "Profile", name=name), "ProfAlign", name=name), grade_line)
    Plain.indent(root)
    out: bytes = Plain.tostring(root, encoding="utf-8", xml_declaration=True)
    return out


def _profile(out: Any, grade_line: GradeLine) -> None:
    for i, ip in enumerate(grade_line.ips):
        at = f"{_n(ip.chainage_m)} {_n(ip.level_m)}"
        length = ip.curve_length_m
        if length > 0 and grade_line.radius_m[i] > 0:
            _sub(out, "CircCurve", length=_n(length), radius=_n(float(grade_line.radius_m[i]))).text = at
        elif length > 0 and ip.in_share is not None:
            before = length * ip.in_share
            _sub(out, "UnsymParaCurve", lengthIn=_n(before), lengthOut=_n(length - before)).text = at
        elif length > 0:
            _sub(out, "ParaCurve", length=_n(length)).text = at
        else:
            _sub(out, "PVI").text = at


def _geometry(out: Any, line: Centreline) -> None:
    ends = np.array([e.from_chainage_m for e in line.elements] + [line.end_chainage_m])
    at = line.line.at(ends)
    bearing = np.degrees(bearing_of(at.direction))
    places = np.column_stack([at.easting_m, at.northing_m])
    for i, e in enumerate(line.elements):
        start, end = places[i], places[i + 1]
        common = {"staStart": _n(e.from_chainage_m), "length": _n(e.length_m)}
        if e.kind == "tangent":
            node = _sub(out, _STRAIGHT, dir=_n(bearing[i]), **common)
            _ends(node, [("Start", start), ("End", end)])
            continue
        common |= {"rot": "ccw" if e.curvature + e.to_curvature > 0 else "cw"}
        common |= {"dirStart": _n(bearing[i]), "dirEnd": _n(bearing[i + 1])}
        meet = _meeting(start, e.direction, end, float(at.direction[i + 1]))
        if e.kind == "arc":
            node = _sub(out, _ARC, crvType="arc", radius=_n(1 / abs(e.curvature)), **common)
            left = np.array([-np.sin(e.direction), np.cos(e.direction)])
            _ends(node, [("Start", start), ("Center", start + left / e.curvature), ("End", end), ("PI", meet)])
        else:
            radii = {
                "radiusStart": _n(1 / abs(e.curvature)) if e.curvature else "INF",
                "radiusEnd": _n(1 / abs(e.to_curvature)) if e.to_curvature else "INF",
            }
            node = _sub(out, _SPIRAL, spiType="clothoid", **radii, **common)
            _ends(node, [("Start", start), ("PI", meet), ("End", end)])


def _meeting(start: FloatArray, heading: float, end: FloatArray, to_heading: float) -> FloatArray | None:
    """Where the tangents at both ends meet; None where they are parallel."""
    a = np.array([np.cos(heading), np.sin(heading)])
    b = np.array([np.cos(to_heading), np.sin(to_heading)])
    across = a[0] * b[1] - a[1] * b[0]
    if abs(across) < 1e-12:
        return None
    gap = end - start
    at: FloatArray = start + a * (gap[0] * b[1] - gap[1] * b[0]) / across
    return at


def _ends(node: Any, places: list[tuple[str, FloatArray | None]]) -> None:
    for tag, place in places:
        if place is not None:
            _sub(node, tag).text = f"{_n(place[1])} {_n(place[0])}"


def _sub(node: Any, tag: str, **attributes: str) -> Any:
    # A name that was kept by an earlier version may hold what no XML can.
    plain = {name: one_line(text) for name, text in attributes.items()}
    return Plain.SubElement(node, f"{{{NAMESPACE}}}{tag}", plain)


def _n(value: float) -> str:
    """A number with all its digits."""
    return repr(float(value))
