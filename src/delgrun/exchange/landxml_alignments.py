"""LandXML alignments: tangents, arcs and clothoids, as IPs."""

from dataclasses import replace
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.parts import Part, ips_of
from delgrun.core.errors import DesignInputError
from delgrun.exchange.alignments import Alignment, checked
from delgrun.exchange.landxml_file import ARC, SPIRAL, STRAIGHT, in_metres, in_words, plain_tag

FloatArray = NDArray[np.float64]

# Coordinates beyond are none.
_FURTHEST = 1e9


def alignments(data: bytes) -> list[Alignment]:
    """All alignments of a file as IPs, each with how far it lies from what the file says.

    Raises
    ------
    DesignInputError
        No LandXML, no alignment in it, or one that IPs can't say; it names the element.
    """
    found: list[Alignment] = []
    with in_words():
        for _, node, unit in in_metres(data, "Alignment"):
            found.append(_alignment(node, unit, len(found) + 1))
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
    if kind not in (STRAIGHT, ARC, SPIRAL) or "Start" not in points or "End" not in points:
        raise DesignInputError(
            "file", f"The alignment “{name}” has an element “{kind}” that is no line, curve or spiral with both ends."
        )
    start, end = points["Start"], points["End"]
    if kind == STRAIGHT:
        heading = _heading(end - start)
        return Part(start, end, heading, heading, float(np.hypot(*(end - start))), 0.0, 0.0)
    side = {"ccw": 1.0, "cw": -1.0}.get(node.get("rot", ""))
    if side is None:
        raise DesignInputError("file", f"A {kind.lower()} of “{name}” does not say which way it turns (rot).")
    if kind == ARC:
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
