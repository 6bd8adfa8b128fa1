"""The Flask application: routes, one error door, security headers, and the front end's files."""

import os
from contextlib import ExitStack
from pathlib import Path
from urllib.parse import urlsplit

import orjson
from flask import Response, g, request, send_from_directory
from flask_openapi3 import Info, OpenAPI
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

from delgrun.exchange.apart import Gone
from delgrun.service.declared import read_in, spoken
from delgrun.service.errors import (
    DesignInputError,
    NoRoom,
    NotReady,
    QueueFull,
    RevisionConflict,
    UnknownProject,
    machine_trouble,
)
from delgrun.service.jobs import Keeper
from delgrun.service.projects import Projects
from delgrun.service.wire import revision_json
from delgrun.web import centrelines, land, lines, projects, searches, sections, sheets, standards, surveys
from delgrun.web.answers import answer, system
from delgrun.web.contract import document
from delgrun.web.outputs import Problem
from delgrun.web.standins import standins

_HOSTS = ["127.0.0.1", "localhost"]
# Files come in pieces of 4 MB.
LARGEST_UPLOAD = 16 * 2**20
_HEADERS = {
    "Content-Security-Policy": "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'none'; "
    "form-action 'self'; frame-ancestors 'none'",
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "camera=(), geolocation=(), microphone=()",
}


def create_app(use_cases: Projects, keeper: Keeper, front_end: Path | None) -> OpenAPI:
    """The application over its use cases and its queue; `front_end` is the folder of the built front end."""
    app = OpenAPI(
        "delgrun",
        info=Info(title="Delgrun", version="1"),
        validation_error_status=422,
        validation_error_model=Problem,
        validation_error_callback=_invalid,
        static_folder=None,
        doc_ui=False,
    )
    app.config.update(TRUSTED_HOSTS=_HOSTS, MAX_CONTENT_LENGTH=LARGEST_UPLOAD)
    app.extensions["delgrun"] = (use_cases, keeper)
    for module in (projects, surveys, land, centrelines, lines, searches, sections, sheets, standards):
        app.register_api(module.api)

    # Pictures under the map may come from where whoever runs this says: origins with blanks between.
    imagery = os.environ.get("DELGRUN_IMAGERY", "")
    policy = _HEADERS["Content-Security-Policy"].replace(
        "img-src 'self' data:", f"img-src 'self' data: {imagery}".strip()
    )
    headers = _HEADERS | {"Content-Security-Policy": policy}

    @app.before_request
    def speak_plainly() -> None:
        # Sentences are kept as they are for readers of either system, until they are answered with.
        g.words = ExitStack()
        g.words.enter_context(spoken("kept"))
        g.words.enter_context(read_in(system()))

    @app.teardown_request
    def spoken_out(_: BaseException | None) -> None:
        words: ExitStack | None = g.pop("words", None)
        if words is not None:
            words.close()

    @app.before_request
    def same_site() -> Response | None:
        # No cookie guards this server, so a page of another site must not be able to write to it.
        if request.method in ("GET", "HEAD", "OPTIONS"):
            return None
        origin = request.headers.get("Origin")
        if origin is not None and urlsplit(origin).netloc != request.host:
            return answer({"message": "Requests from another site are refused."}, 403)
        if request.headers.get("Sec-Fetch-Site") in ("cross-site", "same-site"):
            return answer({"message": "Requests from another site are refused."}, 403)
        return None

    @app.after_request
    def secure(response: Response) -> Response:
        for name, value in headers.items():
            response.headers.setdefault(name, value)
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response

    app.register_blueprint(standins)
    _error_door(app)
    if front_end is not None:
        _serve_front_end(app, front_end)
    return app


def _invalid(error: ValidationError) -> Response:
    first = error.errors(include_url=False, include_context=False, include_input=False)[0]
    # Discriminated unions put the tag into the path; a person knows the field by its last name.
    names = [str(p) for p in first["loc"] if isinstance(p, str)]
    field = names[-1] if names else "body"
    return answer({"message": f"{'.'.join(str(p) for p in first['loc'])}: {first['msg']}", "field": field}, 422)


def _error_door(app: OpenAPI) -> None:
    @app.errorhandler(DesignInputError)
    def refused(e: DesignInputError) -> Response:
        return answer({"message": e.message, "field": e.field}, 422)

    @app.errorhandler(Gone)
    def left(_: Gone) -> Response:
        return answer({"message": "Whoever asked has left; nothing was read."}, 408)

    @app.errorhandler(NotReady)
    def not_ready(e: NotReady) -> Response:
        return answer({"message": e.message, "step": e.step}, 409)

    @app.errorhandler(NoRoom)
    def no_room(e: NoRoom) -> Response:
        return answer({"message": e.message}, 507)

    @app.errorhandler(QueueFull)
    def queue_full(e: QueueFull) -> Response:
        return answer({"message": e.message}, 409)

    @app.errorhandler(UnknownProject)
    def unknown(e: UnknownProject) -> Response:
        return answer({"message": f"There is no project {e.args[0]}: go back to the list of projects."}, 404)

    @app.errorhandler(RevisionConflict)
    def conflict(e: RevisionConflict) -> Response:
        head = revision_json(e.head)
        message = f"“{e.head.label}” was saved since, elsewhere. Nothing was overwritten."
        return answer({"message": message, "head": head}, 409)

    @app.errorhandler(HTTPException)
    def http(e: HTTPException) -> Response:
        code = e.get_response().status_code
        return answer({"message": e.description or e.name}, code)

    @app.errorhandler(RecursionError)
    def too_deep(_: RecursionError) -> Response:
        return answer({"message": "What was sent is nested too deeply to be meant. Nothing was saved."}, 400)

    @app.errorhandler(Exception)
    def unexpected(e: Exception) -> Response:
        from sqlalchemy.exc import OperationalError

        app.logger.exception("unexpected error")
        trouble = machine_trouble(e)
        if trouble is not None:
            return answer({"message": trouble}, 507)
        if isinstance(e, OperationalError):
            message = "The database does not answer just now. Nothing of this change was saved; try again in a moment."
            return answer({"message": message}, 503)
        return answer({"message": "Something went wrong in Delgrun itself. What was saved before is kept."}, 500)


def _serve_front_end(app: OpenAPI, folder: Path) -> None:
    def page(name: str) -> Response:
        response = send_from_directory(folder, name)
        # Built files carry a hash in their name; the page itself must be asked for again each time.
        hashed = name.startswith("assets/")
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable" if hashed else "no-cache"
        return response

    app.add_url_rule("/", "index", page, defaults={"name": "index.html"})
    app.add_url_rule("/<path:name>", "page", page)


def openapi_json(app: OpenAPI) -> bytes:
    """The API's document, sorted, so that it changes only when the API does."""
    return orjson.dumps(document(app), option=orjson.OPT_INDENT_2 | orjson.OPT_SORT_KEYS) + b"\n"
