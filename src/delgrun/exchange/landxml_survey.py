"""LandXML surveys: points, breaklines and surfaces."""

from dataclasses import replace
from typing import Any

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.outline import RingKind
from delgrun.exchange.contents import SurveyParts
from delgrun.exchange.crs import NOTHING, said
from delgrun.exchange.landxml_file import LINEAR_UNITS, elements, in_words, plain_tag
from delgrun.exchange.survey_parts import Found, Part
from delgrun.exchange.survey_text import Reading

_RINGS: dict[str, RingKind] = {"outer": "outer", "void": "hole", "island": "island"}


def _numbers(text: str | None, by: int) -> np.ndarray:  # type: ignore[type-arg]
    """(k, by) numbers of a list; LandXML writes northing, easting, level."""
    values = np.array((text or "").split(), dtype=np.float64)
    if len(values) % by:
        raise ValueError(f"{len(values)} numbers are no list of {by} each")
    return values.reshape(-1, by)


def _east_first(points: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
    return points[:, [1, 0, 2]]


def survey(data: bytes, how: Reading) -> SurveyParts:
    """Points with levels, and each surface's triangles, breaklines and boundaries."""
    loose = Found(Part("points", "points", 0, "points", ("points", "ignore")))
    out: list[Found] = [loose]
    xyz: list[list[float]] = []
    of = NOTHING
    unit, unknown, skipped, strange = "metre", "", 0, 0
    tags = "Metric", "Imperial", "CoordinateSystem", "CgPoint", "Surface"
    with in_words():
        for tag, element in elements(data, *tags, say=how.say):
            match tag:
                case "Metric" | "Imperial":
                    linear = element.get("linearUnit", "meter")
                    unit, unknown = LINEAR_UNITS.get(linear, "metre"), "" if linear in LINEAR_UNITS else linear
                case "CoordinateSystem":
                    code = element.get("epsgCode", "")
                    of = said(f"EPSG:{code}" if code.isdigit() else element.get("ogcWktCode"))
                    if of.degrees:
                        raise DesignInputError("file", f"This file is in degrees ({of.name}): convert it to a grid.")
                    of = replace(of, vertical=of.vertical or element.get("verticalDatum", "")[:200])
                case "CgPoint" if element.text and element.text.strip():
                    own = _numbers(element.text, len(element.text.split()))[0]
                    if len(own) == 3:
                        xyz.append([own[1], own[0], own[2]])
                        loose.names.append((element.get("name") or "")[:60])
                    else:
                        skipped += 1
                case "Surface":
                    out += _surface(element)
                    bounds = [b for b in element.iter() if plain_tag(b.tag) == "Boundary"]
                    strange += sum(b.get("bndType", "outer") not in _RINGS for b in bounds)
                    element.clear()
    if xyz:
        loose.points.append(np.array(xyz))
    p = loose.part
    out[0] = Found(Part(p.name, p.holds, len(xyz), p.role, p.roles), loose.points, names=loose.names)
    out = [f for f in out if f.part.count]
    if not out:
        raise DesignInputError("file", "The file holds no points with levels, no breaklines and no surface.")
    doubts = []
    if unknown:
        doubts.append(f"The file's unit “{unknown}” is not known here: its figures are read as metres.")
    if skipped:
        doubts.append(f"{skipped} points without a level are left out.")
    if strange:
        doubts.append(f"{strange} boundaries are of no known kind, and are not read: draw them on the map.")
    return SurveyParts(out, unit, doubts, of)


def _surface(element: Any) -> list[Found]:
    """A surface's triangles, its breaklines and its boundaries, as far as it has them."""
    name = (element.get("name") or "surface")[:50]
    points: dict[str, list[float]] = {}
    faces: list[list[list[float]]] = []
    lines = []
    rings: list[tuple[RingKind, np.ndarray]] = []  # type: ignore[type-arg]
    for part in element.iter():
        match plain_tag(part.tag):
            case "P" if part.text:
                own = _numbers(part.text, 3)[0]
                points[part.get("id", "")] = [own[1], own[0], own[2]]
            case "Breakline":
                for child in part:
                    if plain_tag(child.tag) == "PntList3D":
                        lines.append(_east_first(_numbers(child.text, 3)))
            case "Boundary":
                rings += _rings(part)
    for part in element.iter():
        # A face marked i="1" is no ground.
        if plain_tag(part.tag) == "F" and part.text and part.get("i") != "1":
            faces.append([points[k] for k in part.text.split()[:3]])
    out = []
    if faces:
        roles = Part(f"{name} (surface)", "triangles", len(faces), "surface", ("surface", "points", "ignore"))
        out.append(Found(roles, faces=[np.array(faces, dtype=np.float64)]))
    if lines:
        # A surface with triangles has its breaklines in them.
        role = Part(
            f"{name} (breaklines)", "breaklines", len(lines), "ignore" if faces else "breaklines",
            ("breaklines", "points", "ignore"),
        )  # fmt: skip
        out.append(Found(role, lines=[line for line in lines if len(line) > 1]))
    if rings:
        # A surface with triangles ends where they do.
        role = Part(
            f"{name} (boundaries)", "boundaries", len(rings), "ignore" if faces else "boundary", ("boundary", "ignore")
        )
        out.append(Found(role, rings=rings))
    return out


def _rings(boundary: Any) -> list[tuple[RingKind, np.ndarray]]:  # type: ignore[type-arg]
    """The rings of a boundary: outer, void (a hole), or an island within a void."""
    kind = _RINGS.get(boundary.get("bndType", "outer"))
    out = []
    for child in boundary:
        by = {"PntList2D": 2, "PntList3D": 3}.get(plain_tag(child.tag))
        if by and kind:
            corners = _numbers(child.text, by)[:, [1, 0]]
            if len(corners) > 1 and (corners[0] == corners[-1]).all():
                corners = corners[:-1]
            if len(corners) > 2:
                out.append((kind, corners))
    return out
