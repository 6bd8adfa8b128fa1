"""The workbook of levels, worked out by a spreadsheet engine: `formulas` from the package index."""

import io
import zipfile

import numpy as np
import openpyxl
import pytest
from formulas import ExcelModel

from delgrun.core.centreline.stations import Stations
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.level_table import coefficients, critical_points, level_stations
from delgrun.core.units import FOOT_M
from delgrun.exchange.level_workbook import level_workbook
from delgrun.exchange.tables import Column

LINE = GradeLine.of(
    [
        Ip(chainage_m=100.0, level_m=10.0),
        Ip(chainage_m=300.0, level_m=20.0, curve_length_m=80.0),
        Ip(chainage_m=500.0, level_m=12.0, curve_length_m=120.0, in_share=0.25),
        Ip(chainage_m=600.0, level_m=13.0),
        Ip(chainage_m=800.0, level_m=16.0, curve_length_m=160.0, shape="circle"),
        Ip(chainage_m=1000.125, level_m=9.0),
    ]
)
COLUMNS = [Column(c) for c in ("point", "station", "chainage m", "level m", "grade %", "ground m", "depth m")]


def book(line: GradeLine) -> tuple[np.ndarray, bytes]:
    s, names = level_stations(line, Stations(()), 25.0, critical=True)
    # Levels beside the formulas are wrong here: whatever reads them would be found out.
    rows = [[what, "", at, 0.0, 0.0, 5.0, 0.0] for what, at in zip(names, s.tolist(), strict=True)]
    return s, level_workbook(line, COLUMNS, rows)


def worked_out(path, count: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Level, grade in percent and level less ground of each row."""
    found = ExcelModel().loads(str(path)).finish().calculate()
    columns = [
        [float(found[f"'[{path.name}]LEVELS'!{letter}{r}"].value[0, 0]) for r in range(2, count + 2)]
        for letter in "CDF"
    ]
    return np.array(columns[0]), np.array(columns[1]), np.array(columns[2])


def test_its_formulas_give_the_levels_also_of_a_line_that_is_changed_in_it(tmp_path):
    s, data = book(LINE)
    path = tmp_path / "levels.xlsx"
    path.write_bytes(data)
    levels, grades, depths = worked_out(path, len(s))
    assert np.abs(levels - LINE.levels(s)).max() < 1e-9 and np.abs(grades - 100 * LINE.grades(s)).max() < 1e-7
    assert depths == pytest.approx(levels - 5.0)
    # Another level and another length typed into the sheet of IPs: the levels are those of that line.
    typed = openpyxl.load_workbook(path)
    typed["IPs"]["C3"], typed["IPs"]["D4"] = 19.25, 100.0
    typed.save(path)
    ips = list(LINE.ips)
    ips[1] = Ip(chainage_m=300.0, level_m=19.25, curve_length_m=80.0)
    ips[2] = Ip(chainage_m=500.0, level_m=12.0, curve_length_m=100.0, in_share=0.25)
    changed = GradeLine.of(ips)
    assert np.abs(worked_out(path, len(s))[0] - changed.levels(s)).max() < 1e-4
    assert np.abs(changed.levels(s) - LINE.levels(s)).max() > 0.1


def test_a_chart_draws_the_ground_and_the_line_over_the_chainage():
    s, data = book(LINE)
    with zipfile.ZipFile(io.BytesIO(data)) as parts:
        drawn = parts.read("xl/charts/chart1.xml").decode()
    rows = f"$2:${{}}${len(s) + 1}"
    for column in "BCE":
        assert f"Levels!${column}{rows.format(column)}" in drawn
    assert "<a:t>chainage m</a:t>" in drawn and "<a:t>level m</a:t>" in drawn


def test_programs_that_work_nothing_out_show_what_the_formulas_give(tmp_path):
    """The numbers kept beside the formulas are those that the engine finds: of each IP, and the row of each level."""
    s, _ = book(LINE)
    for system in ("metric", "us"):
        scale = 1.0 if system == "metric" else FOOT_M["us"]
        rows = [["", "", at / scale, 0.0, 0.0, 5.0, 0.0] for at in s.tolist()]
        path = tmp_path / f"{system}.xlsx"
        path.write_bytes(level_workbook(LINE, COLUMNS, rows, system))
        kept = openpyxl.load_workbook(path, data_only=True)
        found = ExcelModel().loads(str(path)).finish().calculate()
        for sheet, letters, count in (("IPs", "GHIJKLMNOPQRS", len(LINE.ips)), ("Levels", "H", len(s))):
            for cell in (f"{letter}{r}" for letter in letters for r in range(2, count + 2)):
                engine = float(found[f"'[{path.name}]{sheet.upper()}'!{cell}"].value[0, 0])
                at = kept["Levels"][f"B{cell[1:]}"].value if sheet == "Levels" else None
                # Where a curve begins either row gives the level: files have 16 digits.
                tie = at is not None and np.abs(LINE.curve_start_m / scale - at).min() < 1e-9
                assert tie or kept[sheet][cell].value == pytest.approx(engine, rel=1e-9, abs=1e-9), (system, cell)


def test_in_feet_its_formulas_give_the_same_levels_in_feet(tmp_path):
    s, _ = level_stations(LINE, Stations(()), 25.0, critical=True)
    rows = [["", "", at / FOOT_M["us"], 0.0, 0.0, 5.0, 0.0] for at in s.tolist()]
    path = tmp_path / "levels.xlsx"
    path.write_bytes(level_workbook(LINE, COLUMNS, rows, "us"))
    levels, grades, _ = worked_out(path, len(s))
    assert np.abs(levels * FOOT_M["us"] - LINE.levels(s)).max() < 1e-9
    assert np.abs(grades - 100 * LINE.grades(s)).max() < 1e-7
    heads = [c.value for c in openpyxl.load_workbook(path)["IPs"][1]]
    assert heads[:4] == ["point", "station ft", "elevation ft", "curve length ft"]


def test_critical_points_are_named_and_two_at_one_place_are_one_row():
    touching = GradeLine.of(
        [
            Ip(chainage_m=0.0, level_m=0.0),
            Ip(chainage_m=50.0, level_m=2.0, curve_length_m=100.0),
            Ip(chainage_m=150.0, level_m=-2.0, curve_length_m=100.0),
            Ip(chainage_m=200.0, level_m=-2.0),
        ]
    )
    assert critical_points(touching) == [
        (0.0, "curve starts, IP 1; start"),
        (50.0, "IP 1; high point"),
        (100.0, "curve ends, IP 1; curve starts, IP 2"),
        (150.0, "IP 2"),
        (200.0, "curve ends, IP 2; end"),
    ]
    s, names = level_stations(touching, Stations(()), 30.0, critical=True)
    assert s.tolist() == [0.0, 30.0, 50.0, 60.0, 90.0, 100.0, 120.0, 150.0, 180.0, 200.0] and names.count("") == 5


def test_coefficients_give_the_levels_of_their_curves():
    """Reference values 1.2 by its coefficients: start (0, 60), +2.4 % to IP 400, L1 = 100, L2 = 160, then -3.6 %."""
    line = GradeLine.of(
        [
            Ip(chainage_m=0.0, level_m=60.0),
            Ip(chainage_m=400.0, level_m=69.6, curve_length_m=260.0, in_share=100 / 260),
            Ip(chainage_m=600.0, level_m=62.4),
        ]
    )
    (c,) = coefficients(line)
    assert (c.from_m, c.to_m, c.grade) == pytest.approx((300.0, 560.0, 0.024)) and c.level_m == pytest.approx(67.2)
    assert c.before is not None and c.after is not None
    x = np.array([0.0, 50.0, 100.0])
    assert c.level_m + c.grade * x + c.before / 2 * x**2 == pytest.approx([67.2, 67.938, 67.754], abs=5e-4)
    y = np.array([80.0, 0.0])
    assert 63.84 + 0.036 * y + c.after / 2 * y**2 == pytest.approx([66.258, 63.84], abs=5e-4)
