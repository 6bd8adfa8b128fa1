"""Grade lines: make, copy, rename, delete, edit, and the live path."""

from flask import Response
from flask_openapi3 import APIBlueprint

from delgrun.web import bodies, outputs
from delgrun.web.answers import AUTHOR, answer, packed, use_cases

api = APIBlueprint("lines", __name__, url_prefix="/api/projects/<int:project_id>/lines")


def _made(made: tuple[int, str]) -> Response:
    return answer({"revision": made[0], "slot": made[1]})


@api.post("", responses={200: outputs.Saved})
def new_line(path: bodies.ProjectPath, body: bodies.NewLine) -> Response:
    return _made(use_cases().new_line(path.project_id, body.base, AUTHOR, body.name.strip()))


@api.post("/adopted", responses={200: outputs.Saved})
def adopt_line(path: bodies.ProjectPath, body: bodies.AdoptLine) -> Response:
    ips = [ip.model_dump() for ip in body.ips]
    return _made(use_cases().adopt_line(path.project_id, body.base, AUTHOR, body.name.strip(), ips))


@api.post("/<slot>/copy", responses={200: outputs.Saved})
def copy_line(path: bodies.LinePath, body: bodies.NewLine) -> Response:
    return _made(use_cases().copy_line(path.project_id, body.base, AUTHOR, path.slot, body.name.strip()))


@api.post("/<slot>/rename", responses={200: outputs.Saved})
def rename_line(path: bodies.LinePath, body: bodies.NewLine) -> Response:
    revision = use_cases().rename_line(path.project_id, body.base, AUTHOR, path.slot, body.name.strip())
    return answer({"revision": revision, "slot": path.slot})


@api.post("/<slot>/delete", responses={200: outputs.Saved})
def delete_line(path: bodies.LinePath, body: bodies.Base) -> Response:
    return answer({"revision": use_cases().delete_line(path.project_id, body.base, AUTHOR, path.slot)})


@api.post("/<slot>/edits", responses={200: outputs.Saved})
def edit_line(path: bodies.LinePath, body: bodies.EditIn) -> Response:
    edit = body.edit.model_dump()
    revision, selected = use_cases().edit_line(path.project_id, body.base, AUTHOR, path.slot, edit)
    return answer({"revision": revision, "slot": path.slot, "selected": selected})


@api.post("/<slot>/preview", responses={200: outputs.PreviewOut})
def preview_line(path: bodies.LinePath, body: bodies.PreviewIn) -> Response:
    ips = None if body.ips is None else [ip.model_dump() for ip in body.ips]
    edit = None if body.edit is None else body.edit.model_dump()
    return packed(use_cases().preview(path.project_id, body.revision, path.slot, ips, edit, body.plumb_m))


@api.get("/<slot>/remedies", responses={200: outputs.Remedies})
def remedies(path: bodies.LinePath, query: bodies.IpQuery) -> Response:
    """Edits that would mend what fails at one IP, each with its change in cost."""
    return answer({"remedies": use_cases().remedies(path.project_id, query.revision, path.slot, query.ip)})
