"""Tables of how sections vary along the road: superelevation with widening, and exceptions with their reasons."""

import numpy as np

from delgrun.core.inputs import ALONG
from delgrun.core.section.along import SectionsAlong
from delgrun.core.units import chainage_text
from delgrun.exchange.tables import Cell, Column
from delgrun.service.case import Case
from delgrun.service.results import of_design
from delgrun.service.tables.kind import STATION, Made, TableKind, TableWish, metres


def _superelevation(case: Case, _wish: TableWish) -> Made:
    """Falls and widening of the lanes, left and right apart, wherever they turn."""
    columns = (
        Column("what"), *STATION, Column("left falls", 3, "fall"), Column("right falls", 3, "fall"),
        metres("left widened"), metres("right widened"),
    )  # fmt: skip
    design = of_design.design(case).value
    d = design.diagram
    if d is None or not d.places:
        return columns, []
    named = {k.chainage_m: k.what for k in d.keys}
    s = np.array(d.places)
    falls, wide = design.lane_falls(s), d.at(s).widening_m
    rows: list[list[Cell]] = [
        [named.get(at, ""), chainage_text(at), at, *falls[i].tolist(), *wide[i].tolist()]
        for i, at in enumerate(s.tolist())
    ]
    return columns, rows


def _exceptions(case: Case, _wish: TableWish) -> Made:
    """What differs from the typical section in places, and why."""
    sizes = ("width_m", "fall", "drop_m", "depth_m", "cut_h_over_v", "fill_h_over_v")
    columns = (
        Column("from"), Column("to"), Column("side"), Column("outer point"), metres("width"), Column("fall", 3, "fall"),
        metres("drop"), metres("depth"), Column("cut 1 :", 2), Column("fill 1 :", 2), Column("led by"),
        Column("reason"),
    )  # fmt: skip
    along: SectionsAlong = case.state.get(ALONG)
    return columns, [
        [
            chainage_text(row.from_m), chainage_text(row.to_m), row.side, row.point or "batters",
            *(getattr(row, name) for name in sizes), row.led_by, row.reason,
        ]
        for row in along.exceptions if row.road == case.road
    ]  # fmt: skip


SUPERELEVATION = TableKind(name="superelevation", title="Superelevation and widening", make=_superelevation)
EXCEPTIONS = TableKind(name="exceptions", title="Exceptions", make=_exceptions)
