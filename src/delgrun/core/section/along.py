"""How the typical section varies along a road: which one is built where, what is changed on the way, added lanes."""

from dataclasses import dataclass

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.section.roadside import MOST_CORNERS
from delgrun.core.section.typical_section import SIDES, Side

# A range with this in the place of a section has none: nothing is built there.
NO_SECTION = "none"
# A stretch shorter than this is none. [m]
_LEAST_M = 0.1
# What a change can set.
_SIZES = ("width_m", "fall", "drop_m", "depth_m", "cut_h_over_v", "fill_h_over_v")


@dataclass(frozen=True, kw_only=True)
class _Tapered:
    from_m: float = meant("chainage", "from", low=-1e8, high=1e8)
    to_m: float = meant("chainage", "to", low=-1e8, high=1e8)
    taper_in_m: float = meant("size", "taper in", low=0, high=1000, first=0.0)
    taper_out_m: float = meant("size", "taper out", low=0, high=1000, first=0.0)


@dataclass(frozen=True, kw_only=True)
class SectionRange(_Tapered):
    """A stretch with another typical section, or with none; of those that overlap the one typed last holds.

    In a taper, elements of the same name, kind and condition go from one size to the other, and what only one of both
    sections has begins with no width.
    """

    section: str = meant("word", "typical section", first="section", says="or none: nothing is built there")
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class SectionChange(_Tapered):
    """One element of a side, or its batters, with other sizes along a stretch; what is left free stays as it is.

    With a reason it is an exception. At one section, its ends alike, it needs a taper.
    """

    side: Side = meant("word", "side", choices=SIDES, first="right")
    point: str = meant("line", "outer point", first="", says="of the element; free, the side's batters")
    width_m: float | None = meant("size", "width", low=0, high=200, first=None, optional=True)
    fall: float | None = meant("fall", "fall", low=-5, high=5, first=None, optional=True)
    drop_m: float | None = meant("size", "drop", low=-100, high=100, first=None, optional=True)
    depth_m: float | None = meant("size", "depth", low=0, high=50, first=None, optional=True, says="of a drain")
    cut_h_over_v: float | None = meant("batter", "cut 1 :", low=0.05, high=20, first=None, optional=True)
    fill_h_over_v: float | None = meant("batter", "fill 1 :", low=0.05, high=20, first=None, optional=True)
    led_by: str = meant("line", "led by", first="", says="a line that the outer point lies on")
    reason: str = meant("line", "reason", first="", says="of an exception")
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class AddedLane(_Tapered):
    """A lane behind the lanes of a side, that falls as the last of them does."""

    side: Side = meant("word", "side", choices=SIDES, first="right")
    name: str = meant("name", "outer point", first="added lane")
    width_m: float = meant("size", "width", low=0, above=True, high=20, first=3.0)
    reason: str = meant("line", "reason", first="")
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class LineCorner:
    """A corner of a line that an edge may be led by: rows with the same name, one behind the other, are one line."""

    name: str = meant("name", "line")
    easting_m: float = meant("plan", "easting", low=-1e8, high=1e8)
    northing_m: float = meant("plan", "northing", low=-1e8, high=1e8)


@dataclass(frozen=True, kw_only=True)
class SectionsAlong:
    """What is built where along the roads of a project."""

    ranges: tuple[SectionRange, ...] = meant("count", "sections by stretch", of=SectionRange, most=400, first=())
    changes: tuple[SectionChange, ...] = meant("count", "changes by stretch", of=SectionChange, most=400, first=())
    lanes: tuple[AddedLane, ...] = meant("count", "added lanes", of=AddedLane, most=100, first=())
    corners: tuple[LineCorner, ...] = meant("count", "lines", of=LineCorner, most=MOST_CORNERS, first=())

    def check(self) -> None:
        """Raises DesignInputError where a stretch has no length, a taper hardly any, or a change changes nothing."""
        for row in (*self.ranges, *self.lanes):
            if row.to_m - row.from_m < _LEAST_M:
                raise _short(row)
        for row in (*self.ranges, *self.lanes, *self.changes):
            for name in ("taper_in_m", "taper_out_m"):
                if 0.0 < getattr(row, name) < _LEAST_M:
                    raise DesignInputError(
                        name,
                        "The taper of {t:length} at {a:chainage} is shorter than {least:length}: make it longer, or 0.",
                        t=getattr(row, name), a=row.from_m, least=_LEAST_M,
                    )  # fmt: skip
        lines = {c.name for c in self.corners}
        for name in lines:
            if sum(c.name == name for c in self.corners) < 2:
                raise DesignInputError("corners", "The line “{name}” has one corner: give it two.", name=name)
        for row in self.changes:
            if row.to_m < row.from_m or row.to_m - row.from_m + row.taper_in_m + row.taper_out_m < _LEAST_M:
                raise _short(row)
            if not row.led_by and all(getattr(row, name) is None for name in _SIZES):
                raise DesignInputError(
                    "changes", "The change at {a:chainage} changes nothing: type a size.", a=row.from_m
                )
            of_element = row.led_by or any(getattr(row, name) is not None for name in _SIZES[:4])
            if of_element and not row.point:
                raise DesignInputError(
                    "point", "Say which element the change at {a:chainage} is of: name its outer point.", a=row.from_m
                )
            if row.led_by and row.led_by not in lines:
                raise DesignInputError(
                    "led_by", "There is no line “{name}”: take it from a file or type it.", name=row.led_by
                )

    @property
    def exceptions(self) -> tuple[SectionChange, ...]:
        """The changes with a reason."""
        return tuple(row for row in self.changes if row.reason)


def _short(row: _Tapered) -> DesignInputError:
    return DesignInputError(
        "to_m",
        "The stretch from {a:chainage} to {b:chainage} has no length: give it one, or a taper to each side.",
        a=row.from_m, b=row.to_m,
    )  # fmt: skip
