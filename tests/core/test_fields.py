"""What is declared of inputs: physical bounds hold on saving, rules too, and neither on reading."""

from dataclasses import fields

import pytest

from delgrun.core.earthworks.columns import CostModel
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import check_fields, fields_of
from delgrun.core.inputs import COST, KINDS, LIMITS, kind_of, kind_of_slot
from delgrun.core.limits.limit_set import LimitSet, default_limits
from delgrun.core.section.typical_section import Element, TypicalSection
from delgrun.core.units import DIMENSIONS, say


def test_every_field_of_every_input_is_declared_and_has_a_known_dimension():
    for kind in KINDS:
        assert {f.name for f in fields_of(kind.cls)} == {f.name for f in fields(kind.cls)}
        for f in fields_of(kind.cls):
            assert f.dimension in DIMENSIONS and f.label
        if kind.first is not None:
            kind.check(kind.first())


def test_bounds_name_field_value_and_bound():
    with pytest.raises(DesignInputError, match=r"Width is at least 0 m, not -3 m\.") as told:
        check_fields(TypicalSection(elements=(Element(name="lane", width_m=-3.0),)))
    assert told.value.field == "width_m"
    with pytest.raises(DesignInputError, match=r"Steepest grade is at most 50 %, not 80 %\."):
        LIMITS.check(LimitSet(max_grade=0.8))
    with pytest.raises(DesignInputError, match="Cut is not a number"):
        COST.check(CostModel(cut_per_m3=float("inf")))
    with pytest.raises(DesignInputError, match="1 to 3 letters"):
        COST.check(CostModel(currency="EURO"))


def test_rules_are_held_on_saving_and_old_limits_are_read_all_the_same():
    # Saved under older rules: flattest above steepest. It can be made, so it can be read; it cannot be saved again.
    old = LimitSet(min_grade=0.09, max_grade=0.05)
    with pytest.raises(DesignInputError, match="must be less than the steepest"):
        LIMITS.check(old)
    assert default_limits() == LimitSet()


def test_an_unknown_input_or_slot_is_an_error_and_no_other_kind():
    with pytest.raises(TypeError, match="str is no kind of input"):
        kind_of("cost")
    with pytest.raises(StopIteration):
        kind_of_slot("wishes-1")


def test_numbers_become_text_by_their_dimension():
    assert say("{a:grade}, {b:+level} at {c:chainage}", a=-0.025, b=0.5, c=-12.5) == "-2.50 %, +0.500 m at -0+012.50"
