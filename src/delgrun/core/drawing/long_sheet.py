"""The long section as sheets: the ground and the grade line over bands of figures, cut into pages.

The layout is plain and usual: common practice, no source. Levels are drawn over a datum; where a page holds more height
than it has room for, the datum changes at a line across the drawing.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Bend
from delgrun.core.drawing.paper import Frame, Paper, Titles, nice_step, pages, spread
from delgrun.core.drawing.scene import Drawing, Mark, Page, Point, Stroke, Words, rectangle
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.along import LongSection
from delgrun.core.units import DIMENSIONS, FOOT_M, chainage_text, say, spoken_now, text, worded

FloatArray = NDArray[np.float64]
Part = Stroke | Words | Mark

# Bands under the drawing from the bottom up, with their heights. [mm]
_BANDS = (
    ("bends", 12.0),
    ("curves", 13.0),
    ("grades", 12.0),
    ("level less ground", 12.0),
    ("level", 15.0),
    ("ground", 15.0),
    ("chainage", 18.0),
)
# The column of their names, and what is kept free over the drawing for the names of IPs. [mm]
_NAMES, _OVER = 40.0, 28.0
# Between the column and the drawing, and behind it. [mm]
_BESIDE = 5.0
# Figures of a band, names of bands, and how far apart figures that stand upright must be. [mm]
_SMALL, _NAME, _APART = 2.0, 2.5, 3.0
# A stretch of one datum is no shorter than this, or nobody could read it. [mm]
_LEAST_STRETCH = 15.0
# Level lines are no nearer than this. [mm]
_LEVELS_APART = 10.0
# Curves are drawn in steps of this. [mm]
_FINE = 0.5


@dataclass(frozen=True)
class LongOnPaper:
    """What is drawn, and how.

    `at_m` and `ground_m` (n,): chainages that are written, and the ground there (NaN where there is none); `critical`
    says which of them are written whatever stands beside them. Of `scale` 1 000 a metre is a millimetre;
    `exaggeration` is how much higher heights are drawn.
    """

    line: GradeLine
    ground: LongSection
    bends: Sequence[Bend]
    at_m: FloatArray
    ground_m: FloatArray
    critical: NDArray[np.bool_]
    interval_m: float
    paper: Paper = "A3"
    scale: float = 1000.0
    exaggeration: float = 10.0
    from_m: float = -np.inf
    to_m: float = np.inf

    @property
    def x_mm(self) -> float:
        """Of a metre along the road."""
        return 1000.0 / self.scale

    @property
    def y_mm(self) -> float:
        """Of a metre of height."""
        return self.x_mm * self.exaggeration


def long_sheets(of: LongOnPaper, titles: Titles) -> list[Page]:
    """The pages of a line's long section.

    Raises
    ------
    DesignInputError
        The stretch is none, or heights are drawn so large that no page can hold them.
    """
    line = of.line
    start, end = max(of.from_m, float(line.chainage_m[0])), min(of.to_m, float(line.chainage_m[-1]))
    if end - start <= 0:
        raise DesignInputError("to_m", "No part of the line lies between these chainages: give others, or none.")
    frame = Frame.on(of.paper)
    wide_m = (frame.wide - _NAMES - 2 * _BESIDE) / of.x_mm
    scale = say("{along}, heights {high}", along=_ratio(of.scale), high=_ratio(of.scale / of.exaggeration))
    drawn, s = [], start
    while s < end - 1e-6:
        # Pages end at written chainages where they can: the next goes on with the same figure.
        last = s + wide_m
        even = np.floor(last / of.interval_m) * of.interval_m
        upto = end if last >= end - 1e-6 else float(even if even > s + wide_m / 2 else last)
        name = f"{chainage_text(s)} {worded('to')} {chainage_text(upto)}"
        drawn.append((name, _OnePage(of, frame, s, upto).drawing()))
        s = upto
    return pages(of.paper, titles, scale, drawn)


def _ratio(scale: float) -> str:
    """A scale; in feet as the practice says it too: so many feet to an inch."""
    if spoken_now() == "metric":
        return f"1 : {scale:.6g}"
    return f"1 : {scale:.6g} (1 in = {scale / 12:.4g} ft)"


def _bare(value: float, dimension: str, *, signed: bool = False) -> str:
    """A number in the units that are spoken in, without its unit."""
    system = spoken_now()
    assert system != "kept"
    return DIMENSIONS[dimension].number(value, system, "+" if signed else "")


@dataclass
class _OnePage:
    """The drawing of one page: `x` and `y` are where chainages and levels come to."""

    of: LongOnPaper
    frame: Frame
    from_m: float
    to_m: float
    parts: list[Part] = field(default_factory=list)

    def x(self, s: float) -> float:
        return self.frame.x0 + _NAMES + _BESIDE + (s - self.from_m) * self.of.x_mm

    @property
    def bottom(self) -> float:
        """Of the drawing, over the bands."""
        return self.frame.y0 + sum(high for _, high in _BANDS)

    @property
    def top(self) -> float:
        return self.frame.y1 - _OVER

    def drawing(self) -> Drawing:
        for from_m, to_m, datum in self._datums():
            self._profile(from_m, to_m, datum)
        y = self.frame.y0
        for name, high in _BANDS:
            self.parts += [
                rectangle("frame", self.frame.x0, y, self.frame.x1, y + high),
                Words(_named(name), (self.frame.x0 + 2.0, y + high / 2 - 0.4 * _NAME), _NAME),
            ]
            y += high
        behind = self.frame.x0 + _NAMES
        self.parts.append(Stroke("frame", ((behind, self.frame.y0), (behind, self.bottom)), 0.25))
        self._figures()
        self._grades()
        self._curves()
        self._bends()
        return Drawing.of(self.parts)

    def band(self, wanted: str) -> tuple[float, float]:
        """Lower edge and height of a band."""
        y = self.frame.y0
        for name, high in _BANDS:
            if name == wanted:
                return y, high
            y += high
        raise KeyError(wanted)

    # The drawing

    def _heights(self) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Chainages on this page, and the lower and the higher of line and ground there. [m]"""
        g = self.of.ground
        steps = _steps(self.from_m, self.to_m, _FINE / self.of.x_mm)
        s = np.unique(np.concatenate([steps, _within(g.chainage_m, self.from_m, self.to_m)]))
        line = self.of.line.levels(s)
        ground = np.interp(s, g.chainage_m, g.level_m) if len(g.chainage_m) else line
        return s, np.minimum(line, ground), np.maximum(line, ground)

    def _datums(self) -> list[tuple[float, float, float]]:
        """Stretches of the page with the level that lies at the bottom of each. [m]"""
        s, low, high = self._heights()
        step = self._level_step()
        room = (self.top - self.bottom) / self.of.y_mm - 2 * step
        out: list[tuple[float, float, float]] = []
        first, last = 0, len(s) - 1
        while first < last:
            lowest, highest = np.minimum.accumulate(low[first:]), np.maximum.accumulate(high[first:])
            fits = int(np.searchsorted(highest - lowest, room, side="right"))
            # The point where the datum changes belongs to both stretches.
            end = first + fits - 1
            if end < last and (s[max(end, first)] - s[first]) * self.of.x_mm < _LEAST_STRETCH:
                raise DesignInputError(
                    "exaggeration",
                    "At {at:chainage} levels differ so much within {run:length} that a page of {paper} can't hold them:"
                    " draw heights less exaggerated, to a smaller scale, or on larger paper.",
                    at=float(s[first]), run=_LEAST_STRETCH / self.of.x_mm, paper=self.of.paper,
                )  # fmt: skip
            datum = np.floor(float(lowest[end - first]) / step - 0.5) * step
            out.append((float(s[first]), float(s[end]), float(datum)))
            first = end
        return out

    def _level_step(self) -> float:
        """Between level lines: a round number of what is spoken in. [m]"""
        system = spoken_now()
        unit = 1.0 if system in ("metric", "kept") else FOOT_M[system]  # type: ignore[index]
        return nice_step(_LEVELS_APART / self.of.y_mm / unit) * unit

    def _profile(self, from_m: float, to_m: float, datum: float) -> None:
        """Ground and line over a datum, with level lines and what is named on the line."""
        of, line = self.of, self.of.line

        def y(z: float) -> float:
            return self.bottom + (z - datum) * of.y_mm

        x0, x1 = self.x(from_m), self.x(to_m)
        step = self._level_step()
        for k in range(1, int((self.top - self.bottom) / of.y_mm / step) + 1):
            z = datum + k * step
            self.parts += [
                Stroke("grid", ((x0, y(z)), (x1, y(z))), 0.13),
                Words(_bare(z, "level"), (x0 - 1.0 if from_m == self.from_m else x0 + 1.0, y(z) + 0.5), _SMALL,
                      "faint", "end" if from_m == self.from_m else "start"),
            ]  # fmt: skip
        told = Words(say("datum {z:level}", z=datum), (x0 + 1.0, self.bottom + 1.0), _SMALL, "faint")
        self.parts += [told, Stroke("frame", ((x0, self.bottom), (x0, self.top)), 0.18)]
        for run in _ground_runs(of.ground, from_m, to_m):
            points = tuple((self.x(s), y(z)) for s, z in run)
            self.parts.append(Stroke("ground", points, 0.35, (3.0, 1.0)))
        s = np.unique(np.concatenate([_steps(from_m, to_m, _FINE / of.x_mm), _within(line.chainage_m, from_m, to_m)]))
        self.parts.append(Stroke("line", _points([self.x(a) for a in s], [y(z) for z in line.levels(s)]), 0.6))
        for s_m, z_m, kind in line.turning_points():
            if from_m <= s_m <= to_m:
                up = 2.5 if kind == "high" else -4.5
                words = f"{kind} {chainage_text(s_m)}, {_bare(z_m, 'level')}"
                self.parts += [
                    Mark("line", (self.x(s_m), y(z_m)), "dot"),
                    Words(words, (self.x(s_m), y(z_m) + up), _SMALL, anchor="middle"),
                ]
        self._ips(from_m, to_m, y)

    def _ips(self, from_m: float, to_m: float, y: Callable[[float], float]) -> None:
        """Names of IPs upright over the drawing, each with a line down to its place."""
        line, taken = self.of.line, -np.inf
        for i, ip in enumerate(line.ips):
            if not from_m <= ip.chainage_m <= to_m or (ip.chainage_m == from_m > self.from_m):
                continue
            x = self.x(ip.chainage_m)
            shown = max(x, taken + _APART)
            taken = shown
            name = line.name(i).removeprefix("the ")
            words = f"{name[0].upper()}{name[1:]}  {_bare(ip.level_m, 'level')}"
            self.parts += [
                Words(words, (shown + 0.7, self.top + 1.5), _SMALL, turn_deg=90.0),
                Stroke("faint", ((shown, self.top + 1.0), (x, self.top - 2.0), (x, y(ip.level_m))), 0.13, (1.5, 1.0)),
            ]

    # Bands

    def _figures(self) -> None:
        """Chainages, levels, ground and what lies between, upright."""
        of = self.of
        here = (of.at_m >= self.from_m - 1e-9) & (of.at_m <= self.to_m + 1e-9)
        places = {self.x(s): k for k, s in enumerate(of.at_m.tolist()) if here[k]}
        first = {x for x, k in places.items() if of.critical[k]}
        levels = of.line.levels(of.at_m)
        for x in spread(list(places), _APART, first):
            k = places[x]
            ground, level = float(of.ground_m[k]), float(levels[k])
            there = not np.isnan(ground)
            rows = {
                "chainage": chainage_text(float(of.at_m[k])),
                "level": _bare(level, "level"),
                "ground": _bare(ground, "level") if there else "",
                "level less ground": _bare(level - ground, "length", signed=True) if there else "",
            }
            for name, said in rows.items():
                y, _ = self.band(name)
                self.parts.append(Words(said, (x + 0.7, y + 1.2), _SMALL, turn_deg=90.0))
            self.parts.append(Stroke("grid", ((x, self.bottom), (x, self.bottom + 2.0)), 0.18))

    def _grades(self) -> None:
        line = self.of.line
        y, high = self.band("grades")
        for i in range(len(line.ips) - 1):
            a, b = float(line.chainage_m[i]), float(line.chainage_m[i + 1])
            grade = float(line.grade[i])
            piece = self._shown(a, b)
            if piece is None:
                continue
            x0, x1 = piece
            low, top = y + 3.0, y + high - 3.0
            ends = (low, top) if grade > 0 else (top, low) if grade < 0 else (y + high / 2, y + high / 2)
            self.parts.append(Stroke("line", _points([x0, x1], ends), 0.3))
            self._edge(y, high, a)
            said = [text(grade, "grade"), text(b - a, "length")]
            self._about(said, (x0 + x1) / 2, x1 - x0, y, high)
        self._edge(y, high, float(line.chainage_m[-1]))

    def _curves(self) -> None:
        line = self.of.line
        y, high = self.band("curves")
        for i in range(1, len(line.ips) - 1):
            length = line.ips[i].curve_length_m
            piece = self._shown(float(line.curve_start_m[i]), float(line.curve_end_m[i]))
            if length <= 0 or piece is None:
                continue
            crest = line.change_of_grade(i) < 0
            a, b = self.x(float(line.curve_start_m[i])), self.x(float(line.curve_end_m[i]))
            u = np.linspace(-1.0, 1.0, 25)
            bow = (high - 9.0) * (1 - u * u)
            arc = _points(a + (b - a) * (u + 1) / 2, y + 4.5 + bow if crest else y + high - 4.5 - bow)
            self.parts.append(Stroke("line", _clipped(arc, *piece), 0.3))
            radius = float(line.radius_m[i])
            bent = [f"R {_bare(radius, 'about')}"] if radius else [f"K {_bare(line.k(i), 'k')}"]
            self._about([f"L {_bare(length, 'length')}", *bent], sum(piece) / 2, piece[1] - piece[0], y, high)
        for s in (*line.curve_start_m[1:-1], *line.curve_end_m[1:-1]):
            self._edge(y, high, float(s))

    def _bends(self) -> None:
        """Straight along the middle; to the right is up, as curvature is drawn along a road (common practice)."""
        y, high = self.band("bends")
        middle = y + high / 2
        corners: list[Point] = [(self.x(self.from_m), middle)]
        for bend in self.of.bends:
            side = high / 2 - 2.0 if bend.deflection > 0 else 2.0 - high / 2
            a, b = bend.from_chainage_m, bend.to_chainage_m
            corners += [
                (self.x(a), middle), (self.x(a + bend.transition_in_m), middle + side),
                (self.x(b - bend.transition_out_m), middle + side), (self.x(b), middle),
            ]  # fmt: skip
            piece = self._shown(a, b)
            if piece is not None:
                hand = worded("right" if bend.deflection > 0 else "left")
                said = [f"R {_bare(bend.radius_m, 'length')} {hand}"]
                if bend.transition_in_m or bend.transition_out_m:
                    ends = (bend.transition_in_m, bend.transition_out_m)
                    said.append("transitions " + ", ".join(_bare(t, "length") for t in ends))
                self._about(said, sum(piece) / 2, piece[1] - piece[0], y, high)
        corners.append((max(self.x(self.to_m), corners[-1][0]), middle))
        self.parts.append(Stroke("line", _clipped(tuple(corners), self.x(self.from_m), self.x(self.to_m)), 0.3))

    def _shown(self, a: float, b: float) -> tuple[float, float] | None:
        """What of a stretch lies on this page. [mm]"""
        a, b = max(a, self.from_m), min(b, self.to_m)
        return (self.x(a), self.x(b)) if b > a else None

    def _edge(self, y: float, high: float, s: float) -> None:
        if self.from_m <= s <= self.to_m:
            self.parts.append(Stroke("frame", ((self.x(s), y), (self.x(s), y + high)), 0.13))

    def _about(self, said: list[str], x: float, wide: float, y: float, high: float) -> None:
        """One or two lines about a point of a band: side by side in height, or upright where there is little room."""
        words = [Words(t, (0.0, 0.0), _SMALL) for t in said]
        if max(w.wide_mm for w in words) <= wide:
            rows = [y + high / 2 - _SMALL / 2] if len(said) == 1 else [y + high - 1.5 - _SMALL, y + 1.5]
            self.parts += [Words(t, (x, at), _SMALL, anchor="middle") for t, at in zip(said, rows, strict=True)]
        elif wide >= _APART * len(said) and max(w.wide_mm for w in words) <= high - 1.0:
            for k, t in enumerate(said):
                at = x + (k - (len(said) - 1) / 2) * _APART + 0.35 * _SMALL
                self.parts.append(Words(t, (at, y + high / 2), _SMALL, anchor="middle", turn_deg=90.0))


def _named(band: str) -> str:
    system = spoken_now()
    unit = "m" if system in ("metric", "kept") else "ft"
    return worded(band) + (f", {unit}" if band in ("level", "ground", "level less ground") else "")


def _points(xs: Sequence[float] | FloatArray, ys: Sequence[float] | FloatArray) -> tuple[Point, ...]:
    return tuple((float(x), float(y)) for x, y in zip(xs, ys, strict=True))


def _steps(a: float, b: float, step: float) -> FloatArray:
    return np.linspace(a, b, max(2, int(np.ceil((b - a) / step)) + 1))


def _within(s: FloatArray, a: float, b: float) -> FloatArray:
    return s[(s >= a) & (s <= b)]


def _clipped(points: tuple[Point, ...], x0: float, x1: float) -> tuple[Point, ...]:
    """A line whose x never falls, between two x."""
    xs, ys = np.array([p[0] for p in points]), np.array([p[1] for p in points])
    keep = (xs > x0) & (xs < x1)
    inner = list(zip(xs[keep].tolist(), ys[keep].tolist(), strict=True))
    return ((x0, float(np.interp(x0, xs, ys))), *inner, (x1, float(np.interp(x1, xs, ys))))


def _ground_runs(ground: LongSection, from_m: float, to_m: float) -> list[tuple[Point, ...]]:
    """The ground between two chainages, a line for each stretch without a gap."""
    cuts = [0, *np.flatnonzero(ground.after_gap).tolist(), len(ground.chainage_m)]
    out = []
    for a, b in pairwise(cuts):
        if b - a < 2:
            continue
        points = _points(ground.chainage_m[a:b], ground.level_m[a:b])
        x0, x1 = max(from_m, points[0][0]), min(to_m, points[-1][0])
        if x1 > x0:
            out.append(_clipped(points, x0, x1))
    return out
