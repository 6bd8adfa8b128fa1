"""Cross-sections as sheets: one beside and below the other, each with its figures under it.

The layout is plain and usual: common practice, no source.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from delgrun.core.drawing.paper import Frame, Paper, Titles, pages, spread
from delgrun.core.drawing.scene import Drawing, Page, Stroke, Words
from delgrun.core.drawing.section import section_drawing
from delgrun.core.errors import DesignInputError
from delgrun.core.section.section import ShownSection
from delgrun.core.units import DIMENSIONS, chainage_text, say, spoken_now, worded

# Letters, between upright figures, the rows of figures under a section, the column of their names, air about each. [mm]
_SMALL, _APART, _ROW, _NAMES, _AIR = 1.8, 2.6, 11.5, 14.0, 5.0
_ROWS = ("offset", "level", "ground")


@dataclass(frozen=True)
class _Cell:
    """A section on paper from its lower left corner, so wide and high. [mm]"""

    name: str
    drawing: Drawing
    wide: float
    high: float


def section_sheets(sections: Sequence[ShownSection], paper: Paper, scale: float, titles: Titles) -> list[Page]:
    """The pages of sections, filled row by row from the upper left; of `scale` 200 a metre is 5 mm.

    Raises
    ------
    DesignInputError
        There is none, or one is larger than a page.
    """
    frame = Frame.on(paper)
    there = [s for s in sections if len(s.ground) > 1]
    # All alike wide, so that their centrelines stand over each other.
    left = max((-s.ground[0][0] for s in there), default=0.0)
    right = max((s.ground[-1][0] for s in there), default=0.0)
    cells = [_cell(s, 1000.0 / scale, left, right) for s in there]
    if not cells:
        raise DesignInputError("from_m", "There is no section with ground between these chainages: give others.")
    drawn: list[tuple[str, Drawing]] = []
    on_page: list[_Cell] = []
    parts = Drawing()
    x, y, row = frame.x0, frame.y1, 0.0
    for s, cell in zip(there, cells, strict=True):
        if cell.wide > frame.wide or cell.high > frame.high:
            raise DesignInputError(
                "scale",
                "The section at {at:chainage} is {wide:.0f} by {high:.0f} mm at 1 : {scale:.6g}, which a page of"
                " {paper} can't hold: a smaller scale, or larger paper.",
                at=s.chainage_m, wide=cell.wide, high=cell.high, scale=scale, paper=paper,
            )  # fmt: skip
        if x + cell.wide > frame.x1:
            x, y, row = frame.x0, y - row, 0.0
        if y - cell.high < frame.y0:
            drawn.append((_names(on_page), parts))
            parts, on_page = Drawing(), []
            x, y, row = frame.x0, frame.y1, 0.0
        parts += cell.drawing.placed((x, y - cell.high), (0.0, 0.0), 1.0, 1.0)
        on_page.append(cell)
        x, row = x + cell.wide, max(row, cell.high)
    drawn.append((_names(on_page), parts))
    return pages(paper, titles, f"1 : {scale:.6g}", drawn)


def _names(cells: list[_Cell]) -> str:
    return cells[0].name if len(cells) == 1 else f"{cells[0].name} {worded('to')} {cells[-1].name}"


def _bare(value: float, dimension: str) -> str:
    system = spoken_now()
    assert system != "kept"
    return DIMENSIONS[dimension].number(value, system)


def _cell(s: ShownSection, mm: float, to_left_m: float, to_right_m: float) -> _Cell:
    """One section: its drawing over three rows of figures at its points, its chainage and areas above."""
    drawing = section_drawing(s)
    _, y0, _, y1 = drawing.box
    x0, x1 = -to_left_m, to_right_m
    rows_high = _ROW * len(_ROWS)
    wide = _AIR + _NAMES + (x1 - x0) * mm + _AIR
    high = _AIR + rows_high + 3.0 + (y1 - y0) * mm + 12.0
    left, bottom = _AIR + _NAMES, _AIR + rows_high + 3.0
    name = chainage_text(s.chainage_m)
    heads = [Words(name, (left, high - 6.0), 3.0)]
    if s.formation and s.level_m is not None:
        said = say("cut {c:section_area}, fill {f:section_area}", c=s.cut_m2, f=s.fill_m2)
        heads.append(Words(said, (left, high - 10.0), 2.2))
    wide = max(wide, left + max(w.wide_mm for w in heads) + _AIR)
    parts: list[Stroke | Words] = [*heads]
    for k, row in enumerate(_ROWS):
        y = _AIR + rows_high - (k + 1) * _ROW
        parts += [
            Words(worded(row), (_AIR, y + _ROW / 2 - 0.8), 2.0),
            Stroke("frame", ((_AIR, y), (wide - _AIR, y)), 0.13),
        ]
    parts.append(Stroke("frame", ((_AIR, _AIR + rows_high), (wide - _AIR, _AIR + rows_high)), 0.13))
    ground = np.array(s.ground)
    places = {left + (o - x0) * mm: (o, z) for o, z in _named_points(s)}
    centre = {left - x0 * mm} & places.keys()
    for x in spread(sorted(places), _APART, centre):
        o, z = places[x]
        g = float(np.interp(o, ground[:, 0], ground[:, 1]))
        for k, said in enumerate((_bare(o, "length"), "" if z is None else _bare(z, "level"), _bare(g, "level"))):
            at = (x + 0.6, _AIR + rows_high - (k + 1) * _ROW + 0.8)
            parts.append(Words(said, at, _SMALL, turn_deg=90.0))
        top = bottom + ((g if z is None else min(g, z)) - y0) * mm
        parts.append(Stroke("grid", ((x, _AIR + rows_high), (x, top)), 0.13))
    placed = drawing.placed((left, bottom), (x0, y0), mm, mm)
    placed = replace(placed, words=_readable(placed.words))
    return _Cell(name, Drawing.of(parts) + placed, wide, high)


def _readable(words: Sequence[Words]) -> tuple[Words, ...]:
    """Those that lie over none before them: at a small scale not all can be written."""
    kept: list[Words] = []
    boxes: list[tuple[float, float, float, float]] = []
    for w in words:
        x = w.at[0] - {"start": 0.0, "middle": 0.5, "end": 1.0}[w.anchor] * w.wide_mm
        box = (x, w.at[1], x + w.wide_mm, w.at[1] + w.height_mm)
        if all(box[2] < b[0] or b[2] < box[0] or box[3] < b[1] or b[3] < box[1] for b in boxes):
            kept.append(w)
            boxes.append(box)
    return tuple(kept)


def _named_points(s: ShownSection) -> list[tuple[float, float | None]]:
    """Offsets of a section whose figures are written, with the road's level there if there is a road. [m]"""
    if not s.road or s.left is None or s.right is None:
        ends = (s.ground[0][0], 0.0, s.ground[-1][0])
        return [(o, None) for o in ends if s.ground[0][0] <= o <= s.ground[-1][0]]
    feet = [(-s.left.catch_offset_m, s.left.catch_level_m), (s.right.catch_offset_m, s.right.catch_level_m)]
    return sorted({*s.road, *(f for f in feet)})
