"""A picture of one's own under the map: taken in as a file, kept as tiles."""

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.backdrop import Backdrop
from delgrun.core.inputs import BACKDROP
from delgrun.core.units import say
from delgrun.exchange import apart
from delgrun.exchange.pictures import Picture
from delgrun.exchange.readers import reader_of
from delgrun.service import coordinates, uploads
from delgrun.service.errors import NotReady
from delgrun.service.projects import Projects, Saving
from delgrun.store import pictures
from delgrun.store import uploads as kept


def take(projects: Projects, to: Saving, upload_id: int, world: str) -> tuple[int, list[str]]:
    """Lay an uploaded picture under the map; returns the revision, and what there is to know of it."""
    row = uploads.find(projects, to.project_id, upload_id)
    with kept.buffered(kept.UploadedFile(projects.database, row)) as file:
        head = file.read(4096)
        file.seek(0)
        try:
            found: Picture = apart.read(reader_of("picture", row.file_name, head), file, world or None)
        except kept.StillComing:
            raise NotReady("survey", "The file is still on its way: take it in when all of it is here.") from None
    state = projects.states.at(to.project_id, to.base)
    clash = coordinates.clash(state.coordinates, found.said)
    if clash:
        raise DesignInputError("file", clash)
    projects.need_room(2 * sum(len(t.data) for t in found.tiles))
    with projects.database.session() as session:
        number = pictures.put(
            session, to.project_id, row.file_name, ((t.zoom, t.column, t.row, t.data) for t in found.tiles)
        )
    west, south, east, north = found.box_m
    strength = (state.get(BACKDROP) or Backdrop()).opacity
    laid = Backdrop(
        picture=number, picture_name=row.file_name, west_m=west, south_m=south, east_m=east, north_m=north,
        finest=found.finest, opacity=strength,
    )  # fmt: skip
    said = []
    if 2.0**-found.finest > 1.5 * found.pixel_m:
        said.append(
            say(
                "Its pixels are {own:plan}, and {kept:plan} where it is kept: cut it down to the strip of the road to "
                "have it finer.",
                own=found.pixel_m,
                kept=2.0**-found.finest,
            )
        )
    return projects.save(to, f"Picture “{row.file_name}” under the map", {BACKDROP.name: laid}), said


def tile(projects: Projects, project_id: int, number: int, zoom: int, column: int, row: int) -> bytes | None:
    """A tile of a picture; None where it shows nothing."""
    with projects.database.session() as session:
        return pictures.tile(session, project_id, number, zoom, column, row)
