"""Surveys: files come in piece by piece, are looked at, and are brought into the ground by a job."""

import orjson
from flask import Response
from pydantic import BaseModel, ConfigDict

from delgrun.service import coordinates, jobs, surveys, uploads
from delgrun.web import bodies, outputs, survey_outputs
from delgrun.web.answers import answer, blueprint, has_left, keeper, saved, saving, use_cases
from delgrun.web.projects import UploadedFile, plain_name

api = blueprint("surveys", "/api/projects/<int:project_id>")
_KIND = "import"


class Piece(BaseModel):
    """A piece of a file; all but the last have the size the upload says."""

    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: UploadedFile


@api.post("/uploads", responses={200: survey_outputs.UploadOut})
def begin_upload(path: bodies.ProjectPath, body: bodies.UploadIn) -> Response:
    """Begin to send a file."""
    return answer(uploads.begin(use_cases(), path.project_id, plain_name(body.file_name, "survey"), body.size))


@api.post("/uploads/<int:upload_id>/pieces/<int:number>", responses={200: survey_outputs.UploadOut})
def send_piece(path: bodies.PiecePath, form: Piece) -> Response:
    """Send one piece, in any order; one whose answer was lost can be sent again."""
    return answer(uploads.put(use_cases(), path.project_id, path.upload_id, path.number, form.file.read()))


@api.post("/uploads/<int:upload_id>/look", responses={200: survey_outputs.SurveyPreview})
def look_at_upload(path: bodies.UploadPath, body: bodies.LookIn) -> Response:
    """How the file reads; of a text its first and last piece are enough."""
    layout = body.layout.model_dump() if body.layout else None
    parts = body.parts.model_dump() if body.parts else None
    return answer(uploads.look(use_cases(), path.project_id, path.upload_id, layout, parts, has_left()))


@api.post("/imports", responses={200: outputs.JobStarted})
def start_import(path: bodies.ProjectPath, body: bodies.ImportIn) -> Response:
    """Read an uploaded file and make ground of it: a job in the background."""
    asked = orjson.dumps(body.model_dump(exclude={"revision"})).decode()
    number = jobs.start(use_cases(), path.project_id, _KIND, body.revision, "survey", asked)
    keeper().wake()
    return answer({"id": number})


@api.get("/imports/newest", responses={200: survey_outputs.NewestImport})
def newest_import(path: bodies.ProjectPath) -> Response:
    return answer({"job": jobs.status(use_cases(), path.project_id, _KIND)})


@api.post("/jobs/<int:job_id>/stop", responses={200: outputs.JobStarted})
def stop_job(path: bodies.JobPath) -> Response:
    """Ask a job of any kind to stop."""
    jobs.stop(use_cases(), path.project_id, path.job_id)
    return answer({"id": path.job_id})


@api.post("/surveys/<slot>/remove", responses={200: outputs.Saved})
def remove_survey(path: bodies.SurveyPath, body: bodies.Base) -> Response:
    """Take one survey out of the ground; the others stay."""
    return saved(path, surveys.remove(use_cases(), saving(path, body), path.slot))


@api.get("/coordinates/known", responses={200: survey_outputs.KnownSystems})
def known_systems(path: bodies.ProjectPath, query: bodies.KnownQuery) -> Response:
    """Projected grids, or vertical datums, whose names hold all words of a text."""
    return answer({"systems": coordinates.known(query.text, query.vertical)})


@api.get("/surveys/<slot>/summary", responses={200: survey_outputs.SummaryOut})
def survey_summary(path: bodies.SurveyPath, query: bodies.RevisionQuery) -> Response:
    """What was said of a survey when it was read."""
    return answer({"summary": surveys.summary_of(use_cases(), path.project_id, query.revision, path.slot)})
