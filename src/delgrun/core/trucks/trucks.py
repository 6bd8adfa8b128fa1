"""A truck on the grades of a line: its speed in both directions, and where it falls too far behind."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.fields import meant
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.pieces import mirrored
from delgrun.core.runs import runs
from delgrun.core.sight.along import eyes_along
from delgrun.core.trucks import kernels

FloatArray = NDArray[np.float64]

_KMH = 3.6
_AIR_KG_M3 = 1.225


@dataclass(frozen=True, kw_only=True)
class Truck:
    """The truck that the grades are judged by, and how far it may fall behind.

    References
    ----------
    m v dv/ds = eta P / v - m g (c_rr + G) - rho c_d A v^2 / 2, without turning masses: common practice; constants of
    reference values section 6. 120 kg/kW is 200 lb/hp; 15 km/h (10 mph) slower than the others is when accidents rise:
    "A Policy on Geometric Design of Highways and Streets", from memory.
    """

    kg_per_kw: float = meant(
        "mass_to_power", "mass to power", low=10, high=600, first=120.0, says="of the truck the grades are judged by"
    )
    mass_kg: float = meant("mass", "mass", low=1000, high=200_000, first=36_000.0)
    efficiency: float = meant("factor", "power at wheels", low=0.3, high=1, first=0.87, aside="of the engine's")
    rolling: float = meant("factor", "rolling", low=0, high=0.1, first=0.0088, aside="of its weight")
    drag_area_m2: float = meant("section_area", "drag area", low=0, high=30, first=6.5)
    fastest_kmh: float | None = meant(
        "speed", "entry speed", low=10, high=150, first=None, optional=True,
        says="what it drives on flat road before this one; free: the design speed, as far as trucks go that fast",
    )  # fmt: skip
    most_slower_kmh: float = meant("speed", "allowed speed loss", low=1, high=100, first=15.0, aside="at most")

    @property
    def power(self) -> float:
        """Power at the wheels over mass. [W/kg]"""
        return 1000 * self.efficiency / self.kg_per_kw

    @property
    def drag(self) -> float:
        """Air resistance at 1 m/s over mass, half of rho c_d A / m. [1/m]"""
        return _AIR_KG_M3 * self.drag_area_m2 / 2 / self.mass_kg

    def fastest(self, design_speed_kmh: float) -> float:
        """The speed it comes with, and goes no faster than. [km/h]"""
        return min(design_speed_kmh, 110.0) if self.fastest_kmh is None else self.fastest_kmh


@dataclass(frozen=True)
class Slow:
    """A stretch where a truck is slower by more than it may be, by chainage.

    `grade_from_m`: where it began to lose speed, so that `critical_m` is the length in which it lost too much.
    """

    from_m: float
    to_m: float
    slowest_kmh: float
    critical_m: float
    grade_from_m: float


@dataclass(frozen=True)
class TruckRun:
    """Speeds of a truck in one direction at (n,) chainages [m, km/h], and where it is too slow.

    `half_v2`: v^2 / 2 at each in the order it drives. [m2/s2]
    """

    at_m: FloatArray
    kmh: FloatArray
    slow: tuple[Slow, ...]
    half_v2: FloatArray


@dataclass(frozen=True)
class RunAtRest:
    """The same run along a line that differs from the one that is looked at between two chainages only. [m]"""

    run: TruckRun
    from_m: float
    to_m: float


_NONE = np.zeros(0)


def run(
    line: GradeLine, truck: Truck, design_speed_kmh: float, *, back: bool = False, rest: RunAtRest | None = None
) -> TruckRun:
    """A truck along a line, in the direction of chainage or against it.

    `rest`: where it has been worked out along a line that differs in one stretch, it is driven from there on until its
    speed is what it was.
    """
    at = eyes_along(line)
    rows = line.pieces
    before = (_NONE, _NONE, 0.0, 0.0) if rest is None else (rest.run.at_m, rest.run.half_v2, rest.from_m, rest.to_m)
    if back:
        rows, at = mirrored(rows), -at[::-1]
        before = -before[0][::-1], before[1], -before[3], -before[2]
    fastest = truck.fastest(design_speed_kmh)
    w = kernels.truck_speeds(rows, at, fastest / _KMH, fastest / _KMH, truck.power, truck.rolling, truck.drag, *before)
    kmh = _KMH * np.sqrt(2 * w)
    slow = _slow(at, kmh, fastest - truck.most_slower_kmh, fastest)
    if not back:
        return TruckRun(at, kmh, slow, w)
    turned = tuple(Slow(-k.from_m, -k.to_m, k.slowest_kmh, k.critical_m, -k.grade_from_m) for k in slow)
    return TruckRun(-at[::-1], kmh[::-1], turned[::-1], w)


def _slow(at: FloatArray, kmh: FloatArray, least: float, fastest: float) -> tuple[Slow, ...]:
    """Stretches, in the direction driven, with a speed below the least; between two places it changes evenly."""
    out = []
    for a, b in runs(kmh < least - 1e-6):
        start = _crossing(at, kmh, a - 1, least) if a > 0 else float(at[a])
        end = _crossing(at, kmh, b, least) if b + 1 < len(at) else float(at[b])
        full = np.flatnonzero(kmh[: a + 1] >= fastest - 0.1)
        began = float(at[full[-1]]) if len(full) else float(at[0])
        out.append(Slow(start, end, float(kmh[a : b + 1].min()), start - began, began))
    return tuple(out)


def _crossing(at: FloatArray, kmh: FloatArray, i: int, least: float) -> float:
    share = (least - kmh[i]) / (kmh[i + 1] - kmh[i])
    return float(at[i] + share * (at[i + 1] - at[i]))
