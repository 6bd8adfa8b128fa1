"""Paper, scales, and what stands on every sheet: a frame and who, what, when, which page."""

import math
from dataclasses import dataclass
from typing import Literal

from delgrun.core.drawing.scene import Drawing, Page, Point, Stroke, Words, rectangle
from delgrun.core.errors import DesignInputError

# Sheets lie on their long side. Source: ISO 216:2007, A series. [mm]
PAPERS: dict[str, tuple[float, float]] = {
    "A4": (297.0, 210.0),
    "A3": (420.0, 297.0),
    "A2": (594.0, 420.0),
    "A1": (841.0, 594.0),
    "A0": (1189.0, 841.0),
}
Paper = Literal["A4", "A3", "A2", "A1", "A0"]

# Within the frame: wider on the side where sheets are filed. Source: ISO 5457:1999, 5.1 (20 mm and 10 mm).
_FILED, _EDGE = 20.0, 10.0
# The strip below, with what the sheet is.
_STRIP = 12.0
# More pages are no set of sheets that anybody prints.
MOST_PAGES = 400


@dataclass(frozen=True)
class Titles:
    """What stands on each page: the project, the road with its line, and of which revision and when."""

    project: str
    what: str
    revision: str


@dataclass(frozen=True)
class Frame:
    """The inside of a frame on paper. [mm]"""

    x0: float
    y0: float
    x1: float
    y1: float

    @staticmethod
    def on(paper: Paper) -> "Frame":
        wide, high = PAPERS[paper]
        return Frame(_FILED, _EDGE + _STRIP, wide - _EDGE, high - _EDGE)

    @property
    def wide(self) -> float:
        return self.x1 - self.x0

    @property
    def high(self) -> float:
        return self.y1 - self.y0


def pages(paper: Paper, titles: Titles, scale: str, drawings: list[tuple[str, Drawing]]) -> list[Page]:
    """Each drawing in its frame with its strip; `drawings` have a name each, told in the strip."""
    if len(drawings) > MOST_PAGES:
        raise DesignInputError(
            "scale", f"That makes {len(drawings)} pages, more than {MOST_PAGES}: a smaller scale, or larger paper."
        )
    out = []
    frame = Frame.on(paper)
    wide, high = PAPERS[paper]
    bottom = frame.y0 - _STRIP
    for k, (name, drawing) in enumerate(drawings, 1):
        y = bottom + 4.5
        said = [
            (titles.project, frame.x0 + 4.0, "start"),
            (f"{titles.what}, {name}", frame.x0 + 0.3 * frame.wide, "start"),
            (scale, frame.x0 + 0.62 * frame.wide, "start"),
            (titles.revision, frame.x1 - 22.0, "end"),
            (f"{k} of {len(drawings)}", frame.x1 - 4.0, "end"),
        ]
        strip = Drawing.of(
            [
                rectangle("frame", frame.x0, bottom, frame.x1, frame.y1, 0.5),
                Stroke("frame", ((frame.x0, frame.y0), (frame.x1, frame.y0)), 0.35),
                *(Words(text, (x, y), 2.8, "text", anchor) for text, x, anchor in said),  # type: ignore[arg-type]
            ]
        )
        out.append(Page(name, wide, high, drawing + strip))
    return out


def nice_step(least: float) -> float:
    """The least of 1, 2 and 5 times a power of ten that is no smaller.

    >>> nice_step(0.3), nice_step(7.0)
    (0.5, 10.0)
    """
    power = 10.0 ** math.floor(math.log10(least))
    return next(float(k * power) for k in (1, 2, 5, 10) if k * power >= least * (1 - 1e-12))


def spread(places: list[float], apart: float, first: set[float]) -> list[float]:
    """Of places in order those to be written, `apart` at least; those of `first` push others aside. [mm]"""
    kept: list[float] = []
    for p in sorted(first):
        if not kept or p - kept[-1] >= apart:
            kept.append(p)
    for p in places:
        if all(abs(p - q) >= apart for q in kept):
            kept.append(p)
    return sorted(kept)


def at(x: float, y: float) -> Point:
    """A point on paper."""
    return (float(x), float(y))
