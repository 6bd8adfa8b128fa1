"""Grade lines: make, copy, rename, delete and edit."""

from dataclasses import asdict

from flask import Response

from delgrun.service import lines, profiles, refusals, summary
from delgrun.service.declared import Depths, edit_of
from delgrun.web import bodies, limit_bodies, limit_outputs, line_bodies, outputs
from delgrun.web.answers import answer, blueprint, saved, saving, use_cases
from delgrun.web.projects import plain_name

api = blueprint("lines", "/api/projects/<int:project_id>/lines")


@api.post("", responses={200: outputs.Saved})
def new_line(path: bodies.ProjectPath, body: line_bodies.StraightLine) -> Response:
    revision, slot = lines.straight_line(use_cases(), saving(path, body), body.name.strip(), body.road)
    return saved(path, revision, slot)


@api.post("/fitted", responses={200: outputs.Saved})
def fitted_line(path: bodies.ProjectPath, body: line_bodies.FittedLine) -> Response:
    """A first line near the ground within the limits; `said` names where it lies deeper than wished."""
    depths = Depths(cut_m=body.cut_m, fill_m=body.fill_m)
    made = lines.fitted(
        use_cases(), saving(path, body), body.name.strip(), body.road, depths, body.drains, even=body.round
    )
    revision, slot, said = made
    return saved(path, revision, slot, said=said)


@api.post("/read", responses={200: outputs.ProfilesOut})
def read_profiles(path: bodies.ProjectPath, form: line_bodies.ProfileFile) -> Response:
    """Profiles of a file, and the grade line that one of them makes; nothing is stored."""
    name = plain_name(form.file.filename, "profile")
    wish = profiles.ProfileWish(
        road=form.road,
        which=form.which,
        deviation_m=form.deviation_m,
        exaggeration=form.exaggeration,
        origin_chainage_m=form.origin_chainage_m,
        origin_level_m=form.origin_level_m,
        unit=form.unit,
        curves=form.curves,
    )
    found = profiles.read(use_cases(), path.project_id, form.revision, name, form.file.read(), wish)
    return answer(asdict(found))


@api.post("/adopted", responses={200: outputs.Saved})
def adopt_line(path: bodies.ProjectPath, body: line_bodies.AdoptLine) -> Response:
    ips = [ip.model_dump() for ip in body.ips]
    revision, slot = lines.adopt(use_cases(), saving(path, body), body.name.strip(), ips, body.road)
    return saved(path, revision, slot)


@api.post("/<slot>/copy", responses={200: outputs.Saved})
def copy_line(path: bodies.LinePath, body: line_bodies.NewLine) -> Response:
    revision, slot = lines.copy(use_cases(), saving(path, body), path.slot, body.name.strip())
    return saved(path, revision, slot)


@api.post("/<slot>/rename", responses={200: outputs.Saved})
def rename_line(path: bodies.LinePath, body: line_bodies.NewLine) -> Response:
    return saved(path, lines.rename(use_cases(), saving(path, body), path.slot, body.name.strip()), path.slot)


@api.post("/<slot>/status", responses={200: outputs.Saved})
def set_status(path: bodies.LinePath, body: line_bodies.StatusIn) -> Response:
    return saved(path, lines.set_status(use_cases(), saving(path, body), path.slot, body.status), path.slot)


@api.post("/<slot>/colour", responses={200: outputs.Saved})
def set_colour(path: bodies.LinePath, body: line_bodies.ColourIn) -> Response:
    return saved(path, lines.set_colour(use_cases(), saving(path, body), path.slot, body.colour), path.slot)


@api.post("/<slot>/delete", responses={200: outputs.Saved})
def delete_line(path: bodies.LinePath, body: bodies.Base) -> Response:
    return saved(path, lines.delete(use_cases(), saving(path, body), path.slot))


@api.post("/<slot>/edits", responses={200: outputs.Saved})
def edit_line(path: bodies.LinePath, body: line_bodies.EditIn) -> Response:
    edit = edit_of(body.edit.model_dump())
    revision, selected, said = lines.apply(use_cases(), saving(path, body), path.slot, edit)
    return saved(path, revision, path.slot, selected, said=said)


@api.get("/<slot>/summary", responses={200: limit_outputs.ChecksSummary})
def summary_of(path: bodies.LinePath, query: limit_bodies.SummaryQuery) -> Response:
    """What a checker signs: every check with its worst use, every value with its source."""
    return answer(summary.of_line(use_cases(), path.project_id, query.revision, path.slot, query.units))


@api.get("/<slot>/shift", responses={200: outputs.ShiftOut})
def shift_of(path: bodies.LinePath, query: bodies.ShiftQuery) -> Response:
    """What a stretch costs more, or less, further aside, with the haul planned anew; nothing is saved."""
    stretch = query.from_m, query.to_m
    found = lines.shifted(use_cases(), path.project_id, query.revision, path.slot, stretch, query.aside_m)
    return answer(asdict(found))


@api.post("/<slot>/ways", responses={200: outputs.RefusalOut})
def ways_on(path: bodies.LinePath, body: line_bodies.WaysIn) -> Response:
    """Why an edit can't be, and what could be instead, with its cost; nothing is saved."""
    edits = [edit_of(edit.model_dump()) for edit in body.edits]
    edit = edit_of(body.edit.model_dump())
    found = refusals.ways_on(use_cases(), path.project_id, body.revision, path.slot, edits, edit)
    return answer(asdict(found))
