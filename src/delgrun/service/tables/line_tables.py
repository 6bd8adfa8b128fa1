"""Tables of a grade line: levels, coefficients of its curves, markings, high and low points."""

import numpy as np

from delgrun.core.gradeline.level_table import coefficients, level_stations
from delgrun.core.ground.along import ground_sections
from delgrun.core.limits.water import water_along
from delgrun.core.section.painted import painted
from delgrun.core.units import chainage_text
from delgrun.exchange.tables import Cell, Column, Sheet
from delgrun.service.case import Case
from delgrun.service.results import of_checks, of_design, of_ground, of_road
from delgrun.service.tables.kind import STATION, Made, TableKind, TableWish, line_of, metres


def _levels(case: Case, wish: TableWish) -> Made:
    columns = (
        Column("point"), *STATION, metres("level", 4), Column("grade", 4, "exact_grade"), metres("ground"),
        metres("level less ground"),
    )  # fmt: skip
    line = line_of(case)
    s, names = level_stations(line, of_road.stations(case), wish.apart_m, wish.critical)
    ground = np.full(len(s), np.nan)
    if case.state.surveys:
        ground = ground_sections(
            of_ground.tin(case).value, of_road.centreline(case).value, s, of_road.BESIDE_M
        ).centre_level_m
    levels = line.levels(s)
    numbers = np.column_stack([s, levels, line.grades(s), ground, levels - ground]).tolist()
    return columns, [[what, chainage_text(row[0]), *row] for what, row in zip(names, numbers, strict=True)]


def _level_workbook(case: Case, wish: TableWish, sheet: Sheet) -> bytes:
    # Imported when the first one is made: a server that is started again must be back soon.
    from delgrun.exchange.level_workbook import level_workbook

    return level_workbook(line_of(case), sheet.columns, sheet.rows, wish.system)


def _curves(case: Case, _wish: TableWish) -> Made:
    columns = (
        Column("curve"), *STATION, metres("ends at"), metres("from level", 4), Column("b0", 4, "exact_grade"),
        Column("c0", 9, "bend"), Column("c1", 9, "bend"), metres("length"), Column("K", 2, "k"), metres("radius"),
    )  # fmt: skip
    rows: list[list[Cell]] = [
        [
            c.name, chainage_text(c.from_m), c.from_m, c.to_m, c.level_m, c.grade, c.before, c.after,
            c.to_m - c.from_m, c.k_m_per_pct, c.radius_m,
        ]
        for c in coefficients(line_of(case))
    ]  # fmt: skip
    return columns, rows


def _markings(case: Case, _wish: TableWish) -> Made:
    """Where passing is possible and where not, one direction behind the other; then the lines at the lanes' edges."""
    line_of(case)
    columns = (
        Column("of"), *STATION, Column("to chainage"), Column("marking"), metres("length", 1), metres("ends at", 1),
        metres("offset"), metres("offset at its end"),
    )  # fmt: skip
    rows: list[list[Cell]] = [
        [
            m.way, chainage_text(m.from_m), m.from_m, chainage_text(m.to_m), "passing" if m.passing else "no passing",
            m.to_m - m.from_m, m.to_m, 0.0, 0.0,
        ]
        for m in (*of_checks.checked(case).marked[0], *of_checks.checked(case).marked[1])
    ]  # fmt: skip
    turns = of_design.lane_falls(case).value.chainage_m
    rows += [
        [
            p.side, chainage_text(p.from_m), p.from_m, chainage_text(p.to_m), p.what, p.to_m - p.from_m, p.to_m,
            p.from_offset_m, p.to_offset_m,
        ]
        for p in painted(of_design.design(case).value, turns)
    ]  # fmt: skip
    return columns, rows


def _water(case: Case, _wish: TableWish) -> Made:
    """High and low points, and stretches flatter than what drains, by chainage."""
    line_of(case)
    columns = (
        Column("what"), *STATION, metres("ends at"), metres("level"), Column("grade", 3, "exact_grade"),
        Column("K", 2, "k"), Column("lies in"), Column("says"),
    )  # fmt: skip
    return columns, [
        [w.what, chainage_text(w.from_m), w.from_m, w.to_m, w.level_m, w.grade, w.k_m_per_pct, w.lies_in, w.says]
        for w in water_along(of_checks.checked(case))
    ]


LEVELS = TableKind(
    name="levels", title="Levels", make=_levels, options=("interval", "critical", "line"), workbook=_level_workbook
)
CURVES = TableKind(name="curves", title="Curves", make=_curves, options=("line",))
MARKINGS = TableKind(name="markings", title="Markings", make=_markings, options=("line",))
WATER = TableKind(name="water", title="High and low points, flat stretches", make=_water, options=("line",))
