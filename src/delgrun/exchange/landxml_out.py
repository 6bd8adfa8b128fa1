"""LandXML out: alignments with their grade lines as profiles, and the ground as a surface.

Source: LandXML 1.2, elements Alignment, CoordGeom, Profile, Surface.
"""

import io
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any
from xml.etree import ElementTree as Plain

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.points import bearing_of
from delgrun.core.centreline.stations import Stations
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.tin import Tin
from delgrun.core.units import one_line
from delgrun.exchange.landxml_file import ARC, NAMESPACE, SPIRAL, STRAIGHT

FloatArray = NDArray[np.float64]


@dataclass(frozen=True)
class Written:
    """One alignment to be written: its name, its line, its grade lines by name, and what is written along it."""

    name: str
    line: Centreline
    grade_lines: tuple[tuple[str, GradeLine], ...] = ()
    stations: Stations = field(default_factory=lambda: Stations(()))


def _root() -> Any:
    """A file in metres, directions in degrees from north."""
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
    return root


def alignments(roads: Iterable[Written]) -> bytes:
    """A file of alignments, their grade lines as profiles."""
    root = _root()
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
            node = _sub(out, STRAIGHT, dir=_n(bearing[i]), **common)
            _ends(node, [("Start", start), ("End", end)])
            continue
        common |= {"rot": "ccw" if e.curvature + e.to_curvature > 0 else "cw"}
        common |= {"dirStart": _n(bearing[i]), "dirEnd": _n(bearing[i + 1])}
        meet = _meeting(start, e.direction, end, float(at.direction[i + 1]))
        if e.kind == "arc":
            node = _sub(out, ARC, crvType="arc", radius=_n(1 / abs(e.curvature)), **common)
            left = np.array([-np.sin(e.direction), np.cos(e.direction)])
            _ends(node, [("Start", start), ("Center", start + left / e.curvature), ("End", end), ("PI", meet)])
        else:
            radii = {
                "radiusStart": _n(1 / abs(e.curvature)) if e.curvature else "INF",
                "radiusEnd": _n(1 / abs(e.to_curvature)) if e.to_curvature else "INF",
            }
            node = _sub(out, SPIRAL, spiType="clothoid", **radii, **common)
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


# Points and triangles are written so many at a time.
_PIECE = 50_000


def surface(name: str, tin: Tin) -> bytes:
    """A file of the ground's points and triangles; places and levels to a tenth of a millimetre."""
    root = _root()
    place = _sub(_sub(root, "Surfaces"), "Surface", name=name)
    low, high = (float(f(tin.xyz[:, 2])) for f in (np.min, np.max))
    definition = _sub(place, "Definition", surfType="TIN", elevMin=_n(low), elevMax=_n(high))
    mark = "POINTS AND FACES"
    definition.text = mark
    whole: bytes = Plain.tostring(root, encoding="utf-8", xml_declaration=True)
    before, after = whole.split(mark.encode())
    out = io.BytesIO()
    out.write(before)
    for text in (*_points(tin.xyz), *_faces(tin.triangles)):
        out.write(text.encode())
    out.write(after)
    return out.getvalue()


def _points(xyz: FloatArray) -> Iterator[str]:
    yield "\n<Pnts>\n"
    for k in range(0, len(xyz), _PIECE):
        rows = zip(range(k + 1, len(xyz) + 1), xyz[k : k + _PIECE].tolist(), strict=False)
        yield "".join(f'<P id="{i}">{n:.4f} {e:.4f} {z:.4f}</P>\n' for i, (e, n, z) in rows)
    yield "</Pnts>\n"


def _faces(triangles: NDArray[np.integer[Any]]) -> Iterator[str]:
    yield "<Faces>\n"
    for k in range(0, len(triangles), _PIECE):
        yield "".join(f"<F>{a} {b} {c}</F>\n" for a, b, c in (triangles[k : k + _PIECE] + 1).tolist())
    yield "</Faces>\n"
