"""Sets of limits that an office brings itself."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

_MOMENT = sa.DateTime().with_variant(mysql.DATETIME(fsp=6), "mysql", "mariadb")


def upgrade() -> None:
    op.create_table(
        "own_standard",
        sa.Column("id", sa.Integer(), nullable=False, autoincrement=True),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("text", mysql.LONGTEXT(), nullable=False),
        sa.Column("made_at", _MOMENT, nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_own_standard"),
        sa.UniqueConstraint("name", name="uq_own_standard_name"),
    )
