"""Points of a centreline that are set out or looked up: ends and middles of its elements, IPs, its own ends."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Bend
from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.stations import Stations
from delgrun.core.units import say

FloatArray = NDArray[np.float64]


# A bend that turns by more is told: common practice, no source.
HIGH_DEFLECTION_DEG = 90.0


@dataclass(frozen=True)
class PlanPoint:
    """One point in plan. `bearing` is the direction of travel, clockwise from north [rad]; the radius (0: straight)
    is the one ahead of it, positive turning right; `length_m` that of the element ahead.
    """

    what: str
    chainage_m: float
    easting_m: float
    northing_m: float
    bearing: float
    radius_m: float
    length_m: float


def bearing_of(direction: FloatArray) -> FloatArray:
    """Bearings, clockwise from north in [0, 2 pi), of directions counter-clockwise from east. [rad]"""
    found: FloatArray = (np.pi / 2 - direction) % (2 * np.pi)
    return found


def critical_points(c: Centreline, written: Stations) -> list[PlanPoint]:
    """Where elements end, middles of bends, chainage equations, and the line's own ends, by chainage."""
    elements = c.elements
    rows: list[tuple[float, str, int]] = []
    for i, e in enumerate(elements):
        before = elements[i - 1].kind if i else ""
        rows.append((e.from_chainage_m, _meeting(before, e.kind), i))
    rows += [((b.from_chainage_m + b.to_chainage_m) / 2, _middle(k, b), -1) for k, b in enumerate(c.bends, 1)]
    rows.append((c.end_chainage_m, "end of line", -1))
    rows += [
        (s, say("chainage equation, {back:station} back", back=written.back(k)), -1)
        for k, s in enumerate(written.at.tolist())
        if c.start_chainage_m <= s <= c.end_chainage_m
    ]
    rows.sort(key=lambda row: row[0])
    s = np.array([r[0] for r in rows])
    at = c.line.at(s)
    bearing = bearing_of(at.direction)
    out = []
    for k, (chainage, what, i) in enumerate(rows):
        bent = float(at.curvature[k]) if i < 0 else elements[i].curvature or elements[i].to_curvature
        out.append(
            PlanPoint(
                what=what,
                chainage_m=chainage,
                easting_m=float(at.easting_m[k]),
                northing_m=float(at.northing_m[k]),
                bearing=float(bearing[k]),
                radius_m=-1 / bent if abs(bent) > 1e-12 else 0.0,
                length_m=elements[i].length_m if i >= 0 else 0.0,
            )
        )
    return out


def _middle(number: int, bend: Bend) -> str:
    degrees = float(np.degrees(abs(bend.deflection)))
    high = ", a high deflection" if degrees > HIGH_DEFLECTION_DEG else ""
    return f"middle of bend {number}, turns {degrees:.2f}° {'right' if bend.deflection > 0 else 'left'}{high}"


def _meeting(before: str, after: str) -> str:
    return f"{before} to {after}" if before else "start of line"
