"""What is offered instead of an edit that can't be."""

import numpy as np
import pytest

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.around import Around
from delgrun.core.gradeline.edit_kinds import AddIp, Edit, MoveIp, SetCurve, SetGrade, SetK, SetLength, apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip, IpNumber
from delgrun.core.gradeline.many_ips import CopyStretch, CurveMany, Lock, MoveMany, Straighten
from delgrun.core.gradeline.placing import AddAtGround, AddOnGrade, Meet, Merge, Split
from delgrun.core.gradeline.ways import Way, refusal
from delgrun.core.limits.asked_curves import around
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.ways_out import ways_out

LINE = GradeLine.of(
    [
        Ip(chainage_m=0.0, level_m=10.0),
        Ip(chainage_m=200.0, level_m=20.0, curve_length_m=80.0),
        Ip(chainage_m=400.0, level_m=12.0, curve_length_m=120.0),
        Ip(chainage_m=600.0, level_m=14.0, curve_length_m=60.0),
        Ip(chainage_m=900.0, level_m=9.0),
    ]
)


def ways(edit: Edit, line: GradeLine = LINE) -> dict[str, GradeLine]:
    found = refusal(line, edit, Around())
    assert found is not None
    return {way.label: way.line for way in found.ways}


def test_a_curve_too_long_is_shortened_or_its_neighbour_is_or_moves() -> None:
    # From 200 to 400 m there are 140 m beside the neighbour's half: 300 m would take 150.
    offered = ways(SetLength(ip=1, curve_length_m=300.0))
    assert list(offered) == [
        "Shorten the curve of IP 1 to 280.00 m (K 31.1)",
        "Shorten the curve of IP 2 to 100.00 m (K 20)",
        "Shorten the curves of IP 1 to 285.71 m (K 31.7) and IP 2 to 114.28 m (K 22.9)",
        "Move IP 2 on by 10.00 m, on its grade",
        "Take out IP 2",
    ]
    away = offered["Move IP 2 on by 10.00 m, on its grade"]
    # It moves on the grade beyond it, which so stays; the least by which the curves don't overlap, to the centimetre.
    assert away.grade[2] == pytest.approx(0.01) and 0 <= away.curve_start_m[2] - away.curve_end_m[1] < 0.02


def test_a_curve_that_keeps_its_k_has_its_bend_made_less() -> None:
    offered = ways(SetK(ip=1, k_m_per_pct=40.0))
    lower = next(line for label, line in offered.items() if label.startswith("Lower IP 1 by"))
    assert lower.ips[1].held_k_m_per_pct == 40.0 and lower.k(1) == pytest.approx(40.0, abs=0.01)
    assert lower.curve_start_m[2] - lower.curve_end_m[1] < 0.2


def test_a_move_too_far_goes_as_far_as_it_can_or_past_the_others() -> None:
    offered = ways(MoveIp(ip=1, chainage_m=450.0, level_m=18.0, slide=True))
    assert list(offered) == [
        "Move IP 1 as far as it goes: 0+300.00, 18.000 m",
        "Take out IP 2",
        "Let it stand behind IP 2, with shorter curves",
    ]
    assert offered["Let it stand behind IP 2, with shorter curves"].chainage_m.tolist() == [
        0.0,
        400.0,
        450.0,
        600.0,
        900.0,
    ]


def test_new_ips_go_beside_what_is_in_their_way() -> None:
    on_curve = ways(AddIp(chainage_m=380.0, level_m=14.0))
    assert {"Put it on the line, at 0+380.00", "Put it clear of the curve, at 0+339.00"} < set(on_curve)
    assert "Take out IP 2, and put it there" in ways(AddOnGrade(ip=1, chainage_m=500.0, grade=-0.03))
    apart = ways(Meet(ip=1, to=2, grade_out=0.01, grade_in=-0.01))
    assert "Keep the grade out, and arrive at -9.000 % from 0+300.00" in apart and len(apart) == 2
    assert "Move IP 1 instead, for the same grade" in ways(
        SetGrade(ip=2, grade=-0.3, side="in", moves="this"),
        apply_edit(LINE, Lock(ip=2, chainage=False, level=True, grade_in=False, grade_out=False)).line,
    )


def test_what_can_not_be_kept_is_let_go_and_what_is_locked_is_unlocked() -> None:
    held = apply_edit(LINE, SetCurve(ip=2, held="start", held_m=340.0)).line
    offered = ways(MoveIp(ip=2, chainage_m=335.0, level_m=12.0, slide=False), held)
    assert "Let the curve of IP 2 have what room there is, 190.00 m instead of its start" in offered
    locked = apply_edit(LINE, Lock(ip=3, chainage=True, level=False, grade_in=False, grade_out=False)).line
    free = ways(MoveIp(ip=3, chainage_m=650.0, level_m=14.0, slide=False), locked)[
        "Unlock what is in the way, and do it"
    ]
    assert free.chainage_m[3] == 650.0 and free.ips[3].locked_chainage_m is None


def test_each_has_its_cost_and_the_limits_it_breaks_and_those_that_break_none_come_first() -> None:
    limits = LimitSet(min_crest_k_m_per_pct=20.0, min_sag_k_m_per_pct=21.0, min_curve_length_m=50.0)
    found = ways_out(
        LINE, SetLength(ip=1, curve_length_m=300.0), around(limits), limits, lambda line: float(line.level_m.sum())
    )
    assert found is not None and found.reason.startswith("The curves of IP 1 and IP 2 overlap by 10.00 m.")
    assert [bool(w.breaks) for w in found.ways] == sorted(bool(w.breaks) for w in found.ways)
    short = next(w for w in found.ways if w.label.startswith("Shorten the curve of IP 2"))
    assert short.breaks == ["sag K at IP 2: K 20, needs 21, short by 1"] and short.cost_change == 0.0
    out = next(w for w in found.ways if w.label == "Take out IP 2")
    assert out.cost_change == pytest.approx(-12.0) and apply_edit(LINE, out.edit).line.chainage_m.tolist()[2] == 600.0
    assert ways_out(LINE, SetLength(ip=1, curve_length_m=60.0), around(limits), limits, None) is None


def test_whatever_is_refused_every_way_on_can_stand() -> None:
    """Random lines and edits of all kinds; most refusals of moves and lengths have three ways or more."""
    random = np.random.default_rng(11)
    counts: list[int] = []
    for _ in range(60):
        chainage = np.round(np.cumsum(np.r_[1000.0, random.uniform(30, 300, 6)]), 3).tolist()
        level = np.round(100 + np.cumsum(random.normal(0, 6, 7)), 3).tolist()
        line = GradeLine(tuple(Ip(chainage_m=s, level_m=z) for s, z in zip(chainage, level, strict=True)))
        beside = around(LimitSet(), lambda s: 100.0 + s / 1000, {"line-2": line})
        for i in range(1, 6):
            length = SetLength(ip=i, curve_length_m=round(0.7 * line.room_m(i), 2))
            line = apply_edit(line, length).line
        for edit in _random_edits(random, line):
            found = refusal(line, edit, beside)
            if found is None:
                continue
            for way in found.ways:
                _check(line, way)
            if isinstance(edit, MoveIp | SetLength):
                counts.append(len(found.ways))
            try:
                line = apply_edit(line, edit, beside).line
            except DesignInputError:
                continue
    assert len(counts) > 60 and np.mean(np.array(counts) >= 3) > 0.6


def _check(line: GradeLine, way: Way) -> None:
    assert way.line.conflict() is None and way.line != line, way.label
    assert [way.line.chainage_m[k] for k in (0, -1)] == [line.chainage_m[k] for k in (0, -1)]
    for ip in way.line.ips:
        assert all(type(value) in (float, str, type(None)) for value in vars(ip).values()), way.label


def _random_edits(random: np.random.Generator, line: GradeLine) -> list[Edit]:
    i, j = sorted(random.choice(np.arange(1, len(line.ips) - 1), 2, replace=False).tolist())
    s, z = float(random.uniform(line.chainage_m[0], line.chainage_m[-1])), float(random.normal(100, 9))
    grade, length = float(random.normal(0, 0.06)), float(random.uniform(50, 400))
    both = (IpNumber(ip=i), IpNumber(ip=j))
    return [
        MoveIp(ip=i, chainage_m=s, level_m=z, slide=bool(random.integers(2))),
        SetLength(ip=j, curve_length_m=length),
        SetK(ip=i, k_m_per_pct=length),
        AddIp(chainage_m=s, level_m=z),
        AddOnGrade(ip=i, chainage_m=s, grade=grade),
        AddAtGround(chainage_m=s, above_m=grade),
        Meet(ip=i, to=j, grade_out=grade, grade_in=-2 * grade),
        Split(chainage_m=s),
        Merge(ip=i),
        MoveMany(ips=both, along_m=s - line.ips[i].chainage_m, up_m=grade, tilt=grade, about_m=s, slide=False),
        CurveMany(ips=both, curve_length_m=length, k_m_per_pct=None),
        Straighten(ip=i, to=j),
        CopyStretch(line="line-2", from_m=s, to_m=s + length),
    ]
