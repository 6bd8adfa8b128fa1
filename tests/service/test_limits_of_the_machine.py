"""What is too much for the machine is told before it is begun, and what the machine lacks is named."""

import errno

import numpy as np
import pymysql
import pytest
from sqlalchemy.exc import InternalError, OperationalError

from delgrun.core.errors import DesignInputError
from delgrun.service import centrelines, warm
from delgrun.service.errors import NoRoom, machine_trouble
from delgrun.service.projects import Projects, Saving
from delgrun.service.shelf import Shelf
from surveys import looked_at


def test_a_survey_beside_the_projects_centreline_is_doubted(projects, demo):
    rng = np.random.default_rng(0)

    def seen(east: float, north: float) -> list[str]:
        rows = [f"{e:.2f},{n:.2f},{z:.2f}" for e, n, z in rng.uniform(0, 300, (400, 3)) / [1, 1, 60] + [east, north, 0]]
        return looked_at(projects, demo, "\n".join(["e,n,z", *rows]).encode())["doubts"]

    assert seen(12_400, 48_000) == []
    assert "easting and northing are swapped?" in seen(48_000, 12_400)[0]
    assert "another grid, or another road?" in seen(512_400, 4_800_000)[0]


def test_a_mistyped_coordinate_that_makes_a_road_without_end_is_refused_with_the_number(projects, demo):
    base = projects.states.newest(demo).revision
    far = [{"easting_m": e, "northing_m": 0.0, "radius_m": 0.0} for e in (0.0, 480_000.0)]
    with pytest.raises(DesignInputError, match=r"10000 are the most\. From IP 1 to IP 2 it is 480\.0 km: a digit too"):
        centrelines.save(projects, Saving(project_id=demo, base=base), {"ips": far})
    assert projects.states.newest(demo).revision == base


def test_a_terrain_that_ended_the_server_is_not_met_again_at_the_next_start(projects, demo, tmp_path, monkeypatch):
    met: list[int] = []
    monkeypatch.setattr(projects, "case_of_first_line", lambda state: met.append(state.revision))
    monkeypatch.setattr(warm, "PRODUCTS", ())
    newest = max(projects.listed(), key=lambda p: p["saved_at"])
    mark = tmp_path / "meeting"
    # As a server that was killed in the middle has left it.
    mark.write_text(f"{newest['id']} {newest['revision']}")
    warm.keep_terrains_ready(projects, tmp_path)
    assert not met and mark.exists()
    mark.write_text(f"{newest['id']} {newest['revision'] - 1}")
    warm.keep_terrains_ready(projects, tmp_path)
    assert met == [newest["revision"]] and not mark.exists()


@pytest.mark.parametrize(
    ("error", "said"),
    [
        (OSError(errno.ENOSPC, "No space left on device"), "disk is full"),
        (OSError(errno.EROFS, "Read-only file system"), "can't be written"),
        (
            InternalError("s", {}, pymysql.err.InternalError(1030, 'Got error 28 "No space left on device"')),
            "disk is full",
        ),
        (OperationalError("s", {}, pymysql.err.OperationalError(1114, "The table 'a' is full")), "disk is full"),
        (OperationalError("s", {}, pymysql.err.OperationalError(1290, "running with --read-only")), "can't be written"),
        (OperationalError("s", {}, pymysql.err.OperationalError(2003, "Can't connect")), None),
    ],
)
def test_what_the_machine_lacks_is_named(error, said):
    found = machine_trouble(error)
    assert found is None if said is None else said in found


def test_nothing_is_saved_on_a_full_disk_and_all_of_it_again_once_there_is_room(database_url, tmp_path, monkeypatch):
    mine = Projects.at(database_url, Shelf(tmp_path, "full"))
    pid = mine.create("full disk")
    to = Saving(project_id=pid, base=1)
    limits = mine.states.newest(pid).limits
    monkeypatch.setattr(Shelf, "free_bytes", lambda _: 10 * 2**20)
    for saving in (lambda: mine.create("another"), lambda: mine.save(to, "Limits", {"limits": limits})):
        with pytest.raises(NoRoom, match="disk is full"):
            saving()
    assert mine.states.newest(pid).revision == 1
    monkeypatch.undo()
    assert mine.save(to, "Limits", {"limits": limits}) == 2
