"""Files that mean no good, or were saved by a program that did: named for what they are; one line costs no other."""

import io

import numpy as np
import pytest

from delgrun.core.errors import DesignInputError
from delgrun.exchange import survey_text
from delgrun.exchange.survey_text import SurveyLook
from delgrun.service import imports

GOOD = ["easting,northing,level,code", *(f"{10 * (i % 20)},{10 * (i // 20)},{100 + i % 7},GR" for i in range(400))]


def look(lines: list[str], encoding: str = "utf-8") -> SurveyLook:
    return survey_text.look(io.BytesIO("\n".join(lines).encode(encoding)), None)


def preview(data: bytes) -> dict:
    return imports.preview("s.csv", io.BytesIO(data), None)


def problems(lines: list[str]) -> list[str]:
    seen = look(lines)
    assert seen.text is not None and len(seen.text.survey.xyz) >= 400, seen.problem
    return [e.message for e in seen.text.errors]


def doubts(lines: list[str]) -> list[str]:
    seen = preview("\n".join(lines).encode())
    assert seen["problem"] is None and seen["points"] >= 400
    return seen["doubts"]


@pytest.mark.parametrize("encoding", ["utf-16", "utf-16-le", "utf-16-be", "utf-8-sig", "latin-1"])
def test_other_encodings_are_read(encoding):
    seen = look([*GOOD, "5,5,101.5,BÖSCHUNG"], encoding)
    assert seen.text is not None and len(seen.text.survey.xyz) == 401 and seen.text.survey.code[-1] == "BÖSCHUNG"


def test_rubbish_is_no_text_and_it_is_said_where():
    for data in (b"PK\x03\x04" + bytes(200), b"e,n,z\n1,2,3\n4,5\x00,6\n"):
        with pytest.raises(DesignInputError, match=r"no text file: line \d holds a zero character"):
            survey_text.look(io.BytesIO(data), None)
    noise = np.random.default_rng(0).integers(1, 256, 20_000, dtype=np.uint8).tobytes()
    seen = survey_text.look(io.BytesIO(noise), None)
    assert seen.problem or not len(seen.text.survey.xyz)


@pytest.mark.parametrize(
    ("line", "why"),
    [
        ("1e300,5,100,GR", "Line 402: easting 1e+300 lies beyond 100 000 km."),
        ("5,nan,100,GR", "Line 402: northing “nan” is not a number."),
        ("5,5,-99999,GR", "Line 402: level -99999 is a mark for “no level”."),
        ("5,5,-9999.0,GR", "Line 402: level -9999 is a mark for “no level”."),
        ("5,5,48000.5,GR", "Line 402: level 48000.5 m is no level on Earth."),
        ("5,5,,GR", "Line 402: level is missing."),
        ("5,5," + 5000 * "9" + ",GR", "Line 402: level “" + 60 * "9" + "” is not a number."),
    ],
)
def test_one_bad_value_is_named_with_its_line_and_the_rest_is_kept(line, why):
    assert problems([*GOOD, line]) == [why]


@pytest.mark.parametrize(
    ("title", "unit", "factor"),
    [
        ("Easting (ft)", "foot", 0.3048),
        ("E_ft", "foot", 0.3048),
        # NIST: a US survey foot is 1200/3937 m.
        ("easting [US survey feet]", "us_survey_foot", 1200 / 3937),
        ("easting usft", "us_survey_foot", 1200 / 3937),
        ("easting shift", "metre", 1.0),
    ],
)
def test_feet_are_told_by_their_heading_and_both_kinds_kept_apart(title, unit, factor):
    seen = look(["# exported", f"{title},northing,left level,code", *GOOD[1:]])
    assert seen.layout.unit == unit and seen.text is not None
    assert seen.text.survey.xyz[1] == pytest.approx([10 * factor, 0, 101 * factor], abs=1e-9)


def test_degrees_are_refused_with_the_reason():
    assert "“Latitude” is in degrees" in str(look(["Latitude,Longitude,level", "47.1,9.5,500"]).problem)
    assert "Line 402: “47°01'20” is in degrees" in str(look([*GOOD, "47°01'20,9,500,GR"]).problem)
    degrees = ["e,n,z", *(f"{9.5 + i / 1e4:.5f},{47.1 + i % 7 / 1e4:.5f},{500 + i % 5}" for i in range(100))]
    assert "within 0.0099 of each other" in str(look(degrees).problem)


def test_a_column_of_coordinates_is_no_column_of_levels():
    seen = preview(b"e,n,z\n" + b"10,20,700123.5\n11,21,700124.5\n" * 5)
    assert "is it an easting or a northing?" in seen["problem"]
    turned = preview("\n".join(["Y;X;H", *("7;9;100" for _ in range(2)), "1;2;3", "4;9;5"]).encode())
    assert any("Y before X" in d for d in turned["doubts"])


def test_two_levels_at_one_place_are_told_with_both_lines():
    said = "Lines 2 and 402 give two levels for one place (100.000 m and 107.500 m), and 1 more: the first one holds."
    assert said in doubts([*GOOD, "0,0,107.5,GR", "10,0,101.2,GR", "20,0,102,GR"])


def test_a_digit_too_many_is_told_with_its_line():
    assert doubts([*GOOD, "1505,50,101,GR"]) == []
    far = preview("\n".join([*GOOD, "150555,50,101,GR"]).encode())
    assert far["suggested_longest_edge_m"] < 150
    found = doubts([*GOOD, "150555,50,101,GR"])
    assert found == ["Line 402: the point at E 150555.00 m, N 50.00 m lies 150.5 km from the others: a digit too many?"]


def test_crossing_breaklines_of_different_levels_are_told():
    lines = ["e,n,z,string", *(f"{r},".rsplit(",", 2)[0] + "," for r in GOOD[1:])]
    found = doubts([*lines, "3,5,100,a", "98,93,100,a", "4,97,104,b", "97,6,104,b"])
    assert any(s.startswith("Breaklines cross once at different levels, by 4.00 m at E 51.8") for s in found)


def test_long_texts_and_lines_without_end_take_no_memory():
    seen = look([*GOOD, "5,5,100," + 100_000 * "C"])
    assert seen.text is not None and seen.text.survey.code.dtype.itemsize <= 60 * 4 and seen.text.texts_cut == 1
    commas = survey_text.look(io.BytesIO(2_500_000 * b","), None)
    assert commas.problem and len(commas.layout.roles) <= 200
    assert survey_text.look(io.BytesIO(b"1,2,3\n" + 2_500_000 * b"7"), None).text.error_count == 1
