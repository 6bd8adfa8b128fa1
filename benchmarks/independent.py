"""The search's answers by other means: a general solver for its bound; a line's limits and cost from its IPs alone."""

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linprog
from scipy.sparse import coo_array, hstack, vstack

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.search.convex import REACH_M, ROW_M
from delgrun.core.search.interior_point import areas_with_slopes
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.rows import free_curve_rows
from delgrun.core.section.section import exact_section

FloatArray = NDArray[np.float64]


def by_highs(p: SearchProblem) -> float:
    """The free-curve problem as a linear program: areas by tangents of their convex curves, haul, borrow, spoil, rows.

    Of one material, so that what is paid for cut is a price of what it gives.

    Tangents are added where the answer lies until it moves no more (Kelley's cutting planes).
    """
    n = len(p.chainage_m)
    w = p.works.weight_m
    cc, cf, cb, cw = p.money
    z, a, b, f, _, _ = np.split(np.arange(6 * n - 1), np.cumsum([n, n, n, n - 1, n]))
    r = free_curve_rows(p)
    on = r.col >= 0
    limit = coo_array((r.val[on], (np.nonzero(on)[0], r.col[on])), shape=(len(r.rhs), 6 * n - 1))
    step = coo_array(np.eye(n, n - 1) - np.eye(n, n - 1, k=-1))
    eye = coo_array(np.eye(n))
    balance = hstack([coo_array((n, n)), w[:, None] * np.eye(n), -w[:, None] * np.eye(n), -step, eye, -eye])
    cost = np.concatenate([np.zeros(n), cc * w, cf * w, np.zeros(n - 1), np.full(n, cb), np.full(n, cw)])
    # |f| by splitting: add backward flows as further columns.
    cost[f] = p.link_cost
    a_eq = hstack([balance, coo_array(-balance.tocsc()[:, f])])
    bounds = [(None, None)] * n + [(0, None)] * (5 * n - 1) + [(0, None)] * (n - 1)
    bounds[0], bounds[n - 1] = (p.start_level_m,) * 2, (p.end_level_m,) * 2
    ground = p.works.centre_level_m
    spots = [np.nan_to_num(ground) + d for d in (-25.0, -8.0, -2.5, -0.8, -0.2, 0.0, 0.2, 0.8, 2.5, 8.0, 25.0)]
    rows, rhs, was = [limit], [r.rhs], -np.inf
    for _ in range(60):
        for at in spots:
            here, slopes, bend = (np.empty((n, 3)) for _ in range(3))
            areas_with_slopes(p.table, ground, -REACH_M, ROW_M, at, here, slopes, bend)
            for column, area in ((a, 1), (b, 2)):
                slope = slopes[:, area]
                over = (np.tile(np.arange(n), 2), np.concatenate([z, column]))
                rows.append(coo_array((np.concatenate([slope, -np.ones(n)]), over), shape=(n, 6 * n - 1)))
                rhs.append(slope * at - here[:, area])
        ineq = vstack(rows)
        a_ub = hstack([ineq, coo_array((ineq.shape[0], n - 1))])
        solved = linprog(
            np.concatenate([cost, p.link_cost]), A_ub=a_ub, b_ub=np.concatenate(rhs), A_eq=a_eq, b_eq=np.zeros(n),
            bounds=bounds, method="highs",
        )  # fmt: skip
        assert solved.status == 0, solved.message
        if solved.fun - was < 1e-5 * abs(solved.fun):
            break
        was, spots = solved.fun, [solved.x[:n]]
    return float(solved.fun)


def breaks(p: SearchProblem, line: GradeLine) -> list[str]:
    """What a line breaks, from its IPs alone and with nothing of the search's own."""
    ips, lim, out = line.ips, p.limits, []
    s = np.array([ip.chainage_m for ip in ips])
    z = np.array([ip.level_m for ip in ips])
    length = np.array([ip.curve_length_m for ip in ips])
    if not np.isfinite([s, z, length]).all():
        return ["not a number"]
    grade = np.diff(z) / np.diff(s)
    if (np.diff(s) <= 0).any() or abs(s[0] - p.chainage_m[0]) + abs(s[-1] - p.chainage_m[-1]) > 1e-9:
        out.append("chainages")
    if abs(z[0] - p.start_level_m) + abs(z[-1] - p.end_level_m) > 5e-4:
        out.append("end levels")
    if (grade > lim.max_grade + 1e-9).any() or (grade < -lim.fall - 1e-9).any():
        out.append("grade")
    for tie, at in ((lim.start.grade, 0), (lim.end.grade, -1)):
        if tie is not None and abs(grade[at] - tie) > 1e-4:
            out.append(f"tie-in {grade[at]:.5f} {tie:.5f}")
    for i in range(1, len(ips) - 1):
        change = grade[i] - grade[i - 1]
        least = lim.min_crest_k_m_per_pct if change < 0 else lim.min_sag_k_m_per_pct
        if length[i] < 100 * abs(change) * least * (1 - 1e-9) - 1e-6 or length[i] < lim.min_curve_length_m - 1e-6:
            out.append(f"curve {i}")
    if (np.diff(s) < (length[:-1] + length[1:]) / 2 - 1e-6).any():
        out.append("curves overlap")
    if (np.diff(s)[1:-1] < lim.min_ip_spacing_m - 1e-6).any():
        out.append("spacing")
    for band in lim.bands:
        at = np.union1d(band.chainage_m, np.arange(band.from_m, band.to_m, 0.1)) if band.joined else band.chainage_m
        over = levels_of(line, at) - np.interp(at, band.chainage_m, band.reference_m)
        if (over < band.low_m - 0.002).any() or (over > band.high_m + 0.002).any():
            out.append(f"control {band.row}")
    return out


def levels_of(line: GradeLine, s: FloatArray) -> FloatArray:
    """Levels of a line of symmetrical parabolas from its IPs alone."""
    x, z, length = (
        np.array([getattr(ip, name) for ip in line.ips]) for name in ("chainage_m", "level_m", "curve_length_m")
    )
    grade = np.diff(z) / np.diff(x)
    level: FloatArray = np.interp(s, x, z)
    for k in range(1, len(x) - 1):
        inside = np.maximum(length[k] / 2 - np.abs(s - x[k]), 0.0)
        if length[k] > 0:
            level += (grade[k] - grade[k - 1]) * inside**2 / (2 * length[k])
    return level


def cost_of(p: SearchProblem, line: GradeLine) -> float:
    """What a line costs by parabolas, exact sections and a linear program for the haul: no tables, nothing of ours but
    the section itself."""
    s, n = p.chainage_m, len(p.chainage_m)
    level = levels_of(line, s)
    w = p.works
    sections = [
        exact_section(*w.ground.one(i), w.road.both(i), float(level[i]), w.in_ground.depth_m[i]) for i in range(n)
    ]
    apart = np.diff(s)
    share = np.concatenate([[0.0], apart]) / 2 + np.concatenate([apart, [0.0]]) / 2
    cut, fill = (share * [getattr(section, name) for section in sections] for name in ("cut_m2", "fill_m2"))
    c = p.cost
    step = np.eye(n, n - 1) - np.eye(n, n - 1, k=-1)
    prices = np.concatenate(
        [np.tile(apart * c.haul_per_m3_m, 2), np.full(n, c.borrow_per_m3), np.full(n, c.spoil_per_m3)]
    )
    solved = linprog(
        prices, A_eq=coo_array(np.hstack([step, -step, -np.eye(n), np.eye(n)])), b_eq=c.compacted_per_bank * cut - fill,
        method="highs",
    )  # fmt: skip
    assert solved.status == 0, solved.message
    return float(c.cut_per_m3 * cut.sum() + c.fill_per_m3 * fill.sum() + solved.fun)
