"""Edits of an IP that may mend what fails there, for checks to offer."""

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np

from delgrun.core.gradeline.edit_kinds import Edit, MoveIp, Repair, SetLength
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import IpNumber
from delgrun.core.gradeline.many_ips import MoveMany
from delgrun.core.limits.check import Checked, LimitUse, Mends, Remedy
from delgrun.core.units import say
from delgrun.core.units import shortened as cut

# Steps tried for a move of level; the least that mends is then found to the centimetre. [m]
_STEPS_M = (0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0)


def least_move(mends: Mends, moved: Callable[[int], Edit]) -> int | None:
    """The least move that mends, in whole centimetres up to 5 m; None where none does."""
    good = next((step for step in _STEPS_M if mends(moved(round(step * 100)))), None)
    if good is None:
        return None
    lo, hi = 0, round(good * 100)
    while hi - lo > 1:
        mid = (lo + hi) // 2
        lo, hi = (lo, mid) if mends(moved(mid)) else (mid, hi)
    return hi


def moved_level(c: Checked, u: LimitUse, mends: Mends, sign: float, ip: int | None = None) -> Iterator[Remedy]:
    """The least move of the level of the use's IP, or of another inner one, down (sign -1) or up."""
    at = u.ip if ip is None else ip
    if not 0 < at < len(c.line.ips) - 1:
        return
    here = c.line.ips[at]

    def moved(centimetres: int) -> MoveIp:
        level = round(here.level_m + sign * centimetres / 100, 3)
        return MoveIp(ip=at, chainage_m=here.chainage_m, level_m=level, slide=False)

    least = least_move(mends, moved)
    if least is not None:
        which = "this IP" if at == u.ip else f"IP {at}"
        yield Remedy(say(f"{'Lower' if sign < 0 else 'Lift'} {which} by {{m:length}}", m=least / 100), moved(least))


def lengthened(c: Checked, u: LimitUse, mends: Mends) -> Iterator[Remedy]:
    """The shortest whole-metre curve at the use's IP that mends, as far as there is room."""
    if not 0 < u.ip < len(c.line.ips) - 1:
        return
    least, most = int(c.line.curve_length_m[u.ip]), int(c.line.room_m(u.ip))

    def of(length: int) -> SetLength:
        return SetLength(ip=u.ip, curve_length_m=float(length))

    if most <= least or not mends(of(most)):
        return
    while most - least > 1:
        middle = (least + most) // 2
        least, most = (least, middle) if mends(of(middle)) else (middle, most)
    yield Remedy(say("Lengthen the curve to {m:size}", m=float(most)), of(most))


def eased(c: Checked, u: LimitUse, mends: Mends, sign: float) -> Iterator[Remedy]:
    """The IP moved, down (sign -1) or up, by as little as mends with a curve as long as there is room for then."""
    if not 0 < u.ip < len(c.line.ips) - 1:
        return

    def moved(centimetres: int) -> Repair:
        ips = list(c.line.ips)
        ips[u.ip] = replace(ips[u.ip], level_m=round(ips[u.ip].level_m + sign * centimetres / 100, 3))
        length = float(np.floor(GradeLine(tuple(ips)).room_m(u.ip)))
        ips[u.ip] = replace(ips[u.ip].freed(), curve_length_m=length)
        words = f"{'Lower' if sign < 0 else 'Lift'} this IP by {{m:length}}, its curve to {{l:size}}"
        return Repair(words=cut(say(words, m=centimetres / 100, l=length), 200), ips=tuple(ips))

    least = least_move(mends, moved)
    if least is not None:
        edit = moved(least)
        yield Remedy(edit.words, edit)


def shortened(c: Checked, u: LimitUse, length_m: float) -> Iterator[Remedy]:
    """A curve of this whole-metre length at the use's IP."""
    length = float(np.floor(length_m + 1e-9))
    if 0 < u.ip < len(c.line.ips) - 1 and 0 < length < c.line.curve_length_m[u.ip]:
        yield Remedy(say("Use a curve of {m:size}", m=length), SetLength(ip=u.ip, curve_length_m=length))


def moved_together(c: Checked, u: LimitUse, mends: Mends, sign: float) -> Iterator[Remedy]:
    """The same of the IP and those on both sides of it, as far as there are inner ones."""
    beside = tuple(i for i in (u.ip - 1, u.ip, u.ip + 1) if 0 < i < len(c.line.ips) - 1)
    if len(beside) < 2:
        return

    def moved(centimetres: int) -> MoveMany:
        ips = tuple(IpNumber(ip=i) for i in beside)
        return MoveMany(ips=ips, along_m=0.0, up_m=sign * centimetres / 100, tilt=0.0, about_m=0.0, slide=False)

    least = least_move(mends, moved)
    if least is not None:
        words = f"{'Lower' if sign < 0 else 'Lift'} IP {beside[0]} to {beside[-1]} by {{m:length}}"
        yield Remedy(say(words, m=least / 100), moved(least))
