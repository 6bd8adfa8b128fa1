"""The history of a project as a list of states, some of which have names."""

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from delgrun.store import models as m
from delgrun.store.revisions import RevisionInfo, UnknownProject, now


@dataclass(frozen=True)
class StateInfo:
    """A state: its revision, the name it was given (empty: none), and the slots that its revision changed."""

    revision: RevisionInfo
    name: str
    slots: tuple[str, ...]


def listed(session: Session, project_id: int, before: int, count: int) -> list[StateInfo]:
    """The newest so many states before a revision, and all older ones that have a name; the newest first."""
    r, n = m.Revision, m.NamedState
    near = select(r.number).where(r.project_id == project_id, r.number < before).order_by(r.number.desc()).limit(count)
    numbers = set(session.scalars(near))
    numbers |= set(session.scalars(select(n.revision).where(n.project_id == project_id, n.revision < before)))
    rows = session.execute(
        select(r.number, r.created_at, r.author, r.kind, r.label, n.name)
        .outerjoin(n, (n.project_id == r.project_id) & (n.revision == r.number))
        .where(r.project_id == project_id, r.number.in_(numbers))
        .order_by(r.number.desc())
    ).all()
    s = m.RevisionSlot
    changed: dict[int, list[str]] = {}
    for number, slot in session.execute(
        select(s.revision, s.slot).where(s.project_id == project_id, s.revision.in_(numbers))
    ):
        changed.setdefault(number, []).append(slot)
    return [
        StateInfo(RevisionInfo(number, at, author, kind, label), name or "", tuple(changed.get(number, ())))
        for number, at, author, kind, label, name in rows
    ]


def give_name(session: Session, project_id: int, revision: int, name: str) -> None:
    """Name the state of a revision, give it another name, or (empty) take its name away.

    Raises
    ------
    UnknownProject
        There is no such project, or no such revision of it.
    """
    if session.get(m.Revision, (project_id, revision)) is None:
        raise UnknownProject(project_id)
    if not name:
        kept = session.get(m.NamedState, (project_id, revision))
        if kept is not None:
            session.delete(kept)
        return
    values = {"name": name, "named_at": now()}
    row = insert(m.NamedState).values(project_id=project_id, revision=revision, **values)
    session.execute(row.on_duplicate_key_update(**values))
