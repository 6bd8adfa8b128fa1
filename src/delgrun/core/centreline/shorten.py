"""A centreline cut down to a stretch of itself, with nothing of its bends changed."""

import math
from dataclasses import replace

import numpy as np

from delgrun.core.centreline.centreline import CentrelineDesign, CentrelineIp, Element
from delgrun.core.errors import DesignInputError


def shortened(design: CentrelineDesign, from_m: float, to_m: float) -> CentrelineDesign:
    """The same centreline between two of its chainages; chainages stay what they are.

    An end within an arc keeps the arc's radius: its IP moves to where the tangent at the new end meets the arc's
    other tangent (two tangents of one arc are equally long; plane geometry).

    Raises
    ------
    DesignInputError
        The chainages do not rise, or lie outside the centreline.
    """
    line = design.made()
    if not line.start_chainage_m <= from_m < to_m <= line.end_chainage_m:
        raise DesignInputError(
            "centreline",
            "A centreline from {from_m:chainage} to {to_m:chainage} is no stretch of this one.",
            from_m=from_m,
            to_m=to_m,
        )
    elements = [e for e in line.elements if e.to_chainage_m > from_m and e.from_chainage_m < to_m]
    e, n = (v.tolist() for v in line.locate(np.array([from_m, to_m]))[:2])
    ips = [CentrelineIp(easting_m=e[0], northing_m=n[0])]
    for element in elements:
        if element.curvature:
            ips.append(_corner(element, max(from_m, element.from_chainage_m), min(to_m, element.to_chainage_m)))
    ips.append(CentrelineIp(easting_m=e[1], northing_m=n[1]))
    return replace(design, start_chainage_m=from_m, ips=tuple(ips))


def _corner(arc: Element, from_m: float, to_m: float) -> CentrelineIp:
    """The IP of what is left of an arc: a tangent's length ahead of where it begins."""
    radius = 1 / abs(arc.curvature)
    turn = (from_m - arc.from_chainage_m) * arc.curvature
    chord = (from_m - arc.from_chainage_m) * (math.sin(turn / 2) / (turn / 2) if turn else 1.0)
    begin_e = arc.easting_m + chord * math.cos(arc.direction + turn / 2)
    begin_n = arc.northing_m + chord * math.sin(arc.direction + turn / 2)
    ahead = radius * math.tan((to_m - from_m) / radius / 2)
    direction = arc.direction + turn
    return CentrelineIp(
        easting_m=begin_e + ahead * math.cos(direction),
        northing_m=begin_n + ahead * math.sin(direction),
        radius_m=radius,
    )
