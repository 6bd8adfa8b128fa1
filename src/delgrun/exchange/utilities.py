"""Buried and overhead utilities of files: vertices with levels, in tables, drawings and GeoJSON."""

from dataclasses import dataclass
from typing import BinaryIO

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.exchange.contents import Contents, in_space
from delgrun.exchange.text_columns import UNITS, UTILITY_WORDS, data_rows, detect, lines_of, parse_number

FloatArray = NDArray[np.float64]
_FURTHEST_M = 1e8
_MOST = 200


@dataclass(frozen=True)
class UtilityLine:
    """(k, 3) easting, northing and level of a utility's vertices, with its name. [m]"""

    name: str
    xyz: FloatArray


def text(file: BinaryIO, _layout: object = None, _how: object = None) -> list[UtilityLine]:
    """One vertex a line: easting, northing, level, and the utility's name where there are several."""
    lines = lines_of(file.read())
    layout = detect(lines, UTILITY_WORDS)
    unit = UNITS[layout.unit]
    found: dict[str, list[tuple[float, ...]]] = {}
    for number, cells in data_rows(lines, layout):
        said = dict(zip(layout.roles, cells, strict=False))
        try:
            place = tuple(
                parse_number(said[role], layout.decimal_comma) * unit for role in ("easting", "northing", "level")
            )
        except KeyError as e:
            raise DesignInputError("roles", f"Line {number} has no easting, northing and level.") from e
        except ValueError as e:
            raise DesignInputError("file", f"Line {number} holds a figure that is no number. Nothing was read.") from e
        found.setdefault(said.get("name", "").strip()[:60] or "utility", []).append(place)
    return _kept([UtilityLine(name, np.array(places)) for name, places in found.items()])


def of(contents: Contents) -> list[UtilityLine]:
    """Lines in space, each a utility named by its layer or its own name."""
    return _kept([UtilityLine(name, xyz) for name, xyz in in_space(contents.lines())])


def _kept(found: list[UtilityLine]) -> list[UtilityLine]:
    """Lines of two vertices or more, those of one name told apart; refused where there are none."""
    lines = [line for line in found if len(line.xyz) > 1]
    for line in lines:
        if not (np.isfinite(line.xyz).all() and np.abs(line.xyz).max() < _FURTHEST_M):
            raise DesignInputError("file", f"“{line.name}” has a vertex that is no place.")
    if not lines:
        raise DesignInputError("file", "The file holds no utility: a line of at least two vertices with levels.")
    out: list[UtilityLine] = []
    for line in lines[:_MOST]:
        same = sum(other.name.split(" (")[0] == line.name for other in out)
        out.append(UtilityLine(f"{line.name[:54]} ({same + 1})" if same else line.name, line.xyz))
    return out
