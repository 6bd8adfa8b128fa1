"""Searches in the background."""

from flask import Response, abort
from flask_openapi3 import APIBlueprint

from delgrun.service import searches
from delgrun.web import bodies, outputs
from delgrun.web.answers import answer, jobs, use_cases

api = APIBlueprint("searches", __name__, url_prefix="/api/projects/<int:project_id>/searches")


@api.post("", responses={200: outputs.SearchStarted})
def start_search(path: bodies.ProjectPath, body: bodies.SearchIn) -> Response:
    return answer({"id": searches.start(use_cases(), jobs(), path.project_id, body.revision, body.slot)})


@api.get("/newest", responses={200: outputs.NewestSearch})
def newest_search(path: bodies.ProjectPath) -> Response:
    return answer({"search": searches.status(use_cases(), jobs(), path.project_id)})


@api.get("/<int:search_id>", responses={200: outputs.SearchOut})
def show_search(path: bodies.SearchPath) -> Response:
    found = searches.status(use_cases(), jobs(), path.project_id, path.search_id)
    if found is None:
        abort(404, f"There is no search {path.search_id} in this project.")
    return answer(found)


@api.post("/<int:search_id>/stop", responses={200: outputs.SearchStarted})
def stop_search(path: bodies.SearchPath) -> Response:
    searches.stop(use_cases(), path.project_id, path.search_id)
    return answer({"id": path.search_id})
