"""What is proved holds for every line that passes the checks: the permanent law between checks and bound.

Lines of all shapes are made first, and then the strictest limits that each of them keeps: whatever a check comes to
allow later, a row that forbids it is caught here.
"""

from dataclasses import replace

import numpy as np
import pytest

from delgrun.core.controls.bands import Band
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import GroundSections
from delgrun.core.limits.check import Checked, LimitUse
from delgrun.core.limits.checks import BY_ID, limit_uses
from delgrun.core.limits.clashes import clashes
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.search.cuts import LEAST_M, most_of_road, slope_changes
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.rows import free_curve_rows
from delgrun.core.section.road_design import RoadDesign
from laws import examples

KINDS = ("plain", "ranges", "kinks", "falls", "ties", "controls", "spacing", "kinds of K", "tangents", "flat")
# What a limit is at its loosest, and which check measures it.
FREE = LimitSet(
    design_speed_kmh=60, max_grade=0.5, min_grade=0.0, min_crest_k_m_per_pct=0.0, min_sag_k_m_per_pct=0.0,
    min_curve_length_m=0.0, min_ip_spacing_m=0.0,
)  # fmt: skip


def some_line(rng: np.random.Generator, kinks: bool) -> GradeLine | None:
    """Parabolas alike or not, circles, touching or not, and kinks."""
    n = int(rng.integers(3, 9))
    s = np.concatenate([[0.0], np.cumsum(rng.uniform(30, 200, n - 1))]).round(2)
    z = 100 + np.cumsum(rng.normal(0, 5, n)).round(3)
    ips = [Ip(chainage_m=float(a), level_m=float(b)) for a, b in zip(s, z, strict=True)]
    for i in range(1, n - 1):
        room = 2 * min(s[i] - s[i - 1], s[i + 1] - s[i]) / 2
        if kinks and rng.random() < 0.6:
            ips[i] = replace(ips[i], level_m=float(np.interp(s[i], s[[i - 1, i + 1]], z[[i - 1, i + 1]]) + 0.05))
            continue
        kind = rng.integers(3)
        share = float(rng.uniform(0.2, 0.8)) if kind == 0 else None
        length = float(room * rng.choice([0.4, 0.9, 1.0]) * (0.6 if share else 1.0))
        ips[i] = replace(ips[i], curve_length_m=length, in_share=share, shape="circle" if kind == 1 else "parabola")
    line = GradeLine(tuple(ips))
    return None if line.conflict() else line


def uses(line: GradeLine, limits: LimitSet, check: str) -> list[LimitUse]:
    return list(BY_ID[check].uses(Checked(line, limits)))


def kept_by(line: GradeLine, kind: str, rng: np.random.Generator) -> LimitSet:
    """The strictest limits that a line keeps; of the kind, some for stretches of their own."""
    start, end = float(line.chainage_m[0]), float(line.chainage_m[-1])
    ranges = []
    if kind in ("ranges", "falls"):
        for _ in range(int(rng.integers(1, 4))):
            a = float(rng.choice([rng.uniform(start, end), *line.chainage_m[1:-1], *line.curve_end_m[1:-1]]))
            ranges.append(LimitRange(from_m=a, to_m=a + float(rng.uniform(15, 300))))
    fits = {"max_grade": 0.5}
    at = np.unique(np.concatenate([line.curve_start_m, line.curve_end_m, np.linspace(start, end, 4000)]))
    inner = [c for c in line.changes if abs(c) > 1e-9]
    kinks = [abs(c) for c, length in zip(line.changes, line.curve_length_m[1:-1], strict=True) if length == 0]
    if kind == "kinks" and kinks:
        fits["most_kink"] = max(kinks) + 1e-12
    of = replace(FREE, **fits)

    def tightest(limits: LimitSet, field: str, check: str, span: tuple[float, float] | None) -> float | None:
        """The strictest value of a limit that what a check looks at keeps, where it touches a stretch."""
        pick = min if field.startswith("min") or "_k_" in field else max
        trial = replace(limits, **{field: 1e-3 if pick is min else 0.5})
        found = [
            abs(u.value)
            for u in uses(line, trial, check)
            if span is None or (u.from_chainage_m <= span[1] and u.to_chainage_m >= span[0])
        ]
        return pick(found) if found else None

    def grades(sign: float, span: tuple[float, float]) -> float:
        on = at[(at >= span[0]) & (at <= span[1])]
        on = np.concatenate([np.clip(span, start, end), on])
        # At a kink the grades of both tangents.
        both = np.concatenate([line.grades(on), line.grades(np.minimum(on + 1e-7, end))])
        return max(float((sign * both).max()), 1e-4) + 1e-9

    whole = (start, end)
    rows = [(None, whole), *((r, (r.from_m, r.to_m)) for r in ranges)]
    made: dict[int, dict[str, float]] = {}
    for k, (_, span) in enumerate(rows):
        own: dict[str, float] = {}
        if span[0] < end and span[1] > start:
            if kind == "falls":
                own["max_grade"], own["max_fall"] = grades(1.0, span), grades(-1.0, span)
            else:
                own["max_grade"] = max(grades(1.0, span), grades(-1.0, span))
            touched = None if k == 0 else span
            for field, check in (
                ("min_crest_k_m_per_pct", "crest_k"),
                ("min_sag_k_m_per_pct", "sag_k"),
                ("min_curve_length_m", "curve_length"),
            ):
                value = tightest(of, field, check, touched)
                if value is not None and np.isfinite(value):
                    own[field] = value
            if kind in ("spacing", "ranges", "kinks"):
                value = tightest(of, "min_ip_spacing_m", "ip_spacing", touched)
                if value is not None:
                    own["min_ip_spacing_m"] = value
            if kind == "tangents":
                value = tightest(of, "min_tangent_m", "shortest_tangent", touched)
                if value is not None:
                    own["min_tangent_m"] = value
        made[k] = own
    out = replace(of, **made[0])
    if kind == "kinds of K" and inner:
        out = replace(
            out,
            crest_k_appearance=out.min_crest_k_m_per_pct,
            sag_k_comfort=out.min_sag_k_m_per_pct,
            min_crest_k_m_per_pct=0.0,
            min_sag_k_m_per_pct=0.0,
        )
    if kind == "flat":
        straight = uses(line, replace(out, min_grade=1e-6), "flattest_grade")
        out = replace(out, min_grade=min([abs(u.value) for u in straight], default=0.0))
    if kind == "ties":
        out = replace(out, start_grade=float(line.grade[0]) + 9e-5, end_grade=float(line.grade[-1]) - 9e-5)
    if kind == "controls":
        bands = []
        for row in range(4):
            a = float(rng.uniform(start, end - 1))
            b = a if rng.random() < 0.4 else min(a + float(rng.uniform(2, 80)), end)
            there = np.array([a]) if b == a else np.linspace(a, b, 9)
            level = line.levels(there)
            low, high = [(0.0, 0.0), (0.0, np.inf), (-np.inf, 0.0), (-0.2, 0.1)][row]
            if b > a:
                # Between its places a line bows over or under the reference.
                walk = np.linspace(a, b, 400)
                off = line.levels(walk) - np.interp(walk, there, level)
                low, high = low + off.min(), high + off.max()
            bands.append(Band("control", row, "c", there, level, low, high))
        out = out.with_bands(bands)
    if ranges:
        out = out.with_ranges([replace(r, **made[k]) for k, (r, _) in enumerate(rows) if r is not None and made[k]])
    return out


def works_at(s: np.ndarray) -> Earthworks:
    """Level ground: the rows don't look at it."""
    across = GroundSections(
        s, np.arange(len(s) + 1, dtype=np.int64) * 2, np.tile([-60.0, 60.0], len(s)), np.full(2 * len(s), 100.0),
        np.full(len(s), 100.0),
    )  # fmt: skip
    return Earthworks.of(across, RoadDesign.plain())


@pytest.mark.parametrize("kind", KINDS)
def test_a_line_that_passes_the_checks_satisfies_every_row_of_the_bound(kind):
    rng = np.random.default_rng(KINDS.index(kind))
    looked_at, tries = 0, examples(45)
    for _ in range(tries):
        line = some_line(rng, kind == "kinks")
        if line is None:
            continue
        limits = kept_by(line, kind, rng)
        broken = [u for u in limit_uses(line, limits) if u.fails]
        if broken:
            continue
        looked_at += 1
        # What is told to be impossible together is proven to be.
        assert not clashes(limits, (float(line.chainage_m[0]), float(line.chainage_m[-1])), None), kind
        end = float(line.chainage_m[-1])
        edges = [r.from_m for r in limits.ranges if 0 < r.from_m < end]
        s = np.unique(np.concatenate([np.arange(0, end, 10.0), rng.uniform(0, end, 5), edges, [end]]))
        s = s[np.concatenate([[True], np.diff(s) > 0.01])]
        level = line.levels(s)
        problem = SearchProblem.under(works_at(s), CostModel(), limits, (float(level[0]), float(level[-1]))).loosened
        rows = free_curve_rows(problem)
        z = np.where(rows.col >= 0, level[rows.col], 0.0)
        over = (rows.val * z).sum(axis=1) - rows.rhs
        assert over.max() < 1e-7, (kind, float(over.max()), int(np.argmax(over)))
        if problem.allowed_curves.least_m >= LEAST_M:
            points = s[rows.points]
            changes = slope_changes(points, level[rows.points])
            for _ in range(2):
                v = rng.normal(size=len(changes)) * (rng.random(len(changes)) < 0.4)
                assert v @ changes <= most_of_road(points, v, problem.allowed_curves) + 1e-9, kind
    assert looked_at > tries / 2
