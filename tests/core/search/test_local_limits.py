"""Limits along the road as the search holds them, against the steps that the checks read."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.limits.limit_set import default_limits
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.search.local import RISE, SPACING, local_limits
from laws import examples

ranges = st.lists(
    st.builds(
        lambda a, b, g, s: LimitRange(from_m=a, to_m=a + b, max_grade=g, min_ip_spacing_m=s),
        st.integers(0, 900), st.integers(20, 400), st.floats(0.03, 0.12), st.floats(10, 90),
    ),
    max_size=5,
)  # fmt: skip


@settings(deadline=None, max_examples=examples(60))
@given(ranges, st.floats(0, 900), st.floats(1, 300))
def test_what_holds_on_a_stretch_is_what_the_steps_say_place_by_place(own, from_m, length):
    limits = default_limits(70.0).with_ranges(own)
    local = local_limits(limits)
    places = from_m + (np.arange(20_000) + 0.5) * length / 20_000
    steep = limits.steps("max_grade").at(places)
    assert local.over(RISE, from_m, from_m + length) == pytest.approx(steep.mean() * length, abs=0.01)
    # A part shorter than the walk's step may be missed by the walk: never the other way round.
    assert local.loosest(RISE, from_m, from_m + length) >= steep.max() - 1e-12
    assert (
        local.loosest(SPACING, from_m, from_m + length)
        <= np.nanmin(limits.steps("min_ip_spacing_m").at(places)) + 1e-12
    )
