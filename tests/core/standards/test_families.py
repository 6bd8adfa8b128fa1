"""Limits that standards offer: reference values section 2, metric, US customary and by friction."""

from dataclasses import fields

import pytest

from delgrun.core.centreline.speeds import least_radius_m, us_bend_rules
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import fields_of
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.practice import rounded
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.standards.families import (
    STANDARDS,
    friction_sight_m,
    limits_by,
    standard,
    us_crest_k,
    us_sag_k,
    us_stopping_ft,
)
from delgrun.core.standards.standard import Wish, steepest
from delgrun.core.trucks.trucks import Truck
from delgrun.core.units import FOOT_M, MILE_KM


@pytest.mark.parametrize(
    ("mph", "sight", "crest", "sag"),
    [
        (20, 115, 7, 17), (30, 200, 19, 37), (40, 305, 44, 64), (50, 425, 84, 96), (60, 570, 151, 136),
        (70, 730, 247, 181), (80, 910, 384, 231),
    ],
)  # fmt: skip
def test_the_us_customary_table(mph, sight, crest, sag):
    """Reference section 2: "A Policy on Geometric Design of Highways and Streets", in feet and feet per percent."""
    assert us_stopping_ft(mph) == sight
    assert (us_crest_k(sight), us_sag_k(sight)) == (crest, sag)
    offered = {o.field: o.value for o in standard("stopping_us").offers(Wish(design_speed_kmh=mph * MILE_KM))}
    assert offered["min_crest_k_m_per_pct"] / 0.3048 == pytest.approx(crest)
    assert offered["min_sag_k_m_per_pct"] / 0.3048 == pytest.approx(sag)


@pytest.mark.parametrize(
    ("kmh", "crest", "sag"), [(30, 2, 6), (50, 7, 13), (70, 17, 23), (90, 39, 38), (110, 74, 55), (130, 124, 73)]
)
def test_the_metric_table(kmh, crest, sag):
    """Reference section 2, metric columns."""
    offered = {o.field: o.value for o in standard("stopping").offers(Wish(design_speed_kmh=kmh))}
    assert (offered["min_crest_k_m_per_pct"], offered["min_sag_k_m_per_pct"]) == (crest, sag)


@pytest.mark.parametrize(
    ("mph", "grade", "printed"), [(45, 0.0, 359.8), (60, 0.0, 566.0), (48, -0.06, 443.23)]
)  # fmt: skip
def test_stopping_along_a_line_by_the_us_customary_form(mph, grade, printed):
    """Reference 2.2, V^2 / (30 (a / 32.2 + G)), and section 2 before rounding: in feet as printed, not converted."""
    limits = limits_by("stopping_us", Wish(design_speed_kmh=mph * MILE_KM))
    rules = limits.stopping()
    assert limits.stopping_form == "US customary"
    if grade == 0.0:
        assert rules.level_m / 0.3048 == pytest.approx(printed, abs=0.15)
    needed = (rules.reacting_at(mph * MILE_KM) + rules.braking_at(mph * MILE_KM) / (rules.force + grade)) / 0.3048
    assert needed == pytest.approx(printed, abs=0.06 if grade else 0.01 * printed)


@pytest.mark.parametrize(("mph", "radius_ft"), [(40, 485), (60, 1330)])
def test_least_radii_by_the_us_customary_form(mph, radius_ft):
    """Reference 7.3: V^2 / 15 (e + f), e 6 %; printed to the nearest 5 or 10 ft."""
    rules = us_bend_rules()
    least = least_radius_m(mph * MILE_KM, 0.06, float(rules.friction(mph * MILE_KM)), rules.gravity) / 0.3048
    assert least == pytest.approx(radius_ft, abs=4)


@pytest.mark.parametrize("system", ["us", "us_survey"])
def test_first_values_are_round_in_the_feet_of_the_project(system):
    wish = Wish(design_speed_kmh=45 * MILE_KM, foot_m=FOOT_M[system])
    for value in (limits_by("stopping_us", wish), rounded(RoadDesign.plain(), system), rounded(Truck(), system)):
        for f in fields_of(type(value)):
            own = getattr(value, f.name)
            if f.shown.kind == "number" and f.shown.us is not None and own is not None:
                shown = own * f.shown.factor(system)
                assert shown == pytest.approx(round(shown, 2), abs=1e-9), f.name
                # No more than two digits that count, or whole feet.
                assert f"{shown:.2g}" == f"{shown:.6g}" or shown == pytest.approx(round(shown)) or shown < 20, f.name
    assert limits_by("stopping_us", wish).max_grade == 0.08


def test_by_friction():
    """Reference 2.7: sight by reaction and friction, K of crests for 1.1 and 0.2 m, comfort in sags."""
    assert friction_sight_m(80, 2.0, 0.36) == pytest.approx(114.44, abs=0.005)
    assert friction_sight_m(100, 2.5, 0.36) == pytest.approx(178.81, abs=0.005)
    least = {o.field: o.value for o in standard("friction").offers(Wish(design_speed_kmh=80))}
    assert least["min_crest_k_m_per_pct"] == pytest.approx(114.44**2 / 447.62, abs=0.01)
    assert least["min_sag_k_m_per_pct"] == pytest.approx(10.07, abs=0.005)
    desirable = {o.field: o.value for o in standard("friction").offers(Wish(design_speed_kmh=80, tier="desirable"))}
    assert all(desirable[k] > least[k] for k in ("min_crest_k_m_per_pct", "min_sag_k_m_per_pct"))
    assert desirable["max_grade"] < least["max_grade"]


def test_every_value_is_a_limit_with_its_reason_and_makes_limits_that_can_be_kept():
    names = {f.name for f in fields(LimitSet)}
    for family in STANDARDS:
        for road_class in ("local", "collector", "arterial"):
            for terrain in ("level", "rolling", "mountainous"):
                for speed in (20, 47, 70, 95, 130):
                    wish = Wish(design_speed_kmh=speed, road_class=road_class, terrain=terrain)
                    offered = family.offers(wish)
                    assert {o.field for o in offered} <= names and all(o.formula and o.source for o in offered)
                    limits = LimitSet(design_speed_kmh=speed, **{o.field: o.value for o in offered})
                    limits.check()


def test_steeper_ground_and_lower_classes_allow_steeper_grades():
    for speed in (60, 75, 100):

        def most(c: str, t: str, speed: float = speed) -> float:
            return steepest(Wish(design_speed_kmh=speed, road_class=c, terrain=t))

        for c in ("local", "collector", "arterial"):
            assert most(c, "level") <= most(c, "rolling") <= most(c, "mountainous")
        for t in ("level", "rolling", "mountainous"):
            assert most("arterial", t) <= most("collector", t) <= most("local", t)
    with pytest.raises(DesignInputError, match="no standard"):
        standard("mine")
