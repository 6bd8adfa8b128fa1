"""The centreline in plan: tangents, arcs and transitions from IPs."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Bend
from delgrun.core.centreline.legs import TOUCH_TOLERANCE_M, CentrelineIp, Legs, no_room
from delgrun.core.centreline.line import Element, Line
from delgrun.core.coordinates import Coordinates
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant

FloatArray = NDArray[np.float64]

# Sections nearer than this are one. [m]
SAME_SECTION_M = 0.01
# Of two sections where what is built jumps the first lies so far before the other. [m]
STEP_M = 1e-6
# A place that is nearer to another part of the line by no more than this is as near to both. [m]
_NEARER_M = 1e-6
# Where that begins is found to a ten-thousandth of a metre in 300.
_HALVED = 22
# What a project's first road is called until it is called otherwise.
MAIN_NAME = "main road"


@dataclass(frozen=True, kw_only=True)
class CentrelineDesign:
    """The centreline as it is typed and kept: its IPs and where its chainage starts.

    `start_meets` and `end_meets` are slots of grade lines of other roads that hand their level to this road's ends;
    with `start_takes_grade`, `end_takes_grade` also how their surface rises there.
    """

    name: str = meant("name", "name", first=MAIN_NAME)
    start_meets: str = meant("line", "start meets", first="", says="a grade line of another road")
    end_meets: str = meant("line", "end meets", first="", says="a grade line of another road")
    start_takes_grade: bool = meant("flag", "start takes the grade", first=False)
    end_takes_grade: bool = meant("flag", "end takes the grade", first=False)
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
            replace(
                p,
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

    def room_beside(self, chainage_m: FloatArray, reach_m: float) -> FloatArray:
        """(n, 2) how far to the left and right, up to a reach, places at right angles are nearest to that chainage. [m]

        Further out, on the inside of a bend, they belong to another part of the line.
        """
        e, n, direction = self.locate(chainage_m)
        out = np.full((len(chainage_m), 2), reach_m)

        def nearer(rows: NDArray[np.int64], sign: float, far: FloatArray) -> NDArray[np.bool_]:
            turn = direction[rows]
            x, y = e[rows] + sign * far * np.sin(turn), n[rows] - sign * far * np.cos(turn)
            beside = self.line.nearest(x, y)
            away = np.hypot(beside.offset_m, beside.ahead_m)
            return away < far - _NEARER_M  # type: ignore[no-any-return]

        every = np.arange(len(chainage_m))
        for side, sign in ((0, -1.0), (1, 1.0)):
            rows = every[nearer(every, sign, out[:, side])]
            low, high = np.zeros(len(rows)), np.full(len(rows), reach_m)
            for _ in range(_HALVED if len(rows) else 0):
                middle = (low + high) / 2
                over = nearer(rows, sign, middle)
                low, high = np.where(over, low, middle), np.where(over, middle, high)
            out[rows, side] = low
        return out

    @property
    def curved(self) -> list[tuple[float, float]]:
        """From where to where it bends, transitions included. [m]"""
        return [(b.from_chainage_m, b.to_chainage_m) for b in self.bends]

    def priced_chainages(
        self,
        interval_m: float,
        from_m: float | None = None,
        to_m: float | None = None,
        also: Sequence[float] = (),
        steps: Sequence[float] = (),
    ) -> FloatArray:
        """(n,) chainages of the priced sections: multiples of the interval, ends, element ends, and other ones. [m]

        `from_m` and `to_m` are the ends where the road is not as long as the centreline. At each of `steps`, where what
        is built may jump, there are two, right before it and at it. They never depend on the grade line, so that moving
        it never moves them.
        """
        start = self.start_chainage_m if from_m is None else from_m
        end = self.end_chainage_m if to_m is None else to_m
        even = np.arange(np.floor(start / interval_m) + 1, np.ceil(end / interval_m)) * interval_m
        inner = np.concatenate([even, self.critical_chainages, np.array(also, dtype=np.float64)])
        jumps = np.unique(np.array(steps, dtype=np.float64))
        jumps = jumps[(jumps > start + SAME_SECTION_M) & (jumps < end - SAME_SECTION_M)]
        every = np.unique(np.concatenate([[start], inner[(inner > start) & (inner < end)], [end]]))
        # One within a centimetre of another is the same section.
        keep = np.concatenate([[True], np.diff(every) > SAME_SECTION_M])
        keep[-1] = True
        if len(every) > 2 and every[-1] - every[-2] <= SAME_SECTION_M:
            keep[-2] = False
        kept: FloatArray = every[keep]
        if not len(jumps):
            return kept
        near = np.searchsorted(jumps, kept)
        apart = np.minimum(
            np.abs(kept - jumps[np.minimum(near, len(jumps) - 1)]), np.abs(kept - jumps[np.maximum(near - 1, 0)])
        )
        jumps = jumps[np.concatenate([[True], np.diff(jumps) > SAME_SECTION_M])]
        pairs: FloatArray = np.sort(np.concatenate([kept[apart > SAME_SECTION_M], jumps - STEP_M, jumps]))
        return pairs


def _elements(ips: list[CentrelineIp], start: float) -> tuple[list[Element], list[Bend]]:
    legs = Legs.of(ips)
    for i in legs.over:
        raise no_room(legs, i)
    straight = legs.straight_m
    elements: list[Element] = []
    bends: list[Bend] = []
    chainage = start
    for i, heading in enumerate(legs.direction.tolist()):
        unit = (legs.xy[i + 1] - legs.xy[i]) / legs.length_m[i]
        if straight[i] > TOUCH_TOLERANCE_M:
            at = legs.xy[i] + unit * legs.at_start_m[i]
            elements.append(
                Element(
                    from_chainage_m=chainage,
                    length_m=float(straight[i]),
                    easting_m=float(at[0]),
                    northing_m=float(at[1]),
                    direction=heading,
                    curvature=0.0,
                    to_curvature=0.0,
                )
            )
            chainage += float(straight[i])
        corner = legs.corners.get(i + 1)
        if corner is None:
            continue
        at = legs.xy[i + 1] - unit * corner.tangent_in_m
        pieces = corner.placed(chainage, float(at[0]), float(at[1]), heading)
        bends.append(corner.bend(i + 1, chainage, pieces[-1].to_chainage_m))
        elements += pieces
        chainage = pieces[-1].to_chainage_m
    return elements, bends
