"""Every check of a line, in the order in which findings are listed. A new one is a file here and a line below."""

from collections.abc import Iterable

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.check import Check, Checked, LimitUse, Row, RowKind
from delgrun.core.limits.checks.bends import BENDS
from delgrun.core.limits.checks.controls import LEVEL_CONTROL, UNMEASURED, UTILITY
from delgrun.core.limits.checks.coordination import COORDINATION
from delgrun.core.limits.checks.crest_and_sag_k import CREST_K, MORE_K, SAG_K
from delgrun.core.limits.checks.curve_length import CURVE_LENGTH
from delgrun.core.limits.checks.depths import CUT_DEPTH, FILL_HEIGHT
from delgrun.core.limits.checks.drainage import DRAINED_K, UNDRAINED_SAG
from delgrun.core.limits.checks.grades import (
    FLATTEST_AT_KERBS,
    FLATTEST_GRADE,
    FLATTEST_IN_CUT,
    LONG_GRADE,
    STEEPEST_GRADE,
)
from delgrun.core.limits.checks.ground import (
    NO_CATCH_LEFT,
    NO_CATCH_RIGHT,
    NO_GROUND,
    NOT_REACHED,
    RESERVE_WALL,
)
from delgrun.core.limits.checks.ip_spacing import IP_SPACING
from delgrun.core.limits.checks.leaning import LEANING
from delgrun.core.limits.checks.longest_tangent import LONGEST_TANGENT
from delgrun.core.limits.checks.shortest_tangent import SHORTEST_TANGENT
from delgrun.core.limits.checks.sight import PASSING_SHARE, SIGHT
from delgrun.core.limits.checks.tie_ins import TIE_IN_GRADE, TIE_IN_LEVEL
from delgrun.core.limits.checks.trucks import SLOW_TRUCK
from delgrun.core.limits.checks.under import UNDER
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.units import chainage_text

CHECKS: tuple[Check, ...] = (
    STEEPEST_GRADE, FLATTEST_GRADE, FLATTEST_IN_CUT, FLATTEST_AT_KERBS, LONG_GRADE, CREST_K, SAG_K, *MORE_K,
    CURVE_LENGTH, IP_SPACING, SHORTEST_TANGENT, LONGEST_TANGENT,
    TIE_IN_LEVEL, TIE_IN_GRADE, LEVEL_CONTROL, UTILITY, UNMEASURED, DRAINED_K, CUT_DEPTH, FILL_HEIGHT,
    *SIGHT, *UNDER, PASSING_SHARE, SLOW_TRUCK, UNDRAINED_SAG, NO_GROUND, NO_CATCH_LEFT, NO_CATCH_RIGHT,
    NOT_REACHED, RESERVE_WALL, *BENDS, *LEANING, *COORDINATION,
)  # fmt: skip
BY_ID: dict[str, Check] = {c.id: c for c in CHECKS}


def rows_of(kind: RowKind) -> list[Row]:
    """The rows of one kind in which a search keeps checks, each once; the main limit's first."""
    return list(dict.fromkeys(row for check in CHECKS for row in check.rows_of(kind)))


def all_uses(checked: Checked, checks: Iterable[Check] = CHECKS) -> list[LimitUse]:
    """Everything that the checks say of a line, in their order and by chainage."""
    return [u for check in checks for u in checked.used(check)]


def limit_uses(line: GradeLine, limits: LimitSet) -> list[LimitUse]:
    """Use of every limit that a search keeps."""
    return all_uses(Checked(line, limits), (c for c in CHECKS if c.searched))


def where(u: LimitUse) -> str:
    """The stretch or the spot, in a designer's notation."""
    at, to = chainage_text(u.from_chainage_m), chainage_text(u.to_chainage_m)
    return f"from {at} to {to}" if u.to_chainage_m - u.from_chainage_m > 0.01 else f"at {at}"


def brief(u: LimitUse) -> str:
    """What is wrong and by how much, for where the place is plain to see."""
    return BY_ID[u.check].say(u)


def sentence(u: LimitUse, briefly: str | None = None) -> str:
    """What is wrong, by how much and where; `briefly` is what `brief` says of it, if that was said."""
    return f"{brief(u) if briefly is None else briefly} {where(u)}"
