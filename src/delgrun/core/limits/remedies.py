"""What would mend a failure: what its checks offer, tried on the line and priced."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from delgrun.core.earthworks.evaluator import Evaluation
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.edit_kinds import Edit, apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.asked_curves import around
from delgrun.core.limits.check import Check, Checked, LimitUse, Remedy, no_remedies

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
                    whole = Checked(after, c.limits, c.works, evaluated, c.bends, c.truck, c, c.design)
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
