"""What a published standard offers as limits: each value with its formula and source, and whether it is from memory."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from delgrun.core.units import FOOT_M, MILE_KM

RoadClass = Literal["local", "collector", "arterial"]
Terrain = Literal["level", "rolling", "mountainous"]
# Desirable, or the least that the standard allows.
Tier = Literal["desirable", "least"]


@dataclass(frozen=True, kw_only=True)
class Wish:
    """For what road limits are wanted; `foot_m`: in what feet, where they are printed in feet."""

    design_speed_kmh: float
    road_class: RoadClass = "collector"
    terrain: Terrain = "rolling"
    tier: Tier = "least"
    foot_m: float = FOOT_M["us"]


@dataclass(frozen=True, kw_only=True)
class Offered:
    """One limit (`field` of the limits), why it is that, where that stands, and whether no book was at hand."""

    field: str
    value: float
    formula: str
    source: str
    edition: str = ""
    from_memory: bool = True


@dataclass(frozen=True, kw_only=True)
class Standard:
    """A family of limits. `offers` yields all its values for a road; `form`: by whose constants one stops, if said."""

    id: str
    name: str
    source: str
    edition: str
    offers: Callable[[Wish], list[Offered]]
    form: str | None = None


PRACTICE = "common practice"

# Steepest grades in percent by class, terrain and design speed [km/h]: tables of the policy for rural roads, from
# memory.
_STEEPEST: dict[tuple[RoadClass, Terrain], dict[int, float]] = {
    ("local", "level"): {20: 9, 30: 8, 40: 7, 50: 7, 60: 7, 70: 7, 80: 6, 90: 6, 100: 5},
    ("local", "rolling"): {20: 12, 30: 11, 40: 11, 50: 10, 60: 10, 70: 9, 80: 8, 90: 7, 100: 6},
    ("local", "mountainous"): {20: 17, 30: 16, 40: 15, 50: 14, 60: 13, 70: 12, 80: 10, 90: 10, 100: 10},
    ("collector", "level"): {30: 7, 40: 7, 50: 7, 60: 7, 70: 7, 80: 6, 90: 6, 100: 5},
    ("collector", "rolling"): {30: 10, 40: 10, 50: 9, 60: 8, 70: 8, 80: 7, 90: 7, 100: 6},
    ("collector", "mountainous"): {30: 12, 40: 11, 50: 10, 60: 10, 70: 10, 80: 9, 90: 9, 100: 8},
    ("arterial", "level"): {60: 5, 70: 5, 80: 4, 90: 4, 100: 3, 110: 3},
    ("arterial", "rolling"): {60: 6, 70: 6, 80: 5, 90: 5, 100: 4, 110: 4},
    ("arterial", "mountainous"): {60: 8, 70: 7, 80: 7, 90: 6, 100: 6, 110: 5},
}


# The same in mph: tables of the policy for rural roads in US customary units, from memory.
_STEEPEST_US: dict[tuple[RoadClass, Terrain], dict[int, float]] = {
    ("local", "level"): {15: 9, 20: 8, 25: 7, 30: 7, 40: 7, 45: 7, 50: 6, 55: 6, 60: 5},
    ("local", "rolling"): {15: 12, 20: 11, 25: 11, 30: 10, 40: 10, 45: 9, 50: 8, 55: 7, 60: 6},
    ("local", "mountainous"): {15: 17, 20: 16, 25: 15, 30: 14, 40: 13, 45: 12, 50: 10, 55: 10, 60: 10},
    ("collector", "level"): {20: 7, 25: 7, 30: 7, 40: 7, 45: 7, 50: 6, 55: 6, 60: 5},
    ("collector", "rolling"): {20: 10, 25: 10, 30: 9, 35: 9, 40: 8, 45: 8, 50: 7, 55: 7, 60: 6},
    ("collector", "mountainous"): {20: 12, 25: 11, 30: 10, 40: 10, 45: 10, 50: 9, 55: 9, 60: 8},
    ("arterial", "level"): {40: 5, 45: 5, 50: 4, 55: 4, 60: 3, 70: 3},
    ("arterial", "rolling"): {40: 6, 45: 6, 50: 5, 55: 5, 60: 4, 70: 4},
    ("arterial", "mountainous"): {40: 8, 45: 7, 50: 7, 55: 6, 60: 6, 65: 5, 70: 5},
}


def steepest(wish: Wish) -> float:
    """Steepest grade of a class in a terrain: in proportion between the speeds of its table, level beyond its ends.

    A grade that is desirable is a point less steep: practice.

    >>> steepest(Wish(design_speed_kmh=75, road_class="collector", terrain="rolling"))
    0.075
    """
    return _steepest(_STEEPEST[wish.road_class, wish.terrain], wish.design_speed_kmh, wish.tier)


def steepest_us(wish: Wish) -> float:
    """The same by the table in miles an hour.

    >>> steepest_us(Wish(design_speed_kmh=45 * MILE_KM, road_class="collector", terrain="rolling"))
    0.08
    """
    # A speed kept in km/h is a whole one in mph again.
    return _steepest(_STEEPEST_US[wish.road_class, wish.terrain], round(wish.design_speed_kmh / MILE_KM, 9), wish.tier)


def _steepest(table: dict[int, float], speed: float, tier: Tier) -> float:
    speeds = sorted(table)
    v = min(max(speed, speeds[0]), speeds[-1])
    above = next(s for s in speeds if s >= v)
    below = next(s for s in reversed(speeds) if s <= v)
    share = (v - below) / (above - below) if above > below else 0.0
    grade = (table[below] + share * (table[above] - table[below])) / 100
    return round(grade - (0.01 if tier == "desirable" else 0.0), 6)
