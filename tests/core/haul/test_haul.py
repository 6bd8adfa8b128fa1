"""The least-cost flow against HiGHS through scipy (reference values, section 5)."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.optimize import linprog

from delgrun.core.haul.haul import plan_haul
from delgrun.core.haul.prices import haul_prices
from reference import VALUES


def by_linear_program(net, chainage, haul, borrow, spoil):
    """Cost by HiGHS: flows forward and back over each link, borrow and spoil at each section."""
    n = len(net)
    link = np.diff(chainage) * haul
    balance = np.zeros((n, 2 * (n - 1) + 2 * n))
    for i in range(n - 1):
        balance[i, [i, n - 1 + i]] = [-1, 1]
        balance[i + 1, [i, n - 1 + i]] = [1, -1]
    balance[:, 2 * (n - 1) : 2 * (n - 1) + n] = np.eye(n)
    balance[:, 2 * (n - 1) + n :] = -np.eye(n)
    cost = np.concatenate([link, link, np.full(n, borrow), np.full(n, spoil)])
    return linprog(cost, A_eq=balance, b_eq=-np.asarray(net), bounds=(0, None), method="highs").fun


amounts = st.lists(st.one_of(st.just(0.0), st.floats(-500, 500)), min_size=1, max_size=25)
prices = st.sampled_from([0.0, 0.001, 0.01, 0.3, 2.0, 6.0])


@given(amounts, st.lists(st.floats(1, 300), min_size=24, max_size=24), prices, prices, prices)
def test_plan_costs_what_the_linear_program_says_and_balances(net, gaps, haul, borrow, spoil):
    net = np.array(net)
    chainage = np.concatenate([[0.0], np.cumsum(gaps)])[: len(net)]
    plan = plan_haul(net, chainage, haul_per_m3_m=haul, borrow_per_m3=borrow, spoil_per_m3=spoil)
    assert plan.cost == pytest.approx(by_linear_program(net, chainage, haul, borrow, spoil), rel=1e-9, abs=1e-6)
    # What comes in, goes out: no cubic metre is lost.
    flow = np.concatenate([[0.0], plan.flow_m3, [0.0]])
    assert net + plan.borrow_m3 - plan.spoil_m3 == pytest.approx(np.diff(flow), abs=1e-6)
    assert (plan.borrow_m3 >= 0).all() and (plan.spoil_m3 >= 0).all()
    if len(net) > 1:
        assert plan.cost == pytest.approx(
            haul * plan.haul_m3_m + borrow * plan.borrow_m3.sum() + spoil * plan.spoil_m3.sum(), rel=1e-9, abs=1e-6
        )


def test_lumps_of_reference_5_3():
    # Least volume times distance is the area under the mass curve.
    want = VALUES["5.3"]
    at, net = np.array(want["chainage_m"], dtype=float), np.array(want["net_m3"], dtype=float)
    plan = plan_haul(net, at, haul_per_m3_m=0.01, borrow_per_m3=1e4, spoil_per_m3=1e4)
    assert plan.haul_m3_m == pytest.approx(want["haul_m3_m"])


def test_hauling_stops_where_borrowing_and_spoiling_are_cheaper():
    # 1 000 m3 of cut, the same of fill at distance D; haul 0.01, borrow 6, spoil 2: even at 800 m.
    def cost(distance):
        return plan_haul(np.array([1000.0, -1000.0]), np.array([0.0, distance]), haul_per_m3_m=0.01,
                         borrow_per_m3=6.0, spoil_per_m3=2.0).cost  # fmt: skip

    assert [cost(d) for d in (500.0, 799.0, 801.0, 2000.0)] == pytest.approx([5000.0, 7990.0, 8000.0, 8000.0])


@given(amounts, st.lists(st.floats(1, 300), min_size=24, max_size=24), prices, prices, prices)
def test_prices_are_what_planning_anew_says(net, gaps, haul, borrow, spoil):
    net = np.array(net)
    chainage = np.concatenate([[0.0], np.cumsum(gaps)])[: len(net)]
    cost = {"haul_per_m3_m": haul, "borrow_per_m3": borrow, "spoil_per_m3": spoil}
    plan = plan_haul(net, chainage, **cost)
    # A flow that is nothing but rounding may turn round at once.
    assume(all(v == 0 or abs(v) > 1e-3 for v in [*plan.flow_m3, *plan.borrow_m3, *plan.spoil_m3]))
    more, less = haul_prices(plan, chainage, **cost)
    for i in range(len(net)):
        for price, change in ((more[i], 1e-4), (less[i], -1e-4)):
            other = net.copy()
            other[i] += change
            anew = plan_haul(other, chainage, **cost).cost
            assert (anew - plan.cost) / 1e-4 == pytest.approx(price, abs=2e-4 + 1e-7 * abs(plan.cost))


def test_prices_hold_at_flows_of_a_million_cubic_metres():
    """Where sums of large volumes leave a rest of rounding, that is no flow: prices don't depend on the unit earth is
    measured in."""
    rng = np.random.default_rng(8)
    cost = {"haul_per_m3_m": 0.004, "borrow_per_m3": 9.0, "spoil_per_m3": 3.0}
    for _ in range(200):
        n = int(rng.integers(4, 40))
        # Whole decimetres cubed that balance: many a flow is nothing.
        net = rng.integers(-8_000_000, 8_000_000, n) / 10.0
        net[rng.integers(n)] -= net.sum()
        cuts = np.sort(rng.choice(np.arange(1, n), size=2, replace=False))
        for part in np.split(net, cuts):
            part[-1] -= part.sum()
        chainage = np.cumsum(rng.integers(5, 60, n)).astype(float)
        large = haul_prices(plan_haul(net, chainage, **cost), chainage, **cost)
        small = haul_prices(plan_haul(net * 2.0**-30, chainage, **cost), chainage, **cost)
        for a, b in zip(large, small, strict=True):
            assert a == pytest.approx(b, abs=1e-9)
