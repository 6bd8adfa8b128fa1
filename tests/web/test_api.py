"""The HTTP API: its document, its doors, and answers held against their models."""

import io
import json
from pathlib import Path

import numpy as np
import pytest

from delgrun.core.gradeline.ip import Ip
from delgrun.jobs.client import Jobs
from delgrun.service import jobs
from delgrun.service.jobs import Keeper
from delgrun.service.results import of_ground
from delgrun.service.wire import as_json
from delgrun.web import outputs, survey_outputs
from delgrun.web.app import create_app
from delgrun.web.document import DOCUMENTS


@pytest.fixture(scope="module")
def client(projects):
    return create_app(projects, Keeper(projects, Jobs(Path())), None).test_client()


@pytest.fixture
def empty(client) -> str:
    made = client.post("/api/projects", json={"name": "API"}).json
    return f"/api/projects/{made['id']}"


@pytest.fixture(scope="module")
def line(demo) -> str:
    return f"/api/projects/{demo}/lines/line-1"


ALL = ["line", "ledger", "uses", "works", "mass", "section"]


def question(want, **over) -> dict:
    asked = {"revision": 5, "slot": "line-1", "ips": None, "edits": [], "want": want, "at_m": 1234.5, "have": []}
    return {**asked, **over}


def figures(client, demo: int, want=ALL, **over) -> dict:
    answer = client.post(
        f"/api/projects/{demo}/figures", json=question(want, **over), headers={"Accept": "application/json"}
    )
    assert answer.status_code == 200, answer.json
    return answer.json


def move(ip: int, chainage: float, level: float, slide: bool = True) -> dict:
    return {"what": "move", "ip": ip, "chainage_m": chainage, "level_m": level, "slide": slide}


@pytest.mark.parametrize("path", DOCUMENTS, ids=lambda p: p.name)
def test_documents_are_those_that_follow_from_what_is_declared(path):
    assert path.read_bytes() == DOCUMENTS[path](), (
        "What is declared has changed: run `python -m delgrun.web.document`, then `npm run types` in frontend."
    )


def test_answers_are_what_the_document_says(client, demo):
    outputs.ProjectList.model_validate(client.get("/api/projects").json)
    outputs.ProjectOut.model_validate(client.get(f"/api/projects/{demo}").json)
    got = figures(client, demo, [*ALL, "ground", "plan", "strip", "remedies"], edits=[move(5, 1300.0, 226.0)])
    outputs.FiguresOut.model_validate(got)
    assert figures(client, demo, ["remedies"])["products"]["remedies"][0]["label"] == "Lengthen the curve to 154 m"


def test_sentences_are_in_what_their_reader_reads_in(client, demo, line):
    """Of one line the same is said in metres and in feet, in JSON and in the binary form; nothing stored differs."""
    feet = {"X-Delgrun-Units": "us"}
    asked = question(["uses", "remedies", "strip"], edits=[move(5, 1300.0, 226.0)], units="us")
    url = f"/api/projects/{demo}/figures"
    metric = figures(client, demo, ["uses", "remedies", "strip"], edits=[move(5, 1300.0, 226.0)])["products"]
    packed = client.post(url, json=asked, headers=feet).data
    us = as_json(packed)["products"]
    assert us == client.post(url, json=asked, headers={**feet, "Accept": "application/json"}).json["products"]
    sentences = [
        (m["sentence"], u["sentence"]) for m, u in zip(metric["uses"]["findings"], us["uses"]["findings"], strict=True)
    ]
    assert any(" m" in m and " ft" in u and m != u for m, u in sentences)
    assert not any("\ufdd0" in text for pair in sentences for text in pair)
    # What is offered is the same edit; only what it is called is in what its reader reads in.
    plain = [[{k: v for k, v in r["edit"].items() if k != "words"} for r in of["remedies"]] for of in (us, metric)]
    assert plain[0] == plain[1]
    assert us["strip"]["contour_interval_m"] / 0.3048 == pytest.approx(
        round(us["strip"]["contour_interval_m"] / 0.3048)
    )
    too_long = {"base": 5, "edit": {"what": "length", "ip": 12, "curve_length_m": 900.0}}
    assert " ft" in client.post(f"{line}/edits", json=too_long, headers=feet).json["message"]
    assert " m" in client.post(f"{line}/edits", json=too_long, headers={"X-Delgrun-Units": "ells"}).json["message"]


def test_a_project_has_its_own_units_and_labels_are_kept_for_either_reader(client, own):
    made = client.post("/api/projects", json={"name": "Feet", "units": "us"}).json
    assert made["practice"] == {"system": "us"}
    # It begins with 45 mph and the K of the US customary table there: 61 and 79 ft/%.
    first = made["limits"]
    assert first["design_speed_kmh"] / 1.609344 == pytest.approx(45)
    assert [round(first[k] / 0.3048, 9) for k in ("min_crest_k_m_per_pct", "min_sag_k_m_per_pct")] == [61, 79]
    url = f"/api/projects/{own}"
    assert client.get(url).json["practice"] == {"system": "metric"}
    edit = {"what": "add", "chainage_m": 304.8, "level_m": 230.0}
    head = client.get(url).json["revision"]
    assert client.post(f"{url}/lines/line-1/edits", json={"base": head, "edit": edit}).status_code == 200
    label = [client.get(url, headers={"X-Delgrun-Units": u}).json["history"]["undo"] for u in ("metric", "us")]
    assert label == ["Add an IP at 0+304.80", "Add an IP at 10+00.00"]
    table = client.get(f"{url}/centreline/tables/levels?revision={head}&slot=line-1&units=us&interval_m=15.24").json
    assert [c["heading"] for c in table["columns"]][:5] == ["point", "station", "station ft", "elevation ft", "grade %"]
    rows = [row for row in table["rows"] if round(row[2], 6) in (50, 100, 150)]
    assert [row[1] for row in rows] == ["0+50.00", "1+00.00", "1+50.00"]


_MARKS = [
    f"{begin}{inside}{end}"
    for begin, end in (("\ufdd0", "\ufdd1"), ("⟦", "⟧"))
    for inside in ("5.0|length", "1e308|station", "-1e308|chainage", "1e999|station", "|level", "nan|k", "x|nothing")
]


@pytest.mark.parametrize("mark", [*_MARKS, "\ufdd0", "\ufdd1\ufdd0|level"])
def test_nothing_that_a_person_wrote_is_read_as_a_mark(client, own, mark):
    """Of a project, line, road, note, state and set of limits: each comes back as it was written but for what is no
    character, to readers of either system, and everything is listed and opened as before."""
    name = f"To {mark} mill"
    kept = name.replace("\ufdd0", "").replace("\ufdd1", "")
    table = f"limit,value,source\nmax_grade,8,{name}\n"
    assert client.post("/api/standards", json={"name": name[:60], "text": table}).status_code == 200
    assert client.post("/api/projects", json={"name": name}).json["name"] == kept
    url = f"/api/projects/{own}"
    head = client.get(url).json["revision"]
    road = client.get(url).json["centrelines"][0]
    plain = {"start_chainage_m": road["start_chainage_m"], "ips": road["ips"], "name": name}
    notes = {"rows": [{"chainage_m": 5.0, "words": name, "label": "words", "road": "centreline"}]}
    for call, path, body in (
        (client.post, "lines/line-1/rename", {"name": name}),
        (client.put, "centreline", plain),
        (client.put, "notes", {"notes": notes}),
    ):
        answer = call(f"{url}/{path}", json={"base": head, **body})
        assert answer.status_code == 200, (path, answer.json)
        head = answer.json["revision"]
    assert client.post(f"{url}/states", json={"revision": head, "name": name}).status_code == 200
    for units in ("metric", "us", "us_survey"):
        read = {"X-Delgrun-Units": units}
        listed = client.get("/api/projects", headers=read)
        assert listed.status_code == 200 and any(p["name"] == kept for p in listed.json["projects"])
        opened = client.get(url, headers=read)
        assert opened.status_code == 200 and opened.json["lines"][0]["name"] == kept
        assert any(s["name"] == kept for s in client.get("/api/standards", headers=read).json["standards"])


def test_names_lose_what_is_no_character(client):
    made = client.post("/api/projects", json={"name": "Mill\x00\x1b road\nnorth\uffff"})
    assert made.json["name"] == "Mill road north"
    refused = client.post("/api/projects", json={"name": "\x00\x07"})
    assert refused.status_code == 422 and refused.json["field"] == "name"
    assert client.get("/api/alive").json == {"alive": True}


def test_binary_and_json_say_the_same(client, demo):
    answer = client.post(f"/api/projects/{demo}/figures", json=question(ALL))
    assert answer.mimetype == "application/octet-stream"
    assert as_json(answer.data) == figures(client, demo)


def test_every_answer_is_guarded_and_strangers_are_refused(client):
    answer = client.get("/api/projects")
    assert answer.headers["Content-Security-Policy"].startswith("default-src 'self'")
    assert "unsafe" not in answer.headers["Content-Security-Policy"]
    assert answer.headers["X-Content-Type-Options"] == "nosniff" and answer.headers["X-Frame-Options"] == "DENY"
    assert client.get("/api/projects", headers={"Host": "elsewhere.example"}).status_code == 400
    for headers in ({"Origin": "http://elsewhere.example"}, {"Sec-Fetch-Site": "cross-site"}):
        refused = client.post("/api/projects", json={"name": "x"}, headers=headers)
        assert refused.status_code == 403 and "another site" in refused.json["message"]


@pytest.mark.parametrize(
    ("path", "body", "field"),
    [
        ("/api/projects", {"name": "  "}, "name"),
        ("/api/projects", {"name": "a", "more": 1}, "more"),
        ("figures", question(ALL, at_m=float("nan")), "at_m"),
        ("figures", question(ALL, edits=[move(5, 1e300, 1.0)]), "chainage_m"),
        ("figures", question(["wishes"]), "want"),
        ("figures", question(ALL, revision="5"), "revision"),
        ("edits", {"base": 5, "edit": {"what": "length", "ip": 12, "curve_length_m": 900.0}}, "curve_length_m"),
        ("edits", {"base": 5, "edit": move(99, 1.0, 1.0)}, "ip"),
    ],
)  # fmt: skip
def test_bad_bodies_name_their_field(client, demo, line, path, body, field):
    url = path if path.startswith("/") else f"/api/projects/{demo}/figures" if path == "figures" else f"{line}/{path}"
    answer = client.post(url, data=json.dumps(body), content_type="application/json")
    assert answer.status_code == 422 and answer.json["field"] == field, answer.json


def test_what_is_missing_names_the_step_to_do(client, empty):
    answer = client.post(f"{empty}/figures", json=question(["ground"], revision=1, slot=None))
    assert (answer.status_code, answer.json["step"]) == (409, "survey")
    assert client.get("/api/projects/99999").status_code == 404
    assert client.get("/api/nothing").json["message"]


def sent(client, base: str, text: str, name: str = "points.csv") -> int:
    """A file sent in as the page sends it."""
    data = text.encode()
    upload = client.post(f"{base}/uploads", json={"file_name": name, "size": len(data)}).json
    piece = client.post(f"{base}/uploads/{upload['id']}/pieces/0", data={"file": (io.BytesIO(data), name)})
    assert survey_outputs.UploadOut.model_validate(piece.json).received == len(data)
    return upload["id"]


def imported(client, projects, base: str, upload: int, **wish) -> dict:
    """An import by its job, run here; the job as it ends."""
    started = client.post(f"{base}/imports", json={"revision": 1, "upload_id": upload, **wish})
    assert started.status_code == 200, started.json
    jobs.run(projects, started.json["id"])
    newest = client.get(f"{base}/imports/newest").json
    survey_outputs.NewestImport.model_validate(newest)
    return newest["job"]


def test_import_shows_before_it_stores_and_breaklines_change_the_surface(client, projects):
    """Reference 8.4 through the import: level at (5, 5) 5.5417 with one breakline, 8.5000 with the other."""
    levels = []
    for marks in ("a,,a,", ",b,,b"):
        first, second, third, fourth = marks.split(",")
        text = f"e,n,z,string\n0,0,5,{first}\n10,0,9,{second}\n12,11,6,{third}\n0,10,8,{fourth}\n3,oops,1,"
        pid = projects.create("8.4")
        base = f"/api/projects/{pid}"
        upload = sent(client, base, text)
        seen = client.post(f"{base}/uploads/{upload}/look", json={}).json
        survey_outputs.SurveyPreview.model_validate(seen)
        assert (seen["points"], seen["breaklines"], seen["error_count"], seen["share"]) == (4, 1, 1, 1)
        assert seen["errors"][0]["message"] == "Line 6: northing “oops” is not a number."
        assert client.get(base).json["surveys"] == []
        job = imported(client, projects, base, upload, layout=seen["layout"], longest_edge_m=0)
        said = job["result"]["summary"]
        assert (job["status"], said["points"], said["error_count"], job["result"]["revision"]) == ("done", 4, 1, 2)
        assert said["plan_area_m2"] == pytest.approx(115.0, abs=1e-9) and said["errors"] == seen["errors"]
        kept = client.get(base).json["surveys"]
        assert [(s["slot"], s["left_out"], s["upload_id"]) for s in kept] == [("survey-1", 1, upload)]
        summary = client.get(f"{base}/surveys/survey-1/summary", query_string={"revision": 2}).json
        assert survey_outputs.SummaryOut.model_validate(summary) and summary["summary"] == said
        tin = of_ground.tin(projects.case(projects.states.newest(pid))).value
        levels.append(float(tin.level_at(np.array([5.0]), np.array([5.0]))[0]))
    assert levels == pytest.approx([5.5417, 8.5], abs=1e-4)


def test_a_look_is_given_up_where_whoever_asked_has_left(client, projects, empty):
    # A drawing that takes seconds to read.
    rows = "".join(f"0\nPOINT\n8\nG\n10\n{k % 200}\n20\n{k // 200}\n30\n{k % 7}\n" for k in range(40_000))
    drawing = f"0\nSECTION\n2\nENTITIES\n{rows}0\nENDSEC\n0\nEOF\n"
    look = f"{empty}/uploads/{sent(client, empty, drawing, 'points.dxf')}/look"
    left = client.post(look, json={}, environ_overrides={"waitress.client_disconnected": lambda: True})
    assert left.status_code == 408 and left.json["message"] == "Whoever asked has left; nothing was read."
    assert client.post(look, json={}).json["points"] == 40_000


def test_a_wrong_mapping_is_told_and_stores_nothing(client, projects, empty):
    upload = sent(client, empty, "e,n,z\n1,2,3\n4,5,6\n7,9,9")
    layout = {"delimiter": "comma", "header": True, "decimal_comma": False, "roles": ["easting", "northing", "ignore"]}
    look = f"{empty}/uploads/{upload}/look"
    seen = client.post(look, json={"layout": layout}).json
    assert seen["problem"] == "There is no column for level: give it exactly one."
    job = imported(client, projects, empty, upload, layout=layout)
    assert (job["status"], job["message"]) == ("failed", seen["problem"])
    assert client.get(empty).json["revision"] == 1
    assert client.post(look, json={"layout": {**layout, "delimiter": "tab", "roles": []}}).json["problem"]


def test_an_edit_is_kept_told_of_in_conflict_and_undone(client, projects, demo):
    was = client.get(f"/api/projects/{demo}").json
    copied = client.post(f"/api/projects/{demo}/lines/line-1/copy", json={"base": was["revision"], "name": "c"}).json
    line = f"/api/projects/{demo}/lines/{copied['slot']}"
    saved = client.post(f"{line}/edits", json={"base": copied["revision"], "edit": move(5, 1235.5, 224.0)}).json
    conflict = client.post(f"{line}/edits", json={"base": copied["revision"], "edit": move(5, 1240.0, 224.0)})
    assert conflict.status_code == 409 and conflict.json["head"]["label"] == "Move IP 5"
    for k in range(2):
        client.post(f"/api/projects/{demo}/undo", json={"base": saved["revision"] + k})
    now = client.get(f"/api/projects/{demo}").json
    assert now["lines"] == was["lines"] and now["history"]["redo"] == "Copy as “c”"


def test_pasted_ips_replace_all_but_the_ends_chainages(client, demo):
    rows = ((-50.0, 177.0, 0.0), (2000.0, 228.0, 300.0), (9999.0, 227.0, 0.0))
    ips = [vars(Ip(chainage_m=c, level_m=z, curve_length_m=length)) for c, z, length in rows]
    got = figures(client, demo, ["line"], edits=[{"what": "ips", "ips": ips}])["products"]["line"]["ips"]
    assert [ip["chainage_m"] for ip in got] == pytest.approx([0.0, 2000.0, 3986.308], abs=1e-3)


def test_a_moved_centreline_takes_its_grade_lines_along(client, projects, demo):
    now = client.get(f"/api/projects/{demo}").json
    ips = now["centrelines"][0]["ips"]
    shorter = [*ips[:-1], {**ips[-1], "easting_m": ips[-1]["easting_m"] - 150.0}]
    body = {"base": now["revision"], "start_chainage_m": 0.0, "ips": shorter}
    saved = client.put(f"/api/projects/{demo}/centreline", json=body).json
    line = client.get(f"/api/projects/{demo}").json["lines"][0]
    assert line["ips"][-1]["chainage_m"] == pytest.approx(3836.3, abs=2.0)
    assert client.post(f"/api/projects/{demo}/undo", json={"base": saved["revision"]}).status_code == 200


def test_the_land_answers_by_tile_spot_and_cut_and_all_three_agree(client, projects, demo):
    tin = of_ground.tin(projects.case(projects.states.at(demo, 5))).value
    middle = tin.xyz[tin.triangles[5000]].mean(axis=0)
    at = {"revision": 5, "easting_m": float(middle[0]), "northing_m": float(middle[1])}
    land = f"/api/projects/{demo}/land"
    spot = client.get(f"{land}/spot", query_string=at).json
    assert spot["level_m"] == pytest.approx(middle[2], abs=1e-6) and outputs.SpotOut.model_validate(spot)
    # The tile of a metre a pixel that holds the place, and the cell of it.
    column, row = int(middle[0] // 256), int(middle[1] // 256)
    asked = {"revision": 5, "zoom": 0, "column": column, "row": row, "interval_m": 1.0}
    tile = client.get(f"{land}/tile", query_string=asked, headers={"Accept": "application/json"}).json
    assert outputs.TileOut.model_validate(tile) and tile["corner"] == [column * 256, row * 256]
    level = np.array(tile["arrays"]["level"], dtype=float).reshape(tile["cells"], tile["cells"])
    i, k = int(middle[1] - row * 256) + 1, int(middle[0] - column * 256) + 1
    e, n = np.floor(middle[:2]) + 0.5
    assert level[i, k] == pytest.approx(tin.level_at(np.array([e]), np.array([n]))[0], abs=1e-3)
    assert len(tile["arrays"]["line_level"]) > 3
    # Several at once are what each is by itself.
    both = {"revision": 5, "zoom": 0, "places": f"{column - 1},{row};{column},{row}", "interval_m": 1.0}
    several = client.get(f"{land}/tiles", query_string=both, headers={"Accept": "application/json"}).json
    assert outputs.TilesOut.model_validate(several) and several["tiles"][1]["corner"] == tile["corner"]
    assert {k[2:]: v for k, v in several["arrays"].items() if k.startswith("1.")} == tile["arrays"]
    wrong = client.get(f"{land}/tiles", query_string={**both, "places": "3,4;"})
    assert wrong.status_code == 422
    body = {"revision": 5, "line": [[e - 20, n], [e + 20, n]]}
    cut = client.post(f"{land}/cut", json=body, headers={"Accept": "application/json"}).json
    there = np.interp(20, cut["arrays"]["distance"], cut["arrays"]["level"])
    assert there == pytest.approx(level[i, k], abs=1e-3) and cut["corners"] == [0, 40]
    # Held against itself nothing lies between, and a survey alone is the same ground here.
    pair = {"revision": 5, "against_revision": 2, "against_slot": "survey-1"}
    answer = client.get(f"{land}/difference", query_string=pair).json
    between = answer["difference"]
    area = projects.figures(demo, 5, ["areas"])
    assert outputs.DifferenceOut.model_validate(answer)
    assert between["raised_m3"] == between["lowered_m3"] == 0 and between["above_at"] is None
    assert between["common_area_m2"] == pytest.approx(as_json(area)["products"]["areas"]["plan_area_m2"], rel=1e-6)
    piece = {**pair, "zoom": 0, "column": column, "row": row}
    tile = client.get(f"{land}/difference/tile", query_string=piece, headers={"Accept": "application/json"}).json
    assert outputs.DifferenceTileOut.model_validate(tile) and set(tile["arrays"]["level"]) == {0, None}
    gone = client.get(f"{land}/difference", query_string={**pair, "against_slot": "survey-7"})
    assert (gone.status_code, gone.json["step"]) == (409, "survey")
    nowhere = client.get(f"{land}/spot", query_string={**at, "northing_m": 0.0}).json
    assert nowhere["level_m"] is None
    empty = client.get(f"{land}/tile", query_string={**asked, "row": -5}, headers={"Accept": "application/json"}).json
    assert set(empty["arrays"]["level"]) == {None} and not empty["arrays"]["line"]
