"""Limits beside the usual ones: falls, long grades, kinks, kinds of K, passing; and edits that mend each kind."""

from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest

from delgrun.core.controls.bands import Band
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.edit_kinds import apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.asked_curves import around
from delgrun.core.limits.broken import in_words, newly_broken
from delgrun.core.limits.check import Checked, LimitUse
from delgrun.core.limits.checks import BY_ID, CHECKS, all_uses, brief, limit_uses
from delgrun.core.limits.limit_set import LimitSet, default_limits
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.limits.remedies import remedies
from delgrun.core.limits.water import flat_stretches, water_along
from delgrun.core.search.local import everywhere
from delgrun.core.sight.passing import markings, passing_sight_m, share_of, us_passing_sight_ft

BASE = default_limits(50.0)


def line(*rows: tuple[float, float, float]) -> GradeLine:
    return GradeLine.of([Ip(chainage_m=s, level_m=z, curve_length_m=length) for s, z, length in rows])


# Up 6 %, down 7 %, up 1 %: a crest of K 14.4 at 500 and a sag of K 15 at 1000.
HILLS = line((0, 100, 0), (500, 130, 187.2), (1000, 95, 120), (1600, 101, 0))


def uses(of: GradeLine, limits: LimitSet, check: str) -> list[LimitUse]:
    return list(BY_ID[check].uses(Checked(of, limits)))


def test_a_fall_keeps_its_own_limit_by_range_too():
    limits = replace(BASE, max_grade=0.08, max_fall=0.05)
    assert [u.fails for u in uses(HILLS, limits, "steepest_grade")] == [False, True, False]
    # In a range that lets it fall by 8 % only what lies outside of it fails.
    eased = limits.with_ranges([LimitRange(from_m=600, to_m=1200, max_fall=0.08)])
    bad = [(u.from_chainage_m, u.to_chainage_m) for u in uses(HILLS, eased, "steepest_grade") if u.fails]
    assert bad == [(500, 600)]
    assert (everywhere(eased, "strictest").fall, everywhere(eased, "loosest").fall) == (0.05, 0.08)
    # Where the whole road has none of its own, it falls as steeply as it may rise: the loosest is the looser of both.
    free = replace(limits, max_fall=None).with_ranges([LimitRange(from_m=600, to_m=1200, max_fall=0.1)])
    assert (everywhere(free, "strictest").fall, everywhere(free, "loosest").fall) == (0.1, 0.1)
    with pytest.raises(DesignInputError, match="steeper than the steepest grade of 5"):
        replace(limits, start_grade=-0.06).check()


def test_long_grades_are_those_of_the_line_curves_and_all():
    limits = replace(BASE, steep_grade=0.05, longest_steep_m=300.0)
    (up, down) = uses(HILLS, limits, "long_grade")
    # By hand: the crest turns 13 % over 187.2 m from 406.4 on, so that 5 % is left 14.4 m into it, and -5 % begins
    # 158.4 m into it; the sag turns 8 % over 120 m from 940 on, and -5 % is left 30 m into it.
    assert (up.from_chainage_m, up.to_chainage_m) == pytest.approx((0, 406.4 + 14.4))
    assert (down.from_chainage_m, down.to_chainage_m) == pytest.approx((406.4 + 158.4, 970.0))
    assert up.fails and up.use == pytest.approx(420.8 / 300) and "climb of more than 5.00 %" in brief(up)
    # In a range of its own from 200 on only 6.5 % is steep: what climbs by 6 % ends there.
    eased = limits.with_ranges([LimitRange(from_m=200, to_m=1600, steep_grade=0.065)])
    (up, down) = uses(HILLS, eased, "long_grade")
    assert (up.from_chainage_m, up.to_chainage_m) == pytest.approx((0, 200)) and not up.fails
    assert down.from_chainage_m == pytest.approx(406.4 + 180.0)
    with pytest.raises(DesignInputError, match="belong together"):
        replace(BASE, steep_grade=0.05).check()


def test_flattest_at_kerbs_and_in_cut_and_stretches_that_are_flat():
    kerbs = BASE.with_ranges([LimitRange(from_m=1200, to_m=1500, min_kerb_grade=0.012)])
    (bad,) = [u for u in limit_uses(HILLS, kerbs) if u.fails]
    assert (bad.check, bad.from_chainage_m, bad.to_chainage_m) == ("flattest_at_kerbs", 1200, 1500)
    assert everywhere(kerbs, "strictest").min_grade == 0.012
    # About the crest: +-0.5 % of K 14.4 is 14.4 m, its high point 86.4 m into the curve; and about the sag 15 m.
    flat = flat_stretches(Checked(HILLS, BASE))
    assert flat == [pytest.approx((406.4 + 79.2, 406.4 + 93.6)), pytest.approx((940 + 97.5, 940 + 112.5))]
    assert [w.what for w in water_along(Checked(HILLS, BASE))] == [
        "flat stretch", "high point", "flat stretch", "low point"
    ]  # fmt: skip
    cut = replace(BASE, min_cut_grade=0.012)
    s = np.array([0.0, 800.0, 1300.0, 1600.0])
    for ground, fails in ((HILLS.levels(s) - 1, False), (HILLS.levels(s) + 1, True)):
        works = SimpleNamespace(chainage_m=s, centre_level_m=ground)
        checked = Checked(HILLS, cut, works, SimpleNamespace(level_m=HILLS.levels(s)))
        assert any(u.fails for u in BY_ID["flattest_in_cut"].uses(checked)) == fails


def test_a_kink_needs_no_curve_where_it_is_small_enough():
    kinked = line((0, 100, 0), (500, 110, 0), (1000, 122, 0))
    assert {u.check for u in limit_uses(kinked, BASE) if u.fails} == {"sag_k", "curve_length"}
    assert not any(u.fails for u in limit_uses(kinked, replace(BASE, most_kink=0.004)))
    assert any(u.fails for u in limit_uses(kinked, replace(BASE, most_kink=0.0039)))


def test_kinds_of_k_are_kept_beside_each_other_and_by_the_search_together():
    limits = replace(BASE, crest_k_passing=30.0, sag_k_comfort=14.0)
    assert [u.check for u in limit_uses(HILLS, limits) if u.fails] == ["crest_k_passing"]
    found = remedies(Checked(HILLS, limits), CHECKS, free_of_charge)
    # 13 % of K 30.
    assert "Lengthen the curve to 390 m" in [r.label for r in found]
    assert everywhere(limits, "strictest").min_crest_k_m_per_pct == 30.0
    assert everywhere(limits, "loosest").min_sag_k_m_per_pct == max(14.0, BASE.min_sag_k_m_per_pct)


def test_passing_sight_is_the_tables_and_stretches_are_marked():
    """Reference section 2: passing sight and its K = S^2 / 864 (eye and object 1.08 m), S^2 / 2800 ft."""
    for kmh, sight, k in ((30, 120, 17), (50, 160, 30), (70, 210, 51), (90, 280, 91), (110, 355, 146), (130, 440, 224)):
        assert passing_sight_m(np.array([float(kmh)]))[0] == sight and round(sight**2 / 864) == k
    for mph, sight, k in ((20, 400, 57), (40, 600, 129), (50, 800, 229), (60, 1000, 357), (80, 1400, 700)):
        assert us_passing_sight_ft(mph) == sight and round(sight**2 / 2800) == k
    crest = line((0, 100, 0), (1000, 130, 200), (2000, 100, 0))
    checked = Checked(crest, replace(BASE, passing_sight_m=300.0, least_passing_share=0.9))
    ahead, back = checked.marked
    assert [m.passing for m in ahead] == [m.passing for m in back] == [True, False, True]
    # The road is the same both ways: what is marked coming back is the mirror of what is marked ahead.
    assert back[1].from_m == pytest.approx(2000 - ahead[1].to_m, abs=0.01)
    # Less than a least length is no passing: the whole first stretch but for its last metre.
    short = markings(checked.sights("passing")[0], "ahead", ahead[0].to_m + 1)
    assert [m.passing for m in short] == [False, True] or [m.passing for m in short] == [False]
    # An added lane needs no sight: over the crest's end, inside the stretch without, and beyond the road.
    middle = (ahead[1].from_m + ahead[1].to_m) / 2
    lanes = [(middle, ahead[1].to_m + 50), (ahead[1].from_m + 20, ahead[1].from_m + 40), (1990.0, 2100.0)]
    with_lanes = markings(checked.sights("passing")[0], "ahead", checked.limits.shortest_passing_m, lanes)
    told = [(m.from_m, m.to_m, m.passing) for m in with_lanes]
    a = ahead[1].from_m
    assert told == [
        (0.0, a, True), (a, a + 20, False), (a + 20, a + 40, True), (a + 40, middle, False), (middle, 2000.0, True)
    ]  # fmt: skip
    share = share_of(ahead)
    assert share == pytest.approx(1 - (ahead[1].to_m - ahead[1].from_m) / 2000)
    (first, _) = BY_ID["passing_share"].uses(checked)
    assert first.use == pytest.approx(0.9 / share)


def free_of_charge(_: GradeLine) -> SimpleNamespace:
    return SimpleNamespace(ledger=SimpleNamespace(cost=0.0))


CLOSE = line((0, 100, 0), (300, 110, 20), (330, 110.9, 20), (800, 130, 0))
NEARLY_TOUCHING = line((0, 100, 0), (400, 120, 190), (600, 118, 190), (1000, 130, 0))
SHARP = line((0, 100, 0), (500, 130, 60), (1000, 95, 120), (1600, 101, 0))


@pytest.mark.parametrize(
    ("of", "limits", "check"),
    [
        (HILLS, replace(BASE, max_grade=0.065), "steepest_grade"),
        (line((0, 100, 0), (500, 101, 60), (1000, 130, 0)), BASE, "flattest_grade"),
        (CLOSE, replace(BASE, min_curve_length_m=20), "ip_spacing"),
        (HILLS, replace(BASE, most_drained_k_m_per_pct=14.0), "drained_k"),
        (NEARLY_TOUCHING, replace(BASE, min_tangent_m=20), "shortest_tangent"),
        (SHARP, replace(BASE, stopping_sight="fails"), "stopping_sight"),
    ],
)  # fmt: skip
def test_each_is_mended_by_what_is_offered(of, limits, check):
    bad = [u for u in BY_ID[check].uses(Checked(of, limits)) if u.fails]
    assert bad
    offered = [r for r in remedies(Checked(of, limits), CHECKS, free_of_charge) if check in r.checks]
    assert offered, check
    was = {(u.check, u.ip) for u in limit_uses(of, limits) if u.fails}
    for remedy in offered:
        mended = apply_edit(of, remedy.edit).line
        assert not any(u.fails and u.ip == remedy.ip for u in BY_ID[check].uses(Checked(mended, limits))), remedy.label
        assert {(u.check, u.ip) for u in limit_uses(mended, limits) if u.fails} <= was, remedy.label


def test_whatever_the_line_its_uses_are_numbers_and_its_findings_words():
    """Also where brakes never stop a vehicle, which needs no end of sight."""
    rng = np.random.default_rng(23)
    everything = replace(BASE, headlight_sight="fails", intermediate_sight="advice", stopping_sight="fails")
    never = 0
    # Over a brow into a fall of 44 % that goes on to the end.
    lines = [line((0, 0, 0), (200, 10, 50), (900, -300, 0))]
    for _ in range(60):
        s = np.cumsum(rng.uniform(40, 300, 7))
        z = np.cumsum(rng.normal(0, 60, 7))
        room = np.minimum(np.diff(s)[:-1], np.diff(s)[1:]) * rng.uniform(0, 0.9, 5)
        lines.append(line(*zip(s.tolist(), z.tolist(), [0.0, *room.tolist(), 0.0], strict=True)))
    for steep in lines:
        found = all_uses(Checked(steep, everything), CHECKS)
        assert all(np.isfinite((u.value, u.limit, 0.0 if u.use is None else u.use)).all() for u in found)
        said = [BY_ID[u.check].say(u) for u in found if u.fails]
        assert not any("inf" in text or "nan" in text for text in said)
        never += sum("brakes never stop it" in text for text in said)
    assert never


@pytest.mark.parametrize("shape", [{"in_share": 0.3}, {"in_share": 0.7}, {"shape": "circle"}, {}])
def test_a_curve_of_any_shape_is_lengthened_to_what_its_sharpest_place_needs(shape):
    ips = [Ip(chainage_m=0, level_m=100), Ip(chainage_m=600, level_m=142, curve_length_m=40, **shape),
           Ip(chainage_m=1200, level_m=100)]  # fmt: skip
    of = GradeLine.of(ips)
    offered = [
        r
        for u in uses(of, BASE, "crest_k")
        if u.fails
        for r in BY_ID["crest_k"].remedies(Checked(of, BASE), u, lambda _: False)
    ]
    longer = next(r for r in offered if r.label.startswith("Lengthen"))
    mended = apply_edit(of, longer.edit, around(BASE)).line
    assert not [u for u in uses(mended, BASE, "crest_k") if u.fails]
    assert mended.k(1) == pytest.approx(BASE.min_crest_k_m_per_pct, rel=0.02)


def test_what_mends_one_limit_and_breaks_another_says_so_and_comes_only_where_nothing_else_does():
    """A sharp crest close under a level control: each way to mend it lowers the line; a longer curve is offered and
    says what it breaks."""
    of = line((0, 100, 0), (300, 118, 60), (900, 100, 0))
    top = float(of.levels(np.array([300.0]))[0])
    keep = Band("control", 0, "the old bridge", np.array([300.0]), np.array([top]), -0.01, np.inf)
    limits = BASE.with_bands([keep])

    def evaluate(_: GradeLine) -> SimpleNamespace:
        return SimpleNamespace(ledger=SimpleNamespace(cost=0.0))

    checks = tuple(c for c in CHECKS if not c.on_ground and c.searched)
    free = remedies(Checked(of, BASE), checks, evaluate, newly_broken)
    assert free and not any(r.breaks for r in free)
    held = remedies(Checked(of, limits), checks, evaluate, newly_broken)
    assert held and all(r.breaks for r in held)
    (longer,) = [r for r in held if r.label.startswith("Lengthen")]
    assert any("old bridge" in text for text in in_words(of, longer.breaks))
