"""A drawing as data: strokes, regions and words, which a canvas paints and files hold.

A `Drawing` is in units of its own, such as metres of offset and level; `placed` brings it onto paper, in millimetres,
x to the right and y up. Sizes of pens and letters are millimetres on paper from the start.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

# What a thing is; its colour follows from it, on screen by the theme and on paper by the writer.
Role = Literal[
    "ground",
    "line",
    "road",
    "works",
    "axis",
    "cut",
    "fill",
    "frame",
    "grid",
    "text",
    "faint",
    "bad",
    "utility",
    "layer",
    "stratum",
    "reserve",
]
Anchor = Literal["start", "middle", "end"]
Point = tuple[float, float]

# A letter's mean width by its height, for what is laid out before a font is known.
_WIDE = 0.58


@dataclass(frozen=True)
class Stroke:
    """A line through points; `dash_mm` is drawn and left out in turn."""

    role: Role
    points: tuple[Point, ...]
    width_mm: float = 0.25
    dash_mm: tuple[float, ...] = ()


@dataclass(frozen=True)
class Region:
    """What lies within a ring of points, with the hatch of its role, and a line around it unless `edge_mm` is 0."""

    role: Role
    ring: tuple[Point, ...]
    edge_mm: float = 0.0


@dataclass(frozen=True)
class Mark:
    """A sign at a point: a dot, a cross, a pipe (a ring) or a wire (a bar with feet)."""

    role: Role
    at: Point
    shape: Literal["dot", "cross", "pipe", "wire"]
    size_mm: float = 1.6


@dataclass(frozen=True)
class Words:
    """A line of text whose baseline begins (or has its middle, or ends) at a point; `turn_deg` anticlockwise."""

    text: str
    at: Point
    height_mm: float = 2.2
    role: Role = "text"
    anchor: Anchor = "start"
    turn_deg: float = 0.0
    shift_mm: Point = (0.0, 0.0)

    @property
    def wide_mm(self) -> float:
        """About how long it is."""
        return _WIDE * self.height_mm * len(self.text)


@dataclass(frozen=True)
class Drawing:
    """Regions lie under strokes, strokes under marks, and marks under words."""

    strokes: tuple[Stroke, ...] = ()
    regions: tuple[Region, ...] = ()
    words: tuple[Words, ...] = ()
    marks: tuple[Mark, ...] = ()

    @staticmethod
    def of(parts: Iterable[Stroke | Region | Words | Mark]) -> "Drawing":
        all_of_them = list(parts)
        return Drawing(
            tuple(p for p in all_of_them if isinstance(p, Stroke)),
            tuple(p for p in all_of_them if isinstance(p, Region)),
            tuple(p for p in all_of_them if isinstance(p, Words)),
            tuple(p for p in all_of_them if isinstance(p, Mark)),
        )

    def placed(self, at: Point, origin: Point, x_mm: float, y_mm: float) -> "Drawing":
        """On paper: `origin` of the drawing comes to `at`, a unit of it is `x_mm` wide and `y_mm` high."""

        def on_paper(p: Point, shift: Point = (0.0, 0.0)) -> Point:
            return (at[0] + (p[0] - origin[0]) * x_mm + shift[0], at[1] + (p[1] - origin[1]) * y_mm + shift[1])

        return Drawing(
            tuple(Stroke(s.role, tuple(map(on_paper, s.points)), s.width_mm, s.dash_mm) for s in self.strokes),
            tuple(replace(r, ring=tuple(map(on_paper, r.ring))) for r in self.regions),
            tuple(
                Words(w.text, on_paper(w.at, w.shift_mm), w.height_mm, w.role, w.anchor, w.turn_deg) for w in self.words
            ),
            tuple(Mark(m.role, on_paper(m.at), m.shape, m.size_mm) for m in self.marks),
        )

    def rounded(self, digits: int) -> "Drawing":
        """With so many digits behind the point, for what is drawn on a screen."""

        def near(p: Point) -> Point:
            return round(p[0], digits), round(p[1], digits)

        return Drawing(
            tuple(replace(s, points=tuple(map(near, s.points))) for s in self.strokes),
            tuple(replace(r, ring=tuple(map(near, r.ring))) for r in self.regions),
            tuple(replace(w, at=near(w.at)) for w in self.words),
            tuple(replace(m, at=near(m.at)) for m in self.marks),
        )

    def __add__(self, other: "Drawing") -> "Drawing":
        return Drawing(
            self.strokes + other.strokes,
            self.regions + other.regions,
            self.words + other.words,
            self.marks + other.marks,
        )

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Least and greatest x and y of strokes, regions and marks, (x0, y0, x1, y1); all 0 where there are none."""
        points = [p for s in self.strokes for p in s.points] + [p for r in self.regions for p in r.ring]
        points += [m.at for m in self.marks]
        if not points:
            return (0.0, 0.0, 0.0, 0.0)
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        return (min(xs), min(ys), max(xs), max(ys))


@dataclass(frozen=True)
class Page:
    """One sheet of paper; its drawing is in millimetres from the lower left corner."""

    name: str
    width_mm: float
    height_mm: float
    drawing: Drawing


def rectangle(role: Role, x0: float, y0: float, x1: float, y1: float, width_mm: float = 0.25) -> Stroke:
    """The four sides between two corners."""
    return Stroke(role, ((x0, y0), (x1, y0), (x1, y1), (x0, y1), (x0, y0)), width_mm)
