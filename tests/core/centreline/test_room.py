"""Bends that find no room: what is made of them fits, is as large as can be, and each remedy mends what it says."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp, Legs
from delgrun.core.centreline.room import made_to_fit, plan_remedies, squeezed
from delgrun.core.errors import DesignInputError
from laws import examples, looked, looks


def wild(seed: int) -> list[CentrelineIp]:
    """Corners of all kinds, close together, far from the origin; most of their bends overlap."""
    rng = np.random.default_rng(seed)
    n = int(rng.integers(3, 12))
    east = np.cumsum(rng.uniform(30, 300, n)) + 5e5
    north = 4.2e6 + rng.uniform(-200, 200, n)
    out = []
    for i in range(n):
        end = i in (0, n - 1)
        transitions = [0.0 if end or rng.random() < 0.3 else round(rng.uniform(5, 90), 1) for _ in range(2)]
        out.append(
            CentrelineIp(
                easting_m=round(east[i], 3),
                northing_m=round(north[i], 3),
                radius_m=0.0 if end else float(round(rng.uniform(20, 400))),
                transition_in_m=transitions[0],
                transition_out_m=transitions[1],
            )
        )
    return out


@given(st.integers(0, 10**6))
@settings(max_examples=examples(150))
def test_bends_made_to_fit_fit_and_none_could_be_larger(seed):
    ips = wild(seed)
    made, misfits = made_to_fit(ips)
    line = Centreline(made)
    assert {m.ip for m in misfits} == {i for i, (a, b) in enumerate(zip(ips, made, strict=True)) if a != b}
    legs = Legs.of(made)
    for m in misfits:
        if m.made.radius_m == m.wished.radius_m:
            assert "turn by more than" in m.reason
            continue
        assert m.made.radius_m < m.wished.radius_m
        # One of its legs has no room for two bends that are a little larger: half a metre of radius is rounding.
        left = legs.straight_m[[m.ip - 1, m.ip]]
        grown = [i for i in (m.ip - 1, m.ip, m.ip + 1) if i in legs.corners]
        slack = sum((legs.corners[i].tangent_in_m + legs.corners[i].tangent_out_m) / made[i].radius_m for i in grown)
        assert left.min() < 1.1 * slack + 0.5
    assert line.length_m > 0


@looks()
@given(st.integers(0, 10**6))
@settings(max_examples=examples(100))
def test_a_remedy_mends_its_leg_and_harms_no_other(seed):
    ips = wild(seed)
    try:
        Centreline(ips)
    except DesignInputError as e:
        why = e.message
    else:
        assert plan_remedies(ips) == []
        return
    looked()
    found = plan_remedies(ips)
    for remedy in found:
        after = [remedy.changes.get(i, ip) for i, ip in enumerate(ips)]
        try:
            Centreline(after)
        except DesignInputError as e:
            # Other bends may overlap still, not these.
            assert e.message != why
    if "IP" in why and "transitions at" in why:
        assert len(found) == 2


def overrun(*, radius: float, leg: float) -> list[CentrelineIp]:
    """Two right angles, a leg apart, tangents of 1 R each."""
    places = [(0, 0), (1000, 0), (1000, -leg), (2000, -leg)]
    return [
        CentrelineIp(easting_m=e, northing_m=n, radius_m=0 if i in (0, 3) else radius)
        for i, (e, n) in enumerate(places)
    ]


def test_remedies_of_two_right_angles_in_closed_form():
    # Radii of 200 need 400 m of the 300: one of 100, both of 150, or the leg 100 m longer.
    labels = [r.label for r in plan_remedies(overrun(radius=200, leg=300))]
    assert labels == [
        "IP 2: a radius of 100.00 m",
        "IP 3: a radius of 100.00 m",
        "Both smaller: IP 2 150.00 m and IP 3 150.00 m",
        *labels[3:],
    ]
    assert [text.split(" by ")[0] for text in labels[3:]] == ["Move IP 2", "Move IP 3"]
    moved = plan_remedies(overrun(radius=200, leg=300))[3].changes[1]
    # Moved along its leg its own bend turns by a little more than a right angle.
    d = moved.northing_m
    need = 200 + 200 * np.tan(np.pi / 4 + np.arctan(d / 1000) / 2)
    assert moved.easting_m == 1000 and 0 <= 300 + d - need < 0.1


def test_what_rounding_does_to_bends_that_touch_is_squeezed_out_and_an_overlap_is_not():
    ips = overrun(radius=150.002, leg=300)
    made = squeezed(ips, 0.05)
    assert Centreline(made).bends[0].radius_m == pytest.approx(150, abs=1e-6)
    far = overrun(radius=151, leg=300)
    assert squeezed(far, 0.05) == far


def test_what_does_not_turn_is_no_bend_that_could_be_mended():
    """Found by random calls: transitions at an IP without a turn, before one that cannot join its bend."""
    at = [(0.0, 0.0), (100.0, 0.0), (200.0, 0.0), (300.0, 80.0), (400.0, 0.0)]
    ips = [
        CentrelineIp(
            easting_m=e, northing_m=n, radius_m=50.0 if 0 < i < 4 else 0.0, transition_out_m=20.0 if 0 < i < 4 else 0.0
        )
        for i, (e, n) in enumerate(at)
    ]
    ips[3] = replace(ips[3], joins=True)
    with pytest.raises(DesignInputError):
        Legs.of(ips)
    assert plan_remedies(ips) == []
