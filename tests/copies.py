"""A project of its own for each test that saves: what one leaves behind disturbs no other."""

from sqlalchemy import insert, literal, select

from delgrun.service.projects import Projects
from delgrun.store import models, revisions


def copy_of(projects: Projects, demo: int, name: str = "own") -> int:
    """A project like the demo as it was loaded: it begins with the same five revisions."""
    with projects.database.session() as session:
        pid = revisions.create_project(session, name)
        for table, number in ((models.Revision.__table__, "number"), (models.RevisionSlot.__table__, "revision")):
            own_columns = [literal(pid) if c.name == "project_id" else c for c in table.columns]
            rows = select(*own_columns).where(table.c.project_id == demo, table.c[number].between(1, 5))
            session.execute(insert(table).from_select([c.name for c in table.columns], rows))
    return pid
