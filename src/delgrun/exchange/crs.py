"""Coordinate systems as files name them, by the database that ships with pyproj."""

import re
from dataclasses import dataclass
from functools import cache
from typing import Any


@dataclass(frozen=True)
class Said:
    """What a file says of its coordinates: code and name of its grid, its levels' datum, its unit; empty: nothing."""

    crs: str = ""
    name: str = ""
    vertical: str = ""
    unit: str = "metre"
    degrees: bool = False


NOTHING = Said()
# A code, or well-known text. Source: OGC 18-010r11, and its predecessor 01-009.
_PLAIN = re.compile(
    r"\s*(EPSG:\d{1,9}\s*\Z|(PROJ|GEOG|GEOC|COMPD_|VERT_|LOCAL_)CS\s*[\[(]"
    r"|(PROJ|GEOG|GEOD|COMPOUND|VERT|ENG|BOUND)CRS\s*[\[(]|(PROJECTED|GEODETIC|GEOGRAPHIC|VERTICAL)CRS\s*[\[(])",
    re.IGNORECASE,
)


def said(of: Any) -> Said:
    """What a coordinate system is: of anything that names one; nothing where it names none that is known."""
    # A quarter of a second to import, and wanted by few files.
    from pyproj import CRS
    from pyproj.exceptions import CRSError

    # The library takes many texts for a path to a file, or for a grid of shifts to be fetched.
    if not of or (isinstance(of, str) and not _PLAIN.match(of)):
        return NOTHING
    try:
        whole = CRS.from_user_input(of)
    except CRSError:
        return NOTHING
    parts = whole.sub_crs_list or [whole]
    plan = next((p for p in parts if not p.is_vertical), None)
    up = next((p for p in parts if p.is_vertical), None)
    if plan is None:
        return Said(vertical=up.name if up else "")
    number = plan.to_epsg()
    axis = plan.axis_info[0] if plan.axis_info else None
    unit = "metre"
    if axis and abs(axis.unit_conversion_factor - 1) > 1e-9:
        unit = "us_survey_foot" if "survey" in axis.unit_name.lower() else "foot"
    code = f"EPSG:{number}" if number else plan.name
    return Said(code, plan.name, up.name if up else "", unit, plan.is_geographic)


@cache
def _all_of(kind: str) -> tuple[tuple[str, str], ...]:
    from pyproj.database import query_crs_info
    from pyproj.enums import PJType

    found = query_crs_info(auth_name="EPSG", pj_types=[PJType[kind]])
    # Some stand there twice.
    return tuple({f"EPSG:{c.code}": c.name for c in found if not c.deprecated}.items())


def known(text: str, vertical: bool = False, most: int = 20) -> list[tuple[str, str]]:
    """Codes and names of the projected systems (or of the vertical ones) that hold all words of a text."""
    words = text.lower().split()
    every = _all_of("VERTICAL_CRS" if vertical else "PROJECTED_CRS")
    found = [
        (code, name)
        for code, name in every
        if all(w in name.lower() or w in (code.lower(), code.lower().partition(":")[2]) for w in words)
    ]
    return sorted(found, key=lambda f: (len(f[1]), f[0]))[:most]
