"""Trucks on grades: reference values section 6, and scipy's integration of the same motion."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.trucks.trucks import Truck, run
from laws import examples


def even(grade: float, length: float = 6000.0) -> GradeLine:
    return GradeLine.of([Ip(chainage_m=0, level_m=0), Ip(chainage_m=length, level_m=grade * length)])


@pytest.mark.parametrize(
    ("percent", "distance", "crawl"), [(3, 552.9, 62.97), (5, 288.3, 43.99), (7, 195.1, 33.35), (8, 168.0, 29.70)]
)
def test_on_an_even_grade(percent, distance, crawl):
    """Reference section 6, within 1 %: from 110 to 95 km/h, and the speed kept for ever."""
    truck = Truck()
    found = run(even(percent / 100), truck, 110.0)
    (slow,) = found.slow
    assert slow.critical_m == pytest.approx(distance, rel=0.01) and slow.grade_from_m == 0
    assert found.kmh[-1] == pytest.approx(crawl, rel=0.01)


def test_what_is_never_reached_is_not_said_to_be():
    """Reference section 6: on 1 % from 110 km/h the truck never loses 15 km/h."""
    found = run(even(0.01, 30_000.0), Truck(), 110.0)
    assert found.slow == () and found.kmh.min() > 95


def test_over_three_grades():
    """Reference section 6: from 100 km/h over +4, -1 and +7 %, 500 m each."""
    rows = [(0.0, 0.0), (500.0, 20.0), (1000.0, 15.0), (1500.0, 50.0)]
    line = GradeLine.of([Ip(chainage_m=s, level_m=z) for s, z in rows])
    found = run(line, Truck(fastest_kmh=100), 100.0)
    at = [float(found.kmh[np.argmin(np.abs(found.at_m - s))]) for s in (500, 1000, 1500)]
    assert at == pytest.approx([81.46, 98.12, 57.89], rel=0.001)


@settings(max_examples=examples(25), deadline=None)
@given(
    st.lists(st.tuples(st.floats(150, 600), st.floats(-0.08, 0.09)), min_size=2, max_size=5),
    st.booleans(), st.floats(60, 300), st.floats(50, 110),
)  # fmt: skip
def test_it_is_what_scipy_integrates(rows, back, ratio, fastest):
    s, z, ips = 0.0, 100.0, [Ip(chainage_m=0, level_m=100)]
    for k, (length, grade) in enumerate(rows):
        s, z = s + length, z + grade * length
        curve = 0.9 * min(length, rows[k + 1][0]) if k + 1 < len(rows) else 0.0
        ips.append(Ip(chainage_m=s, level_m=z, curve_length_m=curve))
    line, truck = GradeLine.of(ips), Truck(kg_per_kw=ratio, fastest_kmh=fastest)
    found = run(line, truck, 90.0, back=back)
    most = (fastest / 3.6) ** 2 / 2
    sign = -1.0 if back else 1.0

    def gain(x: float, w: np.ndarray) -> list[float]:
        at = s - x if back else x
        grade = sign * float(line.grades(np.array([min(max(at, 0.0), s)]))[0])
        v = np.sqrt(2 * max(w[0], 0.5))
        by = truck.power / v - 9.81 * (truck.rolling + grade) - 2 * truck.drag * w[0]
        return [min(by, 0.0) if w[0] >= most else by]

    want = solve_ivp(gain, (0, s), [most], max_step=2.0, rtol=1e-7, dense_output=True)
    x = s - found.at_m if back else found.at_m
    speeds = 3.6 * np.sqrt(2 * np.clip(want.sol(x)[0], 0.5, most))
    assert np.abs(found.kmh - speeds).max() < 0.1
