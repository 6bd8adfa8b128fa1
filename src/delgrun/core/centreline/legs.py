"""Legs between the IPs of a centreline: their bends, and how much of each leg these take."""

from dataclasses import dataclass
from typing import Self

import numpy as np
import scipy  # and of it `optimize` when it is first used: a start must not wait for it
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Corner
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant

FloatArray = NDArray[np.float64]

# Two tangents closer than this to one direction have no bend worth an arc. [rad]
STRAIGHT_ANGLE = 1e-9
# Rounding of typed coordinates may push two touching arcs this far over each other. [m]
TOUCH_TOLERANCE_M = 1e-6
# A smaller radius is none. [m]
LEAST_RADIUS_M = 1e-3
# A line that turns by more has turned back on itself. [degrees]
MOST_TURN_DEG = 175.0


@dataclass(frozen=True, kw_only=True)
class CentrelineIp:
    """Corner of the centreline's tangents; the first and the last are its ends (radius 0)."""

    easting_m: float = meant("plan", "easting", low=-1e8, high=1e8)
    northing_m: float = meant("plan", "northing", low=-1e8, high=1e8)
    radius_m: float = meant("length", "radius", low=0, high=1e6, first=0.0)
    transition_in_m: float = meant("length", "transition in", low=0, high=1e4, first=0.0)
    transition_out_m: float = meant("length", "transition out", low=0, high=1e4, first=0.0)
    joins: bool = meant(
        "flag", "joins", first=False, says="its transition in begins at the arc before: its radius is what touches that"
    )
    superelevation: float | None = meant(
        "fall",
        "superelevation",
        low=0,
        high=0.15,
        first=None,
        optional=True,
        says="of the bend; empty: as the rules say",
    )


@dataclass(frozen=True)
class Legs:
    """Legs between n IPs, from each to the next. `corners` holds the bends, by IP.

    `xy` (n, 2) [m]; of each leg (n-1,): `length_m`, `direction` [rad], and what the bends at its ends take of it,
    `at_start_m` and `at_end_m`.
    """

    ips: tuple[CentrelineIp, ...]
    xy: FloatArray
    length_m: FloatArray
    direction: FloatArray
    corners: dict[int, Corner]
    at_start_m: FloatArray
    at_end_m: FloatArray

    @classmethod
    def of(cls, ips: list[CentrelineIp]) -> Self:
        """Legs of IPs, whether or not their bends find room on them.

        Raises
        ------
        DesignInputError
            IPs on one spot, a corner without radius, or one that turns back; transitions that turn by more than
            their bend.
        """
        xy, length, direction, turn = _turns(ips)
        corners: dict[int, Corner] = {}
        for i in range(1, len(ips) - 1):
            angle = float(turn[i - 1])
            joined = ips[i].joins and abs(angle) >= STRAIGHT_ANGLE
            made = _joined(i, ips[i], angle, corners, float(length[i - 1])) if joined else _corner(i, ips[i], angle)
            if made is not None:
                corners[i] = made
        at_start = np.array([corners[i].tangent_out_m if i in corners else 0.0 for i in range(len(length))])
        at_end = np.array([corners[i + 1].tangent_in_m if i + 1 in corners else 0.0 for i in range(len(length))])
        return cls(tuple(ips), xy, length, direction, corners, at_start, at_end)

    @property
    def straight_m(self) -> FloatArray:
        """(n-1,) what the bends leave of each leg; below zero where they overlap. [m]"""
        left: FloatArray = self.length_m - self.at_start_m - self.at_end_m
        return left

    @property
    def over(self) -> list[int]:
        """Legs on which bends overlap."""
        found: list[int] = np.flatnonzero(self.straight_m < -TOUCH_TOLERANCE_M).tolist()
        return found

    def room(self, ip: int) -> tuple[float, float]:
        """Room before and after an IP that the neighbours' bends leave to its own. [m]"""
        before = self.length_m[ip - 1] - self.at_start_m[ip - 1]
        after = self.length_m[ip] - self.at_end_m[ip]
        return float(before), float(after)


def turns_of(ips: list[CentrelineIp]) -> FloatArray:
    """(n-2,) how much the line turns at each IP between its ends, positive to the left. [rad]"""
    return _turns(ips)[3]


def _turns(ips: list[CentrelineIp]) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    xy = np.array([(ip.easting_m, ip.northing_m) for ip in ips], dtype=np.float64)
    leg = np.diff(xy, axis=0)
    length = np.hypot(leg[:, 0], leg[:, 1])
    for i in np.flatnonzero(length < 1e-3).tolist():
        raise DesignInputError("ips", f"IPs {i + 1} and {i + 2} of the centreline are on one spot: move or delete one.")
    direction = np.arctan2(leg[:, 1], leg[:, 0])
    return xy, length, direction, (np.diff(direction) + np.pi) % (2 * np.pi) - np.pi


def _corner(i: int, ip: CentrelineIp, turn: float) -> Corner | None:
    """The bend at an IP, None where the line goes straight on; raises DesignInputError where there can't be one."""
    if abs(turn) < STRAIGHT_ANGLE:
        return None
    degrees = np.degrees(abs(turn))
    if ip.radius_m < LEAST_RADIUS_M:
        raise DesignInputError("radius_m", f"IP {i + 1} of the centreline turns by {degrees:.2f}° and needs a radius.")
    if abs(turn) > np.radians(MOST_TURN_DEG):
        raise DesignInputError("ips", f"IP {i + 1} of the centreline turns back on itself: no arc fits there.")
    corner = Corner(turn, ip.radius_m, ip.transition_in_m, ip.transition_out_m)
    if corner.arc_m < -TOUCH_TOLERANCE_M:
        share = 2 * abs(turn) * ip.radius_m / (ip.transition_in_m + ip.transition_out_m)
        raise DesignInputError(
            "transition_in_m",
            f"The transitions at IP {i + 1} turn by more than its {degrees:.2f}°: with a radius of {{radius:length}} "
            "there is room for {first:length} in and {second:length} out, or use a radius of {larger:length} or more.",
            radius=ip.radius_m,
            first=share * ip.transition_in_m,
            second=share * ip.transition_out_m,
            larger=(ip.transition_in_m + ip.transition_out_m) / (2 * abs(turn)),
        )
    return corner


# Radii that are looked at for one that touches, from the least to the largest.
_TRIED = np.geomspace(1.0, 1e5, 120)


def _joined(i: int, ip: CentrelineIp, turn: float, corners: dict[int, Corner], leg_m: float) -> Corner:
    """The bend at an IP that begins at the arc before it, with the radius, next to its own, at which both touch.

    Raises
    ------
    DesignInputError
        There is no bend before, it has another sense, or no radius makes them touch.
    """
    before = corners.get(i - 1)
    if before is None or before.turn * turn < 0:
        raise DesignInputError(
            "joins", f"IP {i + 1} of the centreline can join only a bend of the same sense at the IP before."
        )
    if before.second_m > 0:
        raise DesignInputError(
            "transition_out_m",
            f"IP {i} of the centreline has a transition out, and the bend at IP {i + 1} is to begin at its arc: leave "
            "one of them.",
        )
    room = leg_m - before.tangent_out_m

    def bend(radius: float) -> Corner:
        return Corner(turn, radius, ip.transition_in_m, ip.transition_out_m, 1 / before.radius_m)

    def left(radius: float) -> float:
        corner = bend(radius)
        return room - corner.tangent_in_m if corner.arc_m >= 0 else np.nan

    over = np.array([left(r) for r in _TRIED.tolist()])
    turns = np.flatnonzero(over[:-1] * over[1:] <= 0).tolist()
    if not turns:
        raise DesignInputError(
            "joins",
            f"No radius at IP {i + 1} of the centreline makes its bend touch the one before, which leaves "
            "{room:length} of the leg between them: move an IP, or change a radius or a transition.",
            room=room,
        )
    wished = np.log(max(ip.radius_m, 1.0))
    k = min(turns, key=lambda k: abs(np.log(_TRIED[k]) - wished))
    return bend(float(scipy.optimize.brentq(left, _TRIED[k], _TRIED[k + 1], xtol=1e-12, rtol=8.9e-16)))


def no_room(legs: Legs, i: int) -> DesignInputError:
    """Why the bends at the ends of leg i overlap, by how much, and what there is room for."""
    values = {"need": float(legs.at_start_m[i] + legs.at_end_m[i]), "there": float(legs.length_m[i])}
    values["over"] = values["need"] - values["there"]
    says = []
    for at in (i, i + 1):
        if at not in legs.corners:
            continue
        corner, room = legs.corners[at], legs.room(at)
        radius = corner.largest_radius_m(*room)
        if radius > 0:
            says.append(f"IP {at + 1} has room for a radius of {{r{at}:length}}")
            values[f"r{at}"] = radius
            continue
        share = corner.largest_share(*room)
        if share > 0:
            says.append(f"IP {at + 1} for transitions of {{in{at}:length}} and {{out{at}:length}}")
            values |= {f"in{at}": share * corner.first_m, f"out{at}": share * corner.second_m}
    room_for = f" {', '.join(says)}, all else as it is."
    if not says:
        # A bend made smaller in all its lengths has tangents smaller by as much.
        share = values["there"] / values["need"] * (1 - 1e-6)
        both = [at for at in (i, i + 1) if at in legs.corners]
        radii = " and ".join(f"IP {at + 1} with {{r{at}:length}}" for at in both)
        room_for = f" There is room for smaller bends in the same proportions: {radii}."
        values |= {f"r{at}": share * legs.corners[at].radius_m for at in both}
    return DesignInputError(
        "radius_m",
        f"Between IPs {i + 1} and {i + 2} of the centreline the bends need {{need:length}} and there are "
        f"{{there:length}}, {{over:length}} short: use a smaller radius, shorter transitions, or move an IP.{room_for}",
        **values,
    )
