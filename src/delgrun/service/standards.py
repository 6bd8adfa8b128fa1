"""Families of limits: those that come along, and those that an office brought itself."""

from dataclasses import asdict
from functools import lru_cache

from delgrun.core.errors import DesignInputError
from delgrun.core.standards.families import STANDARDS
from delgrun.core.standards.own import own_standard
from delgrun.core.standards.standard import Standard, Wish
from delgrun.exchange.limit_table import read_limits, write_limits
from delgrun.service.wire import Json
from delgrun.store import standards as kept
from delgrun.store.database import Database

_OWN = "own-"


@lru_cache(maxsize=32)
def _own(of: kept.KeptStandard) -> Standard:
    """A kept table as a set of limits, read once; raises DesignInputError where it can't be read (any more)."""
    return own_standard(f"{_OWN}{of.id}", of.name, read_limits(of.text))


def all_of_them(database: Database) -> list[Json]:
    """Every family: its id, its name, its source and edition, and whether it is an office's own."""
    with database.session() as session:
        own = kept.listed(session)
    out = [
        {"id": s.id, "name": s.name, "source": s.source, "edition": s.edition, "own": False, "form": s.form}
        for s in STANDARDS
    ]
    for k in own:
        try:
            source, edition = _own(k).source, _own(k).edition
        except DesignInputError as e:
            # It was kept under rules that were looser: it can still be seen, and taken away.
            source, edition = f"It can't be used any more. {e.message}", ""
        out.append(
            {"id": f"{_OWN}{k.id}", "name": k.name, "source": source, "edition": edition, "own": True, "form": None}
        )
    return out


def find(database: Database, id_: str) -> Standard:
    """One of the families; raises DesignInputError for another."""
    found = next((s for s in STANDARDS if s.id == id_), None)
    number = id_.removeprefix(_OWN)
    if found is None and id_.startswith(_OWN) and number.isdecimal():
        with database.session() as session:
            own = kept.get(session, int(number))
        found = None if own is None else _own(own)
    if found is None:
        raise DesignInputError("standard", "There is no set of limits “{id}” here (any more): choose another.", id=id_)
    return found


def offered(database: Database, id_: str, wish: Wish) -> list[Json]:
    """What a family offers for a road: each value with its formula and source."""
    return [asdict(o) for o in find(database, id_).offers(wish)]


def add(database: Database, name: str, text: str) -> str:
    """Keep a table as a set of the office's own, in place of one with that name; its id."""
    read_limits(text)
    if any(s.name.lower() == name.lower() for s in STANDARDS):
        raise DesignInputError("name", "“{name}” comes along with the program: give yours another name.", name=name)
    with database.session() as session:
        return f"{_OWN}{kept.put(session, name, text)}"


def remove(database: Database, id_: str) -> None:
    """Take one of the office's own away; raises DesignInputError where it is none."""
    number = id_.removeprefix(_OWN)
    with database.session() as session:
        if not (id_.startswith(_OWN) and number.isdecimal() and kept.drop(session, int(number))):
            raise DesignInputError("standard", "“{id}” is no set of your own (any more).", id=id_)


def as_file(database: Database, id_: str) -> tuple[str, str]:
    """A family as a table: its file name, and its text."""
    of = find(database, id_)
    return f"limits-{id_}.csv", write_limits(of)
