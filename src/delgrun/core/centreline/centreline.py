"""The centreline in plan: tangents, arcs and transitions from IPs."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Bend, Corner, chained
from delgrun.core.centreline.line import Element, Line
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.survey.coordinates import Coordinates

FloatArray = NDArray[np.float64]

# Two tangents closer than this to one direction have no bend worth an arc. [rad]
STRAIGHT_ANGLE = 1e-9
# Rounding of typed coordinates may push two touching arcs this far over each other. [m]
TOUCH_TOLERANCE_M = 1e-6
# A smaller radius is none. [m]
_LEAST_RADIUS_M = 1e-3


@dataclass(frozen=True, kw_only=True)
class CentrelineIp:
    """Corner of the centreline's tangents; the first and the last are its ends (radius 0)."""

    easting_m: float = meant("plan", "easting", low=-1e8, high=1e8)
    northing_m: float = meant("plan", "northing", low=-1e8, high=1e8)
    radius_m: float = meant("length", "radius", low=0, high=1e6, first=0.0)
    transition_in_m: float = meant("length", "transition in", low=0, high=1e4, first=0.0)
    transition_out_m: float = meant("length", "transition out", low=0, high=1e4, first=0.0)


@dataclass(frozen=True, kw_only=True)
class CentrelineDesign:
    """The centreline as it is typed and kept: its IPs and where its chainage starts."""

    start_chainage_m: float = meant("chainage", "starts at", low=-1e8, high=1e8, first=0.0)
    ips: tuple[CentrelineIp, ...] = meant("count", "IPs", of=CentrelineIp, most=2000)

    def made(self) -> "Centreline":
        """Its tangents, arcs and transitions; raises DesignInputError where there are none."""
        return Centreline(list(self.ips), self.start_chainage_m)

    def check(self) -> None:
        """Raises DesignInputError where no centreline can be made of the IPs."""
        self.made()

    def on_ground(self, grid: Coordinates) -> "CentrelineDesign":
        """It, of IPs on the grid, as it is on the ground: the scale factor holds for radii and transitions too.

        Its chainage starts where it did.
        """
        plan = grid.on_ground(np.array([[p.easting_m, p.northing_m] for p in self.ips]))
        ips = [
            CentrelineIp(
                easting_m=e,
                northing_m=n,
                radius_m=p.radius_m / grid.scale_factor,
                transition_in_m=p.transition_in_m / grid.scale_factor,
                transition_out_m=p.transition_out_m / grid.scale_factor,
            )
            for p, (e, n) in zip(self.ips, plan.tolist(), strict=True)
        ]
        return replace(self, ips=tuple(ips))


class Centreline:
    """Tangents, arcs and transitions with a running chainage.

    Parameters
    ----------
    ips : list of CentrelineIp
        At least two; plan coordinates in metres.
    start_chainage_m : float
        Chainage of the first IP.

    Raises
    ------
    DesignInputError
        Fewer than two IPs, IPs on one spot, a corner without radius, transitions that turn by more than their bend,
        bends that overlap.

    References
    ----------
    Tangent length T = R tan(D/2), arc length R D: plane geometry; reference values 7.1. With transitions: 7.2.
    """

    def __init__(self, ips: list[CentrelineIp], start_chainage_m: float = 0.0) -> None:
        if len(ips) < 2:
            raise DesignInputError("ips", "A centreline needs at least a start and an end: add an IP.")
        self.ips = ips
        self.start_chainage_m = start_chainage_m
        elements, self.bends = _elements(ips, start_chainage_m)
        self.line = Line(elements)

    @property
    def elements(self) -> list[Element]:
        return self.line.elements

    @property
    def end_chainage_m(self) -> float:
        return self.elements[-1].to_chainage_m

    @property
    def length_m(self) -> float:
        return self.end_chainage_m - self.start_chainage_m

    @cached_property
    def critical_chainages(self) -> FloatArray:
        """(k,) chainages where an element ends and the next begins. [m]"""
        return np.array([e.from_chainage_m for e in self.elements[1:]], dtype=np.float64)

    def locate(self, chainage_m: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Easting, northing [m] and direction of travel [rad, counter-clockwise from east].

        Chainages past an end continue the end's tangent or arc.
        """
        at = self.line.at(chainage_m)
        return at.easting_m, at.northing_m, at.direction

    def priced_chainages(self, interval_m: float, from_m: float | None = None, to_m: float | None = None) -> FloatArray:
        """(n,) chainages of the priced sections: multiples of the interval, ends, element ends. [m]

        `from_m` and `to_m` are the ends where the road is not as long as the centreline. They never depend on the
        grade line, so that moving it never moves them.
        """
        start = self.start_chainage_m if from_m is None else from_m
        end = self.end_chainage_m if to_m is None else to_m
        even = np.arange(np.floor(start / interval_m) + 1, np.ceil(end / interval_m)) * interval_m
        critical = self.critical_chainages[(self.critical_chainages > start) & (self.critical_chainages < end)]
        every = np.concatenate([[start], even, critical, [end]])
        every = np.sort(every)
        # A critical chainage within a centimetre of an even one is the same section.
        keep = np.concatenate([[True], np.diff(every) > 0.01])
        keep[-1] = True
        if len(every) > 2 and every[-1] - every[-2] <= 0.01:
            keep[-2] = False
        kept: FloatArray = every[keep]
        return kept


def _elements(ips: list[CentrelineIp], start: float) -> tuple[list[Element], list[Bend]]:
    xy = np.array([(ip.easting_m, ip.northing_m) for ip in ips], dtype=np.float64)
    leg = np.diff(xy, axis=0)
    leg_m = np.hypot(leg[:, 0], leg[:, 1])
    for i in np.flatnonzero(leg_m < 1e-3).tolist():
        raise DesignInputError("ips", f"IPs {i + 1} and {i + 2} of the centreline are on one spot: move or delete one.")
    angle = np.arctan2(leg[:, 1], leg[:, 0])
    turn = (np.diff(angle) + np.pi) % (2 * np.pi) - np.pi
    corners = {i: _corner(i, ips[i], float(turn[i - 1])) for i in range(1, len(ips) - 1)}
    made = {i: c for i, c in corners.items() if c is not None}
    # How much of each leg the bends at its ends take.
    at_start = np.array([made[i].tangent_out_m if i in made else 0.0 for i in range(len(leg_m))])
    at_end = np.array([made[i + 1].tangent_in_m if i + 1 in made else 0.0 for i in range(len(leg_m))])
    straight = leg_m - at_start - at_end
    for i in np.flatnonzero(straight < -TOUCH_TOLERANCE_M).tolist():
        raise _no_room(i, made, leg_m, at_start, at_end)
    elements: list[Element] = []
    bends: list[Bend] = []
    chainage = start
    for i in range(len(leg_m)):
        unit = leg[i] / leg_m[i]
        if straight[i] > TOUCH_TOLERANCE_M:
            at = xy[i] + unit * at_start[i]
            elements.append(
                Element(
                    from_chainage_m=chainage,
                    length_m=float(straight[i]),
                    easting_m=float(at[0]),
                    northing_m=float(at[1]),
                    direction=float(angle[i]),
                    curvature=0.0,
                    to_curvature=0.0,
                )
            )
            chainage += float(straight[i])
        corner = made.get(i + 1)
        if corner is None:
            continue
        at = xy[i + 1] - unit * corner.tangent_in_m
        pieces = chained(corner.pieces, chainage, float(at[0]), float(at[1]), float(angle[i]))
        bends.append(corner.bend(i + 1, chainage, pieces[-1].to_chainage_m))
        elements += pieces
        chainage = pieces[-1].to_chainage_m
    return elements, bends


def _corner(i: int, ip: CentrelineIp, turn: float) -> Corner | None:
    """The bend at an IP, None where the line goes straight on; raises DesignInputError where there can't be one."""
    if abs(turn) < STRAIGHT_ANGLE:
        return None
    degrees = np.degrees(abs(turn))
    if ip.radius_m < _LEAST_RADIUS_M:
        raise DesignInputError("radius_m", f"IP {i + 1} of the centreline turns by {degrees:.2f}° and needs a radius.")
    if abs(turn) > np.radians(175):
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


def _no_room(
    i: int, made: dict[int, Corner], leg_m: FloatArray, at_start: FloatArray, at_end: FloatArray
) -> DesignInputError:
    """Why the bends at the ends of leg i overlap, by how much, and what there is room for."""
    values = {"need": float(at_start[i] + at_end[i]), "there": float(leg_m[i])}
    values["over"] = values["need"] - values["there"]
    says = []
    for at, room_in, room_out in (
        (i, leg_m[i - 1] - at_start[i - 1], leg_m[i] - at_end[i]),
        (i + 1, leg_m[i] - at_start[i], leg_m[min(i + 1, len(leg_m) - 1)] - at_end[min(i + 1, len(leg_m) - 1)]),
    ):
        if at not in made:
            continue
        radius = made[at].largest_radius_m(float(room_in), float(room_out))
        if radius > 0:
            says.append(f"IP {at + 1} has room for a radius of {{r{at}:length}}")
            values[f"r{at}"] = radius
            continue
        share = made[at].largest_share(float(room_in), float(room_out))
        if share > 0:
            says.append(f"IP {at + 1} for transitions of {{in{at}:length}} and {{out{at}:length}}")
            values |= {f"in{at}": share * made[at].first_m, f"out{at}": share * made[at].second_m}
    room = f" {', '.join(says)}, all else as it is."
    if not says:
        # A bend made smaller in all its lengths has tangents smaller by as much.
        share = values["there"] / values["need"] * (1 - 1e-6)
        both = [at for at in (i, i + 1) if at in made]
        radii = " and ".join(f"IP {at + 1} with {{r{at}:length}}" for at in both)
        room = f" There is room for smaller bends in the same proportions: {radii}."
        values |= {f"r{at}": share * made[at].radius_m for at in both}
    return DesignInputError(
        "radius_m",
        f"Between IPs {i + 1} and {i + 2} of the centreline the bends need {{need:length}} and there are "
        f"{{there:length}}, {{over:length}} short: use a smaller radius, shorter transitions, or move an IP.{room}",
        **values,
    )
