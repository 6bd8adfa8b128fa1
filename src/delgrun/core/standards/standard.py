"""What a published standard offers as limits: each value with its formula and source, and whether it is from memory."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

RoadClass = Literal["local", "collector", "arterial"]
Terrain = Literal["level", "rolling", "mountainous"]
# Desirable, or the least that the standard allows.
Tier = Literal["desirable", "least"]


@dataclass(frozen=True, kw_only=True)
class Wish:
    """For what road limits are wanted."""

    design_speed_kmh: float
    road_class: RoadClass = "collector"
    terrain: Terrain = "rolling"
    tier: Tier = "least"


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
    """A family of limits. `offers` yields all its values for a road."""

    id: str
    name: str
    source: str
    edition: str
    offers: Callable[[Wish], list[Offered]]


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


def steepest(wish: Wish) -> float:
    """Steepest grade of a class in a terrain: in proportion between the speeds of its table, level beyond its ends.

    A grade that is desirable is a point less steep: practice.

    >>> steepest(Wish(design_speed_kmh=75, road_class="collector", terrain="rolling"))
    0.075
    """
    table = _STEEPEST[wish.road_class, wish.terrain]
    speeds = sorted(table)
    v = min(max(wish.design_speed_kmh, speeds[0]), speeds[-1])
    above = next(s for s in speeds if s >= v)
    below = next(s for s in reversed(speeds) if s <= v)
    share = (v - below) / (above - below) if above > below else 0.0
    grade = (table[below] + share * (table[above] - table[below])) / 100
    return round(grade - (0.01 if wish.tier == "desirable" else 0.0), 6)
