"""A state of a project can have a name."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

_MOMENT = sa.DateTime().with_variant(mysql.DATETIME(fsp=6), "mysql", "mariadb")


def upgrade() -> None:
    op.create_table(
        "named_state",
        sa.Column("project_id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("named_at", _MOMENT, nullable=False),
        sa.PrimaryKeyConstraint("project_id", "revision", name="pk_named_state"),
        sa.ForeignKeyConstraint(
            ["project_id", "revision"],
            ["revision.project_id", "revision.number"],
            name="fk_named_state_project_id_revision",
        ),
    )
