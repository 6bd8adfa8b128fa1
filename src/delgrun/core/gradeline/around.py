"""What an edit may look at beside the line itself."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from delgrun.core.gradeline.governed import Asks
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.stopping import Stopping


@dataclass(frozen=True)
class Around:
    """What a driver must see to stop at a chainage, the level of the ground there (NaN where there is none), the road's
    other lines by their slots, and what the limits ask of curves. [m]
    """

    stopping: Callable[[float], Stopping] | None = None
    ground: Callable[[float], float] | None = None
    lines: Mapping[str, GradeLine] = field(default_factory=dict)
    asks: Asks | None = None


ALONE = Around()
