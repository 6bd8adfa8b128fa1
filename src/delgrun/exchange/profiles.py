"""Profiles of files: a table of chainage and level, polylines of a drawing, profiles of LandXML."""

import re
from dataclasses import dataclass
from typing import BinaryIO

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.ip import Ip
from delgrun.exchange.contents import Contents, in_space
from delgrun.exchange.text_columns import PROFILE_WORDS, UNITS, data_rows, detect, lines_of, parse_number

FloatArray = NDArray[np.float64]

# Figures beyond are none. [m]
_FURTHEST_M = 1e8
# Files hold no more profiles than anybody would choose from.
_MOST = 50
# 1+234.5 is kilometres and metres; 12+34.56, two digits behind the plus, hundreds of feet and feet.
_STATION = re.compile(r"(?<![\d.+])(\d+)\+(\d{2,3})(?=[.,;\s|]|$)")


@dataclass(frozen=True)
class Profile:
    """One profile as a file gives it: IPs with curves (`ips`), or points of chainage and level (n, 2), or points of a
    line in space (n, 3) whose chainages are still to be found. [m]
    """

    name: str
    ips: tuple[Ip, ...] = ()
    points: FloatArray | None = None
    places: FloatArray | None = None
    # What a table's numbers were taken for, one of `UNITS`, and why; None where the file is no table.
    unit: str | None = None
    why: str = ""


def text(file: BinaryIO, unit: object = None, _how: object = None) -> list[Profile]:
    """One row a point: chainage and level, perhaps the length of a vertical curve there.

    `unit`: one of `UNITS`, where it is said; else the headings say it, or how stations are written, or the project.

    Raises
    ------
    DesignInputError
        A line that cannot be read, named: the table is short, so that it is taken whole or not at all.
    """
    written = lines_of(file.read())
    lines = [_STATION.sub(_plain_station, line) for line in written]
    layout = detect(lines, PROFILE_WORDS)
    # Stations of a hundred are of feet, also where nothing else says so.
    hundreds = any(len(found[2]) == 2 for line in written for found in _STATION.finditer(line))
    taken, why = layout.unit, "as the headings or the project have it"
    if isinstance(unit, str):
        taken, why = unit, "as you chose"
    elif hundreds and taken == "metre":
        taken, why = "foot", "stations as 12+00 are of hundreds of feet"
    scale = UNITS[taken]
    rows: list[dict[str, float]] = []
    for number, cells in data_rows(lines, layout):
        row: dict[str, float] = {}
        for role, cell in zip(layout.roles, cells, strict=False):
            if role not in ("chainage", "level", "curve") or (role == "curve" and not cell):
                continue
            try:
                row[role] = parse_number(cell, layout.decimal_comma) * scale
            except ValueError as e:
                raise DesignInputError(
                    role, f"Line {number}: {role} “{cell}” is not a number. Nothing was read: mend it, try again."
                ) from e
        if not {"chainage", "level"} <= row.keys():
            raise DesignInputError("roles", f"Line {number} has no chainage and level.")
        rows.append(row)
    points = np.array([(row["chainage"], row["level"]) for row in rows]).reshape(-1, 2)
    if any(row.get("curve") for row in rows):
        ips = tuple(
            Ip(chainage_m=row["chainage"], level_m=row["level"], curve_length_m=row.get("curve", 0.0)) for row in rows
        )
        return [Profile("table", ips=ips, unit=taken, why=why)]
    return _kept([Profile("table", points=points, unit=taken, why=why)])


def _plain_station(found: re.Match[str]) -> str:
    whole, rest = found.groups()
    return str(int(whole) * 10 ** len(rest) + int(rest))


def of(contents: Contents) -> list[Profile]:
    """The profiles of a file; or its lines by layer: one whose level changes is a line in space, a flat one is drawn in
    profile.
    """
    return _kept(contents.profiles() or [_as_profile(name, xyz) for name, xyz in in_space(contents.lines())])


def _as_profile(layer: str, xyz: FloatArray) -> Profile:
    if np.ptp(xyz[:, 2]) > 0:
        return Profile(f"{layer} (in space)", places=xyz)
    return Profile(f"{layer} (in profile)", points=xyz[:, :2])


def _kept(found: list[Profile]) -> list[Profile]:
    """Profiles of at least two points whose figures can be meant; refused where there are none."""
    good = [p for p in found if len(p.ips) > 1 or any(a is not None and len(a) > 1 for a in (p.points, p.places))]
    for p in good:
        for a in (p.points, p.places):
            if a is not None and not (np.isfinite(a).all() and np.abs(a).max() < _FURTHEST_M):
                raise DesignInputError("file", f"“{p.name}” holds figures that are no places.")
    if not good:
        raise DesignInputError("file", "The file holds no profile: at least two points with chainage and level.")
    return good[:_MOST]
