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
from delgrun.exchange.text_columns import UNITS, lines_of, unsaid_unit

FloatArray = NDArray[np.float64]

# Coordinates beyond are none. [m]
_FURTHEST_M = 1e8
# Files hold no more lines than anybody would choose from; the longest are kept.
_MOST_LINES = 50


@dataclass(frozen=True)
class Polyline:
    """(n, 2) easting and northing of a line's vertices, with a name to choose it by. [m]"""

    name: str
    plan: FloatArray

    @property
    def length_m(self) -> float:
        return float(np.hypot(*np.diff(self.plan, axis=0).T).sum())


def text(file: BinaryIO, _layout: object = None, _how: object = None) -> list[Polyline]:
    """One vertex a line, easting and northing."""
    places = read_centreline(lines_of(file.read()))
    return _kept([Polyline("table", np.array([(p.easting_m, p.northing_m) for p in places]).reshape(-1, 2))])


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
    return _kept([replace(line, plan=line.plan * UNITS[unsaid_unit()]) for line in found])


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
    return [Polyline(name, np.array([[p[0], p[1]] for p in part], dtype=np.float64).reshape(-1, 2)) for part in parts]


def dxf(file: BinaryIO, _layout: object = None, _how: object = None) -> list[Polyline]:
    """Polylines and chains of lines, by layer; arcs within them as points on them."""
    from delgrun.exchange.dxf import polylines_of

    return _kept([Polyline(name, plan) for name, plan in polylines_of(file.read())])


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
                    plan = [p for part in node.iter() for p in _vertices(part)]
                    name = (node.get("name") or f"line {len(found) + 1}")[:60]
                    found.append(Polyline(name, np.array(plan, dtype=np.float64).reshape(-1, 2) * unit))
                    node.clear()
    return _kept(found)


def _vertices(part: Any) -> list[tuple[float, float]]:
    """Easting and northing of a list of points, or of a straight's ends; LandXML writes northing first."""
    tag = plain_tag(part.tag)
    by = {"PntList2D": 2, "PntList3D": 3}.get(tag)
    if by:
        numbers = [float(t) for t in (part.text or "").split()]
        return list(zip(numbers[1::by], numbers[0::by], strict=True))
    if tag in ("Start", "End") and part.text and part.text.strip():
        northing, easting, *_ = map(float, part.text.split())
        return [(easting, northing)]
    return []


def _kept(found: list[Polyline]) -> list[Polyline]:
    """Lines of two vertices or more, the longest first."""
    for line in found:
        if not (np.isfinite(line.plan).all() and np.abs(line.plan).max(initial=0.0) < _FURTHEST_M):
            raise DesignInputError("file", f"“{line.name}” has a vertex that is no place on a grid.")
    lines = sorted((line for line in found if len(line.plan) > 1), key=lambda line: -line.length_m)
    if not lines:
        raise DesignInputError("file", "The file holds no line: a polyline, or a table of easting and northing.")
    return lines[:_MOST_LINES]
