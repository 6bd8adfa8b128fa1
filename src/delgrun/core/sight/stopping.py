"""Stopping sight, on the level and on grades, and the K values that keep it."""

from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

Speeds = TypeVar("Speeds", float, NDArray[np.float64])

REACTION_S = 2.5
DECELERATION_M_S2 = 3.4


def stopping_sight_m(speed_kmh: float) -> float:
    """Distance to stop on a level road, before rounding. [m]

    References
    ----------
    0.278 V t + 0.039 V^2 / a, t = 2.5 s, a = 3.4 m/s2: "A Policy on Geometric Design of Highways and
    Streets", metric form; reference values section 2. (The grade form with G = 0 is 1 % shorter: 2.1.)

    Examples
    --------
    >>> round(stopping_sight_m(90), 1)
    155.5
    """
    return 0.278 * speed_kmh * REACTION_S + 0.039 * speed_kmh**2 / DECELERATION_M_S2


def design_stopping_sight_m(speed_kmh: float) -> float:
    """The same up to the next 5 m, as the table prints it. [m]

    >>> design_stopping_sight_m(90)
    160.0
    """
    return float(5 * np.ceil(stopping_sight_m(speed_kmh) / 5 - 1e-9))


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


def sight_k(sight_m: float, change: float) -> float:
    """K of a curve as long as the sight distance or longer that just keeps it, unrounded; a crest has change < 0. [m/%]

    References
    ----------
    Crest K = S^2 / 658, sag (headlights) K = S^2 / (120 + 3.5 S): reference values section 2.
    """
    return sight_m**2 / (658.0 if change < 0 else 120 + 3.5 * sight_m)


def sight_curve_m(sight_m: float, change: float) -> float:
    """Least length of a parabola that keeps a sight distance over a change of grade [m/m]; 0: none is needed. [m]

    References
    ----------
    A S^2 / C where S <= L, else 2 S - C / A with A in percent: reference values 2.3 (crest) and 2.4 (sag).
    """
    percent = 100 * abs(change)
    constant = sight_m**2 / sight_k(sight_m, change)
    long = percent * sight_m**2 / constant
    if long >= sight_m:
        return long
    return max(2 * sight_m - constant / percent, 0.0) if percent > 0 else 0.0


@dataclass(frozen=True, kw_only=True)
class Stopping:
    """What a driver needs to stop.

    Parameters
    ----------
    speed_kmh, reaction_s : as they are named
    deceleration_m_s2 : of the brakes on the level
    eye_m, object_m : heights above the road

    References
    ----------
    0.278 V t + V^2 / (254 (a / 9.81 + G)): "A Policy on Geometric Design of Highways and Streets", reference values
    2.2. With the grade changing on the way, G d is the rise over the way braked in: what speed is worth in height is
    used up by brakes and rise.
    """

    speed_kmh: float
    reaction_s: float = 2.5
    deceleration_m_s2: float = 3.4
    eye_m: float = 1.08
    object_m: float = 0.60

    def reacting_at(self, speed_kmh: Speeds) -> Speeds:
        """What is driven before the brakes hold. [m]"""
        return 0.278 * self.reaction_s * speed_kmh

    def braking_at(self, speed_kmh: Speeds) -> Speeds:
        """The height that a speed is worth. [m]"""
        return speed_kmh**2 / 254

    @property
    def force(self) -> float:
        """Deceleration over gravity."""
        return self.deceleration_m_s2 / 9.81
