"""Tiles of pictures that a project brought itself; never changed."""

from collections.abc import Iterable

from sqlalchemy import insert
from sqlalchemy.orm import Session

from delgrun.store import models as m
from delgrun.store.revisions import now

_AT_ONCE = 200


def put(session: Session, project_id: int, file_name: str, tiles: Iterable[tuple[int, int, int, bytes]]) -> int:
    """Keep a picture's tiles, (zoom, column, row, file) each; its number."""
    picture = m.Picture(project_id=project_id, file_name=file_name, made_at=now())
    session.add(picture)
    session.flush()
    rows = [
        {"picture_id": picture.id, "zoom": z, "tile_column": c, "tile_row": r, "data": data} for z, c, r, data in tiles
    ]
    for k in range(0, len(rows), _AT_ONCE):
        session.execute(insert(m.PictureTile), rows[k : k + _AT_ONCE])
    return picture.id


def tile(session: Session, project_id: int, number: int, zoom: int, column: int, row: int) -> bytes | None:
    """A tile of a project's picture; None where it has none there."""
    picture = session.get(m.Picture, number)
    if picture is None or picture.project_id != project_id:
        return None
    found = session.get(m.PictureTile, (number, zoom, column, row))
    return None if found is None else found.data
