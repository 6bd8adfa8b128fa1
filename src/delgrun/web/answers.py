"""Small helpers of the views."""

from typing import Any

import orjson
from flask import Response, current_app, request

from delgrun.jobs.client import Jobs
from delgrun.service.projects import Projects
from delgrun.service.wire import as_json

Json = dict[str, Any]
AUTHOR = ""  # Sign-in comes later; until then nobody has a name.


def answer(value: Json, status: int = 200) -> Response:
    return Response(orjson.dumps(value), status, mimetype="application/json")


def packed(data: bytes) -> Response:
    """Figures with arrays: as JSON where only that is accepted, else in the binary form."""
    if request.accept_mimetypes.best_match(["application/octet-stream", "application/json"]) == "application/json":
        return answer(as_json(data))
    return Response(data, 200, mimetype="application/octet-stream")


def use_cases() -> Projects:
    found: Projects = current_app.extensions["delgrun"][0]
    return found


def jobs() -> Jobs:
    found: Jobs = current_app.extensions["delgrun"][1]
    return found
