"""A project at a glance: what the list shows follows from the newest revision, is kept with it, and never fails."""

from dataclasses import replace

import pytest

from delgrun.service import projects as module
from delgrun.service.projects import Saving
from delgrun.service.results import of_works
from delgrun.store import revisions


def test_a_glance_is_that_of_the_line_and_is_worked_out_once(projects, demo, demo_case, monkeypatch):
    state = projects.states.newest(demo)
    seen = projects.glance(demo)
    now = projects.case_of_first_line(state)
    assert seen["cost"] == pytest.approx(of_works.evaluation(now).ledger.cost)
    assert seen["length_m"] == pytest.approx(3986.308, abs=1e-3) and seen["failures"] == 2
    assert (seen["line"][0][0], len(seen["ground"])) == (0.0, 160)
    monkeypatch.setattr(module, "glance_of", lambda _: pytest.fail("worked out again"))
    assert projects.glance(demo) == seen


def test_a_glance_follows_a_new_revision_and_an_undo(projects):
    pid = projects.create("at a glance")
    assert projects.glance(pid)["currency"] == "EUR"
    cost = projects.states.newest(pid).cost
    base = projects.save(Saving(project_id=pid, base=1), "Costs", {"cost": replace(cost, currency="CHF")})
    assert projects.glance(pid)["currency"] == "CHF"
    projects.turn(Saving(project_id=pid, base=base), "undo")
    assert projects.glance(pid)["currency"] == "EUR"


def test_an_empty_project_has_a_glance_of_what_there_is(projects):
    seen = projects.glance(projects.create("empty"))
    assert seen["length_m"] is None and seen["failures"] is None and seen["ground"] == seen["line"] == []
    with pytest.raises(revisions.UnknownProject):
        projects.glance(10**6)
