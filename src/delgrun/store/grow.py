"""Tables of inputs follow their declared fields: what a newer version declares is added, nothing is taken away.

Other tables change by a migration; see docs/decisions/0005.
"""

import logging

import sqlalchemy as sa
from sqlalchemy.exc import DBAPIError
from sqlalchemy.schema import AddConstraint

from delgrun.core.fields import Field
from delgrun.core.inputs import KINDS
from delgrun.store import models as m


def grow(engine: sa.Engine) -> None:
    """Create tables of new kinds; add columns and bounds of new fields, older rows having their first value."""
    for kind in KINDS:
        head, rows = m.TABLES[kind.name]
        _grow_table(engine, head, kind.fields)
        for of in kind.lists:
            _grow_table(engine, rows[of.name], of.fields)


def _grow_table(engine: sa.Engine, table: sa.Table, fields: tuple[Field, ...]) -> None:
    look = sa.inspect(engine)
    if not look.has_table(table.name):
        table.create(engine)
        return
    there = {c["name"] for c in look.get_columns(table.name)}
    with engine.begin() as connection:
        for f in fields:
            if f.name in there:
                continue
            column = m.column_of(f)
            kind = column.type.compile(engine.dialect)
            null = "NULL" if f.optional else "NOT NULL"
            connection.execute(
                sa.text(f"ALTER TABLE {table.name} ADD COLUMN {f.name} {kind} {null} DEFAULT :first"),
                {"first": f.first},
            )
            # Later rows always say what they hold.
            connection.execute(sa.text(f"ALTER TABLE {table.name} ALTER COLUMN {f.name} DROP DEFAULT"))
    bounded = {c["name"] for c in look.get_check_constraints(table.name)}
    for check in (c for c in table.constraints if isinstance(c, sa.CheckConstraint)):
        if check.name in bounded:
            continue
        try:
            with engine.begin() as connection:
                connection.execute(AddConstraint(check))
        except DBAPIError:
            # A row of old breaks it: history is never locked out by a bound.
            logging.getLogger(__name__).warning("%s stays without the bound %s", table.name, check.name)
