"""Typical sections of a project, sections to begin with, and those kept for all projects."""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from delgrun.core.drawing.scene import Drawing
from delgrun.core.drawing.section import section_drawing
from delgrun.core.earthworks.amounts import amounts_of
from delgrun.core.earthworks.columns import Amount
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import check_fields, made_of
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import GroundSections
from delgrun.core.inputs import ALONG, SECTION, STRATA, WORKS
from delgrun.core.practice import rounded
from delgrun.core.section.along import SectionsAlong
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import Works
from delgrun.core.section.section import shown_section
from delgrun.core.section.starting import STARTING
from delgrun.core.section.typical_section import Element, TypicalSection
from delgrun.core.units import System
from delgrun.service import wire
from delgrun.service.errors import NotReady
from delgrun.service.projects import Projects, Saving
from delgrun.service.wire import Json
from delgrun.store import library

What = Literal["section", "piece"]
# A typical section is drawn over ground so far to both sides. [m]
_REACH_M = 200.0


def save(projects: Projects, to: Saving, slot: str | None, row: Json) -> int:
    """Save a typical section, a new one without a slot."""
    state = projects.states.at(to.project_id, to.base)
    value: TypicalSection = made_of(TypicalSection, row)
    if slot is not None and slot not in state.sections:
        raise NotReady(SECTION.name, "This typical section is not in the project any more.")
    taken = next((s for s, k in state.sections.items() if k.value.name == value.name and s != slot), None)
    if taken is not None:
        raise DesignInputError("name", "There is a section “{name}” already: give it another name.", name=value.name)
    if slot is None:
        numbers = [int(s.partition("-")[2] or 1) for s in state.sections]
        slot = f"{SECTION.name}-{max(numbers, default=1) + 1}"
    return projects.save(to, f"Typical section “{value.name}”", {slot: value})


def remove(projects: Projects, to: Saving, slot: str) -> int:
    """Take a typical section out of the project; the one that is built stays."""
    state = projects.states.at(to.project_id, to.base)
    kept = state.sections.get(slot)
    if kept is None:
        raise NotReady(SECTION.name, "This typical section is not in the project any more.")
    if state.works is not None and state.works.section == slot:
        raise DesignInputError(
            "slot", "“{name}” is what is built: choose another section before it is deleted.", name=kept.value.name
        )
    along: SectionsAlong = state.get(ALONG)
    used = next((row for row in along.ranges if row.section == slot), None)
    if used is not None:
        raise DesignInputError(
            "slot", "“{name}” is built from {a:chainage} to {b:chainage}: take that stretch away before it is deleted.",
            name=kept.value.name, a=used.from_m, b=used.to_m,
        )  # fmt: skip
    return projects.save(to, f"Delete the section “{kept.value.name}”", {slot: None})


def starting(system: System) -> list[Json]:
    """Sections to begin with, their sizes as round as they are typed in a practice."""
    return [{"id": s.id, "says": s.says, "section": wire.input_json(rounded(s.section, system))} for s in STARTING]


def kept_for_all(projects: Projects) -> list[Json]:
    """What is kept for all projects."""
    with projects.database.session() as session:
        return [
            {"id": k.id, "name": k.name, "what": k.what, "section": wire.input_json(k.section)}
            for k in library.listed(session)
        ]


def keep(projects: Projects, project_id: int, name: str, what: What, row: Json) -> int:
    """Keep a section, or some elements as a piece, for all projects; its number."""
    projects.states.newest(project_id)
    value: TypicalSection = replace(made_of(TypicalSection, row), name=name)
    check_fields(value)
    if what == "section":
        value.check()
    elif not value.elements:
        raise DesignInputError("elements", "A piece has elements: choose some.")
    with projects.database.session() as session:
        return library.put(session, project_id, name, what, value)


def forget(projects: Projects, number: int) -> None:
    """Take one out of what is kept for all projects."""
    with projects.database.session() as session:
        if not library.drop(session, number):
            raise NotReady(SECTION.name, "This is not among the kept sections any more.")


@dataclass(frozen=True)
class DrawnElement:
    """An element as it is drawn: its row among the section's, and its corners from its inner point on. [m]

    Offsets are negative left, levels over the grade line.
    """

    row: int
    corners: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class DrawnSection:
    """A typical section over a made ground, what it takes there, and the box of the road itself."""

    drawing: Drawing
    box: tuple[float, float, float, float]
    road_box: tuple[float, float, float, float]
    elements: list[DrawnElement]
    columns: list[Amount]


def drawn(projects: Projects, project_id: int, revision: int, row: Json, depth_m: float, fall: float) -> DrawnSection:
    """A typical section as it would be built where the ground lies so much over the line, and falls to the right.

    Raises
    ------
    DesignInputError
        Its rows say what can't be built.
    """
    state = projects.states.at(project_id, revision)
    value: TypicalSection = made_of(TypicalSection, row)
    check_fields(value)
    value.check()
    # Without chainages: strata and topsoil as they are where no stretch says otherwise.
    works = replace(state.get(WORKS) or Works(), rows=())
    design = RoadDesign(value, works, state.get(STRATA), road="")
    offset = np.array([-_REACH_M, 0.0, _REACH_M])
    level = depth_m - fall * offset
    ground = GroundSections(np.zeros(1), np.array([0, 3]), offset, level, level[1:2])
    flat = GradeLine.of([Ip(chainage_m=-1.0, level_m=0.0), Ip(chainage_m=1.0, level_m=0.0)])
    shown = shown_section(ground, 0.0, design, flat)
    drawing = section_drawing(shown).rounded(3)
    assert shown.left is not None and shown.right is not None
    elements = []
    corners: list[tuple[float, float]] = []
    both = (shapes for _, shapes in design.built_at(0.0))
    for sign, shapes, side in zip((-1.0, 1.0), both, (shown.left, shown.right), strict=True):
        for e, own in shapes[side.variant].elements:
            at = tuple((sign * x, y) for x, y in own)
            elements.append(DrawnElement(_row_of(value, e), at))
            corners += at
        corners += [(sign * x, y) for x, y in shapes[side.variant].variant.formation[:, :2].tolist()]
    xs, ys = [c[0] for c in corners], [c[1] for c in corners]
    return DrawnSection(drawing, drawing.box, (min(xs), min(ys), max(xs), max(ys)), elements, amounts_of(design, shown))


def _row_of(section: TypicalSection, element: Element) -> int:
    named = (element.side, element.name)
    return next(i for i, e in enumerate(section.elements) if (e.side, e.name) == named)
