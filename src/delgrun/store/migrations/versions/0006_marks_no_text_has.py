"""Numbers in kept sentences stand between code points that no text from outside has."""

import re
from collections.abc import Callable

import sqlalchemy as sa
from alembic import op

from delgrun.core.units import DIMENSIONS, WORDS_IN_FEET
from delgrun.store import points_blob as blob

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

# As they were written before: the same letters could stand in a name.
_BEFORE = re.compile(
    rf"⟦(-?\d+(?:\.\d+)?(?:e[-+]?\d+)?\|\+?(?:{'|'.join(DIMENSIONS)})|\|(?i:{'|'.join(WORDS_IN_FEET)}))⟧"
)
# What stands in quotation marks is somebody's own.
_QUOTED = re.compile("(“[^”]*”)")


def upgrade() -> None:
    connection = op.get_bind()
    for table, key, column in (("revision", ("project_id", "number"), "label"), ("job", ("id",), "message")):
        _rewrite(connection, table, key, column, _sentence)
    _rewrite(connection, "job", ("id",), "result", _json)
    # Worked out again when they are next asked for.
    op.execute("DELETE FROM glance")
    chunks = connection.execute(sa.text("SELECT version_id, number, data FROM survey_chunk WHERE part = 'summary'"))
    for version, number, data in chunks.all():
        before = blob.unpack_bytes([data])
        after = _json(before.decode()).encode()
        if after != before:
            (packed,) = blob.pack_bytes(after)
            connection.execute(
                sa.text(
                    "UPDATE survey_chunk SET data = :data, sha256 = :sha "
                    "WHERE version_id = :version AND number = :number AND part = 'summary'"
                ),
                {"data": packed, "sha": blob.checksum(packed), "version": version, "number": number},
            )


def _rewrite(
    connection: sa.Connection, table: str, key: tuple[str, ...], column: str, how: Callable[[str], str]
) -> None:
    rows = connection.execute(sa.text(f"SELECT {', '.join(key)}, {column} FROM {table} WHERE {column} LIKE '%⟦%'"))
    where = " AND ".join(f"{k} = :{k}" for k in key)
    for row in rows.all():
        values = dict(zip(key, row[:-1], strict=True)) | {"text": how(row[-1])}
        connection.execute(sa.text(f"UPDATE {table} SET {column} = :text WHERE {where}"), values)


def _sentence(text: str) -> str:
    parts = _QUOTED.split(text)
    parts[::2] = [_json(part) for part in parts[::2]]
    return "".join(parts)


def _json(text: str) -> str:
    return _BEFORE.sub("\ufdd0\\1\ufdd1", text)
