"""What level controls ask of the line at the centreline: bands of levels along stretches of chainage."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.controls.controls import LEAST_M, LevelControl
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.piece_kernels import furthest
from delgrun.core.section.road_design import RoadDesign

FloatArray = NDArray[np.float64]

# A line over another, or over ground beside the centreline, is looked at so often. [m]
_STEP_M = 0.5
# Levels are kept to the millimetre: so near is at a level. [m]
AT_M = 0.0011

# Chainages (n,), rising, and levels (n,) along an offset between two chainages, NaN where there are none. [m]
Along = Callable[[float, float, float], tuple[FloatArray, FloatArray]]


@dataclass(frozen=True, eq=False)
class Band:
    """Levels that a line keeps to: at chainages (n,), `low_m` to `high_m` over the reference levels (n,). [m]

    Infinite where it is free, NaN where there is no reference. `joined`: between its chainages too, straight from one
    reference to the next. `row`: place of the control, or the utility, that asks it; `what`: what that is called,
    `why`: the reason. `hangs_m`: the underside of what hangs over the road, over the reference.
    """

    kind: Literal["control", "utility", "depth"]
    row: int
    what: str
    chainage_m: FloatArray
    reference_m: FloatArray
    low_m: float
    high_m: float
    joined: bool = True
    why: str = ""
    hangs_m: float | None = None

    @property
    def from_m(self) -> float:
        return float(self.chainage_m[0])

    @property
    def to_m(self) -> float:
        return float(self.chainage_m[-1])


@dataclass(frozen=True)
class Slack:
    """How much room a line has in a band: negative where it lacks so much, at a chainage; None where it is not there.

    `level_m` is the line's there, `limit_m` what it must be at least (`lower`) or at most. [m]
    """

    band: Band
    slack_m: float
    at_m: float
    level_m: float
    limit_m: float
    lower: bool


@dataclass(frozen=True)
class Sources:
    """Where the levels that controls are measured from come from; without `ground` there is none."""

    design: RoadDesign
    ground: Along | None = None
    lines: dict[str, GradeLine] = field(default_factory=dict)


def bands_of(controls: Iterable[tuple[int, LevelControl]], sources: Sources) -> tuple[Band, ...]:
    """What each control (with its place among all) asks of the line at the centreline."""
    out = []
    for row, c in controls:
        s, reference = _reference(c, sources)
        # The surface lies this much under the line at the offset.
        fall = -sources.design.resolve(s).surface_m(np.full(len(s), c.offset_m))
        wanted, upper = c.wanted
        assert wanted is not None
        low = high = wanted
        # What the line keeps clear of from below may hide the road behind it.
        hangs = float((wanted - fall).min()) if c.bound == "below" and c.clearance_m > 0 else None
        match c.bound:
            case "above":
                low, high = wanted + c.clearance_m, np.inf
            case "below":
                low, high = -np.inf, wanted - c.clearance_m
            case "between":
                assert upper is not None
                low, high = wanted + c.clearance_m, upper - c.clearance_m
        out.append(
            Band(
                "control",
                row,
                c.words or f"{c.bound} control",
                s,
                reference + fall,
                low,
                high,
                why=c.reason,
                hangs_m=hangs,
            )
        )
    return tuple(out)


def _reference(c: LevelControl, sources: Sources) -> tuple[FloatArray, FloatArray]:
    point = c.to_m - c.from_m < LEAST_M
    ends = np.array([c.from_m] if point else [c.from_m, c.to_m])
    if c.measured_from == "level":
        return ends, np.zeros(len(ends))
    if c.measured_from == "ground":
        if sources.ground is None:
            return ends, np.full(len(ends), np.nan)
        s, z = sources.ground(c.offset_m, c.from_m, c.to_m)
        return (s[:1], z[:1]) if point else (s, z)
    s = ends if point else np.linspace(c.from_m, c.to_m, int(np.ceil((c.to_m - c.from_m) / _STEP_M)) + 1)
    old = sources.lines.get(c.old_line or "")
    return s, np.full(len(s), np.nan) if old is None else old.levels(s)


def slack_of(line: GradeLine, band: Band) -> Slack | None:
    """How much room a line has in a band, exactly; None where there is no line, or no reference."""
    low, low_at, high, high_at = furthest(line.pieces, band.chainage_m, band.reference_m, band.joined)
    if np.isnan(low):
        return None
    below, above = low - band.low_m, band.high_m - high
    lower = bool(below <= above)
    at = float(low_at if lower else high_at)
    level = float(line.levels(np.array([at]))[0])
    slack = float(min(below, above))
    return Slack(band, slack, at, level, level - slack if lower else level + slack, lower)


def lacking(line: GradeLine, band: Band, step_m: float = 1.0) -> tuple[float, float]:
    """First and last chainage, to a step, at which a line that leaves a band does so. [m]"""
    s = band.chainage_m
    if band.joined and band.to_m > band.from_m:
        s = np.union1d(s, np.arange(band.from_m, band.to_m, step_m))
    over = line.levels(s) - np.interp(s, band.chainage_m, band.reference_m)
    bad = s[(over < band.low_m - AT_M) | (over > band.high_m + AT_M)]
    return (float(bad[0]), float(bad[-1])) if len(bad) else (band.from_m, band.to_m)
