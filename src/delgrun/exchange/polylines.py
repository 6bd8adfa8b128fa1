"""Lines without bends of their own: vertices of DXF, GeoJSON, LandXML and text, for a centreline to be fitted to."""

import io
import json
from dataclasses import dataclass, replace
from typing import Any, BinaryIO

import numpy as np
from defusedxml import ElementTree
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.exchange.centreline_text import read_centreline
from delgrun.exchange.landxml_file import in_words, plain_tag, unit_of
from delgrun.exchange.text_columns import LINE_WORDS, UNITS, data_rows, detect, lines_of, parse_number, unsaid_unit

FloatArray = NDArray[np.float64]

# Coordinates beyond are none. [m]
_FURTHEST_M = 1e8
# Files hold no more lines than anybody would choose from; the longest are kept.
_MOST_LINES = 50
# Vertices of one line in two looks at its drawing are at one place. [m]
_SAME_M = 1e-6


@dataclass(frozen=True)
class Polyline:
    """(n, 2) easting and northing of a line's vertices, with a name to choose it by; (n,) their levels, where it is a
    line in space. [m]
    """

    name: str
    plan: FloatArray
    level: FloatArray | None = None

    @property
    def length_m(self) -> float:
        return float(np.hypot(*np.diff(self.plan, axis=0).T).sum())


def text(file: BinaryIO, _layout: object = None, _how: object = None) -> list[Polyline]:
    """One vertex a line, easting and northing, perhaps level."""
    lines = lines_of(file.read())
    places = read_centreline(lines)
    plan = np.array([(p.easting_m, p.northing_m) for p in places]).reshape(-1, 2)
    return _kept([Polyline("table", plan, _levels_of(lines, len(plan)))])


def _levels_of(lines: list[str], count: int) -> FloatArray | None:
    """The column of levels of a table; None where it has none, or not one for each row."""
    layout = detect(lines, LINE_WORDS)
    if layout.roles.count("level") != 1:
        return None
    at = layout.roles.index("level")
    try:
        said = [parse_number(cells[at], layout.decimal_comma) for _, cells in data_rows(lines, layout)]
    except (ValueError, IndexError):
        return None
    return np.array(said) * UNITS[layout.unit] if len(said) == count else None


def geojson(file: BinaryIO, _layout: object = None, _how: object = None) -> list[Polyline]:
    """LineStrings and MultiLineStrings on a projected grid; RFC 7946 itself means degrees, which are refused."""
    try:
        whole = json.loads(file.read())
        found = [line for k, f in enumerate(features_of(whole), 1) for line in _lines_of(f, k)]
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError) as e:
        raise DesignInputError("file", f"This is no GeoJSON that can be read: {e}.") from e
    if found and all(
        len(x.plan) and np.abs(x.plan[:, 0]).max() <= 360 and np.abs(x.plan[:, 1]).max() <= 90 for x in found
    ):
        raise DesignInputError("file", "These lines are in degrees: export them on the project's grid, and read that.")
    unit = UNITS[unsaid_unit()]
    return _kept([replace(x, plan=x.plan * unit, level=None if x.level is None else x.level * unit) for x in found])


def features_of(whole: Any) -> list[Any]:
    """The features of a GeoJSON, or itself where it is one."""
    kind = whole["type"]
    if kind == "FeatureCollection":
        return list(whole["features"])
    return [whole]


def _lines_of(feature: Any, number: int) -> list[Polyline]:
    geometry = feature["geometry"] if feature["type"] == "Feature" else feature
    properties = feature.get("properties") or {}
    name = str(properties.get("name") or properties.get("id") or f"line {number}")[:60]
    if geometry is None:
        return []
    if geometry["type"] == "LineString":
        parts = [geometry["coordinates"]]
    elif geometry["type"] == "MultiLineString":
        parts = geometry["coordinates"]
    else:
        return []
    out = []
    for part in parts:
        plan = np.array([[p[0], p[1]] for p in part], dtype=np.float64).reshape(-1, 2)
        level = np.array([p[2] for p in part], dtype=np.float64) if all(len(p) > 2 for p in part) else None
        out.append(Polyline(name, plan, level))
    return out


def dxf(file: BinaryIO, _layout: object = None, _how: object = None) -> list[Polyline]:
    """Polylines and chains of lines, by layer; arcs within them as points on them."""
    from delgrun.exchange.dxf import lines_in_space, polylines_of

    data = file.read()
    space = lines_in_space(data)

    def level(name: str, plan: FloatArray) -> FloatArray | None:
        """Of a line that is one of those in space, vertex for vertex."""
        for layer, xyz in space:
            if layer == name and len(xyz) == len(plan) and np.abs(xyz[:, :2] - plan).max() < _SAME_M:
                return np.asarray(xyz[:, 2])
        return None

    return _kept([Polyline(name, plan, level(name, plan)) for name, plan in polylines_of(data)])


def landxml(file: BinaryIO, _layout: object = None, _how: object = None) -> list[Polyline]:
    """Irregular lines, and lines of straights, of alignments and plan features."""
    unit = 1.0
    found: list[Polyline] = []
    with in_words():
        for _, node in ElementTree.iterparse(io.BytesIO(file.read()), events=("end",)):
            match plain_tag(node.tag):
                case "Metric" | "Imperial":
                    unit = unit_of(node)
                case "Alignment" | "PlanFeature":
                    xyz = np.array([p for part in node.iter() for p in _vertices(part)], dtype=np.float64)
                    xyz = xyz.reshape(-1, 3) * unit
                    name = (node.get("name") or f"line {len(found) + 1}")[:60]
                    level = None if np.isnan(xyz[:, 2]).any() else xyz[:, 2]
                    found.append(Polyline(name, xyz[:, :2], level))
                    node.clear()
    return _kept(found)


def _vertices(part: Any) -> list[tuple[float, float, float]]:
    """Easting, northing and level (NaN: none) of a list of points, or of a straight's ends; LandXML writes northing
    first.
    """
    tag = plain_tag(part.tag)
    by = {"PntList2D": 2, "PntList3D": 3}.get(tag)
    if by:
        numbers = [float(t) for t in (part.text or "").split()]
        levels = numbers[2::by] if by == 3 else [np.nan] * (len(numbers) // 2)
        return list(zip(numbers[1::by], numbers[0::by], levels, strict=True))
    if tag in ("Start", "End") and part.text and part.text.strip():
        northing, easting, *level = map(float, part.text.split())
        return [(easting, northing, level[0] if level else np.nan)]
    return []


def _rises(line: Polyline) -> bool:
    z = line.level
    return z is not None and bool(np.isfinite(z).all() and np.abs(z).max() < _FURTHEST_M and np.ptp(z) > 0)


def _kept(found: list[Polyline]) -> list[Polyline]:
    """Lines of two vertices or more, the longest first."""
    for line in found:
        if not (np.isfinite(line.plan).all() and np.abs(line.plan).max(initial=0.0) < _FURTHEST_M):
            raise DesignInputError("file", f"“{line.name}” has a vertex that is no place on a grid.")
    # Levels that are all alike are none: a drawing in plan lies at 0.
    lines = [line if _rises(line) else replace(line, level=None) for line in found if len(line.plan) > 1]
    lines.sort(key=lambda line: -line.length_m)
    if not lines:
        raise DesignInputError("file", "The file holds no line: a polyline, or a table of easting and northing.")
    return lines[:_MOST_LINES]
