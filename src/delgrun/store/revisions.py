"""Revisions: saving on top of the one it was based on, undo and redo as revisions of their own."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from delgrun.store import inputs
from delgrun.store import models as m

# Entries an undo list shows; undo itself reaches back without limit.
LISTED = 200


class RevisionConflict(Exception):
    """Somebody saved since: `head` is the newest revision, nothing was written."""

    def __init__(self, head: "RevisionInfo") -> None:
        super().__init__(f"revision {head.number} was saved since")
        self.head = head


class UnknownProject(LookupError):
    """There is no project of this number."""


@dataclass(frozen=True)
class RevisionInfo:
    number: int
    created_at: datetime
    author: str
    kind: str
    label: str


@dataclass(frozen=True)
class History:
    """What undo and redo would turn next, as (edit number, label); None where there is nothing."""

    head: int
    undo: tuple[int, str] | None
    redo: tuple[int, str] | None
    newest: list[RevisionInfo]


def now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)


def create_project(session: Session, name: str) -> int:
    """A new, empty project at revision 0; returns its number."""
    project = m.Project(name=name, created_at=now())
    session.add(project)
    session.flush()
    session.add(
        m.Revision(
            project_id=project.id, number=0, created_at=now(), author="", kind="edit", turns=None, label="New project"
        )
    )
    session.flush()
    return project.id


def head(session: Session, project_id: int, *, lock: bool = False) -> RevisionInfo:
    """The newest revision; with `lock`, nobody else can save before this transaction ends."""
    query = select(m.Project).where(m.Project.id == project_id)
    if session.scalar(query.with_for_update() if lock else query) is None:
        raise UnknownProject(project_id)
    newest = select(m.Revision).where(m.Revision.project_id == project_id).order_by(m.Revision.number.desc()).limit(1)
    return _info(session.scalars(newest.with_for_update(read=True) if lock else newest).one())


def _info(r: m.Revision) -> RevisionInfo:
    return RevisionInfo(r.number, r.created_at, r.author, r.kind, r.label)


def slots_at(session: Session, project_id: int, revision: int) -> dict[str, tuple[int, str]]:
    """Version and kind in every filled slot as of a revision."""
    newest = (
        select(m.RevisionSlot.slot, func.max(m.RevisionSlot.revision).label("at"))
        .where(m.RevisionSlot.project_id == project_id, m.RevisionSlot.revision <= revision)
        .group_by(m.RevisionSlot.slot)
        .subquery()
    )
    rows = session.execute(
        select(m.RevisionSlot.slot, m.Version.id, m.Version.kind)
        .join(newest, (m.RevisionSlot.slot == newest.c.slot) & (m.RevisionSlot.revision == newest.c.at))
        .join(m.Version, m.Version.id == m.RevisionSlot.version_id)
        .where(m.RevisionSlot.project_id == project_id)
    )
    return {slot: (vid, kind) for slot, vid, kind in rows}


def save(
    session: Session,
    project_id: int,
    base: int,
    author: str,
    label: str,
    changes: Mapping[str, inputs.Input | None],
) -> int:
    """One revision with these slots changed (None takes a slot away); returns its number.

    Raises
    ------
    RevisionConflict
        `base` is no longer the newest revision; nothing is written.
    """
    newest = head(session, project_id, lock=True)
    if newest.number != base:
        raise RevisionConflict(newest)
    versions = {
        slot: None if value is None else inputs.write(session, project_id, value) for slot, value in changes.items()
    }
    return _append(session, project_id, base + 1, author, "edit", None, label, versions)


def _append(
    session: Session,
    project_id: int,
    number: int,
    author: str,
    kind: str,
    turns: int | None,
    label: str,
    versions: Mapping[str, int | None],
) -> int:
    session.add(
        m.Revision(
            project_id=project_id,
            number=number,
            created_at=now(),
            author=author,
            kind=kind,
            turns=turns,
            label=label[:200],
        )
    )
    session.flush()
    for slot, vid in versions.items():
        session.add(m.RevisionSlot(project_id=project_id, revision=number, slot=slot, version_id=vid))
    session.flush()
    return number


def stacks(events: list[tuple[int, str, int | None]]) -> tuple[list[int], list[int]]:
    """Edits that undo and redo would turn, next one last, from (number, kind, turns) in order.

    >>> stacks([(1, "edit", None), (2, "edit", None), (3, "undo", 2)])
    ([1], [2])
    """
    done: list[int] = []
    undone: list[int] = []
    for number, kind, _ in events:
        if kind == "edit":
            done.append(number)
            undone = []
        elif kind == "undo":
            undone.append(done.pop())
        else:
            done.append(undone.pop())
    return done, undone


def history(session: Session, project_id: int) -> History:
    """Undo and redo as they stand, and the newest revisions, newest first."""
    top = head(session, project_id)
    done, undone = _stacks_of(session, project_id)
    labels = {number: session.get_one(m.Revision, (project_id, number)).label for number in (*done[-1:], *undone[-1:])}
    rows = session.scalars(
        select(m.Revision).where(m.Revision.project_id == project_id).order_by(m.Revision.number.desc()).limit(LISTED)
    )
    return History(
        top.number,
        (done[-1], labels[done[-1]]) if done else None,
        (undone[-1], labels[undone[-1]]) if undone else None,
        [_info(r) for r in rows],
    )


def _stacks_of(session: Session, project_id: int) -> tuple[list[int], list[int]]:
    rows = session.execute(
        select(m.Revision.number, m.Revision.kind, m.Revision.turns)
        .where(m.Revision.project_id == project_id, m.Revision.number > 0)
        .order_by(m.Revision.number)
    )
    return stacks([(number, kind, turns) for number, kind, turns in rows])


def turn(session: Session, project_id: int, base: int, author: str, kind: str) -> int:
    """Undo or redo one edit as a new revision; returns its number, or `base` with nothing to turn.

    Raises
    ------
    RevisionConflict
        `base` is no longer the newest revision.
    """
    newest = head(session, project_id, lock=True)
    if newest.number != base:
        raise RevisionConflict(newest)
    done, undone = _stacks_of(session, project_id)
    stack = done if kind == "undo" else undone
    if not stack:
        return base
    edit = stack[-1]
    changed = session.scalars(
        select(m.RevisionSlot).where(m.RevisionSlot.project_id == project_id, m.RevisionSlot.revision == edit)
    ).all()
    if kind == "undo":
        before = slots_at(session, project_id, edit - 1)
        versions = {c.slot: before[c.slot][0] if c.slot in before else None for c in changed}
    else:
        versions = {c.slot: c.version_id for c in changed}
    label = session.get_one(m.Revision, (project_id, edit)).label
    return _append(session, project_id, base + 1, author, kind, edit, label, versions)
