"""Files are uploaded in pieces and kept; a job may be given more than a revision and a slot."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

_MOMENT = sa.DateTime().with_variant(mysql.DATETIME(fsp=6), "mysql", "mariadb")
_LONG = sa.Text().with_variant(mysql.LONGTEXT(), "mysql", "mariadb")
_BLOB = sa.LargeBinary().with_variant(mysql.MEDIUMBLOB(), "mysql", "mariadb")


def upgrade() -> None:
    op.add_column("job", sa.Column("asked", _LONG, nullable=True))
    op.create_table(
        "upload",
        sa.Column("id", sa.Integer(), nullable=False, autoincrement=True),
        sa.Column("project_id", sa.Integer(), sa.ForeignKey("project.id", name="fk_upload_project_id"), nullable=False),
        sa.Column("file_name", sa.String(200), nullable=False),
        sa.Column("size", sa.BigInteger(), nullable=False),
        sa.Column("made_at", _MOMENT, nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_upload"),
    )
    op.create_index("ix_upload_project_id", "upload", ["project_id"])
    op.create_table(
        "upload_piece",
        sa.Column(
            "upload_id", sa.Integer(), sa.ForeignKey("upload.id", name="fk_upload_piece_upload_id"), nullable=False
        ),
        sa.Column("number", sa.Integer(), nullable=False, autoincrement=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("data", _BLOB, nullable=False),
        sa.PrimaryKeyConstraint("upload_id", "number", name="pk_upload_piece"),
    )
