"""Lines without bends of their own: vertices of DXF, GeoJSON, LandXML and text, for a centreline to be fitted to."""

from dataclasses import dataclass, replace
from typing import BinaryIO

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.exchange.centreline_text import read_centreline
from delgrun.exchange.contents import Contents, in_plan
from delgrun.exchange.text_columns import LINE_WORDS, UNITS, data_rows, detect, lines_of, parse_number

FloatArray = NDArray[np.float64]

# Coordinates beyond are none. [m]
_FURTHEST_M = 1e8
# Files hold no more lines than anybody would choose from; the longest are kept.
_MOST_LINES = 50


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


def of(contents: Contents) -> list[Polyline]:
    """Lines in plan, and chains of them, arcs within them as points on them."""
    return _kept([Polyline(line.name, line.plan, line.level) for line in in_plan(contents.lines())])


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
