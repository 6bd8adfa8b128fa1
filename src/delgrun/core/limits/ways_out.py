"""What could be instead of an edit that can't: each way on with its change of cost and the limits it would break."""

from collections.abc import Callable
from dataclasses import dataclass

from delgrun.core.gradeline.around import Around
from delgrun.core.gradeline.edit_kinds import Edit, Repair
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ways import refusal
from delgrun.core.limits.broken import in_words, newly_broken
from delgrun.core.limits.checks import limit_uses
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.units import shortened

# So many are offered, the best first.
_MOST = 6


@dataclass(frozen=True)
class WayOut:
    """A way on, as its button says it; `breaks` are limits that hold now and would not, in words."""

    label: str
    edit: Repair
    cost_change: float | None
    breaks: list[str]


@dataclass(frozen=True)
class WaysOut:
    """Why an edit can't be, and what could be instead."""

    reason: str
    ways: list[WayOut]


def ways_out(
    line: GradeLine, edit: Edit, around: Around, limits: LimitSet | None, cost_of: Callable[[GradeLine], float] | None
) -> WaysOut | None:
    """Ways on from an edit that is refused, those that break no limit first, then by cost; None where it isn't.

    `cost_of` None: costs are not known.
    """
    found = refusal(line, edit, around)
    if found is None:
        return None
    before = None if cost_of is None else cost_of(line)
    ways = [
        WayOut(
            way.label,
            Repair(words=shortened(way.label, 200), ips=way.line.ips),
            None if cost_of is None or before is None else cost_of(way.line) - before,
            _broken(line, way.line, limits),
        )
        for way in found.ways
    ]
    ways.sort(key=lambda w: (len(w.breaks), w.cost_change or 0.0))
    return WaysOut(found.reason, ways[:_MOST])


def _broken(before: GradeLine, after: GradeLine, limits: LimitSet | None) -> list[str]:
    """Limits that the line after breaks and the one before does not, in words."""
    if limits is None:
        return []
    return in_words(after, newly_broken(before, limit_uses(before, limits), after, limit_uses(after, limits)))
