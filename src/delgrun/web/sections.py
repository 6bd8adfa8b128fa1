"""Typical sections: saved, drawn, to begin with, and kept for all projects."""

from typing import Annotated, Any

from flask import Response
from pydantic import BaseModel, Field

from delgrun.service import sections
from delgrun.service.declared import SECTION
from delgrun.web import bodies, limit_outputs, outputs, section_outputs
from delgrun.web.answers import answer, blueprint, saved, saving, system, use_cases
from delgrun.web.models import In, body_of

api = blueprint("sections", "/api")

_Typical: Any = body_of(SECTION.cls)


class SectionIn(bodies.Base):
    """A typical section; a new one without a slot."""

    slot: bodies.SectionSlot | None = None
    section: _Typical


class SectionGone(bodies.Base):
    slot: bodies.SectionSlot


class SectionDrawn(In):
    """A typical section as it is typed, where the ground lies so much over the line and falls so to the right."""

    revision: bodies.Count
    section: _Typical
    depth_m: Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)]
    fall: Annotated[float, Field(ge=-2, le=2, allow_inf_nan=False)] = 0.0


class SectionKept(In):
    """A section, or elements of one as a piece, to be kept for all projects."""

    name: bodies.Name
    what: sections.What
    section: _Typical


class EntryPath(BaseModel):
    entry: bodies.Count


@api.post("/projects/<int:project_id>/sections", responses={200: outputs.Saved})
def save_section(path: bodies.ProjectPath, body: SectionIn) -> Response:
    """Save a typical section, or make a new one: names are unique, so that it is found by its own."""
    return saved(path, sections.save(use_cases(), saving(path, body), body.slot, body.section.model_dump()))


@api.post("/projects/<int:project_id>/sections/remove", responses={200: outputs.Saved})
def remove_section(path: bodies.ProjectPath, body: SectionGone) -> Response:
    """Take a typical section out of the project; the one that is built stays."""
    return saved(path, sections.remove(use_cases(), saving(path, body), body.slot))


@api.post("/projects/<int:project_id>/sections/drawn", responses={200: section_outputs.DrawnSectionOut})
def draw_section(path: bodies.ProjectPath, body: SectionDrawn) -> Response:
    """A typical section as it would be built over a made ground."""
    row = body.section.model_dump()
    made = sections.drawn(use_cases(), path.project_id, body.revision, row, body.depth_m, body.fall)
    return answer({"drawn": made})


@api.get("/sections", responses={200: section_outputs.SectionsOut})
def offered_sections() -> Response:
    """Sections to begin with, and sections and pieces that are kept for all projects."""
    return answer({"starting": sections.starting(system()), "kept": sections.kept_for_all(use_cases())})


@api.post("/projects/<int:project_id>/sections/keep", responses={200: section_outputs.EntryOut})
def keep_section(path: bodies.ProjectPath, body: SectionKept) -> Response:
    """Keep a section or a piece for all projects, in place of one with its name."""
    number = sections.keep(use_cases(), path.project_id, body.name.strip(), body.what, body.section.model_dump())
    return answer({"id": number})


@api.delete("/sections/<int:entry>", responses={200: limit_outputs.Done})
def forget_section(path: EntryPath) -> Response:
    """Take one out of what is kept for all projects; sections made of it stay what they are."""
    sections.forget(use_cases(), path.entry)
    return answer({"done": True})
