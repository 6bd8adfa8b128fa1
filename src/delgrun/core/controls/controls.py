"""Level controls: where the line must be at, above, below or between levels, with clearance and the reason for it."""

from dataclasses import dataclass

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant

BOUNDS = ("at", "above", "below", "between")
MEASURED_FROM = ("level", "ground", "line")
# A stretch shorter than this is a point. [m]
LEAST_M = 0.001


@dataclass(frozen=True, kw_only=True)
class LevelControl:
    """What the finished surface keeps at a chainage or along a stretch, at an offset from the centreline.

    Its levels are above datum, or heights over the ground or over another grade line of the road (an old pavement, say)
    at the same chainage and offset; `..._to_m` are the upper ones of a line that must lie between. Beyond the edge of
    the road the level of its edge counts.
    """

    words: str = meant("line", "what it is", first="")
    reason: str = meant("line", "reason", first="")
    from_m: float = meant("chainage", "from", low=-1e8, high=1e8)
    to_m: float = meant("chainage", "to", low=-1e8, high=1e8)
    bound: str = meant("word", "the line is", choices=BOUNDS, first="above")
    measured_from: str = meant("word", "measured from", choices=MEASURED_FROM, first="level")
    level_m: float | None = meant("level", "level", low=-1e8, high=1e8, first=None, optional=True)
    level_to_m: float | None = meant("level", "upper level", low=-1e8, high=1e8, first=None, optional=True)
    height_m: float | None = meant("length", "height over it", low=-1e3, high=1e3, first=None, optional=True)
    height_to_m: float | None = meant("length", "upper height", low=-1e3, high=1e3, first=None, optional=True)
    old_line: str | None = meant("word", "old road", first=None, optional=True)
    clearance_m: float = meant("length", "clearance", low=0, high=100, first=0.0)
    offset_m: float = meant("length", "offset", low=-60, high=60, first=0.0, says="to the right of the centreline")
    road: str = meant("word", "centreline", first="centreline")

    @property
    def wanted(self) -> tuple[float | None, float | None]:
        """The level, and the upper one, over what they are measured from."""
        if self.measured_from == "level":
            return self.level_m, self.level_to_m
        return self.height_m, self.height_to_m

    def check(self) -> None:
        """Raises DesignInputError where it says too little, or what no line could keep."""
        named = "level_m" if self.measured_from == "level" else "height_m"
        wanted, upper = self.wanted
        if self.to_m < self.from_m:
            raise DesignInputError("to_m", "The control ends before it begins, at {a:chainage}.", a=self.from_m)
        if wanted is None:
            words = "a level" if named == "level_m" else "a height"
            raise DesignInputError(named, f"The control at {{a:chainage}} needs {words}.", a=self.from_m)
        if self.measured_from == "line" and not self.old_line:
            raise DesignInputError("old_line", "Choose the grade line that is the old road.")
        if self.bound == "between":
            other = named.replace("_m", "_to_m")
            if upper is None:
                raise DesignInputError(other, "Between needs an upper one too, at {a:chainage}.", a=self.from_m)
            if upper - wanted < 2 * self.clearance_m:
                raise DesignInputError(
                    other,
                    "Between {low:level} and {high:level} a clearance of {c:length} to both leaves no room.",
                    low=wanted,
                    high=upper,
                    c=self.clearance_m,
                )


@dataclass(frozen=True, kw_only=True)
class LevelControls:
    """All level controls of a project, in the order in which they were made."""

    rows: tuple[LevelControl, ...] = meant("count", "controls", of=LevelControl, most=500, first=())

    def check(self) -> None:
        """Raises DesignInputError where one says too little, or what no line could keep."""
        for row in self.rows:
            row.check()

    def of(self, road: str) -> tuple[tuple[int, LevelControl], ...]:
        """Those of one road with their places among all."""
        return tuple((i, row) for i, row in enumerate(self.rows) if row.road == road)

    def ends(self, road: str) -> set[float]:
        """Chainages at which those of one road begin and end. [m]"""
        return {s for row in self.rows if row.road == road for s in (row.from_m, row.to_m)}
