"""Searches in the background."""

from flask import Response, abort

from delgrun.service import jobs
from delgrun.web import bodies, outputs
from delgrun.web.answers import answer, blueprint, keeper, use_cases

api = blueprint("searches", "/api/projects/<int:project_id>/searches")
_KIND = "search"


@api.post("", responses={200: outputs.JobStarted})
def start_search(path: bodies.ProjectPath, body: bodies.SearchIn) -> Response:
    number = jobs.start(use_cases(), path.project_id, _KIND, body.revision, body.slot)
    keeper().wake()
    return answer({"id": number})


@api.get("/newest", responses={200: outputs.NewestSearch})
def newest_search(path: bodies.ProjectPath) -> Response:
    return answer({"search": jobs.status(use_cases(), path.project_id, _KIND)})


@api.get("/<int:search_id>", responses={200: outputs.SearchOut})
def show_search(path: bodies.SearchPath) -> Response:
    found = jobs.status(use_cases(), path.project_id, _KIND, path.search_id)
    if found is None:
        abort(404, f"There is no search {path.search_id} in this project.")
    return answer(found)
