"""Glances of projects as they were last worked out: derived, and good for one revision only."""

from typing import Any

import orjson
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from delgrun.store import models as m


def read(session: Session, project_id: int, revision: int) -> dict[str, Any] | None:
    """The glance of this revision; None where there is none, or one of another revision."""
    row = session.get(m.Glance, project_id)
    if row is None or row.revision != revision:
        return None
    kept: dict[str, Any] = orjson.loads(row.made)
    return kept


def write(session: Session, project_id: int, revision: int, made: dict[str, Any]) -> None:
    """Keep the glance of a revision in place of an older one."""
    values = {"revision": revision, "made": orjson.dumps(made).decode()}
    session.execute(insert(m.Glance).values(project_id=project_id, **values).on_duplicate_key_update(**values))
