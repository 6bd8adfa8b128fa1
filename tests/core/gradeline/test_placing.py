"""Ways to put an IP, to change several, and to lock what is to stay."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.around import Around
from delgrun.core.gradeline.edit_kinds import AddIp, DeleteIp, Edit, MoveIp, SetGrade, SetIps, apply_edit
from delgrun.core.gradeline.grade_line import GradeLine, Refused
from delgrun.core.gradeline.ip import Ip, IpNumber
from delgrun.core.gradeline.many_ips import CopyStretch, CurveMany, Lock, MoveMany, Straighten
from delgrun.core.gradeline.placing import AddAtGround, AddOnGrade, Meet, Merge, Split
from laws import looked, looks

LINE = GradeLine.of(
    [
        Ip(chainage_m=0.0, level_m=10.0),
        Ip(chainage_m=200.0, level_m=20.0, curve_length_m=80.0),
        Ip(chainage_m=400.0, level_m=12.0, curve_length_m=120.0, in_share=0.25),
        Ip(chainage_m=600.0, level_m=14.0, curve_length_m=60.0, shape="circle"),
        Ip(chainage_m=800.0, level_m=9.0),
    ]
)
ALL = tuple(IpNumber(ip=i) for i in range(5))


def made(edit: Edit, around: Around | None = None, line: GradeLine = LINE) -> GradeLine:
    return apply_edit(line, edit, around or Around()).line


def levels(line: GradeLine) -> np.ndarray:
    return line.levels(np.linspace(0.0, 800.0, 1601))


def test_two_grades_meet_where_the_reference_says() -> None:
    """Reference values 1.6: leave (250, 64.100) at -3.1 %, arrive (640, 61.350) at +2.75 %."""
    ends = GradeLine.of([Ip(chainage_m=250.0, level_m=64.1), Ip(chainage_m=640.0, level_m=61.35)])
    met = made(Meet(ip=0, to=1, grade_out=-0.031, grade_in=0.0275), line=ends)
    assert met.chainage_m[1] == pytest.approx(480.342, abs=5e-4) and met.level_m[1] == pytest.approx(56.9594, abs=5e-5)
    assert met.room_m(1) == pytest.approx(319.316, abs=5e-4)
    with pytest.raises(DesignInputError, match=r"it is -0\.705 %"):
        made(Meet(ip=0, to=1, grade_out=0.02, grade_in=0.01), line=ends)


def test_an_ip_goes_on_a_grade_from_another_and_to_the_ground() -> None:
    ahead = made(AddOnGrade(ip=1, chainage_m=320.0, grade=-0.055))
    assert ahead.grade[1] == pytest.approx(-0.055) and ahead.chainage_m[2] == 320.0
    back = made(AddOnGrade(ip=4, chainage_m=700.0, grade=-0.03))
    assert back.grade[-1] == pytest.approx(-0.03)
    with pytest.raises(DesignInputError, match=r"IP 2 at 0\+400\.00 comes first"):
        made(AddOnGrade(ip=1, chainage_m=500.0, grade=0.0))
    ground = Around(ground=lambda s: 0.01 * s if s < 750 else float("nan"))
    assert made(AddAtGround(chainage_m=520.0, above_m=-1.5), ground).ips[3].level_m == pytest.approx(3.7)
    with pytest.raises(DesignInputError, match=r"no ground at 0\+760"):
        made(AddAtGround(chainage_m=760.0, above_m=0.0), ground)


@looks()
@given(st.floats(0.5, 799.5))
def test_splitting_leaves_the_line_and_merging_gives_it_back(at_m: float) -> None:
    try:
        split = made(Split(chainage_m=at_m))
    except DesignInputError as e:
        # An unsymmetrical curve is two parabolas already; on an IP there is one.
        assert 370.0 < at_m < 490.0 or any(abs(at_m - s) < 1e-3 for s in LINE.chainage_m), e
        return
    looked()
    assert np.abs(levels(split) - levels(LINE)).max() < 1e-6
    if len(split.ips) == 6 and (160 < at_m < 240 or 570.1 < at_m < 629.9):
        i = 1 if at_m < 300 else 3
        merged = made(Merge(ip=i), line=split)
        assert merged.chainage_m[i] == pytest.approx(LINE.chainage_m[i], abs=1e-6)
        assert merged.curve_length_m[i] == pytest.approx(LINE.curve_length_m[i], abs=1e-6)


def test_an_unsymmetrical_curve_is_split_at_its_ip_and_made_one_again() -> None:
    split = made(Split(chainage_m=400.0))
    assert np.abs(levels(split) - levels(LINE)).max() < 1e-9
    again = made(Merge(ip=2), line=split)
    assert again.ips[2].in_share == pytest.approx(0.25) and np.abs(levels(again) - levels(LINE)).max() < 1e-9


def test_several_ips_move_tilt_and_have_one_curve() -> None:
    some = (IpNumber(ip=1), IpNumber(ip=3), IpNumber(ip=4))
    moved = made(MoveMany(ips=some, along_m=12.0, up_m=0.5, tilt=0.01, about_m=200.0, slide=False))
    assert moved.chainage_m.tolist() == [0.0, 212.0, 400.0, 612.0, 800.0]
    assert moved.level_m == pytest.approx([10.0, 20.5, 12.0, 18.5, 15.5])
    # A drag of several stops where the first two curves meet: 212 + 40 m and 370 m are 118 m apart.
    ahead = MoveMany(ips=(IpNumber(ip=1),), along_m=170.0, up_m=0.0, tilt=0.0, about_m=0.0, slide=True)
    slid = apply_edit(LINE, ahead)
    assert slid.line.curve_end_m[1] == pytest.approx(slid.line.curve_start_m[2], abs=2e-3) and slid.stopped
    even = made(CurveMany(ips=ALL, curve_length_m=None, k_m_per_pct=8.0))
    assert [round(even.k(i), 2) for i in (1, 2, 3)] == [8.0, 8.0, 8.0]
    with pytest.raises(Refused, match="overlap"):
        made(CurveMany(ips=ALL, curve_length_m=190.0, k_m_per_pct=None))
    assert made(Straighten(ip=1, to=4)).chainage_m.tolist() == [0.0, 200.0, 800.0]


def test_a_stretch_is_as_the_other_line_has_it_and_the_rest_stays() -> None:
    other = made(MoveIp(ip=3, chainage_m=590.0, level_m=17.0, slide=False))
    around = Around(lines={"line-2": other})
    copied = made(CopyStretch(line="line-2", from_m=500.0, to_m=700.0), around)
    s = np.linspace(500.0, 700.0, 400)
    assert np.abs(copied.levels(s) - other.levels(s)).max() < 1e-9
    before = np.linspace(0.0, 370.0, 300)
    assert np.abs(copied.levels(before) - LINE.levels(before)).max() < 1e-9
    # Where both are one there is no new IP, and none is left where the whole line is copied.
    assert made(CopyStretch(line="line-2", from_m=0.0, to_m=800.0), around).ips == other.ips
    assert len(made(CopyStretch(line="line-2", from_m=300.0, to_m=800.0), around).ips) == 5
    with pytest.raises(DesignInputError, match=r"runs from 0\+370\.00 to 0\+490\.00"):
        made(CopyStretch(line="line-2", from_m=380.0, to_m=700.0), around)


def test_a_typed_grade_moves_this_ip_or_the_other() -> None:
    this = made(SetGrade(ip=2, grade=-0.05, side="in", moves="this"))
    other = made(SetGrade(ip=2, grade=-0.05, side="in", moves="other"))
    assert this.level_m.tolist() == [10.0, 20.0, 10.0, 14.0, 9.0]
    assert other.level_m.tolist() == [10.0, 22.0, 12.0, 14.0, 9.0]
    assert made(SetGrade(ip=0, grade=0.04, side="out", moves="other")).level_m[1] == 18.0


def lock(line: GradeLine, ip: int, **what: bool) -> GradeLine:
    none = {"chainage": False, "level": False, "grade_in": False, "grade_out": False}
    return apply_edit(line, Lock(ip=ip, **(none | what))).line


def test_what_is_locked_stays_and_a_locked_grade_takes_the_next_ip_along() -> None:
    graded = lock(LINE, 2, grade_out=True)
    lifted = made(MoveIp(ip=2, chainage_m=400.0, level_m=13.0, slide=False), line=graded)
    assert lifted.level_m.tolist() == [10.0, 20.0, 13.0, 15.0, 9.0]
    # With the next level locked too there is only the way on that grade.
    fixed = lock(graded, 3, level=True, chainage=True, grade_in=True)
    dragged = apply_edit(fixed, MoveIp(ip=2, chainage_m=420.0, level_m=20.0, slide=True)).line
    assert dragged.grade[2] == pytest.approx(0.01, abs=1e-5) and dragged.chainage_m[2] > 415
    with pytest.raises(Refused, match=r"level of IP 3 is locked at 14\.000 m"):
        made(MoveIp(ip=3, chainage_m=600.0, level_m=15.0, slide=False), line=fixed)
    with pytest.raises(Refused, match="unlock it before it is taken out"):
        made(DeleteIp(ip=3), line=lock(LINE, 3, level=True))
    with pytest.raises(Refused, match="grade from IP 2 to IP 3 is locked"):
        made(AddIp(chainage_m=520.0, level_m=14.0), line=graded)
    assert made(Split(chainage_m=520.0), line=graded).ips[3].locked_grade == pytest.approx(0.01)
    assert lock(fixed, 3).ips[3].locked_level_m is None


@given(st.lists(st.tuples(st.integers(0, 4), st.floats(-80, 80), st.floats(-9, 9), st.booleans()), max_size=8))
def test_no_edit_changes_what_is_locked(moves: list[tuple[int, float, float, bool]]) -> None:
    line = lock(lock(lock(LINE, 1, level=True), 2, chainage=True, grade_out=True), 4, level=True)
    for ip, along, up, slide in moves:
        at = line.ips[ip]
        many = MoveMany(ips=ALL[ip:], along_m=along, up_m=up, tilt=0.0, about_m=0.0, slide=slide)
        typed = SetIps(ips=tuple(Ip(chainage_m=p.chainage_m, level_m=p.level_m + up) for p in line.ips))
        one = MoveIp(ip=ip, chainage_m=at.chainage_m + along, level_m=at.level_m + up, slide=slide)
        for edit in (one, many, typed):
            try:
                line = apply_edit(line, edit).line
            except Refused:
                continue
            assert line.conflict() is None
            assert line.level_m[[1, 4]].tolist() == [20.0, 9.0] and line.chainage_m[2] == 400.0
            assert line.level_m[3] - line.level_m[2] == pytest.approx(0.01 * (line.chainage_m[3] - 400.0), abs=2e-3)


def test_a_locked_grade_is_not_typed_over_and_no_steeper_than_can_be_kept():
    """The tangent of the lock used to slide instead: levels 115, 121, 100."""
    ips = [Ip(chainage_m=0, level_m=100, locked_grade=0.02), Ip(chainage_m=300, level_m=106, curve_length_m=60),
           Ip(chainage_m=600, level_m=100)]  # fmt: skip
    line = GradeLine(tuple(ips))
    for edit in (
        SetGrade(ip=1, grade=0.07, side="in", moves="this"), SetGrade(ip=1, grade=0.07, side="in", moves="other"),
        SetGrade(ip=0, grade=0.07, side="out", moves="this"), SetGrade(ip=0, grade=0.07, side="out", moves="other"),
    ):  # fmt: skip
        with pytest.raises(DesignInputError, match=r"is locked at \+2\.000 %: unlock it first"):
            apply_edit(line, edit, Around())
    assert apply_edit(line, SetGrade(ip=1, grade=-0.05, side="out", moves="other"), Around()).line.grade[0] == 0.02
    wall = GradeLine((Ip(chainage_m=0, level_m=0), Ip(chainage_m=10, level_m=25), Ip(chainage_m=100, level_m=0)))
    with pytest.raises(DesignInputError, match="can't be locked: 200"):
        apply_edit(wall, Lock(ip=0, chainage=False, level=False, grade_in=False, grade_out=True), Around())
