"""Files on their way in: piece by piece, and looked at before they are read."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from delgrun.core.errors import DesignInputError
from delgrun.exchange import apart
from delgrun.service import imports
from delgrun.service.errors import NotReady
from delgrun.service.wire import Json
from delgrun.store import revisions, uploads

if TYPE_CHECKING:
    from delgrun.service.projects import Projects

# What is larger is no file for a page to send.
LARGEST_FILE = 4 * 2**30
_GONE = "This upload is not there any more: choose the file again."


def begin(projects: "Projects", project_id: int, file_name: str, size: int) -> Json:
    """Begin to take in a file."""
    if size > LARGEST_FILE:
        raise DesignInputError("size", f"The file is larger than {LARGEST_FILE // 2**30} GB: cut it into parts.")
    if not size:
        raise DesignInputError("size", "The file is empty: choose the survey's file.")
    # It stands in the database once as it comes and, for a while, in its log.
    projects.need_room(2 * size)
    with projects.database.session() as session:
        revisions.project_name(session, project_id)
        upload_id = uploads.begin(session, project_id, file_name, size)
        return state_of(uploads.get(session, project_id, upload_id))


def put(projects: "Projects", project_id: int, upload_id: int, number: int, data: bytes) -> Json:
    """Keep one piece."""
    row = find(projects, project_id, upload_id)
    if number >= row.pieces or len(data) != row.size_of(number):
        raise DesignInputError("number", f"Piece {number} of “{row.file_name}” is not of the size it is to have.")
    projects.need_room()
    with projects.database.session() as session:
        if not uploads.put(session, upload_id, number, data):
            raise DesignInputError(
                "number",
                f"Piece {number} of “{row.file_name}” is here already and holds something else: choose the file again.",
            )
        return state_of(uploads.get(session, project_id, upload_id))


def whole(projects: "Projects", project_id: int, file_name: str, data: bytes) -> int:
    """Take in a file that is at hand; returns its number."""
    upload_id: int = begin(projects, project_id, file_name, len(data))["id"]
    for number, k in enumerate(range(0, len(data), uploads.PIECE_BYTES)):
        put(projects, project_id, upload_id, number, data[k : k + uploads.PIECE_BYTES])
    return upload_id


def find(projects: "Projects", project_id: int, upload_id: int) -> uploads.UploadRow:
    """An upload of a project; raises NotReady where there is none."""
    try:
        with projects.database.session() as session:
            return uploads.get(session, project_id, upload_id)
    except uploads.UnknownUpload:
        raise NotReady("survey", _GONE) from None


def look(
    projects: "Projects",
    project_id: int,
    upload_id: int,
    layout: Json | None,
    parts: Json | None,
    gone: Callable[[], bool] = apart.nobody_leaves,
) -> Json:
    """How an uploaded file reads, beside what the project holds already; see `imports.preview`.

    Of a text only its first and its last piece need to be there.

    Raises
    ------
    NotReady
        What is to be looked at has not come yet.
    """
    state = projects.states.newest(project_id)
    line = state.centreline.made() if state.centreline else None
    row = find(projects, project_id, upload_id)
    with uploads.buffered(uploads.UploadedFile(projects.database, row)) as file:
        try:
            return imports.preview(row.file_name, file, layout, line, parts, state.read_as, state.coordinates, gone)
        except uploads.StillComing:
            raise NotReady("survey", "The file is still on its way: look again when all of it is here.") from None


def state_of(row: uploads.UploadRow) -> Json:
    """An upload over the wire."""
    return {"id": row.id, "size": row.size, "received": row.received, "piece_bytes": uploads.PIECE_BYTES}
