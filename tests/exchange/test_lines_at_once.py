"""Lines read by the thousand give what they give one by one, whatever stands in them."""

import random

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from delgrun.exchange import survey_text
from delgrun.exchange.text_columns import DELIMITERS, UNITS, Layout
from laws import examples

ODD = [
    "",
    "x",
    "nan",
    "1e300",
    "-9999",
    "# note",
    '"5.5"',
    " 7.25 ",
    "1,5",
    "9" * 70,
    "1e3",
    "inf",
    "٣",
    "0x10",
    "12000.5",
]


@settings(max_examples=examples(150))
@example(seed=5930630, delimiter="bar", comma=False, unit="foot", odd=0.3)
@given(
    seed=st.integers(0, 10**9),
    delimiter=st.sampled_from(sorted(DELIMITERS)),
    comma=st.booleans(),
    unit=st.sampled_from(sorted(UNITS)),
    odd=st.sampled_from([0.0, 0.02, 0.3]),
)
def test_reading_at_once_is_reading_line_by_line(seed, delimiter, comma, unit, odd):
    rng = random.Random(seed)
    mark = DELIMITERS[delimiter] or " "
    comma = comma and mark != ","
    lines = []
    for i in range(60):
        row = [
            f"P{i}",
            *(f"{rng.uniform(-900, 900):.3f}" for _ in range(3)),
            rng.choice(["GR", "CB", ""]),
            rng.choice("ab"),
        ]
        if mark == " " and not row[4]:
            row[4] = "GR"
        row = [rng.choice(ODD) if rng.random() < odd else cell for cell in row]
        lines.append(mark.join(c.replace(".", ",") if comma else c for c in row)[: rng.choice([10_000, 10_000, 12])])
    layout = Layout(delimiter, False, comma, ("number", "easting", "northing", "level", "code", "breakline"), unit)

    def read(chunk: int) -> survey_text.SurveyText:
        before = survey_text._CHUNK_LINES
        survey_text._CHUNK_LINES = chunk
        try:
            return survey_text.read_survey(lines, layout)
        finally:
            survey_text._CHUNK_LINES = before

    one, whole = read(1), read(1000)
    slow = survey_text._Reading(layout)
    slow.each(lines, 0)
    for other in (whole, slow.done()):
        assert other.survey.xyz.tolist() == one.survey.xyz.tolist()
        assert other.survey.name.tolist() == one.survey.name.tolist()
        assert other.survey.code.tolist() == one.survey.code.tolist()
        assert [b.tolist() for b in other.survey.breaklines] == [b.tolist() for b in one.survey.breaklines]
        assert (other.error_count, other.line.tolist()) == (one.error_count, one.line.tolist())
        assert [e.message for e in other.errors] == [e.message for e in one.errors]


def test_progress_is_told_and_reaches_the_end():
    told: list[tuple[float, int]] = []
    lines = [f"{i},{i % 7},{i % 5}.5" for i in range(45_000)]
    layout = Layout("comma", False, False, ("easting", "northing", "level"))
    read = survey_text.read_survey(lines, layout, lambda share, points: told.append((share, points)))
    assert told[-1] == (1.0, 45_000) and [p for _, p in told] == [20_000, 40_000, 45_000]
    assert read.survey.xyz[-1] == pytest.approx([44_999, 44_999 % 7, 4.5]) and np.isfinite(read.survey.xyz).all()
