"""What would mend a failure: edits of the IP that fails, tried on the line and priced."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.around import Around
from delgrun.core.gradeline.edit_kinds import Edit, MoveIp, SetLength, apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import IpNumber
from delgrun.core.gradeline.ranges import MoveMany
from delgrun.core.limits.check import Check, Checked, LimitUse, Mends, Remedy
from delgrun.core.units import say

# Steps tried for a move of level; the least that mends is then found to the centimetre. [m]
_STEPS_M = (0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0)


@dataclass(frozen=True)
class PricedRemedy:
    """A remedy that mends, for the IP whose failure it mends, with what it changes in cost."""

    ip: int
    label: str
    edit: Edit
    cost_change: float


def longer_curve(c: Checked, u: LimitUse) -> Iterator[Remedy]:
    """The shortest whole-metre curve that keeps both K and the shortest length."""
    a = c.line.change_of_grade(u.ip)
    name = "min_crest_k_m_per_pct" if a < 0 else "min_sag_k_m_per_pct"
    at, length = float(c.line.chainage_m[u.ip]), 0.0
    # The longer it is the more ranges it may touch.
    for _ in range(1 + len(c.limits.ranges)):
        reach = at - length / 2, at + length / 2
        asked = max(100 * c.limits.over(name, *reach) * abs(a), c.limits.over("min_curve_length_m", *reach))
        if asked <= length:
            break
        length = float(np.ceil(asked - 1e-9))
    yield Remedy(say("Lengthen the curve to {m:size}", m=length), SetLength(ip=u.ip, curve_length_m=length))


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


def moved_level(c: Checked, u: LimitUse, mends: Mends, sign: float) -> Iterator[Remedy]:
    """The least move of the IP's level, down (sign -1) or up."""
    ip = c.line.ips[u.ip]

    def moved(centimetres: int) -> MoveIp:
        level = round(ip.level_m + sign * centimetres / 100, 3)
        return MoveIp(ip=u.ip, chainage_m=ip.chainage_m, level_m=level, slide=False)

    least = least_move(mends, moved)
    if least is not None:
        words = f"{'Lower' if sign < 0 else 'Lift'} this IP by {{m:length}}"
        yield Remedy(say(words, m=least / 100), moved(least))


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


def remedies(
    c: Checked, checks: tuple[Check, ...], cost_of: Callable[[GradeLine], float], ip: int | None = None
) -> list[PricedRemedy]:
    """Edits that leave nothing of a failing IP's own rules broken and break no other; of one IP, or of all."""
    here = Checked(c.line, c.limits)
    searched = [check for check in checks if check.searched]
    bad = [u for check in searched for u in check.uses(here) if u.fails]
    was = {(u.check, u.ip) for u in bad}
    out: list[PricedRemedy] = []
    before: float | None = None
    for at in sorted({u.ip for u in bad} if ip is None else {ip}):
        failing = {u.check for u in bad if u.ip == at}

        def mended(edit: Edit, at: int = at, failing: set[str] = failing) -> GradeLine | None:
            try:
                new = apply_edit(c.line, edit, Around(c.limits)).line
            except DesignInputError:
                return None
            left = [
                u for check in searched for u in check.uses(Checked(new, c.limits)) if u.fails and abs(u.ip - at) <= 1
            ]
            broken = any((u.ip == at and u.check in failing) or (u.check, u.ip) not in was for u in left)
            return None if broken else new

        offered: dict[str, Remedy] = {}
        for check in searched:
            for u in bad:
                if u.check == check.id and u.ip == at:
                    for r in check.remedies(here, u, lambda edit: mended(edit) is not None):
                        offered.setdefault(r.label, r)
        for r in offered.values():
            new = mended(r.edit)
            if new is not None:
                if before is None:
                    before = cost_of(c.line)
                out.append(PricedRemedy(at, r.label, r.edit, cost_of(new) - before))
    return out
