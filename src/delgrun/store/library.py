"""Sections and pieces of them that are kept for all projects: names for versions that were saved in one."""

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from delgrun.core.section.typical_section import TypicalSection
from delgrun.store import inputs
from delgrun.store import models as m
from delgrun.store.revisions import now


@dataclass(frozen=True)
class KeptSection:
    """What is kept by its number: a section, or a piece that is the elements of one."""

    id: int
    name: str
    what: str
    section: TypicalSection


def listed(session: Session) -> list[KeptSection]:
    rows = session.scalars(select(m.LibraryEntry).order_by(m.LibraryEntry.what, m.LibraryEntry.name)).all()
    found = inputs.read_many(session, [row.version_id for row in rows], "section")
    return [KeptSection(row.id, row.name, row.what, found[row.version_id]) for row in rows]


def put(session: Session, project_id: int, name: str, what: str, section: TypicalSection) -> int:
    """Keep a section or piece under a name, in place of one that has it; its number."""
    version = inputs.write(session, project_id, section)
    row = session.scalar(
        select(m.LibraryEntry).where(m.LibraryEntry.what == what, m.LibraryEntry.name == name).with_for_update()
    )
    if row is None:
        row = m.LibraryEntry(name=name, what=what, version_id=version, made_at=now())
        session.add(row)
    else:
        row.version_id, row.made_at = version, now()
    session.flush()
    return row.id


def drop(session: Session, number: int) -> bool:
    """Take an entry away; whether there was one. Sections that were made of it stay what they are."""
    row = session.get(m.LibraryEntry, number)
    if row is None:
        return False
    session.delete(row)
    return True
