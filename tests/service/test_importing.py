"""Bringing surveys in: in pieces, beside others or in their place, only near the centreline; stopped and refused."""

import hashlib
import io
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import timedelta

import laspy
import numpy as np
import orjson
import pytest
import sqlalchemy as sa

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.tiles import surface
from delgrun.core.ground.tin import build_tin
from delgrun.core.inputs import OUTLINE
from delgrun.service import centrelines, importing, imports, jobs, surveys, uploads
from delgrun.service.errors import NotReady
from delgrun.service.importing import ImportWish, bring_in
from delgrun.service.projects import Saving
from delgrun.service.results import of_ground
from delgrun.store import models
from delgrun.store import uploads as kept
from delgrun.store.revisions import now
from surveys import brought_in, looked_at


def grid(low: float, high: float, step: float, level: float, noise: int = 0) -> bytes:
    e, n = np.meshgrid(np.arange(low, high + step / 2, step), np.arange(low, high + step / 2, step))
    wave = np.random.default_rng(noise).normal(0, 0.01, e.shape) if noise else 0
    rows = np.column_stack([e.ravel(), n.ravel(), (level + wave + 0 * e).ravel()]).round(3)
    return "\n".join(["e,n,z", *(f"{a},{b},{c}" for a, b, c in rows.tolist())]).encode()


def level_at(projects, pid: int, e: float, n: float) -> float:
    return float(
        of_ground.tin(projects.case(projects.states.newest(pid))).value.level_at(np.array([e]), np.array([n]))[0]
    )


def test_a_file_comes_in_pieces_in_any_order_and_is_looked_at_by_its_ends(projects, monkeypatch):
    pid = projects.create("pieces")
    data = grid(0, 2000, 3.5, 100, noise=1)
    size = 2_000_000
    monkeypatch.setattr(kept, "PIECE_BYTES", size)
    begun = uploads.begin(projects, pid, "big.csv", len(data))
    parts = [data[k : k + size] for k in range(0, len(data), size)]
    assert begun["piece_bytes"] == size and len(parts) > 3

    def send(number: int) -> dict:
        return uploads.put(projects, pid, begun["id"], number, parts[number])

    with pytest.raises(NotReady, match="still on its way"):
        uploads.look(projects, pid, begun["id"], None, None)
    send(len(parts) - 1)
    send(0)
    # Nothing of what lies between has come.
    seen = uploads.look(projects, pid, begun["id"], None, None)
    lines = data.count(b"\n")
    assert seen["share"] < 0.3 and seen["points"] == pytest.approx(lines, rel=0.05)
    assert seen["rows"][-1]["cells"] == data.rsplit(b"\n", 1)[1].decode().split(",")
    for number in range(len(parts) - 1, 0, -1):
        send(number)
    # An answer was lost, and a piece comes again: it is kept once.
    assert send(1)["received"] == len(data)
    row = uploads.find(projects, pid, begun["id"])
    source = kept.UploadedFile(projects.database, row)
    with kept.buffered(source) as file:
        assert file.read() == data and source.sha256() == hashlib.sha256(data).hexdigest()
        assert file.seek(-5, 2) == len(data) - 5 and file.read() == data[-5:]
    with pytest.raises(DesignInputError, match="not of the size"):
        uploads.put(projects, pid, begun["id"], 0, b"short")
    with pytest.raises(DesignInputError, match="cut it into parts"):
        uploads.begin(projects, pid, "huge.las", 2**40)
    with pytest.raises(NotReady, match="choose the file again"):
        uploads.find(projects, pid + 1, begun["id"])


def test_a_piece_that_has_changed_in_the_database_is_noticed(projects):
    pid = projects.create("damaged upload")
    upload = uploads.whole(projects, pid, "s.csv", b"1,2,3\n4,9,6\n7,8,9")
    with projects.database.session() as session:
        session.execute(sa.update(models.UploadPiece).where(models.UploadPiece.upload_id == upload).values(data=b"x"))
    with pytest.raises(ValueError, match="does not match its checksum"):
        bring_in(projects, pid, ImportWish(upload_id=upload))


def test_uploads_that_nothing_came_of_go_after_a_day_and_no_others(projects):
    pid = projects.create("old uploads")
    rows = grid(0, 50, 10, 100)
    used, idle, fresh = (uploads.whole(projects, pid, f"{k}.csv", rows) for k in range(3))
    bring_in(projects, pid, ImportWish(upload_id=used))
    with projects.database.session() as session:
        old = models.Upload.id.in_([used, idle])
        session.execute(sa.update(models.Upload).where(old).values(made_at=now() - timedelta(days=2)))
    uploads.whole(projects, pid, "next.csv", rows)
    assert uploads.find(projects, pid, used).whole and uploads.find(projects, pid, fresh).whole
    with pytest.raises(NotReady, match="choose the file again"):
        uploads.find(projects, pid, idle)
    with projects.database.session() as session:
        pieces = sa.select(sa.func.count()).where(models.UploadPiece.upload_id == idle)
        assert session.scalar(pieces) == 0


def test_the_ends_of_a_large_text_tell_how_it_reads():
    rows = [f"{k % 977};{k // 977},5;{100 + k % 7}" for k in range(400_000)]
    data = "\n".join(["X;Y;H", *rows]).encode()
    seen = imports.preview("big.txt", io.BytesIO(data), None)
    assert seen["share"] < 0.4 and seen["points"] == pytest.approx(400_000, rel=0.1)
    assert [r["line"] for r in seen["rows"]][-3:] == [0, 0, 0] and seen["rows"][-1]["cells"] == rows[-1].split(";")
    assert seen["box"][4] > 400 and seen["problem"] is None
    other = data[:6_000_000] + b"\n" + 10_000 * b"end of file of another kind\n"
    cut = imports.preview("big.txt", io.BytesIO(other), None)
    assert any("None of the last lines holds a point" in d for d in cut["doubts"])
    wide = data.decode().encode("utf-16")
    assert imports.preview("wide.txt", io.BytesIO(wide), None)["points"] == pytest.approx(400_000, rel=0.1)


def test_a_patch_takes_the_place_of_older_ground_and_an_addition_comes_beside_it(projects):
    pid = projects.create("patches")
    brought_in(projects, pid, grid(0, 200, 10, 100), longest_edge_m=30.0)
    _, said = brought_in(projects, pid, grid(300, 400, 10, 90), longest_edge_m=30.0, joins="adds")
    # Ninety metres lie between them, and no edge is that long.
    assert said["points"] == 121 and level_at(projects, pid, 350, 350) == 90
    assert np.isnan(level_at(projects, pid, 250, 250)) and level_at(projects, pid, 50, 50) == 100
    brought_in(projects, pid, grid(61, 119, 2, 95), longest_edge_m=10.0, joins="replaces", name="pond.csv")
    assert level_at(projects, pid, 90, 90) == 95 and level_at(projects, pid, 50, 50) == 100
    heads = projects.opened(pid)["surveys"]
    assert [(s["slot"], s["joins"]) for s in heads] == [
        ("survey-1", "alone"), ("survey-2", "adds"), ("survey-3", "replaces"),
    ]  # fmt: skip
    # What the job has built is what whoever opens the project builds.
    state = projects.states.newest(pid)
    case = projects.case(state)
    anew = build_tin(
        of_ground.points(case).value.xyz, of_ground.points(case).value.breaklines, of_ground.longest_edge_m(case)
    )
    assert (anew.triangles == of_ground.tin(case).value.triangles).all() and (
        anew.xyz == of_ground.tin(case).value.xyz
    ).all()
    # Read once more with another edge, it takes its own place, and the ground is the one anybody builds.
    again = heads[2]
    wish = ImportWish(upload_id=again["upload_id"], longest_edge_m=0.0, joins="replaces", instead="survey-3")
    bring_in(projects, pid, wish)
    assert [s["slot"] for s in projects.opened(pid)["surveys"]] == ["survey-1", "survey-2", "survey-3"]
    assert level_at(projects, pid, 90, 90) == 95 and projects.opened(pid)["surveys"][2]["longest_edge_m"] == 0
    # So does the oldest: the patch still lies on it.
    wish = ImportWish(upload_id=heads[0]["upload_id"], longest_edge_m=20.0, joins="adds", instead="survey-1")
    bring_in(projects, pid, wish)
    assert (level_at(projects, pid, 90, 90), level_at(projects, pid, 50, 50)) == (95, 100)
    case = projects.case(projects.states.newest(pid))
    anew = build_tin(
        of_ground.points(case).value.xyz, of_ground.points(case).value.breaklines, of_ground.longest_edge_m(case)
    )
    assert (anew.triangles == of_ground.tin(case).value.triangles).all() and len(case.state.surveys) == 3
    projects.turn(Saving(project_id=pid, base=projects.states.newest(pid).revision), "undo")
    projects.turn(Saving(project_id=pid, base=projects.states.newest(pid).revision), "undo")
    state = projects.states.newest(pid)
    base = surveys.remove(projects, Saving(project_id=pid, base=state.revision), "survey-3")
    assert level_at(projects, pid, 90, 90) == 100
    projects.turn(Saving(project_id=pid, base=base), "undo")
    assert level_at(projects, pid, 90, 90) == 95
    # Alone again: all others go, and undo brings them back.
    base, _ = brought_in(projects, pid, grid(0, 50, 10, 70), longest_edge_m=0.0)
    assert [s["slot"] for s in projects.opened(pid)["surveys"]] == ["survey-4"]
    projects.turn(Saving(project_id=pid, base=base), "undo")
    assert len(projects.opened(pid)["surveys"]) == 3


def test_only_what_lies_near_the_centreline_is_read(projects):
    pid = projects.create("strip")
    with pytest.raises(NotReady, match="no centreline"):
        jobs.start(projects, pid, "import", 1, "survey", wish_of(projects, pid, grid(0, 400, 10, 100), within_m=25.0))
    ips = [{"easting_m": e, "northing_m": 200.0, "radius_m": 0.0} for e in (0.0, 400.0)]
    centrelines.save(projects, Saving(project_id=pid, base=1), {"ips": ips})
    _, said = brought_in(projects, pid, grid(0, 400, 10, 100), within_m=20.0)
    assert (said["of_points"], said["points"]) == (41 * 41, 41 * 5)
    assert said["box"][1] == 180 and said["box"][4] == 220
    with pytest.raises(DesignInputError, match=r"Only 0 of the file's .* another place"):
        brought_in(projects, pid, grid(5000, 5400, 10, 100), within_m=20.0)


def wish_of(projects, pid: int, data: bytes, **wish) -> str:
    return orjson.dumps({"upload_id": uploads.whole(projects, pid, "s.csv", data), **wish}).decode()


def test_a_cloud_that_is_still_coming_is_no_damaged_cloud(projects, monkeypatch):
    monkeypatch.setattr(kept, "PIECE_BYTES", 4000)
    pid = projects.create("cloud")
    header = laspy.LasHeader(point_format=6, version="1.4")
    cloud = laspy.LasData(header)
    rng = np.random.default_rng(1)
    cloud.x, cloud.y, cloud.z = rng.uniform(0, 40, (3, 2000)).round(2)
    out = io.BytesIO()
    cloud.write(out)
    data = out.getvalue()
    begun = uploads.begin(projects, pid, "a.las", len(data))
    for number in [0, len(data) // 4000]:
        uploads.put(projects, pid, begun["id"], number, data[number * 4000 :][:4000])
    with pytest.raises(NotReady, match="still on its way"):
        uploads.look(projects, pid, begun["id"], None, None)
    for number in range(1, len(data) // 4000):
        uploads.put(projects, pid, begun["id"], number, data[number * 4000 :][:4000])
    assert uploads.look(projects, pid, begun["id"], None, None)["points"] == 2000
    thinned, said = bring_in(projects, pid, ImportWish(upload_id=begun["id"], thin_m=15.0, longest_edge_m=0.0))
    head = projects.opened(pid)["surveys"][0]
    assert said["off_m"] <= 15 and said["points"] < said["of_points"] == 2000 and thinned == 2
    assert (head["thinned_m"], head["point_count"], head["of_points"]) == (15.0, said["points"], 2000)


def test_an_import_is_a_job_that_tells_how_far_it_is_and_can_be_stopped(projects, monkeypatch):
    pid = projects.create("job")
    asked = wish_of(projects, pid, grid(0, 1600, 10, 100))
    number = jobs.start(projects, pid, "import", 1, "survey", asked)
    told: list[dict] = []
    say = jobs.Running.say

    def listens(self, **values) -> None:
        told.append(values)
        say(self, **values)

    with monkeypatch.context() as patch:
        patch.setattr(jobs.Running, "say", listens)
        jobs.run(projects, number)
    ended = jobs.status(projects, pid, "import", number)
    assert ended["status"] == "done" and ended["result"]["revision"] == 2 == projects.states.newest(pid).revision
    far = [orjson.loads(t["result"]) for t in told[:-1]]
    assert [f["read"] for f in far] == sorted(f["read"] for f in far) and far[-1]["points"] == 161 * 161
    assert far[-1]["read"] == far[-1]["size"] and [t["share"] for t in told] == sorted(t["share"] for t in told)
    # The same job once more, as by a worker that took it up again: it is saved once.
    with projects.database.session() as session:
        session.execute(sa.update(models.Job).where(models.Job.id == number).values(status="waiting"))
    jobs.run(projects, number)
    again = jobs.status(projects, pid, "import", number)
    assert again["result"] == ended["result"] and projects.states.newest(pid).revision == 2
    # The page sends it again where the answer was lost: it is one job.
    assert jobs.start(projects, pid, "import", 1, "survey", asked) == number
    stopped = jobs.start(projects, pid, "import", 2, "survey", asked)
    assert stopped != number
    jobs.stop(projects, pid, stopped)
    jobs.run(projects, stopped)
    ended = jobs.status(projects, pid, "import", stopped)
    assert (ended["status"], ended["message"]) == ("stopped", "Stopped: nothing of the file was taken in.")
    assert projects.states.newest(pid).revision == 2


def test_what_is_saved_while_a_file_is_read_stays_and_holds_nothing_up(projects, monkeypatch):
    """Edits at every step, more of them than an import tries: its ground is built once. A change of the ground itself
    is built in."""
    pid = projects.create("meanwhile")
    brought_in(projects, pid, grid(0, 100, 10, 100), longest_edge_m=0.0)
    built: list[int] = []
    build = importing._built
    monkeypatch.setattr(importing, "_built", lambda *a: built.append(1) or build(*a))

    def edit(**changes) -> int:
        state = projects.states.newest(pid)
        to = Saving(project_id=pid, base=state.revision)
        return projects.save(to, "c", changes or {"cost": replace(state.cost, cut_per_m3=4 + state.revision)})

    def meanwhile(stage: str, share: float, read: int, points: int) -> None:
        for _ in range(importing._TRIES + 5 if stage == "saving" else 1):
            edit()

    upload = uploads.whole(projects, pid, "s.csv", grid(200, 300, 10, 90))
    revision, _ = bring_in(projects, pid, ImportWish(upload_id=upload, joins="adds"), meanwhile)
    now_there = projects.states.newest(pid)
    assert built == [1] and revision == now_there.revision > 25 and len(now_there.surveys) == 2
    assert now_there.cost.cut_per_m3 == 4 + revision - 2

    def bounded(stage: str, share: float, read: int, points: int) -> None:
        if stage == "saving" and len(built) == 2:
            edit(outline=replace(projects.states.newest(pid).outline, longest_edge_m=60.0))

    third = uploads.whole(projects, pid, "s.csv", grid(400, 500, 10, 90))
    bring_in(projects, pid, ImportWish(upload_id=third, joins="adds"), bounded)
    assert len(built) == 3 and len(projects.states.newest(pid).surveys) == 3


def test_an_import_asked_for_many_times_at_once_is_one_job_of_a_file_that_stays_as_it_is(projects):
    pid = projects.create("at once")
    asked = wish_of(projects, pid, grid(0, 100, 10, 100))
    with ThreadPoolExecutor(8) as pool:
        numbers = set(pool.map(lambda _: jobs.start(projects, pid, "import", 1, "survey", asked), range(8)))
    assert len(numbers) == 1
    upload = orjson.loads(asked)["upload_id"]
    whole = grid(0, 100, 10, 100)
    assert uploads.put(projects, pid, upload, 0, whole)["received"] == len(whole)
    with pytest.raises(DesignInputError, match="is here already and holds something else"):
        uploads.put(projects, pid, upload, 0, whole[:-1] + b"7")
    jobs.run(projects, numbers.pop())
    assert level_at(projects, pid, 100.0, 100.0) == 100.0


def test_a_survey_that_makes_no_ground_saves_nothing_and_an_unfinished_file_is_not_begun(projects):
    pid = projects.create("no ground")
    with pytest.raises(DesignInputError, match="no triangle is left"):
        brought_in(projects, pid, b"e,n,z\n0,0,0\n100,0,0\n0,100,0", longest_edge_m=5.0)
    assert projects.states.newest(pid).revision == 1
    half = uploads.begin(projects, pid, "s.csv", 5_000_000)["id"]
    with pytest.raises(NotReady, match="still on its way"):
        jobs.start(projects, pid, "import", 1, "survey", orjson.dumps({"upload_id": half}).decode())
    assert looked_at(projects, pid, b"e,n,z\n1,2,3\n4,9,6\n7,8,9")["points"] == 3


def test_a_boundary_bounds_the_ground_of_all_surveys_and_follows_undo(projects):
    pid = projects.create("boundary")
    base, _ = brought_in(projects, pid, grid(0, 100, 10, 100), longest_edge_m=0.0)
    was = projects.opened(pid)["land_key"]
    corners = [(20.0, 20.0), (80.0, 20.0), (80.0, 80.0), (20.0, 80.0)]
    rows = [{"ring": 1, "what": "outer", "easting_m": e, "northing_m": n} for e, n in corners]
    base = projects.put(Saving(project_id=pid, base=base), OUTLINE, {"longest_edge_m": None, "rows": rows})
    assert projects.opened(pid)["land_key"] != was
    assert np.isnan(level_at(projects, pid, 15, 50)) and level_at(projects, pid, 25, 50) == 100
    away = [{**row, "easting_m": row["easting_m"] + 900} for row in rows]
    with pytest.raises(DesignInputError, match="no ground is left"):
        projects.put(Saving(project_id=pid, base=base), OUTLINE, {"longest_edge_m": None, "rows": away})
    brought_in(projects, pid, grid(30, 200, 5, 90), longest_edge_m=0.0, joins="replaces")
    assert np.isnan(level_at(projects, pid, 100, 100)) and level_at(projects, pid, 50, 50) == 90
    base = projects.turn(Saving(project_id=pid, base=base + 1), "undo")
    projects.turn(Saving(project_id=pid, base=base), "undo")
    assert level_at(projects, pid, 15, 50) == 100 and projects.opened(pid)["land_key"] == was


def test_boundaries_of_a_landxml_file_bound_its_ground(projects):
    pid = projects.create("landxml")
    points = "".join(f"<CgPoint>{n} {e} {100 + e / 10}</CgPoint>" for e in range(0, 101, 10) for n in range(0, 101, 10))
    file = (
        f'<LandXML><Units><Metric linearUnit="meter"/></Units><CgPoints>{points}</CgPoints><Surfaces>'
        '<Surface name="EG"><SourceData><Boundaries><Boundary bndType="outer"><PntList2D>5 5 5 95 95 95 95 5 5 5'
        '</PntList2D></Boundary><Boundary bndType="void"><PntList3D>40 40 0 60 40 0 50 60 0</PntList3D></Boundary>'
        '<Boundary bndType="island"><PntList2D>44 44 54 44 50 54</PntList2D></Boundary>'
        '<Boundary bndType="other"><PntList2D>1 1 2 1 2 2</PntList2D></Boundary></Boundaries></SourceData></Surface>'
        "</Surfaces></LandXML>"
    ).encode()
    seen = looked_at(projects, pid, file, name="site.xml")
    assert [(p["name"], p["role"], p["count"]) for p in seen["parts"]][1] == ("EG (boundaries)", "boundary", 3)
    assert "1 boundaries are of no known kind, and are not read: draw them on the map." in seen["doubts"]
    brought_in(projects, pid, file, name="site.xml", longest_edge_m=0.0)
    assert len(projects.opened(pid)["outline"]["rows"]) == 10
    tin = of_ground.tin(projects.case(projects.states.newest(pid))).value
    assert surface(tin).plan_area_m2 == pytest.approx(90 * 90 - 200 + 50, abs=0.5)
    assert level_at(projects, pid, 30, 30) == pytest.approx(103) and np.isnan(level_at(projects, pid, 42, 50))
    # An island has ground, in the hole around it.
    assert level_at(projects, pid, 47, 50) == pytest.approx(104.7)
    # One step back takes both away.
    projects.turn(Saving(project_id=pid, base=2), "undo")
    assert projects.opened(pid)["outline"] is None and not projects.opened(pid)["surveys"]
