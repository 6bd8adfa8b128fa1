"""The centreline in plan: tangents and circular arcs from IPs with radii."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

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


@dataclass(frozen=True, kw_only=True)
class CentrelineDesign:
    """The centreline as it is typed and kept: its IPs and where its chainage starts."""

    start_chainage_m: float = meant("chainage", "starts at", low=-1e8, high=1e8, first=0.0)
    ips: tuple[CentrelineIp, ...] = meant("count", "IPs", of=CentrelineIp, most=2000)

    def made(self) -> "Centreline":
        """Its tangents and arcs; raises DesignInputError where there are none."""
        return Centreline(list(self.ips), self.start_chainage_m)

    def check(self) -> None:
        """Raises DesignInputError where no centreline can be made of the IPs."""
        self.made()

    def on_ground(self, grid: Coordinates) -> "CentrelineDesign":
        """It, of IPs on the grid, as it is on the ground: a radius is a length, so the scale factor holds for it too.

        Its chainage starts where it did.
        """
        plan = grid.on_ground(np.array([[p.easting_m, p.northing_m] for p in self.ips]))
        ips = [
            CentrelineIp(easting_m=e, northing_m=n, radius_m=p.radius_m / grid.scale_factor)
            for p, (e, n) in zip(self.ips, plan.tolist(), strict=True)
        ]
        return replace(self, ips=tuple(ips))


@dataclass(frozen=True, kw_only=True)
class Element:
    """One tangent or arc.

    `direction` is the angle of travel at the element's start, counter-clockwise from east [rad];
    `curvature` is positive turning left [1/m], 0 on a tangent.
    """

    from_chainage_m: float
    length_m: float
    easting_m: float
    northing_m: float
    direction: float
    curvature: float

    @property
    def to_chainage_m(self) -> float:
        return self.from_chainage_m + self.length_m


@dataclass(frozen=True, kw_only=True)
class Bend:
    """What the table of bends says of one IP; `deflection` is positive turning right [rad]."""

    ip: int
    radius_m: float
    deflection: float
    tangent_m: float
    arc_m: float
    from_chainage_m: float
    to_chainage_m: float


class Centreline:
    """Tangents and arcs with a running chainage.

    Parameters
    ----------
    ips : list of CentrelineIp
        At least two; plan coordinates in metres.
    start_chainage_m : float
        Chainage of the first IP.

    Raises
    ------
    DesignInputError
        Fewer than two IPs, IPs on one spot, a corner without radius, arcs that overlap.

    References
    ----------
    Tangent length T = R tan(D/2), arc length R D: plane geometry; reference values 7.1.
    """

    def __init__(self, ips: list[CentrelineIp], start_chainage_m: float = 0.0) -> None:
        if len(ips) < 2:
            raise DesignInputError("ips", "A centreline needs at least a start and an end: add an IP.")
        self.ips = ips
        self.start_chainage_m = start_chainage_m
        self.elements, self.bends = _elements(ips, start_chainage_m)

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
        s = np.asarray(chainage_m, dtype=np.float64)
        starts = np.array([e.from_chainage_m for e in self.elements])
        at = np.clip(np.searchsorted(starts, s, side="right") - 1, 0, len(starts) - 1)
        col = {
            k: np.array([getattr(e, k) for e in self.elements])[at]
            for k in ("easting_m", "northing_m", "direction", "curvature")
        }
        run = s - starts[at]
        turn = col["curvature"] * run
        # The chord of an arc is run * sin(turn/2)/(turn/2), at half the turn; sinc covers the tangent.
        chord = run * np.sinc(turn / (2 * np.pi))
        mid = col["direction"] + turn / 2
        return (
            col["easting_m"] + chord * np.cos(mid),
            col["northing_m"] + chord * np.sin(mid),
            col["direction"] + turn,
        )

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
    turn = np.zeros(len(ips))
    turn[1:-1] = (np.diff(angle) + np.pi) % (2 * np.pi) - np.pi
    tangent = np.zeros(len(ips))
    for i in range(1, len(ips) - 1):
        if abs(turn[i]) < STRAIGHT_ANGLE:
            continue
        if ips[i].radius_m < _LEAST_RADIUS_M:
            raise DesignInputError(
                "radius_m", f"IP {i + 1} of the centreline turns by {np.degrees(abs(turn[i])):.2f}° and needs a radius."
            )
        if abs(turn[i]) > np.radians(175):
            raise DesignInputError("ips", f"IP {i + 1} of the centreline turns back on itself: no arc fits there.")
        tangent[i] = ips[i].radius_m * np.tan(abs(turn[i]) / 2)
    for i in range(len(leg_m)):
        over = tangent[i] + tangent[i + 1] - leg_m[i]
        if over > TOUCH_TOLERANCE_M:
            raise DesignInputError(
                "radius_m",
                f"Between IPs {i + 1} and {i + 2} of the centreline the arcs need {{need:length}} and there are "
                "{there:length}, {over:length} short: use a smaller radius or move an IP.",
                need=tangent[i] + tangent[i + 1],
                there=leg_m[i],
                over=over,
            )
    elements: list[Element] = []
    bends: list[Bend] = []
    chainage = start
    for i in range(len(leg_m)):
        straight = leg_m[i] - tangent[i] - tangent[i + 1]
        unit = leg[i] / leg_m[i]
        if straight > TOUCH_TOLERANCE_M:
            at = xy[i] + unit * tangent[i]
            elements.append(
                Element(
                    from_chainage_m=chainage,
                    length_m=float(straight),
                    easting_m=float(at[0]),
                    northing_m=float(at[1]),
                    direction=float(angle[i]),
                    curvature=0.0,
                )
            )
            chainage += float(straight)
        if i + 1 < len(ips) - 1 and tangent[i + 1] > 0:
            radius, arc = ips[i + 1].radius_m, ips[i + 1].radius_m * abs(float(turn[i + 1]))
            at = xy[i + 1] - unit * tangent[i + 1]
            elements.append(
                Element(
                    from_chainage_m=chainage,
                    length_m=arc,
                    easting_m=float(at[0]),
                    northing_m=float(at[1]),
                    direction=float(angle[i]),
                    curvature=float(np.sign(turn[i + 1]) / radius),
                )
            )
            bends.append(
                Bend(
                    ip=i + 1,
                    radius_m=radius,
                    deflection=-float(turn[i + 1]),
                    tangent_m=float(tangent[i + 1]),
                    arc_m=arc,
                    from_chainage_m=chainage,
                    to_chainage_m=chainage + arc,
                )
            )
            chainage += arc
    return elements, bends
