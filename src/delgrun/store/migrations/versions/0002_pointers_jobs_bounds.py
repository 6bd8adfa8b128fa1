"""Undo by pointers instead of a walk, saves named by the page, jobs that are taken up again, glances of projects

Bounds of fields stand in one CHECK a field from now on (store/grow.py adds those), so the old ones go.
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None

_MOMENT = sa.DateTime().with_variant(mysql.DATETIME(fsp=6), "mysql", "mariadb")
_LONG = sa.Text().with_variant(mysql.LONGTEXT(), "mysql", "mariadb")
_OLD_CHECKS = (
    ("cost_version", "ck_cost_version_factor"),
    ("limits_version", "ck_limits_version_grades"),
    ("section_version", "ck_section_version_sizes"),
    ("centreline_ip", "ck_centreline_ip_radius"),
    ("grade_line_ip", "ck_grade_line_ip_length"),
)


def upgrade() -> None:
    op.add_column("revision", sa.Column("undo_top", sa.Integer(), nullable=True))
    op.add_column("revision", sa.Column("redo_top", sa.Integer(), nullable=True))
    op.add_column("revision", sa.Column("token", sa.String(40), nullable=True))
    op.create_index("ix_revision_slot_newest", "revision_slot", ["project_id", "slot", "revision"])
    _point_to_tops(op.get_bind())

    op.add_column("job", sa.Column("kind", sa.String(16), nullable=False, server_default="search"))
    op.add_column("job", sa.Column("attempt", sa.Integer(), nullable=False, server_default="1"))
    op.add_column("job", sa.Column("beat_at", _MOMENT, nullable=True))
    op.add_column("job", sa.Column("state", _LONG, nullable=True))
    op.create_index("ix_job_status", "job", ["status"])
    op.execute("UPDATE job SET status = 'failed' WHERE status = 'interrupted'")
    for column, kind in (("kind", sa.String(16)), ("attempt", sa.Integer())):
        op.alter_column("job", column, existing_type=kind, existing_nullable=False, server_default=None)

    op.create_table(
        "glance",
        sa.Column("project_id", sa.Integer(), sa.ForeignKey("project.id", name="fk_glance_project_id"), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("made", _LONG, nullable=False),
        sa.PrimaryKeyConstraint("project_id", name="pk_glance"),
    )
    for table, name in _OLD_CHECKS:
        op.execute(f"ALTER TABLE {table} DROP CONSTRAINT {name}")


def _point_to_tops(bind: sa.Connection) -> None:
    """Walk each history once, as undo did each time before."""
    rows = bind.execute(
        sa.text("SELECT project_id, number, kind, turns FROM revision ORDER BY project_id, number")
    ).all()
    here: int | None = None
    done: list[int] = []
    undone: list[int] = []
    for project, number, kind, turns in rows:
        if project != here:
            here, done, undone = project, [], []
        if number > 0 and kind == "edit":
            done.append(number)
            undone = []
        elif kind == "undo":
            done.pop()
            undone.append(number)
        elif kind == "redo":
            undone.pop()
            done.append(turns)
        bind.execute(
            sa.text("UPDATE revision SET undo_top = :u, redo_top = :r WHERE project_id = :p AND number = :n"),
            {"u": done[-1] if done else None, "r": undone[-1] if undone else None, "p": project, "n": number},
        )
