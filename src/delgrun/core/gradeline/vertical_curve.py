"""One vertical curve between two grades: its shape, its sharpest K, its turning point, the lengths that rules ask for.

A parabola may have another length before its IP than behind it (`share`): two parabolas then, with one tangent at the
IP's chainage that is parallel to the chord. A circle is a true circle, whose tangents are equal along the slope and so
differ a little in plan.
"""

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
import scipy  # and of it `optimize` when it is first used: a start must not wait for it

from delgrun.core.errors import DesignInputError
from delgrun.core.stopping import Heights, sight_curve_m, sight_k

Shape = Literal["parabola", "circle"]
SHAPES: tuple[Shape, ...] = get_args(Shape)
# What the limits may ask of a curve: all that they ask, or what one kind of sight needs.
ByLimits = Literal["limits", "stopping", "intermediate", "passing", "headlight"]
BY_LIMITS: tuple[ByLimits, ...] = get_args(ByLimits)
# What a curve keeps when its grades change. `k` and lengths aside: a radius, its start or its end at a chainage, a
# point it goes through, a sight distance, that it is the longest there is room for, or what the limits ask.
Held = Literal["length", "radius", "start", "end", "through", "sight", "longest", ByLimits]
HELD: tuple[Held, ...] = ("length", "radius", "start", "end", "through", "sight", "longest", *BY_LIMITS)

# A change of grade below this is none. [m/m]
_STRAIGHT = 1e-12
# No circle is larger. [m]
_LARGEST_RADIUS_M = 1e8


@dataclass(frozen=True)
class VerticalCurve:
    """A curve of a length between two grades [m/m]; `share` of a parabola's length lies before the IP.

    References
    ----------
    Parabola: docs/formulas.md#parabola. Unsymmetrical parabola: offset at the IP A L1 L2 / (2 (L1 + L2)), reference
    values 1.2. Circle: tangent R tan(D/2) with D the angle between the tangents, reference values 1.3.
    """

    shape: Shape
    grade_in: float
    grade_out: float
    length_m: float
    share: float = 0.5

    @property
    def change(self) -> float:
        return self.grade_out - self.grade_in

    @property
    def before(self) -> float:
        """Share of its length in plan that lies before the IP."""
        return circle_share(self.grade_in, self.grade_out) if self.shape == "circle" else self.share

    @property
    def length_in_m(self) -> float:
        return self.length_m * self.before

    @property
    def radius_m(self) -> float:
        """Of a circle its radius, of a parabola 100 K: infinite where the grade does not change. [m]"""
        if self.shape == "parabola":
            return 100 * self.k_m_per_pct
        of_one = circle_length(1.0, self.grade_in, self.grade_out)
        return self.length_m / of_one if abs(self.change) > _STRAIGHT else np.inf

    @property
    def k_m_per_pct(self) -> float:
        """Least length for each 1 % of change: of the sharper half, or where a circle is steepest. [m/%]"""
        if abs(self.change) <= _STRAIGHT:
            return np.inf
        if self.shape == "circle":
            return self.radius_m / 100 / circle_steepness(self.grade_in, self.grade_out)
        return self.length_m / (100 * abs(self.change) * sharper(self.share))

    @property
    def turning_m(self) -> float | None:
        """Distance from its start to its high or low point; None where it has none. [m]"""
        if self.length_m <= 0 or self.grade_in * self.grade_out >= 0:
            return None
        if self.shape == "circle":
            return self.radius_m * abs(_sine(self.grade_in))
        first = self.length_in_m
        middle = self.grade_in + self.change * (1 - self.share)
        if self.grade_in * middle <= 0:
            return first * self.grade_in / (self.grade_in - middle)
        return first + (self.length_m - first) * middle / (middle - self.grade_out)


def sharper(share: float) -> float:
    """How much sharper than a symmetrical curve of the same length an unsymmetrical one is in its sharper half."""
    return max(share / (1 - share), (1 - share) / share)


def _sine(grade: float) -> float:
    return float(grade / np.hypot(1.0, grade))


def circle_share(grade_in: float, grade_out: float) -> float:
    """Share of a circle's length in plan that lies before the IP: its tangents are equal along the slope."""
    before, after = 1 / np.hypot(1.0, grade_in), 1 / np.hypot(1.0, grade_out)
    return float(before / (before + after))


def circle_length(radius_m: float, grade_in: float, grade_out: float) -> float:
    """Length in plan of a circle between two grades: the difference of their sines, times its radius. [m]"""
    return abs(_sine(grade_out) - _sine(grade_in)) * radius_m


def circle_steepness(grade_in: float, grade_out: float) -> float:
    """By how much a circle's change of grade in plan exceeds 1 / R where it is steepest: (1 + g^2)^1.5."""
    return float((1 + max(abs(grade_in), abs(grade_out)) ** 2) ** 1.5)


def length_of_k(k_m_per_pct: float, curve: VerticalCurve) -> float:
    """The length whose sharpest K is this. [m]"""
    if curve.shape == "circle":
        radius = 100 * k_m_per_pct * circle_steepness(curve.grade_in, curve.grade_out)
        return circle_length(radius, curve.grade_in, curve.grade_out)
    return 100 * k_m_per_pct * abs(curve.change) * sharper(curve.share)


def length_of_radius(radius_m: float, curve: VerticalCurve) -> float:
    """The length of a circle of this radius, or of a parabola with K = R / 100. [m]"""
    if curve.shape == "circle":
        return circle_length(radius_m, curve.grade_in, curve.grade_out)
    return length_of_k(radius_m / 100, curve)


def length_for_sight(sight_m: float, curve: VerticalCurve, heights: Heights | None = None) -> float:
    """The least length that keeps a sight distance: on the safe side for what is no symmetrical parabola. [m]"""
    if abs(curve.change) <= _STRAIGHT:
        return 0.0
    if curve.shape == "parabola" and curve.share == 0.5:
        return sight_curve_m(sight_m, curve.change, heights)
    return length_of_k(sight_k(sight_m, curve.change, heights), curve)


def length_through(ahead_m: float, above_m: float, curve: VerticalCurve) -> float | None:
    """The length of the curve that goes through a point; None where none does. [m]

    The point lies `ahead_m` of the IP (below zero: before it) and `above_m` its level, in metres.

    References
    ----------
    Reference values 1.5 for the symmetrical parabola. With r the share, d the point's distance from the IP and v its
    height above the tangent on its side, A (1 - r) / (2 r L) (r L - d)^2 = v before the IP: a quadratic in L; behind it
    with 1 - r for r.
    """
    own = curve.grade_out if ahead_m > 0 else curve.grade_in
    offset = above_m - own * ahead_m
    d = abs(ahead_m)
    if abs(curve.change) <= _STRAIGHT or offset * curve.change <= 0:
        return None
    if curve.shape == "circle":
        return _circle_through(ahead_m, above_m, curve)
    r = 1 - curve.share if ahead_m > 0 else curve.share
    half = r * d + r * offset / (curve.change * (1 - r))
    return float((half + np.sqrt(max(half**2 - (r * d) ** 2, 0.0))) / r**2)


def _circle_through(ahead_m: float, above_m: float, curve: VerticalCurve) -> float | None:
    """The length of the circle through a point: the larger it is, the further it stays from the IP."""
    up, sine = float(np.sign(curve.change)), _sine(curve.grade_in)
    of_one = circle_length(1.0, curve.grade_in, curve.grade_out)

    def above(radius: float) -> float:
        """How far beyond the point the circle passes: its centre lies square to the first tangent where it starts."""
        start = -of_one * radius * curve.before
        x, z = start - up * radius * sine, curve.grade_in * start + up * radius * np.sqrt(1 - sine**2)
        return float(up * (z - up * np.sqrt(radius**2 - (ahead_m - x) ** 2) - above_m))

    side = 1 - curve.before if ahead_m > 0 else curve.before
    low = abs(ahead_m) / (of_one * side)
    high = max(2 * low, 1.0)
    while above(high) < 0:
        high *= 2
        if high > _LARGEST_RADIUS_M:
            return None
    if low <= 0 and above(1e-9) >= 0:
        return None
    return of_one * float(scipy.optimize.brentq(above, low, high, xtol=1e-9, rtol=8.9e-16))


def check_share(share: float | None) -> None:
    """Raises DesignInputError where a share leaves one side of the IP without a curve."""
    if share is not None and not 0.02 <= share <= 0.98:
        raise DesignInputError("in_share", "Each side of an unsymmetrical curve has at least a fiftieth of its length.")
