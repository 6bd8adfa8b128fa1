"""Stopping sight, on the level and on grades, and the K values that keep it."""

from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from delgrun.core.units import FOOT_M, MILE_KM

Speeds = TypeVar("Speeds", float, NDArray[np.float64])


def crest_k(sight_m: float) -> float:
    """Least K of a crest that keeps this sight, eye 1.08 m, object 0.60 m, as printed. [m/%]

    References
    ----------
    K = S^2 / 658; printed to one decimal first, then up: reference values section 2.
    """
    return printed(sight_m**2 / 658)


def sag_k(sight_m: float) -> float:
    """Least K of a sag whose headlights reach this far, as printed. [m/%]

    References
    ----------
    K = S^2 / (120 + 3.5 S); rounding as for crests.
    """
    return printed(sight_m**2 / (120 + 3.5 * sight_m))


def printed(k: float) -> float:
    """K as tables print it: to one decimal first, then up."""
    return float(np.ceil(np.round(k, 1) - 1e-9))


@dataclass(frozen=True, kw_only=True)
class Heights:
    """What is seen from where: heights above the road of eye, object and headlights, and the rise of their beam. [m]"""

    eye_m: float = 1.08
    object_m: float = 0.60
    headlight_m: float = 0.60
    headlight_deg: float = 1.0

    @property
    def crest_m(self) -> float:
        """C of a crest: K = S^2 / C. [m]

        References
        ----------
        200 (sqrt h1 + sqrt h2)^2, closed form; reference values 2.7. Printed forms round it: 658 (metric), 2158 ft.
        """
        return float(200 * (np.sqrt(self.eye_m) + np.sqrt(self.object_m)) ** 2)

    def sag_m(self, sight_m: float) -> float:
        """The same of a sag lit as far as this: 200 (h + S tan b). Printed forms round it: 120 + 3.5 S. [m]"""
        return float(200 * (self.headlight_m + sight_m * np.tan(np.radians(self.headlight_deg))))


def sight_constant(sight_m: float, change: float, heights: Heights | None = None) -> float:
    """C of a curve that keeps a sight distance by K = S^2 / C; a crest has change < 0. [m]

    References
    ----------
    Without heights the policy's printed ones, 658 and 120 + 3.5 S: reference values section 2.
    """
    if heights is None:
        return 658.0 if change < 0 else 120 + 3.5 * sight_m
    return heights.crest_m if change < 0 else heights.sag_m(sight_m)


def sight_k(sight_m: float, change: float, heights: Heights | None = None) -> float:
    """K of a curve as long as the sight distance or longer that just keeps it, unrounded; a crest has change < 0. [m/%]

    References
    ----------
    K = S^2 / C: reference values section 2.
    """
    return sight_m**2 / sight_constant(sight_m, change, heights)


def sight_curve_m(sight_m: float, change: float, heights: Heights | None = None) -> float:
    """Least length of a parabola that keeps a sight distance over a change of grade [m/m]; 0: none is needed. [m]

    References
    ----------
    A S^2 / C where S <= L, else 2 S - C / A with A in percent: reference values 2.3 (crest) and 2.4 (sag).
    """
    percent = 100 * abs(change)
    constant = sight_constant(sight_m, change, heights)
    long = percent * sight_m**2 / constant
    if long >= sight_m:
        return long
    return max(2 * sight_m - constant / percent, 0.0) if percent > 0 else 0.0


@dataclass(frozen=True)
class Form:
    """The constants that a published form prints, in km/h and metres.

    Parameters
    ----------
    reacting : metres a second for each km/h
    braking : V^2 over this is the height that a speed is worth
    gravity : that the deceleration is divided by [m/s2]
    level : on the level V^2 times this over the deceleration; None: V^2 / braking x gravity, as on grades
    step_m : a design value is rounded up to it
    """

    reacting: float
    braking: float
    gravity: float
    level: float | None
    step_m: float

    def level_m(self, speed_kmh: float, reaction_s: float, deceleration_m_s2: float) -> float:
        """Distance to stop on a level road, before rounding. [m]"""
        a, b = self.quadratic(reaction_s, deceleration_m_s2)
        return a * speed_kmh**2 + b * speed_kmh

    def quadratic(self, reaction_s: float, deceleration_m_s2: float) -> tuple[float, float]:
        """a and b of a V^2 + b V, the distance to stop on the level."""
        worth = self.gravity / self.braking if self.level is None else self.level
        return worth / deceleration_m_s2, self.reacting * reaction_s


_FOOT = FOOT_M["us"]
METRIC, US_CUSTOMARY, FRICTION = FORM_NAMES = ("metric", "US customary", "friction")
# "A Policy on Geometric Design of Highways and Streets": 0.278 V t + 0.039 V^2 / a and V^2 / (254 (a / 9.81 + G));
# in mph and feet 1.47 V t + 1.075 V^2 / a and V^2 / (30 (a / 32.2 + G)). "Guide to Road Design, Part 3": R V / 3.6 +
# V^2 / (254 (d + G)), d the deceleration over 9.81. Reference values 2, 2.2 and 2.7.
FORMS = {
    METRIC: Form(0.278, 254.0, 9.81, 0.039, 5.0),
    US_CUSTOMARY: Form(
        1.47 * _FOOT / MILE_KM, 30 * MILE_KM**2 / _FOOT, 32.2 * _FOOT, 1.075 * _FOOT**2 / MILE_KM**2, 5 * _FOOT
    ),
    FRICTION: Form(1 / 3.6, 254.0, 9.81, None, 1.0),
}


@dataclass(frozen=True, kw_only=True)
class Stopping(Heights):
    """What a driver needs to stop, and sees.

    Parameters
    ----------
    speed_kmh, reaction_s : as they are named
    deceleration_m_s2 : of the brakes on the level
    form : whose constants; one of FORM_NAMES

    References
    ----------
    0.278 V t + V^2 / (254 (a / 9.81 + G)): "A Policy on Geometric Design of Highways and Streets", reference values
    2.2. With the grade changing on the way, G d is the rise over the way braked in: what speed is worth in height is
    used up by brakes and rise.
    """

    speed_kmh: float
    reaction_s: float = 2.5
    deceleration_m_s2: float = 3.4
    form: str = METRIC

    @property
    def constants(self) -> Form:
        return FORMS[self.form]

    def reacting_at(self, speed_kmh: Speeds) -> Speeds:
        """What is driven before the brakes hold. [m]"""
        return self.constants.reacting * self.reaction_s * speed_kmh

    def braking_at(self, speed_kmh: Speeds) -> Speeds:
        """The height that a speed is worth. [m]"""
        return speed_kmh**2 / self.constants.braking

    @property
    def force(self) -> float:
        """Deceleration over gravity."""
        return self.deceleration_m_s2 / self.constants.gravity

    @property
    def level_m(self) -> float:
        """Distance to stop on a level road, as the form has it, before rounding. [m]"""
        return self.constants.level_m(self.speed_kmh, self.reaction_s, self.deceleration_m_s2)

    @property
    def design_m(self) -> float:
        """The same up to the next step of the form (5 m, 5 ft, 1 m). [m]

        >>> round(Stopping(speed_kmh=60 * MILE_KM, deceleration_m_s2=3.41, form=US_CUSTOMARY).design_m / 0.3048)
        570
        """
        step = self.constants.step_m
        return float(step * np.ceil(self.level_m / step - 1e-9))


def stopping_sight_m(speed_kmh: float) -> float:
    """Distance to stop on a level road by the metric form with its usual driver, before rounding. [m]

    References
    ----------
    0.278 V t + 0.039 V^2 / a, t = 2.5 s, a = 3.4 m/s2: "A Policy on Geometric Design of Highways and
    Streets", metric form; reference values section 2. (The grade form with G = 0 is 1 % shorter: 2.1.)

    Examples
    --------
    >>> round(stopping_sight_m(90), 1)
    155.5
    """
    return Stopping(speed_kmh=speed_kmh).level_m


def design_stopping_sight_m(speed_kmh: float) -> float:
    """The same up to the next 5 m, as the table prints it. [m]

    >>> design_stopping_sight_m(90)
    160.0
    """
    return Stopping(speed_kmh=speed_kmh).design_m
