"""Small helpers of the views."""

import os
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any, Protocol

import orjson
from flask import Response, current_app, g, request
from flask_openapi3 import APIBlueprint

from delgrun.service.declared import SYSTEMS, System, Written, has_marks, plain_chainage, said
from delgrun.service.jobs import Keeper
from delgrun.service.projects import Projects, Saving
from delgrun.service.wire import as_json, with_header

Json = dict[str, Any]
# The page says with each request what its person reads in.
UNITS_HEADER = "X-Delgrun-Units"
AUTHOR = ""  # Sign-in comes later; until then nobody has a name.


def blueprint(name: str, prefix: str) -> APIBlueprint:
    """Routes under a prefix; a server leaves out what only the API's document needs, which takes half a second."""
    return APIBlueprint(name, __name__, url_prefix=prefix, doc_ui="DELGRUN_UNDOCUMENTED" not in os.environ)


def system() -> System:
    """What numbers are shown in to whoever asks."""
    wanted = request.headers.get(UNITS_HEADER, "metric")
    return next((s for s in SYSTEMS if s == wanted), "metric")


def _read(text: bytes, revision: int | None = None) -> bytes:
    """What was said and kept, in the units of whoever asks, and with chainages as they are written along its roads."""
    return said(text.decode(), system(), partial(_written, revision)).encode() if has_marks(text) else text


def _written(revision: int | None, road: str) -> Written:
    """How chainages are written along a road of the project that is asked about, or along the road that is."""
    known: dict[str, Written] = g.setdefault("written", {})
    if road not in known:
        project = (request.view_args or {}).get("project_id")
        known[road] = plain_chainage if project is None else use_cases().written(project, road or _named(), revision)
    return known[road]


def _named() -> str:
    """Slot of the line or the road that a request is about; empty where it names none."""
    body = request.get_json(silent=True) if request.is_json else None
    for asked in (request.view_args or {}, body if isinstance(body, dict) else {}, request.args, request.form):
        for name in ("slot", "road"):
            if isinstance(asked.get(name), str):
                return str(asked[name])
    return ""


def answer(value: Json, status: int = 200) -> Response:
    return Response(_read(orjson.dumps(value)), status, mimetype="application/json")


def reads_json() -> bool:
    """Whether whoever asks reads JSON only, and no binary form."""
    return request.accept_mimetypes.best_match(["application/octet-stream", "application/json"]) == "application/json"


def packed(data: bytes, revision: int | None = None) -> Response:
    """Figures with arrays, of a revision: as JSON where only that is accepted, else in the binary form."""
    if reads_json():
        return answer(as_json(data))
    return Response(with_header(data, partial(_read, revision=revision)), 200, mimetype="application/octet-stream")


def file_answer(name: str, mime: str, data: bytes) -> Response:
    """A file to be kept by whoever asks."""
    answered = Response(data, 200, mimetype=mime)
    answered.headers.set("Content-Disposition", "attachment", filename=name)
    return answered


def has_left() -> Callable[[], bool]:
    """Asks whether whoever sent this request has left meanwhile, as far as the server can tell."""
    told: Callable[[], bool] | None = request.environ.get("waitress.client_disconnected")
    return told or (lambda: False)


def use_cases() -> Projects:
    found: Projects = current_app.extensions["delgrun"][0]
    return found


def keeper() -> Keeper:
    found: Keeper = current_app.extensions["delgrun"][1]
    return found


class _Path(Protocol):
    project_id: int


class _Body(Protocol):
    base: int
    token: str | None


def saving(path: _Path, body: _Body) -> Saving:
    """Which project a body changes, and what it was made on."""
    return Saving(project_id=path.project_id, base=body.base, author=AUTHOR, token=body.token)


def saved(
    path: _Path,
    revision: int,
    slot: str | None = None,
    selected: int | None = None,
    fell_off: Sequence[str] = (),
    road: str | None = None,
    said: Sequence[str] = (),
) -> Response:
    """The answer to a change: the project as it is now, so that nothing has to be asked again."""
    project = use_cases().opened(path.project_id)
    told = {"slot": slot, "selected": selected, "fell_off": list(fell_off), "road": road, "said": list(said)}
    return answer({"revision": revision, "project": project, **told})
