"""One bend between two tangents: transition, arc, transition."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.line import Element, Line

FloatArray = NDArray[np.float64]

# A shorter piece is none. [m]
_NOTHING_M = 1e-9
# Of what there is room for, so much is found. [m]
_ROOM_M = 1e-4


@dataclass(frozen=True, kw_only=True)
class Bend:
    """What the table of bends says of one IP; `deflection` is positive turning right [rad].

    `tangent_in_m` and `tangent_out_m` lie between the IP and the ends of the bend; `arc_m` is the arc's own length.
    """

    ip: int
    radius_m: float
    deflection: float
    tangent_in_m: float
    tangent_out_m: float
    transition_in_m: float
    arc_m: float
    transition_out_m: float
    from_chainage_m: float
    to_chainage_m: float


# Length [m], curvature at the start and at the end [1/m, positive to the left].
Piece = tuple[float, float, float]


@dataclass(frozen=True)
class Corner:
    """A bend that turns by `turn` (positive to the left) [rad], its transitions `first_m` and `second_m` long.

    `before` is the curvature, in its own sense, of an arc that it begins at; 0 where it begins at a tangent. [1/m]
    """

    turn: float
    radius_m: float
    first_m: float
    second_m: float
    before: float = 0.0

    @property
    def arc_m(self) -> float:
        """What the transitions leave of the arc; below zero where they leave none. A clothoid turns by its mean. [m]"""
        first = self.first_m * (1 + self.before * self.radius_m)
        return self.radius_m * abs(self.turn) - (first + self.second_m) / 2

    @property
    def pieces(self) -> list[Piece]:
        k = float(np.sign(self.turn)) / self.radius_m
        before = float(np.sign(self.turn)) * self.before
        all_of_them = [(self.first_m, before, k), (self.arc_m, k, k), (self.second_m, k, 0.0)]
        return [p for p in all_of_them if p[0] > _NOTHING_M]

    @property
    def _places(self) -> tuple[tuple[float, float, float], ...]:
        """Where its pieces begin, and where it ends, seen from its start: ahead, to the left [m], direction [rad]."""
        return _seen_from_start(self.turn, self.radius_m, self.first_m, self.second_m, self.before)

    @cached_property
    def _tangents(self) -> tuple[float, float]:
        half = self.radius_m * float(np.tan(abs(self.turn) / 2))
        if self.first_m == 0.0 and self.second_m == 0.0:
            return half, half
        # The end of the bend seen from its start: both tangents meet in the IP.
        ahead, aside, _ = self._places[-1]
        second = aside / float(np.sin(self.turn))
        return ahead - second * float(np.cos(self.turn)), second

    def placed(self, chainage_m: float, easting_m: float, northing_m: float, heading: float) -> list[Element]:
        """Its elements from a place, in a direction. [m, rad]"""
        along, aside = float(np.cos(heading)), float(np.sin(heading))
        out = []
        for (length, k0, k1), (x, y, turned) in zip(self.pieces, self._places, strict=False):
            out.append(
                Element(
                    from_chainage_m=chainage_m,
                    length_m=length,
                    easting_m=easting_m + x * along - y * aside,
                    northing_m=northing_m + x * aside + y * along,
                    direction=heading + turned,
                    curvature=k0,
                    to_curvature=k1,
                )
            )
            chainage_m += length
        return out

    @property
    def tangent_in_m(self) -> float:
        return self._tangents[0]

    @property
    def tangent_out_m(self) -> float:
        return self._tangents[1]

    def bend(self, ip: int, from_m: float, to_m: float) -> Bend:
        """What the table says of it."""
        return Bend(
            ip=ip,
            radius_m=self.radius_m,
            deflection=-self.turn,
            tangent_in_m=self.tangent_in_m,
            tangent_out_m=self.tangent_out_m,
            transition_in_m=self.first_m,
            arc_m=max(self.arc_m, 0.0),
            transition_out_m=self.second_m,
            from_chainage_m=from_m,
            to_chainage_m=to_m,
        )

    def largest_radius_m(self, room_in_m: float, room_out_m: float) -> float:
        """The largest radius, not above its own, whose bend fits in between; 0 where none does. [m]"""
        least = (self.first_m + self.second_m) / (2 * abs(self.turn))
        return self._largest(least, self.radius_m, lambda r: replace(self, radius_m=r), room_in_m, room_out_m)

    def largest_share(self, room_in_m: float, room_out_m: float) -> float:
        """The largest share of its transitions that fits in between with its radius; 0 where none does."""
        return self._largest(
            0.0,
            1.0,
            lambda q: replace(self, first_m=q * self.first_m, second_m=q * self.second_m),
            room_in_m,
            room_out_m,
        )

    @staticmethod
    def _largest(
        low: float, high: float, made: Callable[[float], "Corner"], room_in_m: float, room_out_m: float
    ) -> float:
        """The largest value whose bend fits: tangents grow with radius and with transitions."""

        def fits(value: float) -> bool:
            corner = made(value)
            return corner.tangent_in_m <= room_in_m and corner.tangent_out_m <= room_out_m

        low = max(low, 1e-3 * high)
        if not fits(low):
            return 0.0
        while high - low > _ROOM_M * max(1.0, low * 1e-3):
            middle = (low + high) / 2
            low, high = (middle, high) if fits(middle) else (low, middle)
        return low


# While one IP is dragged all other bends stay what they are.
@lru_cache(maxsize=8192)
def _seen_from_start(
    turn: float, radius_m: float, first_m: float, second_m: float, before: float
) -> tuple[tuple[float, float, float], ...]:
    elements = chained(Corner(turn, radius_m, first_m, second_m, before).pieces, 0.0, 0.0, 0.0, 0.0)
    last = elements[-1]
    end = Line([last]).at(np.array([last.to_chainage_m]))
    places = [(e.easting_m, e.northing_m, e.direction) for e in elements]
    return (*places, (float(end.easting_m[0]), float(end.northing_m[0]), float(end.direction[0])))


def chained(
    pieces: list[Piece], chainage_m: float, easting_m: float, northing_m: float, heading: float
) -> list[Element]:
    """Elements one behind the other from a place, in a direction. [m, rad]"""
    out: list[Element] = []
    for length, k0, k1 in pieces:
        element = Element(
            from_chainage_m=chainage_m,
            length_m=length,
            easting_m=easting_m,
            northing_m=northing_m,
            direction=heading,
            curvature=k0,
            to_curvature=k1,
        )
        out.append(element)
        end = Line([element]).at(np.array([element.to_chainage_m]))
        chainage_m = element.to_chainage_m
        easting_m, northing_m, heading = float(end.easting_m[0]), float(end.northing_m[0]), float(end.direction[0])
    return out
