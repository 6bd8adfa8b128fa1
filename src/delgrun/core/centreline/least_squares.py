"""Least squares of the offsets of points from a line that is given by its IPs."""

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp, Legs, turns_of
from delgrun.core.centreline.room import squeezed
from delgrun.core.errors import DesignInputError

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

# IPs so far apart move nothing together.
_APART = 4
# What is driven to nothing may be off by so much as a point by the noise. [m]
_NOTHING_M = 1e-3
# Steps of the differences: places [m], logarithm of the radius, transitions [m].
_STEP = np.array([0.01, 0.01, 1e-4, 0.05, 0.05])
# Bends that overlap by so much are as bad as a point that is off by the noise. [m]
_OVER_M = 0.2
_ROUNDS = 25
_ENOUGH = 1e-4


_TOO_WILD = (
    "This line takes too long to be fitted: it turns far too often for its number of vertices, or goes over itself. "
    "Take its vertices as IPs, or thin it to the road's own line."
)


class LeastSquares:
    """Least squares of the offsets of points from a line given by its IPs; in units of the noise."""

    def __init__(self, points: FloatArray, noise_m: float, stop: Callable[[], bool] = lambda: False) -> None:
        self.points, self.noise, self.stop = points, noise_m, stop

    def offsets(self, ips: Sequence[CentrelineIp], some: IntArray | None = None) -> FloatArray:
        """Offsets of all points, or of some. [m]"""
        line = Centreline(possible(list(ips))).line
        xy = self.points if some is None else self.points[some]
        return line.nearest(xy[:, 0], xy[:, 1]).offset_m

    def solved(
        self,
        ips: list[CentrelineIp],
        some: IntArray | None = None,
        nothing: Callable[[list[CentrelineIp]], float] | None = None,
    ) -> tuple[list[CentrelineIp], float]:
        """IPs with the least squares nearby, transitions of 0 kept, and the sum; `nothing` is driven to 0 as well. [m]

        Levenberg and Marquardt's steps; each IP moves only its neighbourhood, so that four of each kind of difference
        give all of them.
        """
        free = _free(ips)

        def residuals(these: list[CentrelineIp]) -> FloatArray:
            off = self.offsets(these, some) / self.noise
            more = [] if nothing is None else [nothing(these) / _NOTHING_M]
            return np.concatenate([off, _overlaps(these) / _OVER_M, more])

        r = residuals(ips)
        damping, best = 1e-3, float(r @ r)
        for _ in range(_ROUNDS):
            if self.stop():
                raise DesignInputError("file", _TOO_WILD)
            jacobian = self._jacobian(ips, free, r, residuals, some)
            if nothing is not None:
                jacobian[-1] = _row(ips, free, lambda these: nothing(these) / _NOTHING_M)
            normal = jacobian.T @ jacobian
            gradient = jacobian.T @ r
            gained = False
            while damping < 1e8:
                step = np.asarray(
                    np.linalg.solve(normal + damping * np.diag(np.diag(normal) + 1e-9), -gradient), np.float64
                )
                tried = _stepped(ips, free, step)
                try:
                    anew = residuals(tried)
                except DesignInputError:
                    anew = np.full(1, np.inf)
                if float(anew @ anew) < best:
                    gained = True
                    break
                damping *= 8
            if not gained:
                break
            less = best - float(anew @ anew)
            ips, r, best = tried, anew, float(anew @ anew)
            damping = max(damping / 8, 1e-6)
            if less < _ENOUGH * max(best, 1.0):
                break
        return possible(ips), best

    def _jacobian(
        self,
        ips: list[CentrelineIp],
        free: list[tuple[int, int]],
        r: FloatArray,
        residuals: Callable[[list[CentrelineIp]], FloatArray],
        some: IntArray | None,
    ) -> FloatArray:
        """Differences of the residuals: IPs four apart touch none of the same, and are moved at once."""
        out = np.zeros((len(r), len(free)))
        at, rows = self._places(ips, len(r), some)
        for kind in range(len(_STEP)):
            for colour in range(_APART):
                columns = [k for k, (i, own) in enumerate(free) if own == kind and i % _APART == colour]
                if not columns:
                    continue
                step = np.zeros(len(free))
                step[columns] = _STEP[kind]
                try:
                    change = (residuals(_stepped(ips, free, step)) - r) / _STEP[kind]
                except DesignInputError:
                    continue
                # Between two of them, what lies before the IP in the middle belongs to the first.
                ends = [at[free[k][0] + _APART // 2] for k in columns[:-1]]
                whose = np.searchsorted(ends, rows, side="right")
                out[np.arange(len(r)), np.array(columns)[whose]] = change
        return out

    def _places(self, ips: list[CentrelineIp], count: int, some: IntArray | None) -> tuple[FloatArray, FloatArray]:
        """Chainages of the IPs, and of what each residual is about. [m]"""
        line = Centreline(possible(ips)).line
        plan = np.array([(ip.easting_m, ip.northing_m) for ip in ips])
        at = np.maximum.accumulate(line.nearest(*plan.T).chainage_m)
        xy = self.points if some is None else self.points[some]
        points = line.nearest(*xy.T).chainage_m
        inner = at[1:-1] if len(ips) > 2 else np.zeros(0)
        legs = (at[:-1] + at[1:]) / 2 if len(ips) > 2 else np.zeros(0)
        rows = np.concatenate([points, inner, legs])
        # What is driven to nothing besides stands last, about one leg: it is found by differences of its own.
        return at, np.append(rows, np.full(count - len(rows), np.inf))


def _free(ips: list[CentrelineIp]) -> list[tuple[int, int]]:
    """What may change: (IP, kind); ends move aside only, transitions that are none stay so."""
    out: list[tuple[int, int]] = []
    for i, ip in enumerate(ips):
        if i in (0, len(ips) - 1):
            out.append((i, 0))
            continue
        out += [(i, 0), (i, 1), (i, 2)]
        out += [(i, kind) for kind, length in ((3, ip.transition_in_m), (4, ip.transition_out_m)) if length > 0]
    return out


def _row(
    ips: list[CentrelineIp], free: list[tuple[int, int]], value: Callable[[list[CentrelineIp]], float]
) -> FloatArray:
    """Differences of one value by all that may change."""
    here = value(ips)
    out = np.zeros(len(free))
    for column, (_, kind) in enumerate(free):
        step = np.zeros(len(free))
        step[column] = _STEP[kind]
        out[column] = (value(_stepped(ips, free, step)) - here) / _STEP[kind]
    return out


def _stepped(ips: list[CentrelineIp], free: list[tuple[int, int]], step: FloatArray) -> list[CentrelineIp]:
    out = list(ips)
    for (i, kind), by in zip(free, step.tolist(), strict=True):
        ip = out[i]
        if i in (0, len(ips) - 1):
            other = ips[1] if i == 0 else ips[-2]
            away = np.array([other.easting_m - ips[i].easting_m, other.northing_m - ips[i].northing_m])
            away = away / np.hypot(*away)
            out[i] = replace(ip, easting_m=ip.easting_m - away[1] * by, northing_m=ip.northing_m + away[0] * by)
        elif kind == 0:
            out[i] = replace(ip, easting_m=ip.easting_m + by)
        elif kind == 1:
            out[i] = replace(ip, northing_m=ip.northing_m + by)
        elif kind == 2:
            out[i] = replace(ip, radius_m=ip.radius_m * float(np.exp(np.clip(by, -0.5, 0.5))))
        elif kind == 3:
            out[i] = replace(ip, transition_in_m=max(ip.transition_in_m + by, 0.1))
        else:
            out[i] = replace(ip, transition_out_m=max(ip.transition_out_m + by, 0.1))
    return out


def _overlaps(ips: list[CentrelineIp]) -> FloatArray:
    """By how much transitions turn too far, and bends overlap; 0 where they do not. [m]"""
    if len(ips) < 3:
        return np.zeros(0)
    turn = np.abs(turns_of(ips))
    over = [
        max(ip.transition_in_m + ip.transition_out_m - 1.98 * t * ip.radius_m, 0.0)
        for ip, t in zip(ips[1:-1], turn.tolist(), strict=True)
    ]
    return np.concatenate([over, np.maximum(-Legs.of(arced(ips)).straight_m, 0.0)])


def arced(ips: list[CentrelineIp]) -> list[CentrelineIp]:
    """IPs whose transitions leave an arc."""
    out = list(ips)
    for i, turn in enumerate(np.abs(turns_of(ips)).tolist(), 1):
        ip = ips[i]
        most, whole = 1.98 * turn * ip.radius_m, ip.transition_in_m + ip.transition_out_m
        if whole > most:
            less = most / whole
            out[i] = replace(ip, transition_in_m=ip.transition_in_m * less, transition_out_m=ip.transition_out_m * less)
    return out


def possible(ips: list[CentrelineIp]) -> list[CentrelineIp]:
    """IPs whose transitions leave an arc and whose bends do not overlap."""
    return ips if len(ips) < 3 else squeezed(arced(ips), np.inf)
