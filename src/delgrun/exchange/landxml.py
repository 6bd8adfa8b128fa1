"""LandXML: points, breaklines and surfaces."""

import io
from typing import Any, BinaryIO

import numpy as np
from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from delgrun.core.errors import DesignInputError
from delgrun.exchange.survey_parts import Chosen, Found, Part, joined, look_at
from delgrun.exchange.survey_text import PLAIN, Reading, SurveyLook, SurveyText

_SAY_EACH = 50_000
# linearUnit of the LandXML 1.2 schema.
_UNITS = {"meter": "metre", "foot": "foot", "USSurveyFoot": "us_survey_foot"}


def _plain(tag: str) -> str:
    return tag.rsplit("}", 1)[-1]


def _numbers(text: str | None, by: int) -> np.ndarray:  # type: ignore[type-arg]
    """(k, by) numbers of a list; LandXML writes northing, easting, level."""
    values = np.array((text or "").split(), dtype=np.float64)
    if len(values) % by:
        raise ValueError(f"{len(values)} numbers are no list of {by} each")
    return values.reshape(-1, by)


def _east_first(points: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
    return points[:, [1, 0, 2]]


def _found(data: bytes, how: Reading = PLAIN) -> tuple[list[Found], str, list[str]]:
    loose = Found(Part("points", "points", 0, "points", ("points", "ignore")))
    out: list[Found] = [loose]
    xyz: list[list[float]] = []
    unit, unknown, boundaries, skipped = "metre", "", 0, 0
    try:
        source = io.BytesIO(data)
        for number, (_, element) in enumerate(ElementTree.iterparse(source, events=("end",))):
            if number % _SAY_EACH == 0:
                how.say(source.tell() / len(data), number)
            match _plain(element.tag):
                case "Metric" | "Imperial":
                    said = element.get("linearUnit", "meter")
                    unit, unknown = _UNITS.get(said, "metre"), "" if said in _UNITS else said
                case "CgPoint" if element.text and element.text.strip():
                    own = _numbers(element.text, len(element.text.split()))[0]
                    if len(own) == 3:
                        xyz.append([own[1], own[0], own[2]])
                        loose.names.append((element.get("name") or "")[:60])
                    else:
                        skipped += 1
                case "Surface":
                    surface, lines, rims = _surface(element)
                    out += [f for f in (surface, lines) if f is not None]
                    boundaries += rims
                    element.clear()
    except DefusedXmlException as e:
        raise DesignInputError(
            "file", "The file defines entities of its own, which is not allowed: it was not read."
        ) from e
    except (ElementTree.ParseError, ValueError, IndexError, KeyError) as e:
        raise DesignInputError("file", f"This is no LandXML that can be read: {e}.") from e
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
    if boundaries:
        doubts.append(f"{boundaries} boundaries are not read: the longest outer edge bounds the ground.")
    return out, unit, doubts


def _surface(element: Any) -> tuple[Found | None, Found | None, int]:
    """A surface's triangles and its breaklines, and how many boundaries it has."""
    name = (element.get("name") or "surface")[:50]
    points: dict[str, list[float]] = {}
    faces: list[list[list[float]]] = []
    lines = []
    rims = 0
    for part in element.iter():
        match _plain(part.tag):
            case "P" if part.text:
                own = _numbers(part.text, 3)[0]
                points[part.get("id", "")] = [own[1], own[0], own[2]]
            case "Breakline":
                for child in part:
                    if _plain(child.tag) == "PntList3D":
                        lines.append(_east_first(_numbers(child.text, 3)))
            case "Boundary":
                rims += 1
    for part in element.iter():
        # A face marked i="1" is no ground.
        if _plain(part.tag) == "F" and part.text and part.get("i") != "1":
            faces.append([points[k] for k in part.text.split()[:3]])
    found = strings = None
    if faces:
        roles = Part(f"{name} (surface)", "triangles", len(faces), "surface", ("surface", "points", "ignore"))
        found = Found(roles, faces=[np.array(faces, dtype=np.float64)])
    if lines:
        # A surface with triangles has its breaklines in them.
        role = Part(
            f"{name} (breaklines)", "breaklines", len(lines), "ignore" if faces else "breaklines",
            ("breaklines", "points", "ignore"),
        )  # fmt: skip
        strings = Found(role, lines=[line for line in lines if len(line) > 1])
    return found, strings, rims


def look(file: BinaryIO, chosen: Chosen | None) -> SurveyLook:
    """How a LandXML file reads, part by part."""
    found, unit, doubts = _found(file.read())
    return look_at(found, chosen, unit, doubts)


def read(file: BinaryIO, chosen: Chosen | None, how: Reading = PLAIN) -> SurveyText:
    """The survey of the chosen parts."""
    found, unit, _ = _found(file.read(), how)
    return joined(found, chosen or Chosen({}, unit), how.most)
