"""Reading text columns: delimiters, headings, columns in any order, and errors that name line and field."""

import pytest

from delgrun.core.errors import DesignInputError
from delgrun.exchange.centreline_text import read_centreline
from delgrun.exchange.survey_text import read_survey
from delgrun.exchange.text_columns import SURVEY_WORDS, Layout, detect, lines_of


@pytest.mark.parametrize(
    ("text", "delimiter", "header", "roles"),
    [
        ("pt,E,N,Z,code\n1,10.5,20.5,3.2,GR\n2,11,21,3.3,GR", "comma", True,
         ("number", "easting", "northing", "level", "code")),
        ("level;northing;easting\n3,25;20,5;10,5\n3,5;21;11", "semicolon", True, ("level", "northing", "easting")),
        ("1\t1000.5\t2000.5\t31.2\tCB\n2\t1001.5\t2001.5\t31.3\tCT", "tab", False,
         ("number", "easting", "northing", "level", "code")),
        ("# made by hand\n10.5 20.5 3.2\n11.5 21.5 3.3", "blanks", False, ("easting", "northing", "level")),
        # Headings of another language, accents or not, and units beside them.
        ("Punkt;Rechts;Hoch;Hoehe;Code\nP1;500000,5;4200000,25;812,1;GEL\nP2;500001,5;4200001;812,2;GEL", "semicolon",
         True, ("number", "easting", "northing", "level", "code")),
        ("Pt.Nr.\tÖst (m)\tNord [m]\tHöjd\tAnm\nA\t1\t2\t3\tx\nB\t2\t3\t4\tx", "tab", True,
         ("number", "easting", "northing", "level", "code")),
        ("POINT_X,POINT_Y,POINT_Z\n1,2,3\n2,3,4", "comma", True, ("easting", "northing", "level")),
        ("# point north east elev\n1 2.5 3.5 4\n2 3 4 5", "blanks", False,
         ("number", "northing", "easting", "level")),
        ("1.5|2.5|3.5\n1.6|2.6|3.6", "bar", False, ("easting", "northing", "level")),
    ],
)  # fmt: skip
def test_layout_is_detected(text, delimiter, header, roles):
    lines = text.split("\n")
    layout = detect(lines, SURVEY_WORDS)
    assert (layout.delimiter, layout.header, layout.roles) == (delimiter, header, roles)
    read = read_survey(lines, layout)
    assert read.error_count == 0 and len(read.survey.xyz) == 2


def test_decimal_commas_are_numbers():
    lines = ["easting;northing;level", "10,5;20,25;3,125"]
    assert read_survey(lines, detect(lines, SURVEY_WORDS)).survey.xyz.tolist() == [[10.5, 20.25, 3.125]]


def test_a_bad_line_names_line_and_field_and_loses_nothing_else():
    lines = [
        "e,n,z,code,string",
        "1,2,3,GR,",
        "4,x5,6,GR,a",
        "",
        "7,8,9,CB,a",
        "10,11",
        "12,13,nan,CB,a",
        "14,15,16,CB,a",
    ]
    read = read_survey(lines, detect(lines, SURVEY_WORDS))
    assert read.survey.xyz[:, 0].tolist() == [1, 7, 14]
    assert [(e.line, e.field) for e in read.errors] == [(3, "northing"), (6, "level"), (7, "level")]
    assert read.errors[0].message == "Line 3: northing “x5” is not a number."
    # The breakline joins the points of its name that could be read, in the order of the file.
    assert [b.tolist() for b in read.survey.breaklines] == [[1, 2]]


def test_a_layout_must_name_each_coordinate_once():
    with pytest.raises(DesignInputError, match="no column for level"):
        read_survey(["1,2,3"], Layout("comma", False, False, ("easting", "northing", "ignore")))
    with pytest.raises(DesignInputError, match="2 columns for easting"):
        read_survey(["1,2,3"], Layout("comma", False, False, ("easting", "easting", "level")))


def test_files_that_are_not_utf8_are_read_all_the_same():
    assert lines_of("Höhe;1".encode("latin-1")) == ["Höhe;1"]
    assert lines_of("\ufeffe,n,z\r\n1,2,3\r\n".encode()) == ["e,n,z", "1,2,3"]


def test_centreline_table():
    ips = read_centreline(["ip,easting_m,northing_m,radius_m", "1,0,0,", "2,100,0,50", "3,100,100,0"])
    assert [(p.easting_m, p.northing_m, p.radius_m) for p in ips] == [(0, 0, 0), (100, 0, 50), (100, 100, 0)]
    rows = ["1;0;0;;;", "2;100;0;50;20;30", "3;100;100;0;;"]
    for head in ("ip;E;N;R;Transition in;Transition out", "no;x;y;radius;Spiral in (m);Spiral out (m)"):
        middle = read_centreline([head, *rows])[1]
        assert (middle.radius_m, middle.transition_in_m, middle.transition_out_m) == (50, 20, 30)
    both = read_centreline(["E;N;R;clothoid", "0;0;;", "100;0;50;20", "100;100;;"])[1]
    assert (both.transition_in_m, both.transition_out_m) == (20, 20)
    with pytest.raises(DesignInputError, match="Line 3: radius “r50” is not a number"):
        read_centreline(["e,n,r", "0,0,0", "100,0,r50", "100,100,0"])
