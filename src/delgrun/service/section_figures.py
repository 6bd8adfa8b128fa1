"""Sections of a case as they are told and drawn: exact ones, where they are reported, how it leans, and in space."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.controls.utilities import Utilities, in_section
from delgrun.core.drawing.scene import Drawing
from delgrun.core.drawing.section import section_drawing
from delgrun.core.earthworks.amounts import amounts_of
from delgrun.core.earthworks.columns import Amount
from delgrun.core.ground.along import GroundSections
from delgrun.core.inputs import UTILITIES
from delgrun.core.section.chainages import Reported
from delgrun.core.section.section import ShownSection, shown_section
from delgrun.core.section.surface import PARTS, road_surface
from delgrun.core.section.typical_section import SIDES, Side
from delgrun.core.units import say
from delgrun.service.case import Case
from delgrun.service.land_figures import Arrays
from delgrun.service.results import of_design, of_limits, of_road, of_sections

FloatArray = NDArray[np.float64]


@dataclass(frozen=True)
class LeanKey:
    """A chainage at which the diagram of superelevation turns: what that is, and of which bend's IP."""

    chainage_m: float
    what: str
    ip: int


@dataclass(frozen=True)
class LeanFigures:
    """How the road leans: whether sections are built so, the steepest fall there is, and where it turns."""

    built: bool
    steepest: float
    keys: list[LeanKey]


def lean(case: Case) -> tuple[LeanFigures, Arrays]:
    """Falls and widening of the lanes left and right, straight between their chainages."""
    d, found = of_design.design(case).value.diagram, of_design.lane_falls(case).value
    keys = [] if d is None else [LeanKey(k.chainage_m, k.what, k.ip) for k in d.keys]
    return LeanFigures(d is not None and d.settings.built, float(np.abs(found.fall).max()), keys), {
        "lean_chainage": found.chainage_m, "lean_left": found.fall[:, 0], "lean_right": found.fall[:, 1],
        "wide_left": found.widening_m[:, 0], "wide_right": found.widening_m[:, 1],
    }  # fmt: skip


@dataclass(frozen=True)
class SectionFigures:
    """The exact section at one chainage with its drawing, in metres of offset (negative left) and level; `box` is what
    its strokes take, (x0, y0, x1, y1); `no_ground`: sides whose batter finds none.
    """

    chainage_m: float
    level_m: float | None
    ground_level_m: float | None
    grade: float | None
    cut_m2: float
    fill_m2: float
    on_road: bool
    lacks: str
    no_ground: list[Side]
    drawing: Drawing
    box: tuple[float, float, float, float]
    columns: list[Amount]


def section(case: Case, at_m: float) -> tuple[SectionFigures, Arrays]:
    """The exact section at one chainage."""
    road = of_road.stretch(case)
    s = float(np.clip(at_m, road.from_m, road.to_m))
    across = of_design.ground_at(case, (s,)).value
    return section_figures(section_at(case, across, 0, s), case), {}


def section_at(case: Case, across: GroundSections, i: int, s: float) -> ShownSection:
    """The exact section over ground section `i` of `across`, at a chainage, with what passes and what it lacks."""
    shown = shown_section(across, s, of_design.design(case).value, case.grade_line, i)
    utilities: Utilities = case.state.get(UTILITIES)
    if utilities.rows:
        lines = utilities.lines
        met = in_section(utilities, of_road.centreline(case).value, s, case.works.value.reach_m)
        shown = replace(shown, utilities=tuple((o, z, lines[row].name, lines[row].what) for row, o, z in met))
    bends = zip(of_limits.plan_bends(case), of_design.speeds(case).value, strict=True)
    here = next((speed for bend, speed in bends if bend.from_m <= s <= bend.to_m), None)
    if here is not None and shown.formation and of_design.design(case).value.diagram is None:
        words = "drawn without its bend's superelevation of {e:percent} and widening of {w:length}"
        shown = replace(shown, lacks=say(words, e=here.superelevation, w=here.widening_m))
    return shown


def sections(case: Case, at_m: Sequence[float]) -> tuple[list[SectionFigures], Arrays]:
    """The exact sections at some chainages, in their order."""
    road = of_road.stretch(case)
    s = np.clip(np.array(at_m, dtype=np.float64), road.from_m, road.to_m)
    across = of_design.ground_at(case, tuple(s.tolist())).value
    return [section_figures(section_at(case, across, i, at), case) for i, at in enumerate(s.tolist())], {}


def section_figures(shown: ShownSection, case: Case) -> SectionFigures:
    """A section as it is told and drawn."""
    # To the millimetre, which no screen shows.
    drawing = section_drawing(shown).rounded(3)
    both = zip(SIDES, (shown.left, shown.right), strict=True)
    open_sides = [side for side, built in both if built is not None and not built.caught]
    return SectionFigures(
        shown.chainage_m, shown.level_m, shown.ground_level_m, shown.grade, shown.cut_m2, shown.fill_m2,
        bool(shown.formation), shown.lacks, open_sides, drawing, drawing.box,
        amounts_of(of_design.design(case).value, shown) if shown.formation else [],
    )  # fmt: skip


def stations(case: Case) -> tuple[list[Reported], Arrays]:
    """Where sections are reported, and what is there."""
    return of_sections.reported_at(case), {}


# More sections are not turned smoothly without a graphics card; so many stand for a longer road.
_MOST_IN_SPACE = 600


@dataclass(frozen=True)
class SolidFigures:
    """The finished road in space: places of its points are against `middle` [m]; `parts`: what triangles can be of."""

    middle: tuple[float, float, float]
    parts: list[str]


def solid(case: Case) -> tuple[SolidFigures, Arrays]:
    """Triangles of the finished road with the ground beside it, from its sections."""
    design, across = of_design.design(case).value, of_design.across(case).value
    s = across.chainage_m
    some = np.unique(np.linspace(0, len(s) - 1, min(len(s), _MOST_IN_SPACE)).round().astype(int)).tolist()
    shown = [shown_section(across, float(s[i]), design, case.line, i, margin_m=_BESIDE_M) for i in some]
    found = road_surface(shown, of_road.centreline(case).value, design.lanes_m(s[some]))
    middle = found.xyz.mean(axis=0) if len(found.xyz) else np.zeros(3)
    return SolidFigures(tuple(middle.tolist()), list(PARTS)), {
        "solid_xyz": (found.xyz - middle).ravel(), "solid_triangle": found.triangles.ravel().astype(np.float64),
        "solid_part": found.part.astype(np.float64),
    }  # fmt: skip


# Ground beside the works in space. [m]
_BESIDE_M = 40.0
