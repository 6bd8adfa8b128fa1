"""Sets of limits that an office brought itself: the tables as they came."""

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from delgrun.store import models as m
from delgrun.store.revisions import now


@dataclass(frozen=True)
class KeptStandard:
    """A set by its number, with its name and its table."""

    id: int
    name: str
    text: str


def listed(session: Session) -> list[KeptStandard]:
    rows = session.scalars(select(m.OwnStandard).order_by(m.OwnStandard.name))
    return [KeptStandard(row.id, row.name, row.text) for row in rows]


def get(session: Session, number: int) -> KeptStandard | None:
    row = session.get(m.OwnStandard, number)
    return None if row is None else KeptStandard(row.id, row.name, row.text)


def put(session: Session, name: str, text: str) -> int:
    """Keep a set under its name, in place of one that has it; its number."""
    row = session.scalar(select(m.OwnStandard).where(m.OwnStandard.name == name).with_for_update())
    if row is None:
        row = m.OwnStandard(name=name, text=text, made_at=now())
        session.add(row)
    else:
        row.text, row.made_at = text, now()
    session.flush()
    return row.id


def drop(session: Session, number: int) -> bool:
    """Take a set away; whether there was one. Limits that were taken from it stay what they are."""
    row = session.get(m.OwnStandard, number)
    if row is None:
        return False
    session.delete(row)
    return True
