"""Tables of a centreline: elements, critical points, and places to be set out."""

import numpy as np

from delgrun.core.centreline.points import critical_points
from delgrun.core.setting_out import places, stations
from delgrun.core.units import chainage_text
from delgrun.exchange.tables import Cell, Column
from delgrun.service.case import Case
from delgrun.service.results import of_design, of_ground, of_road
from delgrun.service.tables.kind import PLACE, STATION, Made, TableKind, TableWish, metres


def _elements(case: Case, _wish: TableWish) -> Made:
    line = of_road.centreline(case).value
    columns = (
        Column("element"), *STATION, *PLACE, metres("length"), metres("radius at start"), metres("radius at end"),
    )  # fmt: skip
    at = line.line.at(np.array([e.from_chainage_m for e in line.elements]))
    rows: list[list[Cell]] = []
    for k, e in enumerate(line.elements):
        bearing = (90.0 - float(np.degrees(at.direction[k]))) % 360
        radii = [-1 / k if k else None for k in (e.curvature, e.to_curvature)]
        place = [float(at.easting_m[k]), float(at.northing_m[k])]
        rows.append([e.kind, chainage_text(e.from_chainage_m), e.from_chainage_m, *place, bearing, e.length_m, *radii])
    return columns, rows


def _points(case: Case, _wish: TableWish) -> Made:
    columns = (Column("point"), *STATION, *PLACE, metres("radius"), metres("length"))
    return columns, [
        [
            p.what, chainage_text(p.chainage_m), p.chainage_m, p.easting_m, p.northing_m,
            float(np.degrees(p.bearing)), p.radius_m or None, p.length_m or None,
        ]
        for p in critical_points(of_road.centreline(case).value, of_road.stations(case))
    ]  # fmt: skip


def _setting_out(case: Case, wish: TableWish) -> Made:
    columns = (
        Column("point"), *STATION, metres("offset"), *PLACE, metres("ground"), metres("design"),
        metres("design less ground"),
    )  # fmt: skip
    line = of_road.centreline(case).value
    tin = of_ground.tin(case).value if case.state.surveys else None
    typical = of_design.design(case).value if case.state.sections and case.state.works else None
    s, names = stations(line, of_road.stations(case), wish.apart_m, wish.critical)
    found = places(line, s, names, wish.offset_m, tin, case.grade_line, typical)
    numbers = np.column_stack(
        [
            found.chainage_m, found.offset_m, found.easting_m, found.northing_m, np.degrees(found.bearing),
            found.ground_m, found.design_m, found.design_m - found.ground_m,
        ]
    ).tolist()  # fmt: skip
    return columns, [[what, chainage_text(row[0]), *row] for what, row in zip(found.what, numbers, strict=True)]


ELEMENTS = TableKind(name="elements", title="Elements", make=_elements)
POINTS = TableKind(name="points", title="Points", make=_points)
SETTING_OUT = TableKind(
    name="setting-out", title="Setting out", make=_setting_out, options=("interval", "critical", "offsets", "line")
)
