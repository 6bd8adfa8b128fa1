"""Compiled sight along a grade line, exact: its pieces (`gradeline/pieces.py`) are parabolas and circles, and so is
what lies above them.
"""

import numpy as np

from delgrun.core.gradeline.piece_kernels import piece_at, piece_grade, piece_level
from delgrun.core.kernels import kernel

# A root so little behind is one of rounding. [m]
_ROUNDING_M = 1e-9
# What lies on the road stands so high over it. [m]
_HAIR_M = 1e-8


@kernel
def _turns(piece, s, z):
    """Chainages within a piece at which its slope from a point has a most or a least; NaN where there is none."""
    low, high = np.nan, np.nan
    if piece[2] == 0.0:
        # z - p is a t^2 + b t + c, t from the point: (a t^2 + b t + c) / t turns where t^2 = c / a.
        a = piece[5]
        d = s - piece[0]
        c = piece[3] + d * (piece[4] + d * a) - z
        if a != 0.0 and c / a > 0.0:
            low = s + np.sqrt(c / a)
    else:
        # Tangents from a point to a circle.
        p, q, r = piece[3] - s, piece[4] - z, piece[5]
        d2 = p * p + q * q
        if d2 > r * r:
            k, h = 1 - r * r / d2, r * np.sqrt(d2 - r * r) / d2
            for sign in (-1.0, 1.0):
                x, y = p * k - sign * h * q, q * k + sign * h * p
                if (y - q) * piece[2] >= 0.0 and x > 0.0:
                    if np.isnan(low):
                        low = s + x
                    else:
                        low, high = min(low, s + x), max(low, s + x)
    return low, high


@kernel
def _falls_below(piece, s, z, slope, raised, start, end):
    """First chainage in a stretch of a piece from which the piece, raised, lies below a line from a point; else inf."""
    first = np.inf
    if piece[2] == 0.0:
        d = s - piece[0]
        a = piece[5]
        b = piece[4] + 2 * d * a - slope
        c = piece[3] + d * (piece[4] + d * a) + raised - z
        if a == 0.0:
            if b < 0.0:
                first = s - c / b
            return first if start - _ROUNDING_M <= first <= end else np.inf
        inside = b * b - 4 * a * c
        if inside < 0.0:
            return np.inf
        # Both roots without losing digits; the one where it falls has 2 a t + b < 0.
        w = -0.5 * (b + np.sqrt(inside) if b >= 0.0 else b - np.sqrt(inside))
        for t in (w / a, c / w if w != 0.0 else np.inf):
            if 2 * a * t + b < 0.0 and start - _ROUNDING_M <= s + t <= end:
                first = min(first, s + t)
        return first
    p, q, r = piece[3] - s, piece[4] + raised - z, piece[5]
    # The circle meets y = slope x: (x - p)^2 + (slope x - q)^2 = r^2.
    a, half, c = 1 + slope * slope, p + slope * q, p * p + q * q - r * r
    inside = half * half - a * c
    if inside < 0.0:
        return np.inf
    for sign in (-1.0, 1.0):
        x = (half + sign * np.sqrt(inside)) / a
        y = slope * x - q
        if y * piece[2] < 0.0 or not start - _ROUNDING_M <= s + x <= end:
            continue
        # Grade of the arc there, less that of the line.
        if -(x - p) - slope * y < 0.0 if piece[2] > 0 else (x - p) + slope * y < 0.0:
            first = min(first, s + x)
    return first


@kernel
def _seen_from(pieces, s, eye, target):
    """How far a receding target of this height is seen from a chainage; to the end where nothing hides it: (m, top).

    `top` is where the road hides it, NaN where it does not. A target on the road itself is hidden where the road falls
    away behind the place that is touched: a hair over the road, that is a root like any other, centimetres further.
    """
    target = max(target, _HAIR_M)
    n = pieces.shape[0]
    j = piece_at(pieces, s)
    z = piece_level(pieces[j], s) + eye
    most, top = -np.inf, np.nan
    bounds = np.empty(4)
    for i in range(j, n):
        piece = pieces[i]
        start, end = max(piece[0], s), piece[1]
        low, high = _turns(piece, s, z)
        count = 1
        bounds[0] = start
        for turn in (low, high):
            if start < turn < end:
                bounds[count] = turn
                count += 1
        bounds[count] = end
        for k in range(count):
            a, b = bounds[k], bounds[k + 1]
            if b <= a:
                continue
            rest = (piece_level(piece, b) - z) / (b - s)
            if most > -np.inf:
                # While the road itself is the highest that was seen, what stands on it is seen too.
                hidden = _falls_below(piece, s, z, most, target, a, b)
                if hidden < np.inf:
                    return max(hidden - s, 0.0), top
            if rest > most:
                most, top = rest, b
    return pieces[n - 1, 1] - s, np.nan


@kernel
def seen(pieces, eyes, eye, target):
    """(n,) how far ahead is seen from each chainage, and where the road hides what lies beyond (NaN: nothing does)."""
    far, top = np.empty(eyes.shape[0]), np.empty(eyes.shape[0])
    for i in range(eyes.shape[0]):
        far[i], top[i] = _seen_from(pieces, eyes[i], eye, target)
    return far, top


@kernel
def _rises_above(piece, s, z, slope, start, end):
    """First chainage in a stretch of a piece from which the piece lies above a line from a point; else inf."""
    if piece[2] == 0.0:
        d = s - piece[0]
        a = piece[5]
        b = piece[4] + 2 * d * a - slope
        c = piece[3] + d * (piece[4] + d * a) - z
        if a == 0.0:
            first = s - c / b if b > 0.0 else np.inf
            return first if start - _ROUNDING_M <= first <= end else np.inf
        inside = b * b - 4 * a * c
        if inside < 0.0:
            return np.inf
        # Where it rises 2 a t + b is the root itself; of both forms the one that loses no digits.
        root = np.sqrt(inside)
        first = s + (2 * c / (-b - root) if b >= 0.0 else (root - b) / (2 * a))
        return first if start - _ROUNDING_M <= first <= end else np.inf
    first = np.inf
    p, q, r = piece[3] - s, piece[4] - z, piece[5]
    a, half, c = 1 + slope * slope, p + slope * q, p * p + q * q - r * r
    inside = half * half - a * c
    if inside >= 0.0:
        for sign in (-1.0, 1.0):
            x = (half + sign * np.sqrt(inside)) / a
            y = slope * x - q
            if y * piece[2] >= 0.0 and start - _ROUNDING_M <= s + x <= end:
                steeper = -(x - p) - slope * y if piece[2] > 0 else (x - p) + slope * y
                if steeper > 0.0:
                    first = min(first, s + x)
    return first


@kernel
def _lit_from(pieces, s, lamp, beam):
    """How far headlights reach, to where the road rises above their beam: (m, where), NaN to the end."""
    n = pieces.shape[0]
    j = piece_at(pieces, s)
    z, slope = piece_level(pieces[j], s) + lamp, piece_grade(pieces[j], s) + beam
    for i in range(j, n):
        found = _rises_above(pieces[i], s, z, slope, max(pieces[i, 0], s), pieces[i, 1])
        if found < np.inf:
            return max(found - s, 0.0), found
    return pieces[n - 1, 1] - s, np.nan


@kernel
def lit(pieces, eyes, lamp, beam):
    """(n,) how far ahead of each chainage headlights light the road, and where it leaves their beam (NaN: nowhere).

    `lamp`: their height; `beam`: how much steeper than the road they shine upwards at most. [m/m]
    """
    far, top = np.empty(eyes.shape[0]), np.empty(eyes.shape[0])
    for i in range(eyes.shape[0]):
        far[i], top[i] = _lit_from(pieces, eyes[i], lamp, beam)
    return far, top


@kernel
def _used_up(piece, start, end, z, left, force):
    """Where on a stretch of a piece `left` is used up, by `force` for each metre and the rise over z; else inf."""
    if force * (end - start) + piece_level(piece, end) - z < left:
        return np.inf
    if piece[2] == 0.0:
        u = start - piece[0]
        a, b = piece[5], piece[4] + 2 * u * piece[5] + force
        c = piece[3] + u * (piece[4] + u * piece[5]) - z - left
        inside = max(b * b - 4 * a * c, 0.0)
        # The smaller way on, without losing digits; brakes that hold make b > 0.
        w = b + np.sqrt(inside) if b >= 0.0 else b - np.sqrt(inside)
        return start + (-2 * c / w if b >= 0.0 else -w / (2 * a))
    low, high = start, end
    while high - low > 1e-7:
        middle = 0.5 * (low + high)
        if force * (middle - start) + piece_level(piece, middle) - z < left:
            low = middle
        else:
            high = middle
    return high


@kernel
def _stopped_from(pieces, s, reacting, braking, force):
    """Distance to stop in from a chainage: see `stopped`."""
    n = pieces.shape[0]
    last = pieces[n - 1]
    start = s + reacting
    left, at = braking, start
    if start < last[1]:
        for j in range(piece_at(pieces, start), n):
            piece = pieces[j]
            begins = max(piece[0], start)
            z = piece_level(piece, begins)
            found = _used_up(piece, begins, piece[1], z, left, force)
            if found < np.inf:
                return found - s
            left -= force * (piece[1] - begins) + piece_level(piece, piece[1]) - z
            at = piece[1]
    final = force + piece_grade(last, last[1])
    return at + left / final - s if final > 0.0 else np.inf


@kernel
def stopped(pieces, eyes, reacting, braking, force):
    """(n,) distance to stop in, each eye at a speed of its own.

    It drives `reacting` on, then until friction and climbing have used up the height that its speed is worth.
    `braking`: V^2 / 254, the height [m] that the speed is worth; `force`: deceleration over g. Climbing d metres costs
    `force d` and the rise over them; past the end the last grade goes on. Infinite where brakes do not hold there.
    """
    out = np.empty(eyes.shape[0])
    for i in range(eyes.shape[0]):
        out[i] = _stopped_from(pieces, eyes[i], reacting[i], braking[i], force)
    return out


@kernel
def lack_ends(pieces, good, bad, lights, heights, edges, speeds, driving, force, least, found):
    """(n,) where lacks begin, each between a chainage that sees enough to stop and one that does not: halved. [m]

    `lights`: by headlights rather than by day; `heights` (2,): of eye and object, or of the lamps and the slope of
    their beam. Speeds (k + 1,) hold between edges (k,) [km/h]; `driving` (2,): metres driven before braking for each
    km/h, and the height that the square of a km/h is worth. Less than `least` lacking is none.
    """
    out = np.empty(good.shape[0])
    for i in range(good.shape[0]):
        a, b = good[i], bad[i]
        while abs(b - a) > found:
            s = 0.5 * (a + b)
            far, top = _lit_from(pieces, s, *heights) if lights else _seen_from(pieces, s, *heights)
            speed = speeds[np.searchsorted(edges, s, side="right")]
            needed = _stopped_from(pieces, s, driving[0] * speed, driving[1] * speed * speed, force)
            if not np.isnan(top) and needed - far > least:
                b = s
            else:
                a = s
        out[i] = b
    return out
