"""An office's own limits as a table: written, read again, and refused with the line that is wrong."""

import pytest

from delgrun.core.errors import DesignInputError
from delgrun.core.standards.families import STANDARDS
from delgrun.core.standards.own import own_standard
from delgrun.core.standards.standard import Wish
from delgrun.exchange.limit_table import read_limits, write_limits

OURS = """\
limit;value;speed;class;terrain;tier;source;edition
steepest grade;7;60;any;any;any;County handbook;2024
steepest grade;6;80;any;any;any;County handbook;2024
steepest grade;9;;local;mountainous;least;County handbook, hill roads;2024
min_crest_k_m_per_pct;20,5;;;;;County handbook;2024
"""


def offered(rows, **wish) -> dict[str, float]:
    return {o.field: o.value for o in own_standard("own-1", "County", rows).offers(Wish(**wish))}


def test_what_says_most_of_a_road_holds_and_speeds_are_in_proportion():
    rows = read_limits(OURS)
    assert offered(rows, design_speed_kmh=70.0) == pytest.approx({"max_grade": 0.065, "min_crest_k_m_per_pct": 20.5})
    assert offered(rows, design_speed_kmh=100.0)["max_grade"] == 0.06
    hill = offered(rows, design_speed_kmh=70.0, road_class="local", terrain="mountainous")
    assert hill["max_grade"] == 0.09
    (first, *_) = own_standard("own-1", "County", rows).offers(Wish(design_speed_kmh=60.0))
    assert (first.source, first.edition, first.from_memory) == ("County handbook", "2024", False)


def test_us_units_are_read_and_a_family_written_out_is_the_family():
    rows = read_limits("limit,value,speed,units\nK of crests,100,50,us\nshortest curve,300,50,us\n")
    got = offered(rows, design_speed_kmh=50 * 1.609344)
    assert got == pytest.approx({"min_crest_k_m_per_pct": 30.48, "min_curve_length_m": 91.44})
    for family in STANDARDS:
        rows = read_limits(write_limits(family))
        for wish in (Wish(design_speed_kmh=70.0), Wish(design_speed_kmh=100.0, terrain="level", tier="desirable")):
            own = {o.field: o.value for o in own_standard("own-1", "again", rows).offers(wish)}
            assert own == pytest.approx({o.field: o.value for o in family.offers(wish)}, rel=1e-8)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "needs headings, and has no column “limit”"),
        ("limit,speed\n", "has no column “value”"),
        ("limit,value\n", "no rows"),
        ("limit,value\nsteepest grade,8\nprettiest grade,8\n", "Line 3: There is no limit “prettiest grade”."),
        ("limit,value\nsteepest grade,lots\n", "Line 2: “lots” is no number for the value."),
        ("limit,value\nsteepest grade,80\n", "Line 2: Steepest grade is at most 50 %, not 80 %."),
        ("limit,value,class\nsteepest grade,8,motorway\n", "Line 2: “motorway” is no class; known are local"),
        ("\x00\x01\x02", "needs headings"),
    ],
)
def test_bad_tables_are_refused_with_the_line(text, says):
    with pytest.raises(DesignInputError) as refused:
        read_limits(text)
    assert says in str(refused.value)
