"""The register of formats: whatever a file is called, one reader takes it, and every reader says what it is."""

import io

import pytest

from delgrun.exchange.readers import READERS, reader_of


@pytest.mark.parametrize("name", ["points.csv", "POINTS.TXT", "points", "points.unheard-of", ""])
def test_every_file_finds_a_reader(name):
    assert reader_of("survey", name).makes == "survey"
    assert [tuple(p) for p in reader_of("survey", name).read(io.BytesIO(b"1,2,3\n4,5,6\n"), None).survey.xyz] == [
        (1, 2, 3),
        (4, 5, 6),
    ]


def test_a_look_shows_lines_and_says_what_is_missing():
    seen = reader_of("survey", "a.csv").look(io.BytesIO(b"e,n\n1,2\n"), None)
    assert seen.titles == ["e", "n"] and seen.rows == [(2, ["1", "2"])]
    assert seen.text is None and seen.problem == "There is no column for level: give it exactly one."
    assert len({r.name for r in READERS}) == len(READERS) and all(r.says and r.suffixes for r in READERS)
