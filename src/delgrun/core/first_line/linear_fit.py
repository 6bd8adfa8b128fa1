"""Levels of a grade line whose IPs' chainages and curve lengths are given, as near to the ground as limits allow.

Levels of the line are linear in the IPs' levels then (docs/formulas.md#offset-from-the-tangents), and so are grades and
changes of grade: a linear program.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linprog
from scipy.sparse import csr_matrix, hstack, identity, vstack

from delgrun.core.controls.level_room import LevelRoom, level_room
from delgrun.core.errors import DesignInputError
from delgrun.core.limits.check import RowKind
from delgrun.core.limits.checks import rows_of
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.ranges import LEAST_M, Steps

FloatArray = NDArray[np.float64]

# Less change of grade is none.
NO_BEND = 1e-5
# Sections grow with their depth: beyond so many metres a metre counts by so much more than the first.
_TIERS = ((1.0, 0.4), (3.0, 0.8), (6.0, 1.2))
# A metre beyond the greatest depth counts as so many.
_DEEP = 30.0
# Levels are kept to the millimetre: what limits leave is used but for what that may take. [m]
_ROUNDED_M = 0.0011
_LEAST_K = 1e-7
# Round grades are looked for so long at most, and as near to the best as this.
_LONGEST_S, _NEAR = 10.0, 0.02


@dataclass(frozen=True)
class Layout:
    """Chainages of IPs (m,), and lengths of their curves (m,), none at the ends. [m]"""

    x: FloatArray
    length: FloatArray

    @property
    def grade(self) -> csr_matrix:
        """(m-1, m) grades of the tangents from the IPs' levels."""
        h = np.diff(self.x)
        row = np.tile(np.arange(len(h)), 2)
        return csr_matrix((np.concatenate([-1 / h, 1 / h]), (row, np.concatenate([row[: len(h)], row[: len(h)] + 1]))))

    @property
    def change(self) -> csr_matrix:
        """(m-2, m) changes of grade at inner IPs."""
        return csr_matrix(self.grade[1:] - self.grade[:-1])

    def levels(self, s: FloatArray) -> csr_matrix:
        """(n, m) levels at chainages: the tangents, and A t^2 / (2 L) within a curve."""
        m = len(self.x)
        j = np.clip(np.searchsorted(self.x, s, side="right") - 1, 0, m - 2)
        share = (s - self.x[j]) / (self.x[j + 1] - self.x[j])
        row = np.arange(len(s))
        tangents = csr_matrix(
            (np.concatenate([1 - share, share]), (np.tile(row, 2), np.concatenate([j, j + 1]))), (len(s), m)
        )
        bent = csr_matrix((len(s), m - 2))
        for k in (j, j + 1):
            inner = (k > 0) & (k < m - 1)
            t = np.where(inner, self.length[k] / 2 - np.abs(s - self.x[k]), 0.0)
            on = inner & (t > 0)
            bent = bent + csr_matrix((t[on] ** 2 / (2 * self.length[k[on]]), (row[on], k[on] - 1)), (len(s), m - 2))
        return csr_matrix(tangents + bent @ self.change)

    def without_idle(self, level: FloatArray) -> "Layout":
        bends = np.abs(self.change @ level) > NO_BEND
        keep = np.concatenate([[True], bends, [True]])
        return Layout(self.x[keep], self.length[keep])


@dataclass(frozen=True)
class Asked:
    """What limits ask of a layout where its IPs stand: of tangents (m - 1,) and of curves at inner IPs (m - 2,).

    `edges`: where steepest grades change within curves: inner IP, chainage, and the steepest rise and fall there.
    """

    rise: FloatArray
    fall: FloatArray
    flattest: FloatArray
    crest_k: FloatArray
    sag_k: FloatArray
    curve_m: FloatArray
    edges: tuple[tuple[int, float, float, float], ...]

    @staticmethod
    def of(limits: LimitSet, lay: "Layout") -> "Asked":
        first, last = lay.x - lay.length / 2, lay.x + lay.length / 2
        # Where curves touch, the grade of the tangent between them is that of one place.
        straight = np.maximum(first[1:], last[:-1])
        spans = list(zip(last[:-1].tolist(), straight.tolist(), strict=True))
        own = list(zip(lay.x[:-1].tolist(), lay.x[1:].tolist(), strict=True))
        curves = list(zip(first[1:-1].tolist(), last[1:-1].tolist(), strict=True))

        def over(name: str, stretches: list[tuple[float, float]]) -> FloatArray:
            steps = limits.steps(name)
            return np.array([steps.over(a, b) or 0.0 for a, b in stretches], dtype=np.float64)

        def greatest(kind: RowKind, stretches: list[tuple[float, float]]) -> FloatArray:
            found: FloatArray = np.max([over(row.limit, stretches) for row in rows_of(kind)], axis=0)
            return found

        rise, fall = over("max_grade", spans), over("max_fall", spans)
        return Asked(
            rise=rise,
            # A fall keeps its own where there is one; in a span with both the stricter.
            fall=np.where(fall > 0, np.minimum(fall, np.where(_partly(limits, spans), rise, np.inf)), rise),
            flattest=greatest("flattest", own),
            crest_k=greatest("crest", curves),
            sag_k=greatest("sag", curves),
            curve_m=greatest("length", curves),
            edges=tuple(_edges(limits, curves)),
        )


def _edges(limits: LimitSet, curves: list[tuple[float, float]]) -> Iterator[tuple[int, float, float, float]]:
    up, down = limits.steps("max_grade"), limits.steps("max_fall")
    for i, (a, b) in enumerate(curves, 1):
        for e in sorted({e for e in (*up.edges, *down.edges) if a < e < b}):
            rise = up.over(e, e) or np.inf
            yield i, e, rise, min(down.over(e, e) or np.inf, rise if _free_at(down, e) else np.inf)


def _free_at(steps: Steps, e: float) -> bool:
    return any(v is None for _, _, v in steps.along(e - LEAST_M / 2, e + LEAST_M / 2))


def _partly(limits: LimitSet, spans: list[tuple[float, float]]) -> NDArray[np.bool_]:
    """Whether falls have no limit of their own on a part of each stretch."""
    steps = limits.steps("max_fall")
    return np.array([any(v is None for _, _, v in steps.along(a, b)) for a, b in spans], dtype=bool)


@dataclass(frozen=True)
class Fit:
    """What levels are fitted to: the ground at chainages, within limits, the ends' levels, and greatest depths [m]."""

    chainage_m: FloatArray
    ground_m: FloatArray
    limits: LimitSet
    ends: tuple[float, float]
    cut_m: float | None
    fill_m: float | None

    @cached_property
    def room(self) -> LevelRoom:
        """What level controls ask."""
        found = level_room(self.limits.bands, float(self.chainage_m[0]), float(self.chainage_m[-1]))
        crest, sag = (
            1 / (100 * max(k, _LEAST_K)) for k in (self.limits.min_crest_k_m_per_pct, self.limits.min_sag_k_m_per_pct)
        )
        return found.inward(crest, sag)

    def levels(
        self, lay: Layout, bend: float, least: FloatArray | None = None, whole: float | None = None
    ) -> FloatArray:
        """(m,) levels of the IPs for the least area to the ground [m2], deeper parts counting more.

        A change of grade is paid by `bend`. `least` (m-1,) are grades that tangents have at least (above zero) or at
        most (below), where it is not 0. `whole`: grades are multiples of it, but for those that a tie-in says and the
        last of the others, which leads to the end. Variables, in blocks: levels; distance to the ground at each place;
        what of it lies beyond each tier; change of grade at each IP; how far the greatest depths are left; grades as
        multiples.

        Raises
        ------
        DesignInputError
            No levels keep the limits.
        """
        m, n = len(lay.x), len(self.chainage_m)
        tiers = range(2, 2 + len(_TIERS))
        bends, beyond, times = tiers.stop, tiers.stop + 1, tiers.stop + 2
        rounds = self._rounds(m) if whole is not None else np.zeros(0, dtype=np.int64)
        wide = [m, n, *(n for _ in tiers), m - 2, n, len(rounds)]

        def rows(blocks: dict[int, csr_matrix]) -> csr_matrix:
            height = next(iter(blocks.values())).shape[0]
            all_of_them = [blocks.get(k, csr_matrix((height, w))) for k, w in enumerate(wide)]
            return csr_matrix(hstack(all_of_them, format="csr"))

        at, grade, change = lay.levels(self.chainage_m), lay.grade, lay.change
        one, bent = identity(n, format="csr"), identity(m - 2, format="csr")
        z, h = self.ground_m, np.diff(lay.x)
        apart = _ROUNDED_M / np.minimum(h[:-1], h[1:])
        asked_of = Asked.of(self.limits, lay)
        sag, crest = (
            np.maximum(lay.length[1:-1] / (100 * np.maximum(k, _LEAST_K)) - 2 * apart, 0.0)
            for k in (asked_of.sag_k, asked_of.crest_k)
        )
        steepest, falls = asked_of.rise - _ROUNDED_M / h, asked_of.fall - _ROUNDED_M / h
        parts: list[tuple[csr_matrix, FloatArray]] = [
            (rows({0: at, 1: -one}), z),
            (rows({0: -at, 1: -one}), -z),
            *((rows({1: one, k: -one}), np.full(n, depth)) for k, (depth, _) in zip(tiers, _TIERS, strict=True)),
            (rows({0: change, bends: -bent}), np.zeros(m - 2)),
            (rows({0: -change, bends: -bent}), np.zeros(m - 2)),
            (rows({0: change}), sag),
            (rows({0: -change}), crest),
            (rows({0: grade}), steepest),
            (rows({0: -grade}), falls),
        ]
        if asked_of.edges:
            # Within a curve the grade goes evenly from that of the one tangent to that of the other.
            at_edge = [(i, (e - lay.x[i]) / lay.length[i] + 0.5) for i, e, _, _ in asked_of.edges]
            steep = vstack([(1 - t) * grade[i - 1] + t * grade[i] for i, t in at_edge], format="csr")
            slack = np.array([_ROUNDED_M / min(h[i - 1], h[i]) for i, _ in at_edge])
            parts.append((rows({0: steep}), np.array([rise for _, _, rise, _ in asked_of.edges]) - slack))
            parts.append((rows({0: -steep}), np.array([fall for *_, fall in asked_of.edges]) - slack))
        if self.cut_m is not None:
            parts.append((rows({0: -at, beyond: -one}), self.cut_m - z))
        if self.fill_m is not None:
            parts.append((rows({0: at, beyond: -one}), self.fill_m + z))
        held, on = self.room, lay.levels(self.room.chainage_m)
        lower, upper = np.flatnonzero(np.isfinite(held.low_m)), np.flatnonzero(np.isfinite(held.high_m))
        room = np.minimum(_ROUNDED_M, (held.high_m - held.low_m) / 4)
        parts.append((rows({0: csr_matrix(-on[lower])}), (-held.low_m - room)[lower]))
        parts.append((rows({0: csr_matrix(on[upper])}), (held.high_m - room)[upper]))
        if least is not None:
            asked = least != 0
            turned = csr_matrix(grade[asked].multiply(-np.sign(least[asked])[:, None]))
            parts.append((rows({0: turned}), -np.abs(least[asked]) - _ROUNDED_M / h[asked]))
        weight = np.gradient(self.chainage_m)
        cost = [
            np.zeros(m),
            weight,
            *(more * weight for _, more in _TIERS),
            np.full(m - 2, bend),
            _DEEP * weight,
            np.zeros(len(rounds)),
        ]
        tied, values = self._ties(lay)
        equal = [rows({0: tied})]
        if len(rounds):
            equal.append(
                rows({0: csr_matrix(grade[rounds]), times: -(whole or 0.0) * identity(len(rounds), format="csr")})
            )
            values = np.concatenate([values, np.zeros(len(rounds))])
        found = linprog(  # type: ignore[call-overload]
            np.concatenate(cost),
            A_ub=vstack([matrix for matrix, _ in parts], format="csr"),
            b_ub=np.concatenate([right for _, right in parts]),
            A_eq=vstack(equal, format="csr"),
            b_eq=values,
            bounds=[(None, None)] * m + [(0, None)] * (sum(wide) - m - len(rounds)) + [(None, None)] * len(rounds),
            integrality=np.repeat([0, 1], [sum(wide) - len(rounds), len(rounds)]) if len(rounds) else None,
            method="highs",
            options={"time_limit": _LONGEST_S, "mip_rel_gap": _NEAR} if len(rounds) else {},
        )
        if found.x is None:
            raise DesignInputError(
                "limits",
                "No line keeps these limits between the ends: grades, K, tie-ins and level controls leave it no room.",
            )
        level: FloatArray = found.x[:m]
        return level

    def _rounds(self, m: int) -> NDArray[np.int64]:
        """Tangents whose grades can be round, of m IPs."""
        free = [
            j
            for j in range(m - 1)
            if not (j == 0 and self.limits.start.grade is not None)
            and not (j == m - 2 and self.limits.end.grade is not None)
        ]
        return np.array(free[:-1], dtype=np.int64)

    def _ties(self, lay: Layout) -> tuple[csr_matrix, FloatArray]:
        """What the ends must meet: rows over the levels, and their values."""
        m = len(lay.x)
        rows, values = [], []
        for tie, at, first, level in (
            (self.limits.start, 0, 0, self.ends[0]),
            (self.limits.end, m - 1, m - 2, self.ends[1]),
        ):
            rows.append(csr_matrix(([1.0], ([0], [at])), (1, m)))
            values.append(level)
            if tie.grade is not None:
                rows.append(lay.grade[first])
                values.append(tie.grade)
        return csr_matrix(vstack(rows, format="csr")), np.array(values)
