"""Looking back and going back, names of states, and lines that are final."""

import pytest

from delgrun.core.gradeline.edit_kinds import MoveIp
from delgrun.core.inputs import LIMITS
from delgrun.core.limits.limit_set import default_limits
from delgrun.service import centrelines, history, lines, refusals
from delgrun.service.errors import DesignInputError, NotReady, RevisionConflict
from delgrun.service.projects import Saving


def lifted(projects, own: int, base: int, up_m: float) -> int:
    ip = projects.states.at(own, base).line("line-1").ips[5]
    move = MoveIp(ip=5, chainage_m=ip.chainage_m, level_m=ip.level_m + up_m, slide=False)
    return lines.apply(projects, Saving(project_id=own, base=base), "line-1", move)[0]


def test_any_state_comes_back_whole_and_what_was_there_is_one_undo_away(projects, own):
    first = projects.states.at(own, 5)
    base = lifted(projects, own, 5, 0.5)
    base, slot = lines.straight_line(projects, Saving(project_id=own, base=base), "other")
    base = projects.save(Saving(project_id=own, base=base), "l", {LIMITS.name: default_limits(50.0)})
    before = projects.states.at(own, base)
    back = history.go_back(projects, Saving(project_id=own, base=base), 5, None)
    now = projects.states.at(own, back)
    assert {s: k.value for s, k in now.slots.items()} == {s: k.value for s, k in first.slots.items()}
    assert slot not in now.lines
    undone = projects.states.at(own, projects.turn(Saving(project_id=own, base=back), "undo"))
    assert {s: k.value for s, k in undone.slots.items()} == {s: k.value for s, k in before.slots.items()}
    # Where all is so already nothing is saved, and what somebody else saved since is not overwritten.
    assert history.go_back(projects, Saving(project_id=own, base=undone.revision), base, None) == undone.revision
    with pytest.raises(RevisionConflict):
        history.go_back(projects, Saving(project_id=own, base=back), 5, None)


def test_one_line_comes_back_and_goes_along_to_another_centreline(projects, own):
    first = projects.states.at(own, 5).line("line-1")
    base = lifted(projects, own, 5, 0.5)
    state = projects.states.at(own, base)
    back = history.go_back(projects, Saving(project_id=own, base=base), 5, "line-1")
    assert projects.states.at(own, back).line("line-1") == first
    row = {"start_chainage_m": 100.0, "ips": [vars(ip) for ip in state.centreline.ips]}
    moved, _, _ = centrelines.save(projects, Saving(project_id=own, base=back), row, "place")
    again = history.go_back(projects, Saving(project_id=own, base=moved), base, "line-1")
    line = projects.states.at(own, again).line("line-1")
    assert line.ips[5].level_m == state.line("line-1").ips[5].level_m
    assert line.ips[5].chainage_m == pytest.approx(state.line("line-1").ips[5].chainage_m + 100.0)
    with pytest.raises(DesignInputError, match="no such grade line at revision 5"):
        history.go_back(projects, Saving(project_id=own, base=again), 5, "line-9")


def test_states_have_names_which_change_nothing_else(projects, own):
    base = lifted(projects, own, 5, 0.5)
    history.give_name(projects, own, 5, " as tendered ")
    for _ in range(4):
        base = lifted(projects, own, base, 0.1)
    shown = history.listed(projects, own, base + 1, 2)
    # Those with a name are there however old they are.
    assert [(s["number"], s["name"]) for s in shown] == [(base, ""), (base - 1, ""), (5, "as tendered")]
    assert shown[0]["slots"] == ["line-1"] and shown[0]["label"] == "Move IP 5"
    history.give_name(projects, own, 5, "tender")
    history.give_name(projects, own, base, "")
    assert [s["name"] for s in history.listed(projects, own, 6, 1)] == ["tender"]
    history.give_name(projects, own, 5, "")
    assert history.listed(projects, own, 6, 1)[0]["name"] == ""
    assert projects.states.newest(own).revision == base
    with pytest.raises(NotReady, match="no revision 99"):
        history.give_name(projects, own, 99, "later")


def test_a_final_line_is_changed_only_as_a_copy(projects, own):
    base = lines.set_status(projects, Saving(project_id=own, base=5), "line-1", "final")
    to = Saving(project_id=own, base=base)
    for change in (lambda: lifted(projects, own, base, 0.5), lambda: lines.delete(projects, to, "line-1"),
                   lambda: history.go_back(projects, to, 5, "line-1")):  # fmt: skip
        with pytest.raises(DesignInputError, match="is final: it is changed only as a copy"):
            change()
    move = MoveIp(ip=5, chainage_m=1240.0, level_m=225.0, slide=True)
    said = refusals.ways_on(projects, own, base, "line-1", [], move)
    assert said.reason is not None and "is final" in said.reason and said.ways == []
    base, slot = lines.copy(projects, to, "line-1", "copy")
    copy = projects.states.at(own, base).line(slot)
    assert copy.status == "draft" and copy.ips == projects.states.at(own, base).line("line-1").ips
    # Its centreline may still be moved: then it is to be checked again, and that is said.
    design = projects.states.at(own, base).centreline
    ips = [vars(ip) for ip in design.ips]
    ips[2] = ips[2] | {"easting_m": ips[2]["easting_m"] + 5.0}
    row = {"start_chainage_m": 0.0, "ips": ips}
    base, _, gone = centrelines.save(projects, Saving(project_id=own, base=base), row, "place")
    assert projects.states.at(own, base).line("line-1").status == "checking"
    assert any("final status of" in text for text in gone)
