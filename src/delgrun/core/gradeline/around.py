"""What an edit may look at beside the line itself."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from delgrun.core.gradeline.governed import Asks
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.limit_set import LimitSet


@dataclass(frozen=True)
class Around:
    """The project's limits, the level of the ground at a chainage (NaN where there is none), the road's other lines by
    their slots, and what the limits ask of curves. [m]
    """

    limits: LimitSet | None = None
    ground: Callable[[float], float] | None = None
    lines: Mapping[str, GradeLine] = field(default_factory=dict)
    asks: Asks | None = None


ALONE = Around()
