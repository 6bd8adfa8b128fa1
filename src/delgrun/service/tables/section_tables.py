"""Tables of sections: their named points, and what each takes."""

import numpy as np

from delgrun.core.earthworks.amounts import amounts_of
from delgrun.core.earthworks.columns import Amount
from delgrun.core.gradeline.level_table import level_stations
from delgrun.core.section.section import ShownSection, shown_section
from delgrun.core.units import chainage_text
from delgrun.exchange.tables import Cell, Column
from delgrun.service.case import Case
from delgrun.service.results import of_design, of_road, of_sections
from delgrun.service.tables.kind import STATION, Made, TableKind, TableWish, line_of, metres


def _sections(case: Case, wish: TableWish) -> list[ShownSection]:
    line = line_of(case)
    if wish.interval_m is None:
        s = np.array([r.chainage_m for r in of_sections.reported_at(case)])
    else:
        s, _ = level_stations(line, of_road.stations(case), wish.interval_m, wish.critical)
    design, across = of_design.design(case).value, of_design.ground_at(case, tuple(s.tolist())).value
    return [shown_section(across, at, design, line, i) for i, at in enumerate(s.tolist())]


def _points(case: Case, wish: TableWish) -> Made:
    """Named points of the road, and where its batters meet the ground, from left to right."""
    columns = (Column("point"), *STATION, metres("offset"), metres("level"), metres("easting"), metres("northing"))
    line = of_road.centreline(case).value
    rows: list[list[Cell]] = []
    for shown in _sections(case, wish):
        if shown.left is None or shown.right is None or shown.level_m is None:
            continue
        points = [*shown.points, ("centreline", 0.0, shown.level_m)]
        for side, sign in ((shown.left, -1.0), (shown.right, 1.0)):
            if side.caught:
                name = "batter top" if side.in_cut else "batter toe"
                points.append((name, sign * side.catch_offset_m, side.catch_level_m))
        at = line.line.at(np.array([shown.chainage_m]))
        e, n, turn = float(at.easting_m[0]), float(at.northing_m[0]), float(at.direction[0])
        rows += [
            [
                name, chainage_text(shown.chainage_m), shown.chainage_m, o, z, e + o * float(np.sin(turn)),
                n - o * float(np.cos(turn)),
            ]
            for name, o, z in sorted(points, key=lambda p: p[1])
        ]  # fmt: skip
    return columns, rows


def _takes(case: Case, wish: TableWish) -> Made:
    """What each section takes of each thing, for each metre of road."""
    design = of_design.design(case).value
    found = [(shown, {a.id: a for a in amounts_of(design, shown)}) for shown in _sections(case, wish)]
    # By id: a layer may be called as a material is.
    each = {a.id: a for _, amounts in found for a in amounts.values()}
    columns = [
        *STATION, metres("level"), metres("ground"),
        *(Column(_heading(a), 3, "section_area" if a.unit == "volume" else "plan") for a in each.values()),
    ]  # fmt: skip
    return columns, [
        [
            chainage_text(shown.chainage_m), shown.chainage_m, shown.level_m, shown.ground_level_m,
            *(amounts[id_].amount if id_ in amounts else 0.0 for id_ in each),
        ]
        for shown, amounts in found
    ]  # fmt: skip


def _heading(a: Amount) -> str:
    return f"cut: {a.name}" if a.id.startswith("cut-") else a.name


NAMED_POINTS = TableKind(
    name="named-points", title="Named points of sections", make=_points, options=("interval", "critical", "line")
)
TAKES = TableKind(
    name="section-takes", title="What each section takes", make=_takes, options=("interval", "critical", "line")
)
