"""Grade lines: make, copy, rename, delete and edit."""

from dataclasses import asdict

from flask import Response

from delgrun.service import lines, refusals
from delgrun.service.declared import Depths, edit_of
from delgrun.web import bodies, outputs
from delgrun.web.answers import answer, blueprint, saved, saving, use_cases

api = blueprint("lines", "/api/projects/<int:project_id>/lines")


@api.post("", responses={200: outputs.Saved})
def new_line(path: bodies.ProjectPath, body: bodies.StraightLine) -> Response:
    revision, slot = lines.straight_line(use_cases(), saving(path, body), body.name.strip(), body.road)
    return saved(path, revision, slot)


@api.post("/fitted", responses={200: outputs.Saved})
def fitted_line(path: bodies.ProjectPath, body: bodies.FittedLine) -> Response:
    """A first line near the ground within the limits; `said` names where it lies deeper than wished."""
    depths = Depths(cut_m=body.cut_m, fill_m=body.fill_m)
    revision, slot, said = lines.fitted(use_cases(), saving(path, body), body.name.strip(), body.road, depths)
    return saved(path, revision, slot, said=said)


@api.post("/adopted", responses={200: outputs.Saved})
def adopt_line(path: bodies.ProjectPath, body: bodies.AdoptLine) -> Response:
    ips = [ip.model_dump() for ip in body.ips]
    revision, slot = lines.adopt(use_cases(), saving(path, body), body.name.strip(), ips, body.road)
    return saved(path, revision, slot)


@api.post("/<slot>/copy", responses={200: outputs.Saved})
def copy_line(path: bodies.LinePath, body: bodies.NewLine) -> Response:
    revision, slot = lines.copy(use_cases(), saving(path, body), path.slot, body.name.strip())
    return saved(path, revision, slot)


@api.post("/<slot>/rename", responses={200: outputs.Saved})
def rename_line(path: bodies.LinePath, body: bodies.NewLine) -> Response:
    return saved(path, lines.rename(use_cases(), saving(path, body), path.slot, body.name.strip()), path.slot)


@api.post("/<slot>/status", responses={200: outputs.Saved})
def set_status(path: bodies.LinePath, body: bodies.StatusIn) -> Response:
    return saved(path, lines.set_status(use_cases(), saving(path, body), path.slot, body.status), path.slot)


@api.post("/<slot>/delete", responses={200: outputs.Saved})
def delete_line(path: bodies.LinePath, body: bodies.Base) -> Response:
    return saved(path, lines.delete(use_cases(), saving(path, body), path.slot))


@api.post("/<slot>/edits", responses={200: outputs.Saved})
def edit_line(path: bodies.LinePath, body: bodies.EditIn) -> Response:
    revision, selected = lines.apply(use_cases(), saving(path, body), path.slot, edit_of(body.edit.model_dump()))
    return saved(path, revision, path.slot, selected)


@api.post("/<slot>/ways", responses={200: outputs.RefusalOut})
def ways_on(path: bodies.LinePath, body: bodies.WaysIn) -> Response:
    """Why an edit can't be, and what could be instead, with its cost; nothing is saved."""
    edits = [edit_of(edit.model_dump()) for edit in body.edits]
    edit = edit_of(body.edit.model_dump())
    found = refusals.ways_on(use_cases(), path.project_id, body.revision, path.slot, edits, edit)
    return answer(asdict(found))
