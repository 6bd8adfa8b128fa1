"""IPs of a line that is given as its tangents, arcs and clothoids, one behind the other."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import chained
from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import MOST_TURN_DEG, CentrelineIp
from delgrun.core.centreline.line import Line
from delgrun.core.centreline.room import squeezed
from delgrun.core.errors import DesignInputError

FloatArray = NDArray[np.float64]

# Tangents that differ by less go straight on: coordinates are written to a millimetre. [rad]
_STRAIGHT_ON = 2e-4
# A bend that turns by more is said as two or more, each turning by at most so much. [rad]
_MOST_TURN, _SHARED_TURN = np.radians(MOST_TURN_DEG - 1), np.radians(120)
# Bends that rounding pushed over each other by no more than this are made smaller by as much. [m]
_ROUNDED_M = 0.05
# Curvatures that differ by less, relatively, are one.
_SAME = 1e-3


@dataclass(frozen=True)
class Part:
    """One element: its ends (2,) [m], directions there [rad, counter-clockwise from east], length [m], curvatures
    [1/m, positive to the left].
    """

    start: FloatArray
    end: FloatArray
    heading: float
    to_heading: float
    length_m: float
    curvature: float
    to_curvature: float

    @property
    def straight(self) -> bool:
        return self.curvature == 0.0 and self.to_curvature == 0.0

    @property
    def arc(self) -> bool:
        return self.curvature == self.to_curvature != 0.0


@dataclass(frozen=True)
class _Unit:
    """What becomes one IP: transition, arc and transition, as far as there are any."""

    parts: tuple[Part, ...]

    @property
    def turn(self) -> float:
        return sum(abs(p.curvature + p.to_curvature) / 2 * p.length_m for p in self.parts)

    def transition_m(self, going_in: bool) -> float:
        p = self.parts[0 if going_in else -1]
        if going_in and self.joins:
            return p.length_m
        flat = p.curvature if going_in else p.to_curvature
        return p.length_m if not p.straight and flat == 0.0 else 0.0

    @property
    def joins(self) -> bool:
        """Whether it begins at the arc of the bend before, by a transition."""
        p = self.parts[0]
        return not p.arc and p.curvature != 0.0 and p.to_curvature != 0.0

    @property
    def radius_m(self) -> float:
        arcs = [p for p in self.parts if p.arc] or list(self.parts)
        return 1 / max(max(abs(p.curvature), abs(p.to_curvature)) for p in arcs)


def ips_of(parts: Sequence[Part], name: str) -> list[CentrelineIp]:
    """IPs whose tangents, arcs and transitions are these.

    Raises
    ------
    DesignInputError
        The line has a kink, a jump of curvature within a bend, or a transition between arcs of both senses.
    """
    tangents: list[tuple[FloatArray, float]] = []
    units: list[_Unit] = []
    straight: tuple[FloatArray, float] | None = None
    for piece in _pieces(_straightened(parts, name), name):
        if isinstance(piece, Part):
            straight = (piece.start, float(np.arctan2(*(piece.end - piece.start)[::-1])))
            continue
        first = piece.parts[0]
        tangents.append(straight or (first.start, first.heading))
        units.append(piece)
        straight = None
    if units:
        last = units[-1].parts[-1]
        tangents.append(straight or (last.end, last.to_heading))
    places = [parts[0].start, *map(meeting, tangents, tangents[1:]), parts[-1].end]
    ips = [CentrelineIp(easting_m=float(e), northing_m=float(n)) for e, n in places]
    for i, unit in enumerate(units, 1):
        ips[i] = replace(
            ips[i],
            radius_m=unit.radius_m,
            transition_in_m=unit.transition_m(True),
            transition_out_m=unit.transition_m(False),
            joins=unit.joins,
        )
    return squeezed(ips, _ROUNDED_M)


def deviation_m(line: Centreline, places: FloatArray) -> float:
    """How far the furthest of (n, 2) places lies from a line. [m]"""
    beside = line.line.nearest(places[:, 0], places[:, 1])
    return float(np.hypot(beside.offset_m, beside.ahead_m).max())


def _straightened(parts: Sequence[Part], name: str) -> list[Part]:
    """The parts with straights that go straight on joined."""
    out: list[Part] = []
    for i, p in enumerate(parts, 1):
        if p.length_m < 1e-6:
            continue
        if out:
            kink = abs((p.heading - out[-1].to_heading + np.pi) % (2 * np.pi) - np.pi)
            if p.straight and out[-1].straight and kink < _STRAIGHT_ON:
                a = out.pop()
                p = replace(a, end=p.end, length_m=a.length_m + p.length_m)
            elif kink > 50 * _STRAIGHT_ON:
                raise DesignInputError(
                    "file",
                    f"“{name}” has a kink of {np.degrees(kink):.3f}° before its element {i}: a road bends there.",
                )
        out.append(p)
    return out


def _pieces(parts: Sequence[Part], name: str) -> Iterator[Part | _Unit]:
    """Straights, and what lies between them as bends of one IP each."""
    held: list[Part] = []
    for i, p in enumerate(parts, 1):
        if p.straight:
            yield from _shared(held)
            held = []
            yield p
            continue
        between = p.curvature != 0.0 and p.to_curvature != 0.0 and not p.arc
        if between and (p.curvature * p.to_curvature < 0 or not any(h.arc for h in held)):
            raise DesignInputError(
                "file",
                f"Element {i} of “{name}” is a transition that begins bent, and not at an arc of its own sense: that "
                "is no bend of IPs.",
            )
        ends = bool(held) and (
            between or p.curvature == 0.0 or (held[-1].to_curvature == 0.0) or (p.arc and any(h.arc for h in held))
        )
        if ends:
            yield from _shared(held)
            held = []
        elif held and abs(p.curvature - held[-1].to_curvature) > _SAME * abs(p.curvature):
            raise DesignInputError("file", f"“{name}”: the curvature jumps before element {i}, within a bend.")
        held.append(p)
    yield from _shared(held)


def _shared(held: list[Part]) -> Iterator[_Unit]:
    """A bend, in as many parts as its turn asks for: an IP can't say half a circle."""
    if not held:
        return
    unit = _Unit(tuple(held))
    if unit.turn <= _MOST_TURN or not any(p.arc for p in held):
        yield unit
        return
    at = next(i for i, p in enumerate(held) if p.arc)
    arc = held[at]
    count = int(np.ceil(unit.turn / _SHARED_TURN))
    (e, n), step = arc.start.tolist(), arc.length_m / count
    elements = chained([(step, arc.curvature, arc.curvature)] * count, 0.0, e, n, arc.heading)
    ends = Line(elements).at(np.arange(count + 1, dtype=np.float64) * step)
    for k in range(count):
        own = Part(
            np.array([ends.easting_m[k], ends.northing_m[k]]),
            np.array([ends.easting_m[k + 1], ends.northing_m[k + 1]]),
            float(ends.direction[k]),
            float(ends.direction[k + 1]),
            step,
            arc.curvature,
            arc.curvature,
        )
        before = held[:at] if k == 0 else []
        after = held[at + 1 :] if k == count - 1 else []
        yield _Unit((*before, own, *after))


def meeting(a: tuple[FloatArray, float], b: tuple[FloatArray, float]) -> FloatArray:
    """Where two tangents meet; between them where they go straight on."""
    (p, s), (q, t) = a, b
    across = np.sin(t - s)
    gap = q - p
    if abs(across) < 1e-9:
        middle: FloatArray = (p + q) / 2
        return middle
    along = (gap[0] * np.sin(t) - gap[1] * np.cos(t)) / across
    at: FloatArray = p + along * np.array([np.cos(s), np.sin(s)])
    return at
