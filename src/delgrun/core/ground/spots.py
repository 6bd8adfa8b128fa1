"""Places whose level stays written on the map."""

from dataclasses import dataclass

from delgrun.core.fields import meant


@dataclass(frozen=True, kw_only=True)
class SpotMark:
    """A place on the map with the level of the ground there, as the ground is now."""

    easting_m: float = meant("plan", "easting", low=-1e8, high=1e8)
    northing_m: float = meant("plan", "northing", low=-1e8, high=1e8)


@dataclass(frozen=True, kw_only=True)
class SpotMarks:
    """All of a project, in the order in which they were made."""

    rows: tuple[SpotMark, ...] = meant("count", "spot levels", of=SpotMark, most=500, first=())
