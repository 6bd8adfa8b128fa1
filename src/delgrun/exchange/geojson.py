"""GeoJSON: line strings on a projected grid, with levels where their positions have a third number."""

import json
from collections.abc import Iterator
from typing import Any, BinaryIO

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.exchange.contents import Contents, Drawn
from delgrun.exchange.text_columns import UNITS, unsaid_unit


def contents(file: BinaryIO) -> Contents:
    """The lines of a GeoJSON."""
    data = file.read()
    return Contents(lines=lambda: _lines(data))


def _lines(data: bytes) -> list[Drawn]:
    """LineStrings and MultiLineStrings; RFC 7946 itself means degrees, which are refused."""
    try:
        found = [line for k, f in enumerate(_features_of(json.loads(data)), 1) for line in _lines_of(f, k)]
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError, IndexError) as e:
        raise DesignInputError("file", f"This is no GeoJSON that can be read: {e}.") from e
    if found and all(
        len(x.plan) and np.abs(x.plan[:, 0]).max() <= 360 and np.abs(x.plan[:, 1]).max() <= 90 for x in found
    ):
        raise DesignInputError("file", "These lines are in degrees: export them on the project's grid, and read that.")
    return found


def _features_of(whole: Any) -> list[Any]:
    """The features of a GeoJSON, or itself where it is one."""
    return list(whole["features"]) if whole["type"] == "FeatureCollection" else [whole]


def _lines_of(feature: Any, number: int) -> Iterator[Drawn]:
    geometry = feature["geometry"] if feature["type"] == "Feature" else feature
    properties = feature.get("properties") or {}
    name = str(properties.get("name") or properties.get("id") or f"line {number}")[:60]
    if geometry is None or geometry["type"] not in ("LineString", "MultiLineString"):
        return
    unit = UNITS[unsaid_unit()]
    for part in [geometry["coordinates"]] if geometry["type"] == "LineString" else geometry["coordinates"]:
        plan = np.array([[p[0], p[1]] for p in part], dtype=np.float64).reshape(-1, 2)
        xyz = np.array([p[:3] for p in part], dtype=np.float64) if all(len(p) > 2 for p in part) else None
        yield Drawn(name, plan * unit, None if xyz is None else xyz.reshape(-1, 3) * unit)
