"""Compiled speed of a truck along a grade line."""

import numpy as np

from delgrun.core.gradeline.piece_kernels import piece_at, piece_grade
from delgrun.core.kernels import kernel

# A truck is followed in steps no longer than this, shorter where its speed changes fast. [m]
_STEP_M = 5.0
# None stands still: below this it climbs on at this speed. [m2/s2, v^2 / 2]
_SLOWEST = 0.5


@kernel
def _gain(w, grade, power, rolling, drag):
    """Change of v^2 / 2 for each metre: power over speed, less rolling and climbing, less air. [m/s2]"""
    return power / np.sqrt(2 * w) - 9.81 * (rolling + grade) - 2 * drag * w


@kernel
def truck_speeds(pieces, at, enters, fastest, power, rolling, drag, before, w_before, start, stop):
    """(n,) v^2 / 2 at rising chainages of a truck that comes to the first with a speed and never goes faster than one.

    power: at the wheels, over mass [W/kg]; rolling: resistance over weight; drag: rho c_d A / (2 m) [1/m]; speeds in
    m/s. Its grade at the middle of each step is that of the line there (classic Runge-Kutta in v^2 / 2).

    before, w_before: chainages and v^2 / 2 of a run along a line that differs between start and stop only, or none:
    what it says holds up to start, and again from where both go equally fast. The same as anew, to the bit.
    """
    n, m = at.shape[0], before.shape[0]
    out = np.empty(n)
    most = fastest * fastest / 2
    w = min(enters * enters / 2, most)
    out[0] = w
    first = 0
    while first + 1 < min(n, m) and at[first + 1] == before[first + 1] and at[first + 1] <= start:
        first += 1
        out[first] = w = w_before[first]
    # From here on both have the same chainages, counted from the end.
    same = n
    while same > 0 and n - same < m and at[same - 1] == before[m - n + same - 1] and at[same - 1] >= stop:
        same -= 1
    for i in range(first, n - 1):
        s, end = at[i], at[i + 1]
        while s < end:
            # Near its crawl speed it answers within v^3 / power metres.
            v = np.sqrt(2 * w)
            h = min(_STEP_M, 0.5 * v**3 / power, end - s)
            j = piece_at(pieces, s)
            # No step goes over the end of a piece: the grade is smooth within.
            if pieces[j, 1] > s:
                h = min(h, pieces[j, 1] - s)
            if end - s - h < 1e-9:
                h = end - s
            g0 = piece_grade(pieces[j], s)
            g1 = piece_grade(pieces[j], s + h / 2)
            g2 = piece_grade(pieces[j], s + h)
            k1 = _gain(w, g0, power, rolling, drag)
            k2 = _gain(max(w + h * k1 / 2, _SLOWEST), g1, power, rolling, drag)
            k3 = _gain(max(w + h * k2 / 2, _SLOWEST), g1, power, rolling, drag)
            k4 = _gain(max(w + h * k3, _SLOWEST), g2, power, rolling, drag)
            w = min(max(w + h * (k1 + 2 * k2 + 2 * k3 + k4) / 6, _SLOWEST), most)
            s += h
        out[i + 1] = w
        if i + 1 >= same and w_before[m - n + i + 1] == w:
            out[i + 1 :] = w_before[m - n + i + 1 :]
            break
    return out
