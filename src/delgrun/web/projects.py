"""Projects, their inputs, and undo and redo."""

import re
from typing import Annotated, Any

import werkzeug.datastructures
from flask import Response
from flask_openapi3 import FileStorage
from pydantic import AfterValidator

from delgrun.service import files, history
from delgrun.service.declared import InputKind, edit_of
from delgrun.web import bodies, outputs
from delgrun.web.answers import answer, blueprint, file_answer, packed, reads_json, saved, saving, system, use_cases

api = blueprint("projects", "/api")
_LONGEST_NAME = 100


def _is_file(sent: object) -> object:
    if not isinstance(sent, werkzeug.datastructures.FileStorage):
        raise ValueError("A file is expected here, and a text was sent.")
    return sent


UploadedFile = Annotated[FileStorage, AfterValidator(_is_file)]


def plain_name(name: str | None, otherwise: str) -> str:
    """A file's name as it can be shown and kept: on one line, and not too long."""
    return re.sub(r"[^\w .,()+\-]+", "_", (name or "").strip())[-_LONGEST_NAME:] or otherwise


@api.get("/alive", responses={200: outputs.Alive})
def alive() -> Response:
    """Whether the server answers and its database does; nothing that is kept is read."""
    use_cases().database.ask()
    return answer({"alive": True})


@api.get("/projects", responses={200: outputs.ProjectList})
def list_projects() -> Response:
    return answer({"projects": use_cases().listed()})


@api.post("/projects", responses={200: outputs.ProjectOut})
def create_project(body: bodies.NewProject) -> Response:
    return answer(use_cases().opened(use_cases().create(body.name.strip(), body.units)))


@api.get("/projects/<int:project_id>", responses={200: outputs.ProjectOut})
def open_project(path: bodies.ProjectPath) -> Response:
    return answer(use_cases().opened(path.project_id))


@api.get("/projects/<int:project_id>/glance", responses={200: outputs.GlanceOut})
def glance(path: bodies.ProjectPath) -> Response:
    """What the list of projects shows of one."""
    return answer(use_cases().glance(path.project_id))


@api.post("/projects/<int:project_id>/undo", responses={200: outputs.Saved})
def undo(path: bodies.ProjectPath, body: bodies.Base) -> Response:
    return saved(path, use_cases().turn(saving(path, body), "undo"))


@api.post("/projects/<int:project_id>/redo", responses={200: outputs.Saved})
def redo(path: bodies.ProjectPath, body: bodies.Base) -> Response:
    return saved(path, use_cases().turn(saving(path, body), "redo"))


@api.get("/projects/<int:project_id>/states", responses={200: outputs.StatesOut})
def list_states(path: bodies.ProjectPath, query: bodies.StatesQuery) -> Response:
    """The project's states before a revision, the newest first; those with a name however old."""
    return answer({"states": history.listed(use_cases(), path.project_id, query.before, query.count)})


@api.post("/projects/<int:project_id>/states", responses={200: outputs.StatesOut})
def name_state(path: bodies.ProjectPath, body: bodies.StateName) -> Response:
    """Name a state, or take its name away; answers with it."""
    history.give_name(use_cases(), path.project_id, body.revision, body.name)
    return answer({"states": history.listed(use_cases(), path.project_id, body.revision + 1, 1)[:1]})


@api.post("/projects/<int:project_id>/back", responses={200: outputs.Saved})
def go_back(path: bodies.ProjectPath, body: bodies.BackIn) -> Response:
    """All, or one grade line, as of a revision; undo brings back what is now."""
    return saved(path, history.go_back(use_cases(), saving(path, body), body.revision, body.slot), body.slot)


def _put(kind: InputKind) -> None:
    """PUT of one kind of input: all its fields at once."""

    def put_input(path: bodies.ProjectPath, body: Any) -> Response:
        row = getattr(body, kind.name).model_dump()
        return saved(path, use_cases().put(saving(path, body), kind, row))

    put_input.__annotations__["body"] = bodies.PUTS[kind.name]
    put_input.__name__ = f"put_{kind.name}"
    put_input.__doc__ = f"{kind.label}: all fields at once."
    api.put(f"/projects/<int:project_id>/{kind.name}", responses={200: outputs.Saved})(put_input)


for _kind in bodies.PUT_KINDS:
    _put(_kind)


@api.get("/projects/<int:project_id>/files/<file>")
def project_file(path: bodies.FilePath, query: bodies.RevisionQuery) -> Response:
    """A file of the project, to be kept: see the list of formats."""
    return file_answer(*files.file(use_cases(), path.project_id, query.revision, path.file))


@api.post("/projects/<int:project_id>/figures", responses={200: outputs.FiguresOut})
def figures(path: bodies.ProjectPath, body: bodies.Question) -> Response:
    """What is wanted of a line, perhaps with edits tried on it; the live path."""
    ips = None if body.ips is None else [ip.model_dump() for ip in body.ips]
    edits = [edit_of(edit.model_dump()) for edit in body.edits]
    return packed(
        use_cases().figures(
            path.project_id,
            body.revision,
            body.want,
            slot=body.slot,
            road=body.road,
            ips=ips,
            edits=edits,
            at_m=body.at_m,
            some_m=body.some_m,
            have=body.have,
            system=body.units,
            upon=None if reads_json() else body.upon,
            reader=system(),
        ),
        body.revision,
    )
