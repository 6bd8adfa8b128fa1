"""What would mend a failure: edits of the IP that fails, tried on the line and priced."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from delgrun.core.earthworks.evaluator import Evaluation
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.edit_kinds import Edit, MoveIp, Repair, SetLength, apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import IpNumber
from delgrun.core.gradeline.many_ips import MoveMany
from delgrun.core.gradeline.vertical_curve import length_of_k
from delgrun.core.limits.asked_curves import around
from delgrun.core.limits.check import Check, Checked, LimitUse, Mends, Remedy, no_remedies
from delgrun.core.limits.limit_set import MORE
from delgrun.core.units import say

# Steps tried for a move of level; the least that mends is then found to the centimetre. [m]
_STEPS_M = (0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0)


# So many IPs to either side are checked with the one that is moved.
_BESIDE = 4


@dataclass(frozen=True)
class PricedRemedy:
    """A remedy that mends what these checks say of an IP, with what it changes in cost; `breaks`: what fails by it."""

    ip: int
    checks: tuple[str, ...]
    label: str
    edit: Edit
    cost_change: float
    breaks: tuple[LimitUse, ...] = ()


# Lines and what fails of them before and after an edit, to what fails by it.
Breaks = Callable[[GradeLine, list[LimitUse], GradeLine, list[LimitUse]], list[LimitUse]]


def longer_curve(c: Checked, u: LimitUse) -> Iterator[Remedy]:
    """The shortest whole-metre curve that keeps both K and the shortest length."""
    a = c.line.change_of_grade(u.ip)
    name = "min_crest_k_m_per_pct" if a < 0 else "min_sag_k_m_per_pct"
    kinds = [c.limits.steps(kind) for kind in (name, *MORE[name])]
    at, length, curve = float(c.line.chainage_m[u.ip]), 0.0, c.line.curve(u.ip)
    # The longer it is the more ranges it may touch.
    for _ in range(1 + len(c.limits.ranges)):
        reach = at - length * curve.before, at + length * (1 - curve.before)
        k = max(kind.over(*reach) or 0.0 for kind in kinds)
        asked = max(length_of_k(k, curve), c.limits.over("min_curve_length_m", *reach))
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
        return Repair(words=say(words, m=centimetres / 100, l=length)[:200], ips=tuple(ips))

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


def remedies(
    c: Checked,
    checks: tuple[Check, ...],
    evaluate: Callable[[GradeLine], Evaluation],
    breaks: Breaks = lambda *_: [],
) -> list[PricedRemedy]:
    """Edits that mend what fails at an IP, or one piece of advice about it.

    Whatever fails at an IP is mended together: an edit leaves none of it there, and none of its neighbours' limits
    broken that held. Where no edit does, those are offered that mend it and break something. Each is tried on the whole
    line under all checks, and says what it breaks by `breaks`; those that break nothing come first.
    """
    mending = [check for check in checks if check.searched or check.remedies is not no_remedies]
    bad = {check.id: [u for u in c.used(check) if u.fails] for check in mending}
    failing = [u for check in mending if not check.advice for u in bad[check.id]]
    was = {(u.check, u.ip) for u in failing}
    groups: list[tuple[int, tuple[str, ...]]] = [
        (at, tuple(check.id for check in mending if not check.advice and any(u.ip == at for u in bad[check.id])))
        for at in sorted({u.ip for u in failing})
    ]
    groups += [(at, (check.id,)) for check in mending if check.advice for at in sorted({u.ip for u in bad[check.id]})]
    out: list[PricedRemedy] = []
    before = evaluate(c.line).ledger.cost
    failed = [u for check in checks for u in c.used(check) if u.fails]
    for at, ids in groups:
        found: list[PricedRemedy] = []
        for alone in (False, True):
            tried = _Tried(c, checks, evaluate, at, ids, was, alone)
            offered: dict[str, Remedy] = {}
            for check in mending:
                for u in bad[check.id]:
                    if check.id in ids and u.ip == at:
                        for r in check.remedies(c, u, tried.mends):
                            offered.setdefault(r.label, r)
            for r in offered.values():
                if tried.mends(r.edit):
                    after = tried.line(r.edit)
                    evaluated = evaluate(after)
                    whole = Checked(after, c.limits, c.works, evaluated, c.bends, c.truck, c)
                    fails = [u for check in checks for u in whole.used(check) if u.fails]
                    by_it = tuple(breaks(c.line, failed, after, fails))
                    found.append(PricedRemedy(at, ids, r.label, r.edit, evaluated.ledger.cost - before, by_it))
            if found:
                break
        # Where something mends without harm, nothing that harms is wanted.
        harmless = [r for r in found if not r.breaks]
        out += harmless or sorted(found, key=lambda r: len(r.breaks))
    return out


@dataclass(frozen=True)
class _Tried:
    """Edits tried for what some checks say of one IP; `was`: what failed before, by check and IP; `alone`: whatever
    else they break.
    """

    before: Checked
    checks: tuple[Check, ...]
    evaluate: Callable[[GradeLine], Evaluation]
    at: int
    ids: tuple[str, ...]
    was: set[tuple[str, int]]
    alone: bool = False

    def line(self, edit: Edit) -> GradeLine:
        return apply_edit(self.before.line, edit, around(self.before.limits)).line

    def mends(self, edit: Edit) -> bool:
        try:
            line = self.line(edit)
        except DesignInputError:
            return False
        # Beside the IP, and only there, the edit may have broken what held.
        part = self._about(line, self.at - _BESIDE, self.at + _BESIDE)
        for check in self.checks:
            if check.searched and not all(self._fine(u, part.skipped) for u in check.uses(part.checked)):
                return False
        own = [check for check in self.checks if check.id in self.ids and not check.searched]
        if not own:
            return True
        part = self._near(line, min(check.near_m or np.inf for check in own))
        whole = replace(part.checked, works=self.before.works, bends=self.before.bends)
        if any(check.on_ground for check in own):
            whole = replace(whole, evaluation=self.evaluate(line))
        return not any(u.fails and u.ip + part.skipped == self.at for check in own for u in check.uses(whole))

    def _near(self, line: GradeLine, near_m: float) -> "_Part":
        s = line.chainage_m
        at = s[min(self.at, len(s) - 1)]
        return self._about(line, int(np.searchsorted(s, at - near_m)) - 1, int(np.searchsorted(s, at + near_m)) + 1)

    def _about(self, line: GradeLine, first: int, last: int) -> "_Part":
        """The part of a line between two IPs, whose ends are no tie-ins unless they are the line's."""
        first, last = max(first, 0), min(last, len(line.ips) - 1)
        limits, ips = self.before.limits, line.ips[first : last + 1]
        if first > 0:
            limits = replace(limits, start_level_m=None, start_grade=None)
        if last < len(line.ips) - 1:
            limits = replace(limits, end_level_m=None, end_grade=None)
        part = GradeLine((ips[0].freed(0.0), *ips[1:-1], ips[-1].freed(0.0)))
        return _Part(Checked(part, limits), first)

    def _fine(self, u: LimitUse, skipped: int) -> bool:
        ip = u.ip + skipped
        if not u.fails or abs(ip - self.at) > 1:
            return True
        if self.alone:
            return ip != self.at or u.check not in self.ids
        return (ip != self.at or u.check not in self.ids) and (u.check, ip) in self.was


@dataclass(frozen=True)
class _Part:
    """A part of a line to be checked, and how many IPs it leaves out before."""

    checked: Checked
    skipped: int
