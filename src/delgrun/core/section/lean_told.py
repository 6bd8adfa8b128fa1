"""What is to be said of how a road leans: where it turns too quickly, leans too much or the wrong way."""

from dataclasses import dataclass

import numpy as np

from delgrun.core.centreline.superelevation import Diagram, Segment
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.units import say

# Rounding is no failure. [ratio]
_NONE = 1e-6


@dataclass(frozen=True)
class Told:
    """A stretch [m] that has a value against a limit [ratios], and words for what it is about."""

    from_m: float
    to_m: float
    value: float
    limit: float
    about: str


def _diagram(design: RoadDesign) -> Diagram:
    assert design.diagram is not None
    return design.diagram


def _of_bend(design: RoadDesign, g: Segment) -> str:
    line = design.centreline
    bend = None if line is None else next((b for b in line.bends if b.ip == g.ip), None)
    if bend is None:
        return "on the way to a bend"
    side = "right" if bend.deflection > 0 else "left"
    return say(f"at the bend to the {side} of R {{r:about}}", r=bend.radius_m)


def too_quick(design: RoadDesign) -> list[Told]:
    """Where the lanes' edge turns against the axis by more than it may at the speed there."""
    d = _diagram(design)
    out = []
    for g in d.segments:
        rate = abs(g.to_bank - g.from_bank) * g.turned_m / (g.to_m - g.from_m)
        if rate > g.relative + _NONE and not _replaced(d, g):
            out.append(Told(g.from_m, g.to_m, rate, g.relative, _of_bend(design, g)))
    for row in d.own:
        change = max(abs(row.left_to - row.left_from), abs(row.right_to - row.right_from))
        rate = change * d.turned_m / (row.to_m - row.from_m)
        if d.turned_m and rate > d.relative + _NONE:
            out.append(Told(row.from_m, row.to_m, rate, d.relative, "by falls of your own"))
    for at, jump in _jumps(d, design):
        out.append(Told(at, at, jump, 0.0, "where falls of your own end"))
    return out


def _jumps(d: Diagram, design: RoadDesign) -> list[tuple[float, float]]:
    """Chainages at which falls jump, and by how much."""
    found = []
    if d.steps:
        at = np.repeat(np.array(d.steps), 2) + np.tile([-1e-6, 0.0], len(d.steps))
        falls = design.lane_falls(at)
        for k, s in enumerate(d.steps):
            jump = float(np.abs(falls[2 * k + 1] - falls[2 * k]).max())
            if jump > 1e-4:
                found.append((s, jump))
    return found


def _replaced(d: Diagram, g: Segment) -> bool:
    return any(row.from_m <= g.from_m and g.to_m <= row.to_m for row in d.own)


def too_steep(design: RoadDesign) -> list[Told]:
    """Where lanes lean by more than the steepest superelevation."""
    d = _diagram(design)
    out = []
    for g in d.segments:
        if max(abs(g.from_bank), abs(g.to_bank)) > d.steepest + _NONE and g.from_bank == g.to_bank:
            out.append(Told(g.from_m, g.to_m, abs(g.from_bank), d.steepest, "Lanes"))
    for row in d.own:
        most = max(map(abs, (row.left_from, row.left_to, row.right_from, row.right_to)))
        if most > d.steepest + _NONE:
            out.append(Told(row.from_m, row.to_m, most, d.steepest, "Lanes, as typed,"))
    return out


def adverse(design: RoadDesign) -> list[Told]:
    """Bends whose outer lanes fall outwards though they are too tight to keep the crown."""
    d, line = _diagram(design), design.centreline
    if line is None:
        return []
    out = []
    kept = d.settings.crown_kept_m
    for b in line.bends:
        arc = b.from_chainage_m + b.transition_in_m, b.to_chainage_m - b.transition_out_m
        if kept is not None and b.radius_m >= kept:
            continue
        at = np.linspace(*arc, 21)[1:-1]
        outer = design.lane_falls(at)[:, 0 if b.deflection > 0 else 1]
        if outer.min() > _NONE:
            side = "right" if b.deflection > 0 else "left"
            words = say(f"The outer lane of the bend to the {side} of R {{r:about}}", r=b.radius_m)
            out.append(Told(arc[0], arc[1], float(outer.max()), 0.0, words))
    return out
