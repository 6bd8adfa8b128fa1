"""Compiled levels and grades of the pieces of a grade line, and how far it lies from levels along the road.

A piece is (from, to, kind, p0, p1, p2). Of kind 0 it is a parabola z = p0 + p1 u + p2 u^2, u from its start; of kind 1
or -1 the upper or lower arc of a circle with its centre at chainage p0 and level p1 and the radius p2. [m]
"""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def piece_level(piece, s):
    """Level of a piece at a chainage."""
    if piece[2] == 0.0:
        u = s - piece[0]
        return piece[3] + u * (piece[4] + u * piece[5])
    root = np.sqrt(max(piece[5] ** 2 - (s - piece[3]) ** 2, 0.0))
    return piece[4] + piece[2] * root


@kernel
def piece_grade(piece, s):
    """Grade of a piece at a chainage."""
    if piece[2] == 0.0:
        return piece[4] + 2 * piece[5] * (s - piece[0])
    x = s - piece[3]
    return -piece[2] * x / np.sqrt(max(piece[5] ** 2 - x * x, 1e-300))


@kernel
def piece_at(pieces, s):
    """Number of the piece that a chainage lies on; an end between two belongs to the later one."""
    i = np.searchsorted(pieces[:, 0], s, side="right") - 1
    return min(max(i, 0), pieces.shape[0] - 1)


@kernel
def parallel(piece, slope):
    """Chainage at which a piece has a grade, NaN where it has it nowhere or everywhere; it may lie beyond its ends."""
    if piece[2] == 0.0:
        return piece[0] + (slope - piece[4]) / (2 * piece[5]) if piece[5] != 0.0 else np.nan
    return piece[3] - piece[2] * slope * piece[5] / np.sqrt(1 + slope * slope)


@kernel
def furthest(pieces, s, reference, joined):
    """Where a line lies lowest and highest over reference levels (n,) at chainages (n,): (lowest, at, highest, at).

    `joined`: the reference runs straight from one to the next, and the line is looked at in between, exactly. Places
    without a reference (NaN) and beyond the line are passed over; without any place all are NaN.
    """
    n = pieces.shape[0]
    start, end = pieces[0, 0], pieces[n - 1, 1]
    low, low_at, high, high_at = np.nan, np.nan, np.nan, np.nan
    for k in range(s.shape[0]):
        if not np.isnan(reference[k]) and start - 1e-6 <= s[k] <= end + 1e-6:
            at = min(max(s[k], start), end)
            over = piece_level(pieces[piece_at(pieces, at)], at) - reference[k]
            if not over >= low:
                low, low_at = over, s[k]
            if not over <= high:
                high, high_at = over, s[k]
        if not joined or k + 1 == s.shape[0] or np.isnan(reference[k]) or np.isnan(reference[k + 1]):
            continue
        a, b = max(s[k], start), min(s[k + 1], end)
        if b <= a:
            continue
        slope = (reference[k + 1] - reference[k]) / (s[k + 1] - s[k])
        j = piece_at(pieces, a)
        while j < n and pieces[j, 0] < b:
            first, last = max(pieces[j, 0], a), min(pieces[j, 1], b)
            turn = parallel(pieces[j], slope)
            for x in (first, last, turn if first < turn < last else first):
                over = piece_level(pieces[j], x) - (reference[k] + slope * (x - s[k]))
                if not over >= low:
                    low, low_at = over, x
                if not over <= high:
                    high, high_at = over, x
            j += 1
    return low, low_at, high, high_at
