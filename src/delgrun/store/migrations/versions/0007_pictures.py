"""Pictures that a project brought itself, in tiles."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

_MOMENT = sa.DateTime().with_variant(mysql.DATETIME(fsp=6), "mysql", "mariadb")


def upgrade() -> None:
    op.create_table(
        "picture",
        sa.Column("id", sa.Integer(), nullable=False, autoincrement=True),
        sa.Column("project_id", sa.Integer(), nullable=False),
        sa.Column("file_name", sa.String(200), nullable=False),
        sa.Column("made_at", _MOMENT, nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_picture"),
        sa.ForeignKeyConstraint(["project_id"], ["project.id"], name="fk_picture_project_id"),
    )
    op.create_table(
        "picture_tile",
        sa.Column("picture_id", sa.Integer(), nullable=False),
        sa.Column("zoom", sa.Integer(), nullable=False, autoincrement=False),
        sa.Column("tile_column", sa.Integer(), nullable=False, autoincrement=False),
        sa.Column("tile_row", sa.Integer(), nullable=False, autoincrement=False),
        sa.Column("data", mysql.MEDIUMBLOB(), nullable=False),
        sa.PrimaryKeyConstraint("picture_id", "zoom", "tile_column", "tile_row", name="pk_picture_tile"),
        sa.ForeignKeyConstraint(["picture_id"], ["picture.id"], name="fk_picture_tile_picture_id"),
    )
