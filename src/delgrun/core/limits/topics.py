"""What a set of limits holds, by topic. `group`: the form a field stands in; `ranged`: ranges may have it."""

from dataclasses import dataclass

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.stopping import FORM_NAMES, METRIC

MODES = ("fails", "advice", "off")
USUAL, GRADES, CURVES = "Usual limits", "More of grades", "More of curves and tangents"
SIGHT, TIES = "Sight along the line", "Tie-ins"
_LEAST = "at least"


def _mode(label: str, first: str, says: str, group: str) -> str:
    """Declares what it is to break a rule: a failure, advice, or nothing."""
    return meant("word", label, choices=MODES, first=first, says=says, group=group)  # type: ignore[no-any-return]


@dataclass(frozen=True, kw_only=True)
class GradeLimits:
    """Design speed and grades, as ratios."""

    design_speed_kmh: float = meant(
        "speed", "design speed", low=20, high=130, first=70.0, group="Design speed", ranged="higher"
    )
    max_grade: float = meant(
        "fall", "steepest grade", low=0, above=True, high=0.5, first=0.08, says="up or down, of tangents",
        group=USUAL, ranged="lower",
    )  # fmt: skip
    min_grade: float = meant(
        "fall", "flattest grade", low=0, high=0.1, first=0.005, aside="of tangents", group=USUAL, ranged="higher"
    )
    max_fall: float | None = meant(
        "fall", "steepest fall", low=0, above=True, high=0.5, first=None, optional=True,
        says="downhill in the direction of chainage; free: as steep as up", group=GRADES, ranged="lower",
    )  # fmt: skip
    min_cut_grade: float | None = meant(
        "fall", "flattest in cut", low=0, high=0.1, first=None, optional=True,
        says="of tangents where they lie in a cut", group=GRADES, ranged="higher",
    )  # fmt: skip
    min_kerb_grade: float | None = meant(
        "fall", "flattest at kerbs", low=0, high=0.1, first=None, optional=True,
        says="of tangents with kerbs beside them; usual in ranges", group=GRADES, ranged="higher",
    )  # fmt: skip
    steep_grade: float | None = meant(
        "fall", "long grades over", low=0, high=0.5, first=None, optional=True,
        says="from here on a grade counts as steep, and may not go on for longer than below",
        group=GRADES, ranged="lower",
    )  # fmt: skip
    longest_steep_m: float | None = meant(
        "size", "steep stretches last", low=0, above=True, high=1e6, first=None, optional=True, aside="at most",
        says="stretches steeper than that", group=GRADES, ranged="lower",
    )  # fmt: skip

    @property
    def fall(self) -> float:
        """Steepest fall of the whole length."""
        return self.max_grade if self.max_fall is None else self.max_fall

    def check(self) -> None:
        """Raises DesignInputError where the flattest grade is not below the steepest, or one of a pair is missing."""
        steepest = min(self.max_grade, self.fall)
        for name in ("min_grade", "min_cut_grade", "min_kerb_grade"):
            flattest = getattr(self, name)
            if flattest is not None and flattest >= steepest:
                raise DesignInputError(name, "The flattest grade must be less than the steepest.")
        if (self.steep_grade is None) != (self.longest_steep_m is None):
            missing = "steep_grade" if self.steep_grade is None else "longest_steep_m"
            raise DesignInputError(
                missing, "A longest stretch and the grade it is steeper than belong together: type both, or neither."
            )


@dataclass(frozen=True, kw_only=True)
class CurveLimits:
    """Vertical curves, the tangents between them, and their IPs. K in m/%."""

    min_crest_k_m_per_pct: float = meant(
        "k", "K of crests", low=0, high=1e6, first=17.0, aside=_LEAST, group=USUAL, ranged="higher"
    )
    min_sag_k_m_per_pct: float = meant(
        "k", "K of sags", low=0, high=1e6, first=23.0, aside=_LEAST, group=USUAL, ranged="higher"
    )
    min_curve_length_m: float = meant(
        "size", "shortest curve", low=0, high=1e6, first=45.0, group=USUAL, ranged="higher"
    )
    min_ip_spacing_m: float = meant(
        "size", "IP spacing", low=0, high=1e6, first=60.0, aside=_LEAST, group=USUAL, ranged="higher"
    )
    crest_k_intermediate: float | None = meant(
        "k", "K of crests, intermediate", low=0, high=1e6, first=None, optional=True, group=CURVES, ranged="higher"
    )
    crest_k_passing: float | None = meant(
        "k", "K of crests, passing", low=0, high=1e6, first=None, optional=True, group=CURVES, ranged="higher"
    )
    crest_k_appearance: float | None = meant(
        "k", "K of crests, appearance", low=0, high=1e6, first=None, optional=True, group=CURVES, ranged="higher"
    )
    sag_k_comfort: float | None = meant(
        "k", "K of sags, comfort", low=0, high=1e6, first=None, optional=True, group=CURVES, ranged="higher"
    )
    sag_k_appearance: float | None = meant(
        "k", "K of sags, appearance", low=0, high=1e6, first=None, optional=True, group=CURVES, ranged="higher"
    )
    most_drained_k_m_per_pct: float | None = meant(
        "k", "K where drained", low=0, above=True, high=1e6, first=None, optional=True, aside="at most",
        says="of curves with a high or low point, which are nearly level about it; usual beside kerbs",
        group=CURVES, ranged="lower",
    )  # fmt: skip
    most_kink: float | None = meant(
        "percent", "change without curve", low=0, high=0.1, first=None, optional=True, aside="at most",
        says="so small a change of grade needs no vertical curve; free: every one does", group=CURVES, ranged="lower",
    )  # fmt: skip
    min_tangent_m: float | None = meant(
        "size", "shortest tangent", low=0, high=1e6, first=None, optional=True,
        says="between curves that do not touch", group=CURVES, ranged="higher",
    )  # fmt: skip
    longest_tangent_m: float | None = meant(
        "size", "longest tangent", low=0, above=True, high=1e6, first=None, optional=True, aside="advice",
        group=CURVES, ranged="lower",
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class DepthLimits:
    """How far the line may lie from the ground, at the centreline."""

    most_cut_m: float | None = meant(
        "size", "deepest cut", low=0, above=True, high=1e3, first=None, optional=True, says="at the centreline",
        group="Depths", ranged="lower",
    )  # fmt: skip
    most_fill_m: float | None = meant(
        "size", "highest fill", low=0, above=True, high=1e3, first=None, optional=True, says="at the centreline",
        group="Depths", ranged="lower",
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class BendLimits:
    """What it is when a bend does not suit the design speed."""

    bend_speed: str = _mode(
        "speed of bends", "fails", "whether a bend that allows less than the design speed is a failure", "Bends"
    )
    bend_transition: str = _mode(
        "transitions of bends", "advice", "whether a bend without usual transitions is a failure", "Bends"
    )
    bend_width: str = _mode(
        "width in bends", "advice",
        "whether a bend that needs more width is a failure; sections are not widened yet", "Bends",
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class SightLimits:
    """What a driver needs to stop, from where one looks and at what."""

    stopping_form: str = meant(
        "word", "form of stopping", choices=FORM_NAMES, first=METRIC, group=SIGHT,
        says="metric: 0.278 V t + V²/(254 (a/9.81 + G)); US customary: 1.47 V t + V²/(30 (a/32.2 + G)) in mph and "
        "feet; friction: V t/3.6 + V²/(254 (d + G))",
    )  # fmt: skip
    reaction_s: float = meant("time", "reaction", low=0.5, high=10, first=2.5, group=SIGHT)
    deceleration_m_s2: float = meant(
        "acceleration", "deceleration", low=0.5, high=10, first=3.4, says="of the brakes, on the level", group=SIGHT
    )
    eye_m: float = meant("size", "eye", low=0.3, high=4, first=1.08, aside="above road", group=SIGHT)
    object_m: float = meant(
        "size", "object", low=0, high=4, first=0.6, aside="above road", says="what must be seen in time to stop",
        group=SIGHT,
    )  # fmt: skip
    stopping_sight: str = _mode(
        "stopping sight", "advice",
        "whether too little of it along the line, grades and both directions looked at, is a failure", SIGHT,
    )  # fmt: skip
    intermediate_sight: str = _mode(
        "intermediate sight", "off",
        "whether two vehicles that meet on one lane must see each other in time for both to stop", SIGHT,
    )  # fmt: skip
    headlight_sight: str = _mode(
        "headlight sight", "off", "whether headlights must reach as far as stopping needs", SIGHT
    )
    headlight_m: float = meant("size", "headlights", low=0.1, high=3, first=0.6, aside="above road", group=SIGHT)
    headlight_deg: float = meant("angle", "beam", low=0, high=10, first=1.0, aside="upwards", group=SIGHT)
    drive_on: str = meant(
        "word", "drive on the", choices=("right", "left"), first="right",
        says="in which lane sight past bends is looked at", group=SIGHT,
    )  # fmt: skip


_PASSING = "Passing and markings"


@dataclass(frozen=True, kw_only=True)
class PassingLimits:
    """Where one vehicle may pass another."""

    passing_sight_m: float | None = meant(
        "size", "passing sight", low=0, above=True, high=1e5, first=None, optional=True,
        says="needed to pass; free: what the table has for the design speed", group=_PASSING, ranged="higher",
    )  # fmt: skip
    shortest_passing_m: float = meant(
        "size", "shortest passing", low=0, high=1e5, first=120.0,
        says="a stretch that is shorter is marked as no passing", group=_PASSING,
    )  # fmt: skip
    least_passing_share: float | None = meant(
        "percent", "passing possible", low=0, high=1, first=None, optional=True, aside="of the length, at least",
        group=_PASSING,
    )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class TieIn:
    """What an end of the line must meet: a level [m] and a grade [m/m]; None leaves it free."""

    level_m: float | None = None
    grade: float | None = None


@dataclass(frozen=True, kw_only=True)
class TieIns:
    """What the ends of the line must meet; None leaves an end free."""

    start_level_m: float | None = meant(
        "level", "start level", low=-1e8, high=1e8, first=None, optional=True, group=TIES
    )
    start_grade: float | None = meant(
        "exact_grade", "start grade", low=-2, high=2, first=None, optional=True, group=TIES
    )
    end_level_m: float | None = meant("level", "end level", low=-1e8, high=1e8, first=None, optional=True, group=TIES)
    end_grade: float | None = meant("exact_grade", "end grade", low=-2, high=2, first=None, optional=True, group=TIES)

    @property
    def start(self) -> TieIn:
        return TieIn(level_m=self.start_level_m, grade=self.start_grade)

    @property
    def end(self) -> TieIn:
        return TieIn(level_m=self.end_level_m, grade=self.end_grade)


# Bases of a dataclass give their fields from the last to the first.
@dataclass(frozen=True, kw_only=True)
class Topics(TieIns, PassingLimits, SightLimits, BendLimits, DepthLimits, CurveLimits, GradeLimits):
    """All that is limited."""
