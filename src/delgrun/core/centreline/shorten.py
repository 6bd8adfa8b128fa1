"""A centreline cut down to a stretch of itself, with nothing of its bends changed."""

import math
from dataclasses import replace

import numpy as np

from delgrun.core.centreline.centreline import Centreline, CentrelineDesign
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.line import Element
from delgrun.core.errors import DesignInputError

# What is left of an element is more than this. [m]
_NOTHING_M = 1e-6
_SHORTEST_M = 1.0


def shortened(design: CentrelineDesign, from_m: float, to_m: float) -> CentrelineDesign:
    """The same centreline between two of its chainages; chainages stay what they are.

    An end within an arc keeps the arc's radius: its IP moves to where the tangents at both ends of what is left meet.
    An end within a transition moves on to where the transition ends or begins: part of one is no bend of its own.

    Raises
    ------
    DesignInputError
        The chainages do not rise, or lie outside the centreline, or within one transition.
    """
    line = design.made()
    if not line.start_chainage_m <= from_m < to_m <= line.end_chainage_m:
        raise DesignInputError(
            "centreline",
            "A centreline from {from_m:chainage} to {to_m:chainage} is no stretch of this one.",
            from_m=from_m,
            to_m=to_m,
        )
    transitions = [x for x in line.elements if x.kind == "transition"]
    for x in transitions:
        if x.from_chainage_m < from_m < x.to_chainage_m or (
            abs(from_m - x.from_chainage_m) < _NOTHING_M and x.curvature
        ):
            from_m = x.to_chainage_m
    for x in reversed(transitions):
        if x.from_chainage_m < to_m < x.to_chainage_m or (abs(to_m - x.to_chainage_m) < _NOTHING_M and x.to_curvature):
            to_m = x.from_chainage_m
    if to_m - from_m < _SHORTEST_M:
        raise DesignInputError(
            "centreline",
            "The ground ends within a transition, and nothing of the centreline would be left: move its ends by hand.",
        )
    e, n = (v.tolist() for v in line.locate(np.array([from_m, to_m]))[:2])
    ips = [CentrelineIp(easting_m=e[0], northing_m=n[0])]
    for bend in line.bends:
        first, last = max(bend.from_chainage_m, from_m), min(bend.to_chainage_m, to_m)
        own = [
            x for x in line.elements if x.from_chainage_m < last - _NOTHING_M and x.to_chainage_m > first + _NOTHING_M
        ]
        if own:
            ips.append(_corner(line, own, first, last, bend.radius_m))
    ips.append(CentrelineIp(easting_m=e[1], northing_m=n[1]))
    return replace(design, start_chainage_m=from_m, ips=tuple(ips))


def _corner(line: Centreline, own: list[Element], from_m: float, to_m: float, radius_m: float) -> CentrelineIp:
    """The IP of what is left of a bend: where the tangents at its ends meet."""
    (e0, e1), (n0, n1), (d0, d1) = (v.tolist() for v in line.locate(np.array([from_m, to_m])))
    ahead = ((e1 - e0) * math.sin(d1) - (n1 - n0) * math.cos(d1)) / math.sin(d1 - d0)
    return CentrelineIp(
        easting_m=e0 + ahead * math.cos(d0),
        northing_m=n0 + ahead * math.sin(d0),
        radius_m=radius_m,
        transition_in_m=own[0].length_m if own[0].kind == "transition" else 0.0,
        transition_out_m=own[-1].length_m if own[-1].kind == "transition" and len(own) > 1 else 0.0,
    )
