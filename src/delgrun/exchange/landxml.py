"""LandXML: a survey, alignments, lines of plan features and alignments, and profiles."""

from collections.abc import Iterator
from typing import Any, BinaryIO

import numpy as np

from delgrun.exchange.contents import Contents, Drawn
from delgrun.exchange.landxml_alignments import alignments
from delgrun.exchange.landxml_file import in_metres, plain_tag
from delgrun.exchange.landxml_profiles import profiles
from delgrun.exchange.landxml_survey import survey


def contents(file: BinaryIO) -> Contents:
    """Whatever a LandXML file holds that is taken up anywhere."""
    data = file.read()
    return Contents(
        survey=lambda how: survey(data, how),
        lines=lambda: list(_lines(data)),
        alignments=lambda: alignments(data),
        profiles=lambda: profiles(data),
    )


def _lines(data: bytes) -> Iterator[Drawn]:
    """Irregular lines, and lines of straights, of alignments and plan features."""
    for number, (_, node, unit) in enumerate(in_metres(data, "Alignment", "PlanFeature"), 1):
        xyz = np.array([p for part in node.iter() for p in _vertices(part)], dtype=np.float64).reshape(-1, 3) * unit
        name = (node.get("name") or f"line {number}")[:60]
        yield Drawn(name, xyz[:, :2], None if np.isnan(xyz[:, 2]).any() else xyz)


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
