"""The centreline: read from files, tried before it is saved, saved, and taken away as tables and files."""

from dataclasses import asdict
from typing import Any

from flask import Response
from pydantic import BaseModel, ConfigDict, Field

from delgrun.service import centrelines, drafts, tables, utilities
from delgrun.service.declared import Alignment
from delgrun.service.tables.kind import TableWish
from delgrun.web import bodies, outputs, plan_outputs
from delgrun.web.answers import answer, blueprint, file_answer, packed, saved, saving, use_cases
from delgrun.web.projects import UploadedFile, plain_name

api = blueprint("centrelines", "/api/projects/<int:project_id>/centreline")


class CentrelineFile(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: UploadedFile
    on_grid: bool = Field(default=False, description="bring it to the ground by the project's scale factor")


@api.post("/read", responses={200: plan_outputs.CentrelineRead})
def read_centreline(path: bodies.ProjectPath, form: CentrelineFile) -> Response:
    """Lines of a file; nothing is stored."""
    name = plain_name(form.file.filename, "centreline")
    found = centrelines.from_file(use_cases(), path.project_id, name, form.file.read(), form.on_grid)
    return answer({"lines": [_line(line) for line in found]})


def _line(line: Alignment) -> dict[str, Any]:
    return {**asdict(line), "equations": [{"at_m": at, "ahead_m": ahead} for at, ahead in line.equations]}


class LineFile(CentrelineFile):
    which: int | None = Field(default=None, ge=0, le=1000, description="which line of several")


@api.post("/fit", responses={200: plan_outputs.FitOut})
def fit_centreline(path: bodies.ProjectPath, form: LineFile) -> Response:
    """Tangents, arcs and transitions fitted to a line of a file; nothing is stored."""
    name = plain_name(form.file.filename, "line")
    data = form.file.read()
    return answer(centrelines.fit(use_cases(), path.project_id, name, data, form.which, form.on_grid))


@api.post("/utilities", responses={200: plan_outputs.UtilitiesRead})
def read_utilities(path: bodies.ProjectPath, form: CentrelineFile) -> Response:
    """Buried and overhead utilities of a file; nothing is stored."""
    name = plain_name(form.file.filename, "utilities")
    found = utilities.read(use_cases(), path.project_id, name, form.file.read(), form.on_grid)
    return answer({"utilities": found})


@api.post("/boundaries", responses={200: plan_outputs.BoundariesRead})
def read_boundaries(path: bodies.ProjectPath, form: CentrelineFile) -> Response:
    """Lines of a file in plan, as the boundary of a reserve; nothing is stored."""
    name = plain_name(form.file.filename, "boundary")
    found = utilities.boundaries(use_cases(), path.project_id, name, form.file.read(), form.on_grid)
    return answer({"lines": found})


@api.post("/draft", responses={200: plan_outputs.DraftOut})
def draft(path: bodies.ProjectPath, body: bodies.DraftIn) -> Response:
    """What a centreline that is typed or drawn would be: the live path. Nothing is stored."""
    row = {
        "start_chainage_m": body.start_chainage_m,
        "ips": [ip.model_dump() for ip in body.ips],
        "start_meets": body.start_meets,
        "end_meets": body.end_meets,
    }
    wish = drafts.DraftWish(fit=body.fit, beside_m=tuple(body.beside_m), line=body.line, keeps=body.keeps)
    return packed(drafts.draft(use_cases(), path.project_id, body.revision, row, wish))


@api.get("/beside", responses={200: plan_outputs.BesideOut})
def ground_beside(path: bodies.ProjectPath, query: bodies.OffsetsQuery) -> Response:
    """The ground at offsets beside a centreline, to be drawn faintly in its long section."""
    q = query
    return packed(drafts.ground_beside(use_cases(), path.project_id, q.revision, q.road, list(q.offset_m)))


@api.post("/standard", responses={200: plan_outputs.StandardBends})
def standard_bends(path: bodies.ProjectPath, body: bodies.PlanIn) -> Response:
    """Bends for all corners by the project's rules and design speed; nothing is stored."""
    row = {"start_chainage_m": body.start_chainage_m, "ips": [ip.model_dump() for ip in body.ips]}
    return answer(drafts.by_standard(use_cases(), path.project_id, body.revision, row))


@api.get("/usual", responses={200: plan_outputs.UsualBend})
def usual_bend(path: bodies.ProjectPath, query: bodies.RevisionQuery) -> Response:
    """What bends that are drawn begin with: the rules' at a right angle."""
    return answer(drafts.usual_bend(use_cases(), path.project_id, query.revision))


@api.put("", responses={200: outputs.Saved})
def save_centreline(path: bodies.ProjectPath, body: bodies.CentrelineIn) -> Response:
    """Save a centreline, or a further one; whatever stands at its chainages follows."""
    said = {
        "name": body.name,
        "start_meets": body.start_meets,
        "end_meets": body.end_meets,
        "start_takes_grade": body.start_takes_grade,
        "end_takes_grade": body.end_takes_grade,
    }
    row: dict[str, Any] = {name: value for name, value in said.items() if value is not None}
    row |= {"start_chainage_m": body.start_chainage_m, "ips": [ip.model_dump() for ip in body.ips]}
    equations = None if body.equations is None else [(e.at_m, e.ahead_m) for e in body.equations]
    made = centrelines.save(use_cases(), saving(path, body), row, body.keeps, body.road, equations, body.space)
    revision, road, gone = made
    return saved(path, revision, road=road, fell_off=gone)


@api.post("/shorten", responses={200: outputs.Saved})
def shorten_centreline(path: bodies.ProjectPath, body: bodies.RoadIn) -> Response:
    """Cut off what runs past the surveyed ground; chainages stay what they are."""
    revision, gone = centrelines.shorten(use_cases(), saving(path, body), body.road)
    return saved(path, revision, fell_off=gone)


@api.post("/delete", responses={200: outputs.Saved})
def delete_road(path: bodies.ProjectPath, body: bodies.RoadIn) -> Response:
    """Take a road beside the main one away, with its grade lines."""
    return saved(path, centrelines.remove(use_cases(), saving(path, body), body.road))


def _wish(query: bodies.TableQuery) -> TableWish:
    return TableWish(
        interval_m=query.interval_m,
        critical=query.critical,
        offset_m=query.offset_m,
        slot=query.slot,
        road=query.road,
        system=query.units,
    )


@api.get("/tables/<table>", responses={200: plan_outputs.TableOut})
def show_table(path: bodies.TablePath, query: bodies.TableQuery) -> Response:
    """The first rows of a table, and how many it has."""
    return answer(tables.shown(use_cases(), path.project_id, query.revision, path.table, _wish(query)))


@api.get("/tables/<table>/file")
def table_file(path: bodies.TablePath, query: bodies.TableFileQuery) -> Response:
    """A table as comma-separated text or as a workbook."""
    made = tables.file(use_cases(), path.project_id, query.revision, path.table, _wish(query), query.form)
    return file_answer(*made)
