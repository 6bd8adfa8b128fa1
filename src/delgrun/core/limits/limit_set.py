"""The limits of a project: one set for the whole length."""

from dataclasses import dataclass

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.sight.stopping import crest_k, design_stopping_sight_m, sag_k


@dataclass(frozen=True, kw_only=True)
class TieIn:
    """What an end of the line must meet: a level [m] and a grade [m/m]; None leaves it free."""

    level_m: float | None = None
    grade: float | None = None


@dataclass(frozen=True, kw_only=True)
class LimitSet:
    """Bounds for the whole length. Grades are ratios, K in m/%."""

    design_speed_kmh: float
    max_grade: float
    min_grade: float
    min_crest_k_m_per_pct: float
    min_sag_k_m_per_pct: float
    min_curve_length_m: float
    min_ip_spacing_m: float
    start: TieIn = TieIn()
    end: TieIn = TieIn()

    def __post_init__(self) -> None:
        if not self.min_grade < self.max_grade:
            raise DesignInputError("min_grade", "The flattest grade must be less than the steepest.")
        for name, tie in (("start", self.start), ("end", self.end)):
            if tie.grade is not None and abs(tie.grade) > self.max_grade:
                raise DesignInputError(
                    f"{name}_grade",
                    f"The tie-in at the {name} has {100 * tie.grade:+.2f} %, steeper than the steepest grade "
                    f"of {100 * self.max_grade:.2f} %: no line could keep both.",
                )


# Steepest grade of a rural road in rolling ground by design speed: common practice, from memory.
_STEEPEST = {30: 0.11, 40: 0.11, 50: 0.10, 60: 0.09, 70: 0.08, 80: 0.07, 90: 0.06, 100: 0.05, 110: 0.05, 120: 0.04}


def default_limits(design_speed_kmh: float) -> LimitSet:
    """The limits a new project starts with.

    K values are the printed metric columns of reference section 2. The flattest grade (0.5 %, to
    drain) and the shortest curve (0.6 m per km/h, up to 5 m) are common practice; the least spacing
    of IPs, a third more than the shortest curve, is ours, so that two curves never follow at once.
    """
    sight = design_stopping_sight_m(design_speed_kmh)
    speeds = np.array(sorted(_STEEPEST))
    steepest = _STEEPEST[int(speeds[np.argmin(np.abs(speeds - design_speed_kmh))])]
    shortest = float(5 * np.ceil(0.6 * design_speed_kmh / 5 - 1e-9))
    return LimitSet(
        design_speed_kmh=design_speed_kmh,
        max_grade=steepest,
        min_grade=0.005,
        min_crest_k_m_per_pct=crest_k(sight),
        min_sag_k_m_per_pct=sag_k(sight),
        min_curve_length_m=shortest,
        min_ip_spacing_m=float(5 * np.ceil(shortest * 4 / 3 / 5)),
    )
