"""Tables in workbooks, written by another program: what text tables hold, read alike."""

import io
import zipfile

import numpy as np
import openpyxl
import pytest

from delgrun.core.errors import DesignInputError
from delgrun.exchange import apart, survey_text
from delgrun.exchange.readers import READERS, reader_of

POINTS = [
    (f"P{i}", 500_000 + 7.25 * i, 4_200_000 + (i * i) % 91 + 0.125, 310 + 0.5 * np.sin(i), "GR") for i in range(60)
]
HEADING = ("number", "easting", "northing", "level", "code")


def book(*sheets: tuple[str, list[tuple]], **cells) -> bytes:
    made = openpyxl.Workbook()
    made.remove(made.active)
    for title, rows in sheets:
        sheet = made.create_sheet(title)
        for row in rows:
            sheet.append(row)
        for at, value in cells.items():
            sheet[at] = value
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def read(makes, data: bytes, options=None, name="file.xlsx"):
    return apart.read(reader_of(makes, name, data[:4096]), io.BytesIO(data), options)


def test_points_of_a_sheet_are_those_of_the_same_text():
    cover = ("Notes", [("surveyed in spring",), ("by boat",)])
    data = book(cover, ("Points", [HEADING, *POINTS]))
    found = read("survey", data).survey
    text = "\n".join("\t".join(map(str, row)) for row in [HEADING, *POINTS])
    same = survey_text.read(io.BytesIO(text.encode()), None).survey
    assert np.abs(found.xyz - same.xyz).max() < 1e-9 and (found.code == same.code).all() and len(found.xyz) == 60
    looked = apart.look(reader_of("survey", "x.bin", data[:4096]), io.BytesIO(data), None)
    assert looked.doubts == ["The workbook has 2 sheets: “Points” is read."] and looked.share == 1.0


def test_a_bad_row_is_told_with_its_number_and_the_others_are_kept():
    found = read("survey", book(("Points", [HEADING, *POINTS]), D7="wet"))
    assert [e.line for e in found.errors] == [7] and len(found.survey.xyz) == 59


def test_profiles_centrelines_and_utilities_come_in_workbooks_too():
    (profile,) = read("profile", book(("s", [("chainage", "level"), (0, 10.5), (120, 13.25), (400, 9)])))
    assert profile.points.tolist() == [[0, 10.5], [120, 13.25], [400, 9]]
    (line,) = read(
        "centreline", book(("s", [("easting", "northing", "radius"), (0, 0, None), (300, 0, 150), (500, 400, None)]))
    )
    assert [(ip.easting_m, ip.northing_m, ip.radius_m) for ip in line.ips] == [(0, 0, 0), (300, 0, 150), (500, 400, 0)]
    (pipe,) = read(
        "utility", book(("s", [("easting", "northing", "level", "name"), (0, 0, 5, "main"), (9, 0, 5.5, "main")]))
    )
    assert pipe.name == "main" and pipe.xyz[-1].tolist() == [9, 0, 5.5]
    assert sum(r.suffixes == (".xlsx",) for r in READERS) == 5


def test_what_is_no_table_says_so():
    other = io.BytesIO()
    with zipfile.ZipFile(other, "w") as packed:
        packed.writestr("points.csv", "1 2 3")
    with pytest.raises(DesignInputError, match="no workbook that can be read"):
        read("survey", other.getvalue())
    with pytest.raises(DesignInputError, match="No sheet of this workbook has numbers"):
        read("survey", book(("s", [("a", "b"), ("c", "d")])))
    # Formulas that nobody has worked out have no values.
    with pytest.raises(DesignInputError, match="whose values were never worked out"):
        read("survey", book(("s", [("=1+1", "=2+2", "=3+3")] * 9)))


def test_a_sheet_that_unpacks_without_end_is_refused():
    data = book(("Points", [HEADING, *POINTS]))
    bomb = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as was, zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as now:
        for name in was.namelist():
            body = was.read(name)
            if name.endswith("sheet1.xml"):
                body = body.replace(
                    b"</sheetData>",
                    b'<row><c t="inlineStr"><is><t>%s</t></is></c></row></sheetData>' % (b"9" * 600_000_000),
                )
            now.writestr(name, body)
    with pytest.raises(DesignInputError, match=r"memory|time|read"):
        read("survey", bomb.getvalue())
