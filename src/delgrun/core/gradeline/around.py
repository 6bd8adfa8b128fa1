"""What an edit may look at beside the line itself."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.limit_set import LimitSet


@dataclass(frozen=True)
class Around:
    """The project's limits, the level of the ground at a chainage (NaN where there is none), and the road's other
    lines by their slots. [m]
    """

    limits: LimitSet | None = None
    ground: Callable[[float], float] | None = None
    lines: Mapping[str, GradeLine] = field(default_factory=dict)

    @property
    def shortest_curve_m(self) -> float:
        """What a new curve is given. [m]"""
        return self.limits.min_curve_length_m if self.limits else 0.0


ALONE = Around()
