"""Projects, their inputs, and undo and redo."""

from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint, FileStorage
from pydantic import BaseModel, ConfigDict, Field

from delgrun.web import bodies, outputs
from delgrun.web.answers import AUTHOR, answer, packed, use_cases

api = APIBlueprint("projects", __name__, url_prefix="/api")


class SurveyFile(BaseModel):
    """A survey's text file; without a `layout` (as JSON) it is detected."""

    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage
    layout: bodies.Layout | None = None


class SurveyAccept(SurveyFile):
    base: int = Field(ge=0)
    longest_edge_m: float = Field(ge=0, le=10_000, allow_inf_nan=False)


class TextFile(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage


def _layout(form: SurveyFile) -> dict[str, Any] | None:
    return form.layout.model_dump() if form.layout else None


@api.get("/projects", responses={200: outputs.ProjectList})
def list_projects() -> Response:
    return answer({"projects": use_cases().listed()})


@api.post("/projects", responses={200: outputs.ProjectItem})
def create_project(body: bodies.NewProject) -> Response:
    pid = use_cases().create(body.name.strip())
    return answer(next(p for p in use_cases().listed() if p["id"] == pid))


@api.get("/projects/<int:project_id>", responses={200: outputs.ProjectOut})
def open_project(path: bodies.ProjectPath) -> Response:
    return answer(use_cases().opened(path.project_id))


@api.post("/projects/<int:project_id>/undo", responses={200: outputs.Saved})
def undo(path: bodies.ProjectPath, body: bodies.Base) -> Response:
    return answer({"revision": use_cases().turn(path.project_id, body.base, AUTHOR, "undo")})


@api.post("/projects/<int:project_id>/redo", responses={200: outputs.Saved})
def redo(path: bodies.ProjectPath, body: bodies.Base) -> Response:
    return answer({"revision": use_cases().turn(path.project_id, body.base, AUTHOR, "redo")})


@api.get("/limits/defaults", responses={200: bodies.Limits})
def default_limits(query: bodies.SpeedQuery) -> Response:
    return answer(use_cases().default_limits(query.design_speed_kmh))


@api.put("/projects/<int:project_id>/limits", responses={200: outputs.Saved})
def save_limits(path: bodies.ProjectPath, body: bodies.LimitsIn) -> Response:
    row = body.limits.model_dump()
    return answer({"revision": use_cases().save_limits(path.project_id, body.base, AUTHOR, row)})


@api.put("/projects/<int:project_id>/section", responses={200: outputs.Saved})
def save_section(path: bodies.ProjectPath, body: bodies.SectionIn) -> Response:
    row = body.section.model_dump()
    return answer({"revision": use_cases().save_section(path.project_id, body.base, AUTHOR, row)})


@api.put("/projects/<int:project_id>/cost", responses={200: outputs.Saved})
def save_cost(path: bodies.ProjectPath, body: bodies.CostIn) -> Response:
    row = body.cost.model_dump()
    return answer({"revision": use_cases().save_cost(path.project_id, body.base, AUTHOR, row)})


@api.post("/survey/preview", responses={200: outputs.SurveyPreview})
def preview_survey(form: SurveyFile) -> Response:
    return answer(use_cases().preview_survey(form.file.read(), _layout(form)))


@api.post("/projects/<int:project_id>/survey", responses={200: outputs.Saved})
def accept_survey(path: bodies.ProjectPath, form: SurveyAccept) -> Response:
    revision = use_cases().accept_survey(
        path.project_id,
        form.base,
        AUTHOR,
        form.file.filename or "survey",
        form.file.read(),
        _layout(form),
        form.longest_edge_m,
    )
    return answer({"revision": revision})


@api.post("/centreline/read", responses={200: outputs.CentrelineRead})
def read_centreline(form: TextFile) -> Response:
    return answer({"ips": use_cases().centreline_from_text(form.file.read())})


@api.post("/centreline/elements", responses={200: outputs.Elements})
def centreline_elements(body: bodies.CentrelineCheck) -> Response:
    return answer(use_cases().centreline_elements([ip.model_dump() for ip in body.ips], body.start_chainage_m))


@api.put("/projects/<int:project_id>/centreline", responses={200: outputs.Saved})
def save_centreline(path: bodies.ProjectPath, body: bodies.CentrelineIn) -> Response:
    ips = [ip.model_dump() for ip in body.ips]
    revision = use_cases().save_centreline(path.project_id, body.base, AUTHOR, ips, body.start_chainage_m)
    return answer({"revision": revision})


@api.get("/projects/<int:project_id>/terrain", responses={200: outputs.TerrainOut})
def terrain(path: bodies.ProjectPath, query: bodies.AtRevision) -> Response:
    """Ground along the centreline and what is drawn of it."""
    return packed(use_cases().terrain(path.project_id, query.revision))
