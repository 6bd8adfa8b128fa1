"""A typical section is rows of elements, layers and batters; how densely sections lie and topsoil stand by themselves.

What was one row of ten numbers becomes a section with the same on both sides, and a second input in the same revisions.
"""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

_FIRST = {"verge_width_m": 0.0}


def _number(name: str, *, free: bool = False) -> "sa.Column[Any]":
    return sa.Column(name, sa.Double(), nullable=free)


def _text(name: str, longest: int) -> "sa.Column[Any]":
    return sa.Column(name, sa.String(longest), nullable=False)


def _flag(name: str) -> "sa.Column[Any]":
    return sa.Column(name, sa.Boolean(), nullable=False)


def _head(name: str, *columns: "sa.Column[Any]") -> sa.Table:
    key: sa.Column[int] = sa.Column("version_id", sa.Integer(), sa.ForeignKey("version.id"), primary_key=True)
    return op.create_table(name, key, *columns)


def _rows(name: str, of: str, *columns: "sa.Column[Any]") -> sa.Table:
    key: sa.Column[int] = sa.Column("version_id", sa.Integer(), sa.ForeignKey(f"{of}.version_id"), primary_key=True)
    place = sa.Column("position", sa.Integer(), primary_key=True, autoincrement=False)
    return op.create_table(name, key, place, *columns)


_MADE = (
    "library_entry", "section_element", "section_layer", "section_batter", "typical_section_version", "topsoil_stretch",
    "works_version",
)  # fmt: skip


def upgrade() -> None:
    # Tables are made and dropped at once, whatever becomes of the rest: cut off in the middle, it begins again.
    if not sa.inspect(op.get_bind()).has_table("section_version"):
        return
    for name in _MADE:
        op.execute(f"DROP TABLE IF EXISTS {name}")
    op.execute("DELETE FROM revision_slot WHERE slot = 'works'")
    op.execute("DELETE FROM version WHERE kind = 'works'")
    op.create_table(
        "library_entry",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("what", sa.String(20), nullable=False),
        sa.Column("version_id", sa.Integer(), sa.ForeignKey("version.id"), nullable=False),
        sa.Column("made_at", sa.DateTime().with_variant(mysql.DATETIME(fsp=6), "mysql", "mariadb"), nullable=False),
        sa.UniqueConstraint("what", "name", name=op.f("uq_library_entry_what_name")),
    )
    heads = _head("typical_section_version", _text("name", 60))
    elements = _rows(
        "section_element", "typical_section_version", _text("side", 20), _text("kind", 20), _text("name", 60),
        _number("width_m"), _number("fall"), _number("drop_m", free=True), _number("front_h_over_v"),
        _number("back_h_over_v", free=True), _number("depth_m"), _text("built", 20), _number("exceeds_m"),
        _flag("written"),
    )  # fmt: skip
    layers = _rows(
        "section_layer", "typical_section_version", _text("side", 20), _text("name", 60), _number("thickness_m"),
        _text("first", 200), _text("last", 200), _text("ends", 20), _number("extend_m"),
        _number("extend_fall", free=True), _flag("to_ground"), _number("price_per_m3"),
    )  # fmt: skip
    batters = _rows(
        "section_batter", "typical_section_version", _text("side", 20), _text("kind", 20), _number("up_to_m", free=True),
        _number("h_over_v"), _number("height_m", free=True), _number("bench_m"), _number("bench_fall"),
    )  # fmt: skip
    works = _head(
        "works_version", _text("section", 20), _number("interval_m"), _number("topsoil_depth_m"),
        _number("topsoil_back_m"), _text("batters_to", 20), _text("survey", 200),
    )  # fmt: skip
    connection = op.get_bind()
    old = sa.Table("section_version", sa.MetaData(), autoload_with=connection)
    version = sa.Table("version", sa.MetaData(), autoload_with=connection)
    slots = sa.Table("revision_slot", sa.MetaData(), autoload_with=connection)
    owners = dict(connection.execute(sa.select(version.c.id, version.c.project_id)).all())
    for row in connection.execute(sa.select(old)).mappings().all():
        was = {**_FIRST, **row}
        one = was["version_id"]
        connection.execute(heads.insert().values(version_id=one, name="Two lanes"))
        own = [(side, e) for side in ("left", "right") for e in _elements(was)]
        for i, (side, (kind, width, fall)) in enumerate(own):
            connection.execute(
                elements.insert().values(
                    version_id=one,
                    position=i,
                    side=side,
                    kind=kind,
                    name=kind,
                    width_m=width,
                    fall=fall,
                    drop_m=None,
                    front_h_over_v=3.0,
                    back_h_over_v=None,
                    depth_m=0.5,
                    built="always",
                    exceeds_m=0.0,
                    written=True,
                )
            )
        if was["pavement_thickness_m"] > 0:
            for i, side in enumerate(("left", "right")):
                connection.execute(
                    layers.insert().values(
                        version_id=one,
                        position=i,
                        side=side,
                        name="pavement",
                        thickness_m=was["pavement_thickness_m"],
                        first="",
                        last="",
                        ends="own edge",
                        extend_m=0.0,
                        extend_fall=None,
                        to_ground=False,
                        price_per_m3=0.0,
                    )
                )
        for i, (side, of) in enumerate((s, o) for s in ("left", "right") for o in ("cut", "fill")):
            connection.execute(
                batters.insert().values(
                    version_id=one,
                    position=i,
                    side=side,
                    kind=of,
                    up_to_m=None,
                    h_over_v=was[f"{of}_batter_h_over_v"],
                    height_m=None,
                    bench_m=0.0,
                    bench_fall=0.0,
                )
            )
        made = connection.execute(version.insert().values(project_id=owners[one], kind="works"))
        other = (made.inserted_primary_key or [None])[0]
        connection.execute(
            works.insert().values(
                version_id=other,
                section="section",
                interval_m=was["interval_m"],
                topsoil_depth_m=was["topsoil_depth_m"],
                topsoil_back_m=0.0,
                batters_to="ground",
                survey="",
            )
        )
        held = sa.select(slots).where(slots.c.slot == "section", slots.c.version_id == one)
        for place in connection.execute(held).mappings().all():
            connection.execute(slots.insert().values({**place, "slot": "works", "version_id": other}))
    op.drop_table("section_version")


def _elements(was: dict[str, Any]) -> list[tuple[str, float, float]]:
    each = (
        ("lane", was["lane_width_m"], was["lane_crossfall"]),
        ("shoulder", was["shoulder_width_m"], was["shoulder_crossfall"]),
        ("verge", was["verge_width_m"], was["shoulder_crossfall"]),
    )
    return [e for e in each if e[1] > 0]
