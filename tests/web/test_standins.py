"""The stand-in for an imagery service answers as a Web Map Service does: the same place looks the same each time."""

from pathlib import Path

import numpy as np
import pytest
from matplotlib.image import imread

from delgrun.jobs.client import Jobs
from delgrun.service.jobs import Keeper
from delgrun.web.app import create_app


@pytest.fixture(scope="module")
def client(projects):
    return create_app(projects, Keeper(projects, Jobs(Path())), None).test_client()


def picture(client, tmp_path: Path, box: str, width: int = 64, height: int = 64) -> np.ndarray:
    asked = {"SERVICE": "WMS", "VERSION": "1.1.1", "REQUEST": "GetMap", "LAYERS": "", "SRS": "LOCAL", "BBOX": box,
             "FORMAT": "image/png", "WIDTH": width, "HEIGHT": height}  # fmt: skip
    answer = client.get("/standins/aerial", query_string=asked)
    assert (answer.status_code, answer.mimetype) == (200, "image/png")
    (tmp_path / "p.png").write_bytes(answer.data)
    return imread(tmp_path / "p.png")


def test_a_piece_is_part_of_the_whole(client, tmp_path):
    whole = picture(client, tmp_path, "14200,47600,14328,47728", 128, 128)
    corner = picture(client, tmp_path, "14264,47664,14328,47728")
    assert whole.shape == (128, 128, 3)
    # But for the light at its rim, which is worked out from one side there.
    assert (whole[1:63, 65:127] == corner[1:63, 1:63]).all() and whole.std() > 0.02


def test_another_site_can_have_none_made(client):
    for site, status in (("cross-site", 403), ("same-site", 403), ("same-origin", 400), ("none", 400)):
        assert client.get("/standins/aerial", headers={"Sec-Fetch-Site": site}).status_code == status


def test_pictures_come_from_here_alone_unless_whoever_runs_it_says_more(projects, monkeypatch):
    def policy() -> str:
        app = create_app(projects, Keeper(projects, Jobs(Path())), None)
        return app.test_client().get("/api/projects").headers["Content-Security-Policy"]

    assert "img-src 'self' data:;" in policy()
    monkeypatch.setenv("DELGRUN_IMAGERY", "https://pictures.example")
    assert "img-src 'self' data: https://pictures.example;" in policy()


@pytest.mark.parametrize(
    ("asked", "why"),
    [
        ("", "Only GetMap"),
        ("request=GetMap&bbox=1,2,3&width=9&height=9", "needs BBOX"),
        ("request=GetMap&bbox=0,0,9,9&width=9&height=99999", "pixels each way"),
        ("request=GetMap&bbox=9,0,0,9&width=9&height=9", "no box"),
        ("request=GetMap&bbox=0,0,nan,9&width=9&height=9", "no box"),
    ],
)
def test_what_is_no_request_for_a_map_is_refused(client, asked, why):
    answer = client.get(f"/standins/aerial?{asked}")
    assert answer.status_code == 400 and why in answer.json["message"]
