"""Use cases joined to the store: figures that follow their inputs, remedies, lines, imports, and the demo."""

import io
from dataclasses import replace

import numpy as np
import orjson
import pytest

from delgrun.core.earthworks.evaluator import evaluate_line
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.edit_kinds import MoveIp, SetLength, apply_edit
from delgrun.core.inputs import COST, LIMITS, SECTION
from delgrun.core.limits.asked_curves import around
from delgrun.core.limits.checks import CHECKS, limit_uses
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.remedies import remedies
from delgrun.core.section.typical_section import plain_section
from delgrun.demo import scenario
from delgrun.demo.load import CENTRELINE_FILE, SURVEY_FILE, write_files
from delgrun.service import centrelines, imports, lines, wire
from delgrun.service.errors import NotReady
from delgrun.service.products import PRODUCTS
from delgrun.service.projects import Saving
from delgrun.service.results import of_checks, of_design, of_ground, of_limits, of_works
from delgrun.store import inputs, models, revisions
from surveys import brought_in, looked_at


def on(pid: int, base: int) -> Saving:
    return Saving(project_id=pid, base=base)


def test_only_what_depends_on_a_changed_input_is_made_again(projects, demo):
    first = projects.case(projects.states.newest(demo))
    base = first.state.revision
    base = projects.save(on(demo, base), "c", {COST.name: replace(first.cost.value, cut_per_m3=7.0)})
    dearer = projects.case(projects.states.newest(demo))
    assert of_works.works(dearer) is of_works.works(first)
    base = projects.save(on(demo, base), "s", {SECTION.name: plain_section(shoulder_width_m=1.5)})
    wider = projects.case(projects.states.newest(demo))
    assert (
        of_works.works(wider) is not of_works.works(first)
        and of_design.cut_across(wider) is of_design.cut_across(first)
        and of_ground.tin(wider) is of_ground.tin(first)
    )
    # The old value typed back finds what was made of it, though it is another version.
    base = projects.save(on(demo, base), "s", {SECTION.name: first.section.value})
    assert of_works.works(projects.case(projects.states.newest(demo))) is of_works.works(first)
    for _ in range(3):
        base = projects.turn(on(demo, base), "undo")
    assert of_works.works(projects.case(projects.states.newest(demo))) is of_works.works(first)


def test_every_product_answers_and_unchanged_arrays_are_not_sent_again(projects, demo):
    want = [p.name for p in PRODUCTS]
    full = projects.figures(demo, 5, want, slot="line-1", at_m=1234.5)
    answer = wire.as_json(full)
    assert set(answer["products"]) == set(want)

    def rows(packed: bytes) -> list[list[object]]:
        return orjson.loads(packed[4 : 4 + int.from_bytes(packed[:4], "little")])["arrays"]

    have = [str(digest) for _, _, digest, _, _ in rows(full)]
    again = projects.figures(demo, 5, want, slot="line-1", at_m=1234.5, have=have)
    assert wire.as_json(again)["products"] == answer["products"]
    assert {kind for _, _, _, kind, _ in rows(again)} == {"same"} and len(again) < 0.25 * len(full)


def test_edits_are_tried_in_turn_and_nothing_is_saved(projects, demo):
    line = projects.states.at(demo, 5).line("line-1").line
    edits = [MoveIp(ip=5, chainage_m=1240.0, level_m=225.0, slide=True), SetLength(ip=5, curve_length_m=100.0)]
    answer = wire.as_json(projects.figures(demo, 5, ["line", "ledger"], slot="line-1", edits=edits))
    ip = answer["products"]["line"]["ips"][5]
    assert (ip["chainage_m"], ip["level_m"], ip["curve_length_m"]) == (1240.0, 225.0, 100.0)
    assert projects.states.newest(demo).line("line-1").line == line


def test_a_large_chainage_keeps_its_millimetres_on_the_wire():
    s = 1_234_567.891 + np.arange(0.0, 60_000.0, 10.0)
    back = wire.as_json(wire.pack({}, {"s": s, "short": s[:100]}))["arrays"]
    assert np.abs(np.array(back["s"]) - s).max() < 1e-6
    assert np.abs(np.array(back["short"]) - s[:100]).max() < 1e-4


def test_each_remedy_mends_what_it_says_and_costs_what_it_says(demo_case):
    line, limits, works, cost = (
        demo_case.line,
        of_limits.limits(demo_case).value,
        of_works.works(demo_case).value,
        demo_case.cost.value,
    )

    def evaluated(candidate):
        return evaluate_line(works, candidate, cost)

    def cost_of(candidate):
        return evaluated(candidate).ledger.cost

    offered = remedies(of_checks.checked(demo_case), CHECKS, evaluated)
    failures = [r for r in offered if "crest_k" in r.checks]
    assert [(r.ip, r.label) for r in failures] == [(12, "Lengthen the curve to 154 m")]
    for remedy in failures:
        mended = apply_edit(line, remedy.edit, around(limits)).line
        assert not [u for u in limit_uses(mended, limits) if u.fails]
        assert remedy.cost_change == pytest.approx(cost_of(mended) - cost_of(line))
    # Sight is advice of its own, mended by a longer curve.
    assert any(r.checks == ("stopping_sight_advice",) and r.label.startswith("Lengthen") for r in offered)
    # A sag with too little room for its curve is offered a lift.
    sharp = demo_case.with_line(apply_edit(line, SetLength(ip=10, curve_length_m=355.0), around(limits)).line)
    labels = [r.label for r in remedies(of_checks.checked(sharp), CHECKS, evaluated) if r.ip == 10]
    assert any(text.startswith("Lengthen the curve to 366 m") for text in labels)
    assert any(text.startswith("Lift this IP by") for text in labels)


def test_the_section_at_the_plumb_line_is_the_exact_one(projects, demo, demo_case):
    i = 123
    s = float(of_design.chainages(demo_case).value[i])
    shown = wire.as_json(projects.figures(demo, 5, ["section"], slot="line-1", at_m=s))["products"]["section"]
    assert shown["cut_m2"] == pytest.approx(of_works.evaluation(demo_case).cut_m2[i], abs=0.02)
    assert shown["fill_m2"] == pytest.approx(of_works.evaluation(demo_case).fill_m2[i], abs=0.02)
    (road,) = [stroke["points"] for stroke in shown["drawing"]["strokes"] if stroke["role"] == "road"]
    offsets = [o for o, _ in road]
    assert offsets == sorted(offsets) and offsets[0] == -offsets[-1]


def test_a_centreline_that_starts_elsewhere_takes_its_lines_along(projects, demo):
    state = projects.states.newest(demo)
    old = state.line("line-1").line
    ips = [vars(p) for p in state.centreline.ips]
    base, _, _ = centrelines.save(projects, on(demo, state.revision), {"start_chainage_m": 500.0, "ips": ips})
    moved = projects.states.newest(demo).line("line-1").line
    assert len(moved.ips) == len(old.ips)
    assert moved.chainage_m - old.chainage_m == pytest.approx(np.full(len(old.ips), 500.0), abs=1e-9)
    now = of_works.evaluation(projects.case(projects.states.newest(demo), moved)).ledger
    was = of_works.evaluation(projects.case(state, old)).ledger
    # The same road over the same ground: sections at even chainages lie where they did.
    assert now.cut_m3 == pytest.approx(was.cut_m3, rel=1e-9)
    projects.turn(on(demo, base), "undo")


def test_limits_saved_under_older_rules_can_be_opened_and_not_saved_again(projects):
    pid = projects.create("old rules")
    contradictory = LimitSet(min_grade=0.09, max_grade=0.05)
    with projects.database.session() as session:
        # As an earlier version, that did not know the rule, would have saved it.
        revisions.save(session, pid, 1, "", "Limits", {LIMITS.name: contradictory})
    assert projects.opened(pid)["limits"]["min_grade"] == 0.09
    with pytest.raises(DesignInputError, match="must be less than the steepest"):
        projects.save(on(pid, 2), "Limits", {LIMITS.name: contradictory})


def test_an_empty_project_names_the_step_to_do(projects):
    pid = projects.create("steps")
    with pytest.raises(NotReady) as told:
        projects.figures(pid, 1, ["ground"])
    assert told.value.step == "survey"
    with pytest.raises(NotReady, match="no revision 9"):
        projects.states.at(pid, 9)


def test_new_copied_renamed_and_deleted_lines(projects, demo):
    state = projects.states.newest(demo)
    base, slot = lines.straight_line(projects, on(demo, state.revision), "straight")
    line = projects.states.newest(demo).lines[slot]
    z0, _, z1, _ = scenario.tie_ins()
    assert [ip.level_m for ip in line.line.ips] == [z0, z1]
    # Its colour is one that no other line has.
    assert line.colour not in {v.colour for k, v in projects.states.newest(demo).lines.items() if k != slot}
    base = lines.rename(projects, on(demo, base), slot, "other name")
    assert projects.states.newest(demo).lines[slot].name == "other name"
    base = lines.delete(projects, on(demo, base), slot)
    assert slot not in projects.states.newest(demo).lines
    base = projects.turn(on(demo, base), "undo")
    assert projects.states.newest(demo).lines[slot].name == "other name"
    for _ in range(2):
        base = projects.turn(on(demo, base), "undo")
    assert projects.states.newest(demo).lines.keys() == state.lines.keys()


def test_doubtful_surveys_are_pointed_out():
    rng = np.random.default_rng(0)
    rows = [f"{e:.2f},{n:.2f},{z:.2f}" for e, n, z in rng.uniform(0, 300, (400, 3)) / [1, 1, 60]]
    fine = imports.preview("s.csv", io.BytesIO("\n".join(["e,n,z", *rows]).encode()), None)
    assert fine["doubts"] == [] and 10 <= fine["suggested_longest_edge_m"] <= 200
    spike = imports.preview("s.csv", io.BytesIO("\n".join(["e,n,z", *rows, "150,150,999"]).encode()), None)
    assert "1 point lies far above or below the rest." in spike["doubts"]
    swapped = [f"{5 * i % 97:.1f},{z:.2f},{2000 + 7 * i:.1f}" for i, z in enumerate(rng.uniform(0, 5, 200))]
    turned = imports.preview("s.csv", io.BytesIO("\n".join(["e,n,z", *swapped]).encode()), None)
    assert "is the level column" in turned["doubts"][-1]
    with pytest.raises(DesignInputError, match="empty"):
        imports.preview("s.csv", io.BytesIO(b"\n \n"), None)


def test_demo_files_are_the_same_each_time_and_natural(tmp_path):
    for name in ("one", "two"):
        write_files(tmp_path / name)
    for path in (tmp_path / "one").iterdir():
        assert path.read_bytes() == (tmp_path / "two" / path.name).read_bytes()
    lines = (tmp_path / "one" / SURVEY_FILE).read_text().splitlines()
    assert 18_000 < len(lines) < 22_000
    cells = [ln.split(",") for ln in lines[1:]]
    assert {c[4] for c in cells} == {"GR", "ER", "RC", "CT", "CB"}
    xyz = np.array([[float(v) for v in c[1:4]] for c in cells])
    on = np.array([c[4] == "GR" for c in cells])
    level = scenario.level(xyz[:, 0], xyz[:, 1])
    # Shots scatter by a centimetre or two about the true ground; strings are on it.
    assert 0.01 < (xyz[on, 2] - level[on]).std() < 0.02 and np.abs(xyz[~on, 2] - level[~on]).max() < 0.001
    assert len((tmp_path / "one" / CENTRELINE_FILE).read_text().splitlines()) == 9


def test_the_schema_in_the_database_is_the_one_of_the_models(projects):
    """Migrations and models say the same, table by table and column by column."""
    from alembic.autogenerate import compare_metadata
    from alembic.migration import MigrationContext

    with projects.database.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), models.Base.metadata) == []


def test_packed_answers_come_apart_again():
    header = {"a": [1, 2], "text": "ä"}
    arrays = {"x": np.arange(5.0), "y": np.array([np.nan, 1.0])}
    back = wire.as_json(wire.pack(header, arrays))
    assert back == {**header, "arrays": {"x": [0, 1, 2, 3, 4], "y": [None, 1.0]}}


def test_a_centreline_past_the_survey_goes_on_with_what_has_ground_and_can_be_shortened(projects):
    pid = projects.create("past the survey")
    grid = "\n".join(f"{e},{n},{100 + e / 50 + n / 20}" for e in range(0, 401, 10) for n in range(-60, 61, 10))
    base, _ = brought_in(projects, pid, grid.encode(), longest_edge_m=0.0)
    ips = [{"easting_m": e, "northing_m": 0.0, "radius_m": 0.0} for e in (-15.25, 408.5)]
    base, _, _ = centrelines.save(projects, on(pid, base), {"ips": ips})
    base, slot = lines.straight_line(projects, on(pid, base), "straight")
    state = projects.states.newest(pid)
    line = state.line(slot).line
    ground = wire.as_json(projects.figures(pid, base, ["ground"]))["products"]["ground"]
    assert (ground["start_lacks_m"], ground["end_lacks_m"]) == pytest.approx((15.25, 8.5), abs=2e-3)
    assert line.ips[0].chainage_m == ground["start_m"] and line.ips[0].level_m == pytest.approx(100, abs=1e-3)
    cost = of_works.evaluation(projects.case(state, line)).ledger.cost
    base, gone = centrelines.shorten(projects, on(pid, base))
    assert gone == []
    state = projects.states.newest(pid)
    # Nothing of the road has moved: its chainages, its line and its cost are what they were.
    assert state.line(slot).line == line and state.centreline.start_chainage_m == ground["start_m"]
    assert of_works.evaluation(projects.case(state, line)).ledger.cost == pytest.approx(cost, rel=1e-9)
    assert wire.as_json(projects.figures(pid, base, ["ground"]))["products"]["ground"]["start_lacks_m"] == 0
    # Nowhere over the ground: saved, and said so.
    far, _, _ = centrelines.save(projects, on(pid, base), {"ips": [{**ip, "northing_m": 900.0} for ip in ips]})
    with pytest.raises(NotReady, match="meets no ground"):
        projects.figures(pid, far, ["ground"])


def test_changes_of_the_ground_are_rows_that_can_be_taken_back_and_the_survey_stays(projects, monkeypatch):
    pid = projects.create("ground by hand")
    rng = np.random.default_rng(1)
    plan = rng.uniform(0, 100, (600, 2)).round(3)
    level = (100 + plan[:, 0] / 10).round(3)
    level[[5, 7]] += 20
    lines = "\n".join(f"{e},{n},{z}" for (e, n), z in zip(plan.tolist(), level.tolist(), strict=True))
    base, _ = brought_in(projects, pid, lines.encode(), longest_edge_m=0.0)

    def highest() -> float:
        return float(of_ground.tin(projects.case(projects.states.newest(pid))).value.xyz[:, 2].max())

    def row(i: int, what: str) -> dict:
        at = {"easting_m": float(plan[i, 0]), "northing_m": float(plan[i, 1]), "level_m": float(level[i])}
        return {"what": what, "new_level_m": None, **at}

    def used() -> set[int]:
        tin = of_ground.tin(projects.case(projects.states.newest(pid))).value
        return {int(r) for r in tin.row[np.unique(tin.triangles)]}

    assert used() == set(range(600))
    made = []
    edit = of_ground.edited
    monkeypatch.setattr(of_ground, "edited", lambda *a: made.append(len(a[1])) or edit(*a))
    base, first = projects.change_ground(on(pid, base), [row(5, "exclude")], "a wall's top")
    # Made while it was saved: whoever looks finds it.
    assert used() == set(range(600)) - {5} and made == [1]
    base, second = projects.change_ground(on(pid, base), [row(7, "exclude")], "")
    assert used() == set(range(600)) - {5, 7}
    # By the hundred: built anew, and the others on top of that.
    base, bulk = projects.change_ground(on(pid, base), [row(i, "exclude") for i in range(100, 350)], "not ground")
    assert used() == set(range(600)) - {5, 7} - set(range(100, 350))
    listed = wire.as_json(projects.figures(pid, base, ["land"]))["products"]["land"]["changes"]
    assert [(c["slot"], c["what"], c["points"], c["note"]) for c in listed] == [
        (first, "exclude", 1, "a wall's top"), (second, "exclude", 1, ""), (bulk, "exclude", 250, "not ground"),
    ]  # fmt: skip
    assert all(len(c["box_m"]) == 4 and c["idle"] == "" and c["made_at"] for c in listed)
    # One in the middle is taken back, and undo brings it again.
    base = projects.take_back_change(on(pid, base), second)
    assert 7 in used()
    base = projects.turn(on(pid, base), "undo")
    assert 7 not in used()
    with projects.database.session() as session:
        kept = inputs.read_survey(session, projects.states.newest(pid).slots["survey-1"].key.parts[1])
    assert kept.xyz[:, 2].tolist() == level.tolist()
    with pytest.raises(DesignInputError, match="needs 2 points"):
        projects.change_ground(on(pid, base), [row(5, "edge")], "")


def test_a_file_of_the_same_make_is_read_as_the_last_one_was(projects):
    pid = projects.create("again")
    rng = np.random.default_rng(2)

    def file(heading: str) -> bytes:
        rows = (f"{i},{n:.2f},{e:.2f},{z:.2f},7" for i, (e, n, z) in enumerate(rng.uniform(0, 90, (40, 3)).tolist()))
        return "\n".join([heading, *rows]).encode()

    # Northings come first, which no heading tells, and the last column is no code.
    first = looked_at(projects, pid, file("a,b,c,d,e"), None)
    assert not first["as_before"]
    chosen = {**first["layout"], "roles": ["number", "northing", "easting", "level", "breakline"], "unit": "foot"}
    base, _ = brought_in(projects, pid, file("a,b,c,d,e"), layout=chosen, longest_edge_m=0.0)
    again = looked_at(projects, pid, file("a,b,c,d,e"), None)
    assert again["as_before"] and again["layout"] == chosen
    # Other headings are another make, and what is chosen now holds.
    assert not looked_at(projects, pid, file("a,b,c,d,f"), None)["as_before"]
    own = looked_at(projects, pid, file("a,b,c,d,e"), {**chosen, "unit": "metre"})
    assert own["unit"] == "metre" and not own["as_before"] and base


def test_the_surface_of_an_accepted_survey_is_built_once(projects, monkeypatch):
    pid = projects.create("built once")
    rows = "\n".join(f"{e},{n},{e * n % 7}" for e in range(9) for n in range(9))
    brought_in(projects, pid, rows.encode(), longest_edge_m=0.0)
    monkeypatch.setattr("delgrun.service.results.of_ground.build_tin", lambda *_: pytest.fail("it was built again"))
    assert len(of_ground.tin(projects.case(projects.states.newest(pid))).value.triangles) == 128
