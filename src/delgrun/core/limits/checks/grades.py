"""Steepest and flattest grade of the tangents, and stretches that are steep for too long."""

from collections.abc import Callable, Iterator
from itertools import pairwise

import numpy as np

from delgrun.core.gradeline.piece_kernels import parallel
from delgrun.core.limits.check import Check, Checked, LimitUse, Mends, Remedy, Row, share
from delgrun.core.limits.mending import moved_level
from delgrun.core.limits.ranges import Steps
from delgrun.core.units import say

# A straight shorter than this between two curves is a joint, not a flat stretch. [m]
LEAST_STRAIGHT_M = 0.001
# Grades are compared to this. [m/m]
_SAME_GRADE = 1e-9


def _steepest(c: Checked) -> Iterator[LimitUse]:
    """The line itself keeps what holds at each chainage, in its curves too: they are steepest at their ends and where a
    range begins or ends within them. Where none does, half a curve is told with the tangent that it turns from.
    """
    line, s = c.line, c.line.chainage_m.tolist()
    start, end = line.curve_start_m.tolist(), line.curve_end_m.tolist()
    edges = sorted({*c.limits.steps("max_grade").edges, *c.limits.steps("max_fall").edges})
    met = [a < b and any(a <= e <= b for e in edges) for a, b in zip(start, end, strict=True)]
    for i, g in enumerate(line.grade.tolist()):
        a = end[i] if met[i] else s[i]
        b = start[i + 1] if met[i + 1] else s[i + 1]
        if a < b:
            for x, y, rise, fall in _steepest_along(c, a, b):
                limit = rise if g >= 0 else fall
                if limit is not None:
                    yield LimitUse("steepest_grade", x, y, g, limit, share(abs(g), limit), i)
    for k in np.flatnonzero(met).tolist():
        for x, y, rise, fall in _steepest_along(c, start[k], end[k]):
            ends = zip(line.grades(np.array([x, y])).tolist(), (k - 1, k), strict=True)
            told = [(share(abs(g), lim), g, lim, i) for g, i in ends if (lim := rise if g >= 0 else fall) is not None]
            if told:
                use, g, limit, i = max(told)
                yield LimitUse("steepest_grade", x, y, g, limit, use, i)


def _steepest_along(c: Checked, a: float, b: float) -> Iterator[tuple[float, float, float | None, float | None]]:
    """Parts of a stretch with one steepest rise and one steepest fall each; a fall keeps its own where there is one."""
    for x, y, own in c.limits.steps("max_fall").along(a, b):
        for low, high, rise in c.limits.steps("max_grade").along(x, y):
            yield low, high, rise, rise if own is None else own


def _flattest(check: str, name: str, *, in_cut: bool = False) -> Callable[[Checked], Iterator[LimitUse]]:
    def uses(c: Checked) -> Iterator[LimitUse]:
        least = c.limits.steps(name)
        if least.free:
            return
        start, end = c.line.curve_start_m.tolist(), c.line.curve_end_m.tolist()
        for i, g in enumerate(c.line.grade.tolist()):
            if start[i + 1] - end[i] > LEAST_STRAIGHT_M:
                for a, b, limit in least.along(end[i], start[i + 1]):
                    if limit and (not in_cut or _cut(c, a, b)):
                        yield LimitUse(check, a, b, g, limit, share(limit, abs(g)), i)

    return uses


def _turned(c: Checked, u: LimitUse, mends: Mends, *, flatter: bool) -> Iterator[Remedy]:
    """A tangent turned by the level of the IP at either end of it."""
    up = 1.0 if (u.value > 0) != flatter else -1.0
    yield from moved_level(c, u, mends, -up)
    yield from moved_level(c, u, mends, up, u.ip + 1)


def _cut(c: Checked, a: float, b: float) -> bool:
    """Whether a section of the stretch lies in a cut at the centreline."""
    if c.works is None or c.evaluation is None:
        return False
    s = c.works.chainage_m
    on = (s >= a) & (s <= b)
    return bool((c.works.centre_level_m[on] > c.evaluation.level_m[on]).any())


def _long(c: Checked) -> Iterator[LimitUse]:
    """Each stretch of the line itself, curves and all, that is steeper than what counts as steep."""
    steeps, longest = c.limits.steps("steep_grade"), c.limits.steps("longest_steep_m")
    if all(v is None for v in steeps.values):
        return
    for sign in (1.0, -1.0):
        for a, b in _steeper(c, sign, steeps):
            limit, steep = longest.over(a, b), steeps.over(a, b)
            if limit is not None and steep is not None:
                ip = int(np.argmin(np.abs(c.line.chainage_m - (a + b) / 2)))
                about = say(f"{'climb' if sign > 0 else 'fall'} of more than {{g:percent}}", g=steep)
                yield LimitUse("long_grade", a, b, b - a, limit, share(b - a, limit), ip, about)


def _steeper(c: Checked, sign: float, steeps: Steps) -> Iterator[tuple[float, float]]:
    """Stretches that rise (sign 1) or fall by more than what counts as steep there, each as long as it goes on."""
    began: float | None = None
    end = float(c.line.chainage_m[-1])
    for piece in c.line.pieces:
        for low, high, steep in steeps.along(float(piece[0]), float(piece[1])):
            turn = np.nan if steep is None else float(parallel(piece, sign * steep))
            inner = [turn] if low < turn < high else []
            for a, b in pairwise([low, *inner, high]):
                grade = sign * float(c.line.grades(np.array([(a + b) / 2]))[0])
                over = steep is not None and grade > steep + _SAME_GRADE
                if over and began is None:
                    began = a
                elif not over and began is not None:
                    yield began, a
                    began = None
    if began is not None:
        yield began, end


STEEPEST_GRADE = Check(
    id="steepest_grade",
    name="Steepest grade",
    limit="max_grade",
    measure="percent",
    row="grade",
    local=True,
    rows=(Row("rise", "max_grade"), Row("fall", "max_fall", "max_grade")),
    uses=_steepest,
    remedies=lambda c, u, mends: _turned(c, u, mends, flatter=True),
    say=lambda u: say(
        "Grade {value:grade}, at most {limit:percent}, too steep by {over:percent}",
        value=u.value, limit=u.limit, over=abs(u.value) - u.limit,
    ),
)  # fmt: skip


def _flat_check(check: str, name: str, field: str, why: str, *, kept: bool) -> Check:
    return Check(
        id=check,
        name=name,
        limit=field,
        on_ground=not kept,
        measure="percent",
        row="grade",
        local=True,
        rows=(Row("flattest", field),) if kept else (),
        uses=_flattest(check, field, in_cut=not kept),
        remedies=lambda c, u, mends: _turned(c, u, mends, flatter=False),
        say=lambda u: say(
            "Grade {value:grade}, needs {limit:percent} " + why + ", short by {short:percent}",
            value=u.value, limit=u.limit, short=u.limit - abs(u.value),
        ),
    )  # fmt: skip


FLATTEST_GRADE = _flat_check("flattest_grade", "Flattest grade", "min_grade", "to drain", kept=True)
FLATTEST_AT_KERBS = _flat_check(
    "flattest_at_kerbs", "Flattest at kerbs", "min_kerb_grade", "to drain along kerbs", kept=True
)
FLATTEST_IN_CUT = _flat_check("flattest_in_cut", "Flattest in cut", "min_cut_grade", "to drain a cut", kept=False)
LONG_GRADE = Check(
    id="long_grade",
    name="Long grade",
    limit="longest_steep_m",
    measure="length",
    row="grade",
    place="stretch",
    uses=_long,
    say=lambda u: say(
        "{value:about} of {about}, at most {limit:about}, too long by {over:about}",
        value=u.value, limit=u.limit, over=u.value - u.limit, about=u.about,
    ),
)  # fmt: skip
