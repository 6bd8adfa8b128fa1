"""Revisions: saving on top of the one it was based on, undo and redo as revisions of their own."""

from collections.abc import Container, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Literal, assert_never

from sqlalchemy import exists, func, select, union_all
from sqlalchemy.orm import Session

from delgrun.core.inputs import KINDS, kind_of_slot
from delgrun.core.units import shortened
from delgrun.store import inputs
from delgrun.store import models as m

# Entries that the page is given of the history; undo itself reaches back without limit.
LISTED = 30


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


@dataclass(frozen=True)
class Listed:
    """One project in the list, with its newest revision."""

    id: int
    name: str
    newest: RevisionInfo


def projects(session: Session) -> list[Listed]:
    """Every project with its newest revision, by one query."""
    r = m.Revision
    newest = (
        select(func.max(m.Revision.number))
        .where(m.Revision.project_id == m.Project.id)
        .correlate(m.Project)
        .scalar_subquery()
    )
    rows = session.execute(
        select(m.Project.id, m.Project.name, r.number, r.created_at, r.author, r.kind, r.label)
        .join(m.Revision, (m.Revision.project_id == m.Project.id) & (m.Revision.number == newest))
        .order_by(m.Project.id)
    )
    return [
        Listed(pid, name, RevisionInfo(number, at, author, kind, label))
        for pid, name, number, at, author, kind, label in rows
    ]


def projects_with(session: Session, slot: str) -> set[int]:
    """Projects that ever had something in a slot."""
    there = exists().where(m.RevisionSlot.project_id == m.Project.id, m.RevisionSlot.slot == slot)
    return set(session.scalars(select(m.Project.id).where(there)))


def project_name(session: Session, project_id: int) -> str:
    """Raises UnknownProject."""
    project = session.get(m.Project, project_id)
    if project is None:
        raise UnknownProject(project_id)
    return project.name


def saved_at(session: Session, project_id: int, revision: int) -> datetime:
    """When a revision was saved, UTC; raises UnknownProject."""
    found = session.get(m.Revision, (project_id, revision))
    if found is None:
        raise UnknownProject(project_id)
    return found.created_at


def head(session: Session, project_id: int, *, lock: bool = False) -> RevisionInfo:
    """The newest revision; with `lock`, nobody else can save before this transaction ends."""
    return _info(_head(session, project_id, lock=lock))


def _head(session: Session, project_id: int, *, lock: bool) -> m.Revision:
    query = select(m.Project.id).where(m.Project.id == project_id)
    if session.scalar(query.with_for_update() if lock else query) is None:
        raise UnknownProject(project_id)
    newest = select(m.Revision).where(m.Revision.project_id == project_id).order_by(m.Revision.number.desc()).limit(1)
    return session.scalars(newest.with_for_update(read=True) if lock else newest).one()


def _info(r: m.Revision) -> RevisionInfo:
    return RevisionInfo(r.number, r.created_at, r.author, r.kind, r.label)


_NEWEST = "FORCE INDEX (ix_revision_slot_newest)"
# Sorts behind every number of a slot.
_LAST = "~"


def _slots(session: Session, project_id: int) -> list[str]:
    """The slots a project ever had, one look into the index for each: DISTINCT would read the whole history.

    Those of numerous kinds are passed over.
    """
    s = m.RevisionSlot
    out: list[str] = []
    after = ""
    while True:
        query = select(s.slot).with_hint(s, _NEWEST).where(s.project_id == project_id).order_by(s.slot).limit(1)
        slot = session.scalar(query.where(s.slot > after) if after else query)
        if slot is None:
            return out
        if kind_of_slot(slot).numerous:
            after = f"{kind_of_slot(slot).name}-{_LAST}"
        else:
            out.append(slot)
            after = slot


def slots_at(session: Session, project_id: int, revision: int) -> dict[str, tuple[int, str]]:
    """Version and kind in every filled slot as of a revision.

    Its cost does not grow with the history, but for that of numerous kinds, whose slots hardly ever change again.
    """
    s = m.RevisionSlot
    names = _slots(session, project_id)
    found: dict[str, tuple[int, str]] = {}
    if names:
        newest = [
            select(s.slot, s.version_id)
            .with_hint(s, _NEWEST)
            .where(s.project_id == project_id, s.slot == name, s.revision <= revision)
            .order_by(s.revision.desc())
            .limit(1)
            .subquery()
            for name in names
        ]
        rows = session.execute(union_all(*(select(q) for q in newest)))
        found = {slot: (version, kind_of_slot(slot).name) for slot, version in rows if version is not None}
    for kind in KINDS:
        if kind.numerous:
            found |= _numerous_at(session, project_id, revision, kind.name)
    return found


def _numerous_at(session: Session, project_id: int, revision: int, kind: str) -> dict[str, tuple[int, str]]:
    """The same for the slots of one numerous kind, by one query."""
    s = m.RevisionSlot
    newest = (
        select(s.slot, func.max(s.revision).label("revision"))
        .with_hint(s, _NEWEST)
        .where(s.project_id == project_id, s.revision <= revision)
        .where(s.slot > f"{kind}-", s.slot < f"{kind}-{_LAST}")
        .group_by(s.slot)
        .subquery()
    )
    rows = session.execute(
        select(s.slot, s.version_id)
        .join(newest, (s.slot == newest.c.slot) & (s.revision == newest.c.revision))
        .where(s.project_id == project_id, s.version_id.is_not(None))
    )
    return {slot: (version, kind) for slot, version in rows if version is not None}


def save(
    session: Session,
    project_id: int,
    base: int,
    author: str,
    label: str,
    changes: Mapping[str, object | None],
    token: str | None = None,
    minds: Container[str] | None = None,
) -> int:
    """One revision with these slots changed (None takes a slot away); returns its number.

    A change with the `token` of the revision that follows `base` is that one, sent again: nothing is written.
    `minds`: only kinds of input whose changes since `base` the change minds, beside those of its own slots; it goes on
    top of all others. Without it, it minds all.

    Raises
    ------
    RevisionConflict
        Something was saved since `base` that the change minds; nothing is written.
    """
    newest = _head(session, project_id, lock=True)
    if newest.number != base:
        since = None if minds is None else _slots_since(session, project_id, base)
        if since is None or any(slot in changes or kind_of_slot(slot).name in (minds or ()) for slot in since):
            return _sent_again(session, project_id, base, token, newest)
    versions = {
        slot: None if value is None else inputs.write(session, project_id, value) for slot, value in changes.items()
    }
    number = newest.number + 1
    _append(session, newest, author, "edit", None, label, versions, token, undo_top=number, redo_top=None)
    return number


def _slots_since(session: Session, project_id: int, revision: int) -> list[str]:
    """What was changed after a revision."""
    s = m.RevisionSlot
    return list(session.scalars(select(s.slot).where(s.project_id == project_id, s.revision > revision).distinct()))


def save_as_of(
    session: Session, project_id: int, base: int, author: str, label: str, revision: int, token: str | None = None
) -> int:
    """One revision with every slot as it was at an earlier one; returns its number, `base` where nothing would change.

    Raises
    ------
    RevisionConflict
        `base` is no longer the newest revision; nothing is written.
    """
    newest = _head(session, project_id, lock=True)
    if newest.number != base:
        return _sent_again(session, project_id, base, token, newest)
    there, then = slots_at(session, project_id, base), slots_at(session, project_id, revision)
    versions = {
        slot: then[slot][0] if slot in then else None
        for slot in sorted(there.keys() | then.keys())
        if there.get(slot) != then.get(slot)
    }
    if not versions:
        return base
    number = base + 1
    _append(session, newest, author, "edit", None, label, versions, token, undo_top=number, redo_top=None)
    return number


def _sent_again(session: Session, project_id: int, base: int, token: str | None, newest: m.Revision) -> int:
    """The revision that a change became whose answer was lost; else the conflict."""
    if token is not None:
        for r in session.scalars(
            select(m.Revision).where(m.Revision.project_id == project_id, m.Revision.number == base + 1)
        ):
            if r.token == token:
                return r.number
    raise RevisionConflict(_info(newest))


def saved_as(session: Session, project_id: int, token: str) -> int | None:
    """The revision that a change with this name became, however long ago; None where it was not saved."""
    r = m.Revision
    return session.scalar(select(r.number).where(r.project_id == project_id, r.token == token))


def _append(
    session: Session,
    newest: m.Revision,
    author: str,
    kind: str,
    turns: int | None,
    label: str,
    versions: Mapping[str, int | None],
    token: str | None,
    *,
    undo_top: int | None,
    redo_top: int | None,
) -> None:
    project_id, number = newest.project_id, newest.number + 1
    session.add(
        m.Revision(
            project_id=project_id,
            number=number,
            created_at=now(),
            author=author,
            kind=kind,
            turns=turns,
            label=shortened(label, 200),
            token=token,
            undo_top=undo_top,
            redo_top=redo_top,
        )
    )
    session.flush()
    for slot, vid in versions.items():
        session.add(m.RevisionSlot(project_id=project_id, revision=number, slot=slot, version_id=vid))
    session.flush()


def history(session: Session, project_id: int) -> History:
    """Undo and redo as they stand, and the newest revisions, newest first."""
    newest = _head(session, project_id, lock=False)
    r = m.Revision
    rows = session.execute(
        select(r.number, r.created_at, r.author, r.kind, r.label)
        .where(r.project_id == project_id)
        .order_by(r.number.desc())
        .limit(LISTED)
    )

    def named(edit: int | None) -> tuple[int, str] | None:
        return None if edit is None else (edit, _revision(session, project_id, edit).label)

    redo = None if newest.redo_top is None else _revision(session, project_id, newest.redo_top).turns
    return History(newest.number, named(newest.undo_top), named(redo), [RevisionInfo(*row) for row in rows])


def _revision(session: Session, project_id: int, number: int) -> m.Revision:
    return session.get_one(m.Revision, (project_id, number))


def turn(
    session: Session, project_id: int, base: int, author: str, kind: Literal["undo", "redo"], token: str | None = None
) -> int:
    """Undo or redo one edit as a new revision; returns its number, or `base` with nothing to turn.

    The edits that can be undone are a stack, and so are the undos that can be redone. A revision holds the top
    of each; what lies below an edit is the top of the revision before it.

    Raises
    ------
    RevisionConflict
        `base` is no longer the newest revision.
    """
    newest = _head(session, project_id, lock=True)
    if newest.number != base:
        return _sent_again(session, project_id, base, token, newest)
    if kind == "undo":
        if newest.undo_top is None:
            return base
        edit = newest.undo_top
        below = _revision(session, project_id, edit - 1)
        before = slots_at(session, project_id, edit - 1)
        versions = {
            c.slot: before[c.slot][0] if c.slot in before else None for c in _changed(session, project_id, edit)
        }
        tops = {"undo_top": below.undo_top, "redo_top": base + 1}
    elif kind == "redo":
        if newest.redo_top is None:
            return base
        undo = _revision(session, project_id, newest.redo_top)
        assert undo.turns is not None
        edit = undo.turns
        versions = {c.slot: c.version_id for c in _changed(session, project_id, edit)}
        tops = {"undo_top": edit, "redo_top": _revision(session, project_id, undo.number - 1).redo_top}
    else:
        assert_never(kind)
    label = _revision(session, project_id, edit).label
    _append(session, newest, author, kind, edit, label, versions, token, **tops)
    return base + 1


def _changed(session: Session, project_id: int, edit: int) -> list[m.RevisionSlot]:
    return list(
        session.scalars(
            select(m.RevisionSlot).where(m.RevisionSlot.project_id == project_id, m.RevisionSlot.revision == edit)
        )
    )
