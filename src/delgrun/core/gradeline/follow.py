"""A grade line follows its centreline when that is moved, shortened or given another start."""

from dataclasses import replace

from delgrun.core.gradeline.edits import DIGITS
from delgrun.core.gradeline.grade_line import GradeLine, Ip


def straight(start_m: float, start_level_m: float, end_m: float, end_level_m: float) -> GradeLine:
    """The plainest line: from one end of the road to the other at these levels."""
    return GradeLine.of([Ip(chainage_m=start_m, level_m=start_level_m), Ip(chainage_m=end_m, level_m=end_level_m)])


def follow(line: GradeLine, old_start_m: float, start_m: float, end_m: float) -> GradeLine:
    """The line over a centreline that now runs from `start_m` to `end_m` and began at `old_start_m`.

    Another start chainage takes the whole line along, so that it stays over its ground. Then IPs outside go,
    the ends move to the centreline's, and curves give way: first the length of those beside an end, and a
    held K with it where the K no longer fits.
    """
    shift = start_m - old_start_m
    moved = [replace(ip, chainage_m=ip.chainage_m + shift if shift else ip.chainage_m) for ip in line.ips]
    if shift:
        moved = [moved[0], *(replace(ip, chainage_m=round(ip.chainage_m, DIGITS)) for ip in moved[1:-1]), moved[-1]]
    inner = [ip for ip in moved[1:-1] if start_m < ip.chainage_m < end_m]
    ends = replace(moved[0], chainage_m=start_m), replace(moved[-1], chainage_m=end_m)
    out = GradeLine((ends[0], *inner, ends[1])).held()
    while out.conflict() is not None:
        out = _give_way(out)
    return out


def _give_way(line: GradeLine) -> GradeLine:
    """The line with the first curve that has no room cut down to what there is, its K let go."""
    ips = list(line.ips)
    for i in range(len(ips) - 1):
        over = line.curve_end_m[i] - line.curve_start_m[i + 1]
        if over <= 0:
            continue
        # The one before gives way, unless it is the start or has nothing left to give.
        at = i if ips[i].curve_length_m > 0 else i + 1
        room = max(ips[at].curve_length_m - 2 * over, 0.0)
        ips[at] = replace(ips[at], curve_length_m=int(room * 1000) / 1000, held_k_m_per_pct=None)
    return GradeLine(tuple(ips))
