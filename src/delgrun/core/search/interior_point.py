"""Interior-point method for a line's cost under linear rows, with the exact haul inside.

    minimise   sum_i w_i (cc a_i(z_i) + cf b_i(z_i)) + sum_i hL_i |f_i| + cb sum b_i + cw sum u_i + penalty . v
    subject to z = z0 + J x,   R x <= r + v,   w_i (a_i - b_i) + b_i - u_i = f_i - f_{i-1}

over x, flows f, borrow b, spoil u and row violations v >= 0. a and b are the cut and fill areas, made
convex in the level (`convex.py`). Everything but x and the balance prices is eliminated,
so each step factors one narrow system (docs/formulas.md#search).
"""

import numpy as np

from delgrun.core.kernels import kernel
from delgrun.core.search import envelope
from delgrun.core.search.convex import spline

_factor, _solve, _row_starts = envelope.factor, envelope.solve, envelope.row_starts


@kernel
def areas_with_slopes(table, centre, lowest, step, z, value, slope, bend):
    """What is paid for each section, usable cut and fill at level z, with slope and bend; the bend is never below 0.

    `value`, `slope`, `bend` are (n, 3) outputs, by metre of level.
    """
    for i in range(z.shape[0]):
        for c in range(3):
            if not centre[i] == centre[i]:
                value[i, c] = slope[i, c] = bend[i, c] = 0.0
                continue
            here, rise, turn = spline(table, i, c, (z[i] - centre[i] - lowest) / step)
            value[i, c] = here
            slope[i, c] = rise / step
            bend[i, c] = max(turn, 0.0) / (step * step)


@kernel
def _compacted(col, val):
    """Sparse rows with the columns they use first: from the first -1 on, a row is empty."""
    out_col, out_val = np.full(col.shape, -1, np.int64), np.zeros(val.shape)
    for i in range(col.shape[0]):
        used = 0
        for p in range(col.shape[1]):
            if col[i, p] >= 0:
                out_col[i, used], out_val[i, used] = col[i, p], val[i, p]
                used += 1
    return out_col, out_val


@kernel
def _envelope(j_col, r_col, x_at, l_at):
    """First column of each row of the sorted system of x and prices."""
    n, size = l_at.shape[0], x_at.shape[0] + l_at.shape[0]
    first = np.arange(size)
    for i in range(n):
        low = l_at[i]
        if i > 0:
            low = min(low, l_at[i - 1])
        for p in range(j_col.shape[1]):
            if j_col[i, p] < 0:
                break
            low = min(low, x_at[j_col[i, p]])
        first[l_at[i]] = min(first[l_at[i]], low)
        if i > 0:
            a, b = l_at[i - 1], l_at[i]
            first[max(a, b)] = min(first[max(a, b)], min(a, b))
        for p in range(j_col.shape[1]):
            if j_col[i, p] < 0:
                break
            at = x_at[j_col[i, p]]
            first[at] = min(first[at], low)
    for i in range(r_col.shape[0]):
        low = size
        for p in range(r_col.shape[1]):
            if r_col[i, p] < 0:
                break
            low = min(low, x_at[r_col[i, p]])
        for p in range(r_col.shape[1]):
            if r_col[i, p] < 0:
                break
            at = x_at[r_col[i, p]]
            first[at] = min(first[at], low)
    return first


@kernel
def _add_outer(col, val, i, weight, at, first, start, value, diag):
    """Add weight * row' row of one sparse row to the system."""
    width = col.shape[1]
    for p in range(width):
        if col[i, p] < 0:
            break
        a = at[col[i, p]]
        for q in range(width):
            if col[i, q] < 0:
                break
            b = at[col[i, q]]
            if a == b:
                diag[a] += weight * val[i, p] * val[i, q]
            elif a > b:
                value[start[a] + b - first[a]] += weight * val[i, p] * val[i, q]


@kernel
def _times(col, val, x, out):
    """out = sparse rows times x."""
    for i in range(col.shape[0]):
        total = 0.0
        for p in range(col.shape[1]):
            if col[i, p] < 0:
                break
            total += val[i, p] * x[col[i, p]]
        out[i] = total


@kernel
def _room(value, change, share):
    """Largest share of the step that keeps value + share * change >= 0."""
    for i in range(value.shape[0]):
        if change[i] < 0 and value[i] + share * change[i] < 0:
            share = -value[i] / change[i]
    return share


@kernel
def minimise(
    table,
    centre,
    lowest,
    step,
    weight,
    link,
    money,
    z0,
    j_col,
    j_val,
    r_col,
    r_val,
    rhs,
    penalty,
    x_key,
    l_key,
    tolerance,
    rest,
    most_steps,
):
    """Solve from x = 0.

    Parameters
    ----------
    money : (4,) cheapest cut, fill, borrow, spoil, per compacted m3
    j_col, j_val : (n, q) sparse rows of J, column -1 unused
    r_col, r_val, rhs, penalty : rows of R; the penalty bounds each row's price (soft rows)
    x_key, l_key : chainage of each x and of each section, to sort the unknowns by
    tolerance, rest : shares of the cost: of the gap, and of what moving each x by a metre would still change

    Returns
    -------
    x, prices (n,), row prices (m,), row violations (m,), steps taken, relative gap left
    """
    # Money in units of the dearest price: the same steps whatever the currency.
    unit_price = np.max(money)
    cf, cb, cw = money[1] / unit_price, money[2] / unit_price, money[3] / unit_price
    paid = weight / unit_price
    link = link / unit_price
    penalty = penalty / unit_price
    j_col, j_val = _compacted(j_col, j_val)
    r_col, r_val = _compacted(r_col, r_val)
    n, nx, m = z0.shape[0], x_key.shape[0], rhs.shape[0]
    nl = max(n - 1, 0)
    order = np.argsort(np.concatenate((x_key, l_key)), kind="mergesort")
    at = np.empty(nx + n, np.int64)
    for p in range(nx + n):
        at[order[p]] = p
    x_at, l_at = at[:nx].copy(), at[nx:].copy()
    first = _envelope(j_col, r_col, x_at, l_at)
    start = _row_starts(first)
    value, diag = np.empty(start[nx + n]), np.empty(nx + n)

    x, dx = np.zeros(nx), np.zeros(nx)
    z, dz = z0.copy(), np.zeros(n)
    area, slope, bend, before = np.empty((n, 3)), np.empty((n, 3)), np.empty((n, 3)), np.empty((n, 3))
    areas_with_slopes(table, centre, lowest, step, z, area, slope, bend)
    net = weight * (area[:, 1] - area[:, 2])
    unit = max(np.mean(np.abs(net)), 1.0)
    lam = np.full(n, 0.5 * (cb - cw))
    fp, fm = np.full(nl, 3 * unit), np.full(nl, 3 * unit)
    b, u = np.full(n, unit), np.full(n, unit)
    rx = np.zeros(m)
    s = np.maximum(rhs, 0.05)
    tau = max(unit * 0.5 * (cb + cw), 1e-3)
    mu = np.minimum(tau / s, 0.3 * penalty)
    v = np.maximum(tau / (penalty - mu), s - rhs)
    dlam, dmu, ds, dv = np.zeros(n), np.zeros(m), np.zeros(m), np.zeros(m)
    dfp, dfm, db, du = np.zeros(nl), np.zeros(nl), np.zeros(n), np.zeros(n)
    rc_s, rc_v, rc_p, rc_m, rc_b, rc_u = np.zeros(m), np.zeros(m), np.zeros(nl), np.zeros(nl), np.zeros(n), np.zeros(n)
    rho, e, d_row = np.zeros(nl), np.zeros(m), np.zeros(m)
    rdx, rhs_all, still = np.zeros(m), np.zeros(nx + n), np.zeros(nx)
    pairs = 2 * m + 2 * nl + 2 * n
    gap = 1e30
    taken = 0
    while taken < most_steps:
        taken += 1
        tp, tm = link + lam[: n - 1] - lam[1:], link - lam[: n - 1] + lam[1:]
        tb, tu = cb - lam, cw + lam
        kap = penalty - mu
        # How far from the answer: complementarity and balance, against the cost itself.
        total = np.dot(s, mu) + np.dot(v, kap) + np.dot(fp, tp) + np.dot(fm, tm) + np.dot(b, tb) + np.dot(u, tu)
        balance = net + b - u
        for i in range(nl):
            balance[i] -= fp[i] - fm[i]
            balance[i + 1] += fp[i] - fm[i]
        row_rest = rhs - rx - s + v
        worst = np.sum(np.abs(balance)) * 0.5 * (cb + cw) + np.dot(np.abs(row_rest), mu)
        cost = np.sum(paid * area[:, 0] + weight * cf * area[:, 2]) + np.dot(link, fp + fm) + cb * np.sum(b)
        cost += cw * np.sum(u)
        # And how far from stationary: what moving each x by a metre would still change.
        grad = paid * slope[:, 0] + weight * ((cf + lam) * slope[:, 2] - lam * slope[:, 1])
        still[:] = 0.0
        for i in range(n):
            for p in range(j_col.shape[1]):
                if j_col[i, p] < 0:
                    break
                still[j_col[i, p]] += grad[i] * j_val[i, p]
        for i in range(m):
            for p in range(r_col.shape[1]):
                if r_col[i, p] < 0:
                    break
                still[r_col[i, p]] += mu[i] * r_val[i, p]
        moved = np.sum(np.abs(still))
        gap = (total + worst) / max(abs(cost), 1.0)
        if gap < tolerance and moved < rest * max(abs(cost), 1.0):
            break
        # Not closer to the edges than the answer is wanted: what is left then is to come to rest.
        least_tau = 0.1 * tolerance * max(abs(cost), 1.0) / pairs
        tau = max(total, 0.1 * tolerance * max(abs(cost), 1.0)) / pairs
        # The system of x and the balance prices.
        value[:] = 0.0
        diag[:] = 0.0
        hess = np.maximum(paid * bend[:, 0] - weight * lam * bend[:, 1], 0.0)
        hess += weight * np.maximum(cf + lam, 0.0) * bend[:, 2]
        turn = weight * (slope[:, 1] - slope[:, 2])
        theta = fp / tp + fm / tm
        for i in range(n):
            _add_outer(j_col, j_val, i, hess[i], x_at, first, start, value, diag)
            r = l_at[i]
            diag[r] -= b[i] / tb[i] + u[i] / tu[i]
            if i > 0:
                diag[r] -= theta[i - 1]
                lo, hi = min(l_at[i - 1], r), max(l_at[i - 1], r)
                value[start[hi] + lo - first[hi]] += theta[i - 1]
            if i < n - 1:
                diag[r] -= theta[i]
            for p in range(j_col.shape[1]):
                if j_col[i, p] < 0:
                    break
                c = x_at[j_col[i, p]]
                lo, hi = min(c, r), max(c, r)
                value[start[hi] + lo - first[hi]] += turn[i] * j_val[i, p]
        for i in range(m):
            d_row[i] = s[i] / mu[i] + v[i] / kap[i]
            _add_outer(r_col, r_val, i, 1.0 / d_row[i], x_at, first, start, value, diag)
        for i in range(nx):
            diag[x_at[i]] += 1e-9 * (1.0 + 1e-6 * diag[x_at[i]])
        _factor(first, start, value, diag)
        share = 0.0
        for stage in range(2):
            if stage == 0:
                rc_s[:], rc_v[:], rc_p[:], rc_m[:] = -s * mu, -v * kap, -fp * tp, -fm * tm
                rc_b[:], rc_u[:] = -b * tb, -u * tu
            else:
                # Aim at a smaller gap, more boldly the further the first direction could go.
                after = np.dot(s + share * ds, mu + share * dmu) + np.dot(v + share * dv, kap - share * dmu)
                dt = dlam[: n - 1] - dlam[1:]
                after += np.dot(fp + share * dfp, tp + share * dt) + np.dot(fm + share * dfm, tm - share * dt)
                after += np.dot(b + share * db, tb - share * dlam) + np.dot(u + share * du, tu + share * dlam)
                aim = max(tau * min(max((after / total) ** 3, 1e-6), 0.9), least_tau)
                rc_s += aim - ds * dmu
                rc_v += aim + dv * dmu
                rc_p += aim - dfp * dt
                rc_m += aim + dfm * dt
                rc_b += aim + db * dlam
                rc_u += aim - du * dlam
            rho[:] = rc_p / tp - rc_m / tm
            e[:] = row_rest - rc_s / mu + rc_v / kap
            rhs_all[:] = 0.0
            for i in range(n):
                q = -balance[i] - rc_b[i] / tb[i] + rc_u[i] / tu[i]
                if i < n - 1:
                    q += rho[i]
                if i > 0:
                    q -= rho[i - 1]
                rhs_all[l_at[i]] = q
                for p in range(j_col.shape[1]):
                    if j_col[i, p] < 0:
                        break
                    rhs_all[x_at[j_col[i, p]]] -= grad[i] * j_val[i, p]
            for i in range(m):
                q = e[i] / d_row[i] - mu[i]
                for p in range(r_col.shape[1]):
                    if r_col[i, p] < 0:
                        break
                    rhs_all[x_at[r_col[i, p]]] += q * r_val[i, p]
            _solve(first, start, value, diag, rhs_all)
            # A system that can't be factored any further says nothing more: what there is stands.
            if not np.isfinite(np.sum(rhs_all)):
                return x, lam * unit_price, mu * unit_price, v, taken, gap
            for i in range(nx):
                dx[i] = rhs_all[x_at[i]]
            for i in range(n):
                dlam[i] = -rhs_all[l_at[i]]
            _times(r_col, r_val, dx, rdx)
            dmu[:] = (rdx - e) / d_row
            ds[:] = (rc_s - s * dmu) / mu
            dv[:] = (rc_v + v * dmu) / kap
            step_t = dlam[: n - 1] - dlam[1:]
            dfp[:] = (rc_p - fp * step_t) / tp
            dfm[:] = (rc_m + fm * step_t) / tm
            db[:] = (rc_b + b * dlam) / tb
            du[:] = (rc_u - u * dlam) / tu
            share = _room(s, ds, _room(v, dv, _room(fp, dfp, _room(fm, dfm, _room(b, db, _room(u, du, 1.0))))))
            share = _room(mu, dmu, _room(kap, -dmu, _room(tp, step_t, _room(tm, -step_t, share))))
            share = _room(tb, -dlam, _room(tu, dlam, share))
        _times(j_col, j_val, dx, dz)
        share *= 0.995 if gap > 1e-4 else 0.999
        # The areas bend: no step moves a level further than their bend can be trusted.
        far = np.max(np.abs(dz)) if n > 0 else 0.0
        if share * far > 4.0:
            share = 4.0 / far
        if not share > 1e-9:
            break
        x += share * dx
        z += share * dz
        lam += share * dlam
        mu += share * dmu
        s += share * ds
        v += share * dv
        fp += share * dfp
        fm += share * dfm
        b += share * db
        u += share * du
        rx += share * rdx
        before[:] = slope
        areas_with_slopes(table, centre, lowest, step, z, area, slope, bend)
        # Where areas turn within a row, the bend at a point says nothing of the step that leads over it: what the
        # slope did on the last step does.
        for i in range(n):
            moved_m = share * dz[i]
            if abs(moved_m) > 1e-9:
                for c in range(3):
                    bend[i, c] = max(bend[i, c], (slope[i, c] - before[i, c]) / moved_m)
        net = weight * (area[:, 1] - area[:, 2])
    return x, lam * unit_price, mu * unit_price, v, taken, gap
