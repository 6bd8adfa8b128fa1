"""The API's document made valid and true: every answer that can come, and no part that the standard does not know."""

from typing import Any

from flask_openapi3 import OpenAPI

Json = dict[str, Any]

_PROBLEM = {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
# What any request may be answered with; the words stand in the document.
_ANY = {
    "400": "The request cannot be understood.",
    "403": "It comes from a page of another site.",
    "422": "A value is refused; `field` names it, `message` says why and what to do.",
    "503": "The database does not answer just now; nothing was saved, try again.",
    "507": "The disk is full or cannot be written; nothing was saved.",
}
_PATH = {"404": "There is no such project, line or search."}
_CHANGE = {"409": "Something else was saved since (`head` says what), or another step must be done first (`step`)."}
_BINARY = (
    "/figures",
    "/land/tile",
    "/land/tiles",
    "/land/difference/tile",
    "/land/cut",
    "/land/birds-eye",
    "/centreline/draft",
    "/centreline/beside",
)
# Files to be kept, by the end of their path, and of which kinds.
_FILES = {
    "/tables/{table}/file": (
        "text/csv",
        "text/tab-separated-values",
        "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    ),
    "/standards/{standard}/file": ("text/csv",),
    "/files/{file}": ("application/xml",),
    "/land/picture": ("image/jpeg", "image/png"),
}
_MAY_BE_NOTHING = ("/land/picture",)
_BODY = {"413": "The body is too large.", "415": "The body is of another kind than the one described."}


def document(app: OpenAPI) -> Json:
    """The document of an application made with its routes documented."""
    made: Json = app.api_doc
    made["components"] = {name: part for name, part in made["components"].items() if part is not None}
    for path, operations in made["paths"].items():
        for operation in operations.values():
            told = dict(_ANY)
            if "{" in path:
                told |= {**_PATH, **_CHANGE}
            if "requestBody" in operation:
                told |= _BODY
            answers = operation["responses"]
            answers |= {code: {"description": words, "content": _PROBLEM} for code, words in told.items()}
            for end, kinds in _FILES.items():
                if path.endswith(end) and "requestBody" not in operation:
                    content = {kind: {"schema": {"type": "string", "format": "binary"}} for kind in kinds}
                    answers["200"] = {"description": "The file.", "content": content}
                    if end in _MAY_BE_NOTHING:
                        answers["204"] = {"description": "There is nothing there."}
            if path.endswith(_BINARY):
                answers["200"]["content"]["application/octet-stream"] = {
                    "schema": {"type": "string", "format": "binary"}
                }
    return made
