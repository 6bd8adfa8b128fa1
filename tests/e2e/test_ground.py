"""From a dirty survey to ground a designer trusts, in the real interface."""

import json
import os
import re
import urllib.request
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from helpers import drawn, number, project_of

# A survey of this many points by that many; `./delgrun test --only million` takes a million.
ALONG, ACROSS = (int(n) for n in os.environ.get("DELGRUN_SURVEY_SIZE", "60x40").split("x"))
COUNT = ALONG * ACROSS
LID = COUNT * 5 // 12
_BLUNDERS = np.arange(max(4, COUNT // 2500))
PLANTED = (np.linspace(0.1, 0.9, len(_BLUNDERS)) * ACROSS).astype(int) * ALONG + 10 + (37 * _BLUNDERS) % (ALONG - 20)
ERRORS = np.resize([3.0, -2.5, 1.2, -0.6], len(PLANTED))
WAIT_MS = 60_000 + COUNT // 5


def truth(e: np.ndarray, n: np.ndarray) -> np.ndarray:
    return 300 + 4 * np.sin(e / 50) + 0.06 * n


@pytest.fixture(scope="module")
def plan() -> np.ndarray:
    rng = np.random.default_rng(5)
    e, n = (v.ravel() for v in np.meshgrid(np.arange(ALONG) * 4.0, np.arange(ACROSS) * 4.0))
    return np.column_stack([v + rng.uniform(-1, 1, len(v)) for v in (e, n)]).round(3)


@pytest.fixture(scope="module")
def dirty(tmp_path_factory: pytest.TempPathFactory, plan: np.ndarray) -> Path:
    """Hills with blunders and a lid."""
    e, n = plan.T
    z = truth(e, n) + np.random.default_rng(6).normal(0, 0.02, len(e))
    z[PLANTED] += ERRORS
    code = np.where(np.arange(len(e)) == LID, "LID", "GR")
    rows = [f"P{i};{a:.3f};{b:.3f};{c:.3f};{k}" for i, (a, b, c, k) in enumerate(zip(e, n, z, code, strict=True))]
    path = tmp_path_factory.mktemp("dirty") / "dirty.csv"
    path.write_text("\n".join(["Nr;Ost;Nord;Höhe;Bemerkung", *rows]).replace(".", ","))
    return path


def land(program, page: Page) -> dict:
    """The ground as the server has it now."""
    number = str(project_of(page))
    project = json.load(urllib.request.urlopen(f"{program.url}api/projects/{number}"))
    body = {"revision": project["revision"], "slot": None, "ips": None, "edits": [], "want": ["land"], "at_m": None}
    asked = urllib.request.Request(
        f"{program.url}api/projects/{number}/figures",
        json.dumps({**body, "have": []}).encode(),
        {"Content-Type": "application/json", "Accept": "application/json"},
    )
    return json.load(urllib.request.urlopen(asked))["products"]["land"]


def level(program, page: Page, e: float, n: float) -> float:
    """The ground's level at a place."""
    number = str(project_of(page))
    revision = json.load(urllib.request.urlopen(f"{program.url}api/projects/{number}"))["revision"]
    query = f"revision={revision}&easting_m={e}&northing_m={n}"
    return json.load(urllib.request.urlopen(f"{program.url}api/projects/{number}/land/spot?{query}"))["level_m"]


def counted(page: Page) -> int:
    """How many points are off their neighbours, once they have been looked for."""
    counts = page.locator('[data-item="counts"]')
    expect(counts).to_contain_text("off their neighbours", timeout=WAIT_MS)
    return int(re.sub(r"\s", "", counts.inner_text().split("off")[0]))


def test_blunders_are_found_taken_out_and_an_edge_is_swapped(page: Page, program, dirty, plan):
    page.fill("#new-name", "Dirty ground")
    page.get_by_role("button", name="Start it").click()
    page.set_input_files("aside input[type=file]", dirty)
    points = page.locator('[data-item="points"]')
    expect(points).to_have_text(re.compile(r"\d"))
    # Of a large file only so much is known before it is read.
    assert number(points.inner_text().removeprefix("about ")) == pytest.approx(COUNT, rel=0.1 if COUNT > 10_000 else 0)
    page.get_by_role("button", name="Accept").click(timeout=WAIT_MS)
    ground = page.get_by_label("Map of the ground")
    expect(ground.locator("canvas").first).to_be_visible(timeout=WAIT_MS)

    page.get_by_role("button", name="Look for suspects").click()
    # All that were planted, and of a million good points at most twenty.
    off = counted(page)
    assert len(PLANTED) <= off <= len(PLANTED) + COUNT // 50_000
    expect(page.locator('[data-item="counts"]')).to_contain_text("1 by its code")
    listed = page.get_by_role("listbox", name="Suspects").get_by_role("option")
    expect(listed.first).to_contain_text(re.compile(r"P\d+ GR"))
    expect(listed.first).to_contain_text("above what its neighbours tell")
    # One by one with a note, and the rest together; the lid is kept.
    listed.first.click()
    page.get_by_placeholder("a note, if you like").fill("staff read wrongly")
    page.get_by_role("button", name="Take it out of the ground").click()
    changes = page.get_by_role("list", name="Changes of the ground by hand")
    expect(changes.locator("li")).to_have_count(1)
    page.get_by_role("button", name="All that are off").click()
    page.get_by_role("button", name=f"Take {off - 1} out of the ground").click()
    expect(changes.locator("li")).to_have_count(2, timeout=WAIT_MS)
    expect(changes).to_contain_text("staff read wrongly")
    # What was decided, one by one or together, is no suspect any more.
    expect(listed).to_have_count(1)
    assert land(program, page)["points"] == COUNT - off
    for row in PLANTED[:40]:
        assert abs(level(program, page, *plan[row]) - truth(*plan[row])) < 0.15
    # Taken back by itself, and again out by undo.
    changes.locator("li", has_text="staff").get_by_role("button", name="Take back").click()
    expect(changes.locator("li")).to_have_count(1)
    assert land(program, page)["points"] == COUNT - off + 1
    page.keyboard.press("Control+z")
    expect(changes.locator("li")).to_have_count(2)

    # A code that is said to be ground is no suspect any more.
    page.get_by_text("What codes mean").click()
    page.get_by_label("LID is").select_option("ground")
    page.wait_for_selector('.page[data-state="saved"]')
    page.get_by_role("button", name="Look again").click()
    expect(page.locator('[data-item="counts"]')).not_to_contain_text("code", timeout=WAIT_MS)

    # An edge in the middle of the map, from near by.
    box = ground.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    for _ in range(4):
        was = ground.get_attribute("data-resolution")
        page.mouse.move(x, y)
        page.mouse.wheel(0, -400)
        expect(ground).not_to_have_attribute("data-resolution", was or "")
    page.get_by_role("group", name="Tools").get_by_role("button", name="Edge").click()
    for k in range(6):
        with page.expect_response(lambda r: "/land/" in r.url and "triangle" in r.url):
            page.mouse.click(x + 23 * k, y + 7 * k)
        drawn(page)
        if page.get_by_role("button", name="Swap this edge").is_visible():
            break
    page.get_by_role("button", name="Swap this edge").click()
    expect(changes.locator("li")).to_have_count(3)
    swapped = land(program, page)["changes"][-1]
    assert (swapped["what"], swapped["idle"], len(swapped["box_m"])) == ("edge", "", 4)


@pytest.fixture(scope="module")
def patch(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A pond's new bed in the middle of the hills, two metres higher than they were there."""
    e, n = (v.ravel() for v in np.meshgrid(np.arange(80, 121, 4.0), np.arange(60, 101, 4.0)))
    z = 302 + 4 * np.sin(e / 50) + 0.06 * n
    path = tmp_path_factory.mktemp("patch") / "pond.txt"
    path.write_text("\n".join(["E N Z", *(f"{a} {b} {c:.3f}" for a, b, c in zip(e, n, z, strict=True))]))
    return path


def test_a_patch_takes_the_place_of_old_ground_a_boundary_bounds_it_and_both_are_compared(
    page: Page, program, dirty, patch
):
    page.fill("#new-name", "Patched ground")
    page.get_by_role("button", name="Start it").click()
    page.set_input_files("aside input[type=file]", dirty)
    page.get_by_role("button", name="Accept").click()
    read = page.get_by_role("region", name="What was read")
    expect(read.locator('[data-item="read"]')).to_have_text("2 400", timeout=60_000)
    read.get_by_role("button", name="Seen").click()
    page.set_input_files("aside input[type=file]", patch)
    expect(page.locator('[data-item="points"]')).to_have_text("121")
    page.get_by_label("takes the place of the ground it covers").check()
    page.get_by_role("button", name="Accept 121 points").click()
    expect(read.locator('[data-item="read"]')).to_have_text("121", timeout=60_000)
    read.get_by_role("button", name="Seen").click()

    # What it has changed is what lies between the old survey alone and the ground now.
    page.get_by_text("The ground they make").click()
    page.get_by_label("Compare the ground with").select_option(label="dirty.csv alone")
    raised = page.locator('[data-item="raised"]')
    expect(raised).to_be_visible(timeout=30_000)
    volume = number(raised.inner_text())
    # Two metres on 40 m by 40 m, and the slopes down to the old ground around.
    assert 3_200 < volume < 5_200, volume

    # A boundary around part of it, drawn by hand, and taken away again.
    before = land(program, page)
    ground = page.get_by_label("Map of the ground")
    expect(ground.locator("canvas").first).to_be_visible()
    box = ground.bounding_box()
    assert box
    page.get_by_role("group", name="Tools").get_by_role("button", name="Boundary").click()
    for corners, (right, down) in enumerate(((0.35, 0.35), (0.65, 0.35), (0.65, 0.65), (0.35, 0.65)), 1):
        page.mouse.click(box["x"] + right * box["width"], box["y"] + down * box["height"])
        expect(page.locator('[data-item="corners"]')).to_have_text(re.compile(rf"^{corners}\s+corner"))
    page.get_by_role("button", name="Close it").click()
    rings = page.get_by_role("list", name="Boundaries of the ground")
    expect(rings).to_contain_text("Boundary of 4 corners", timeout=30_000)
    assert land(program, page)["triangles"] < 0.6 * before["triangles"]
    rings.get_by_role("button", name="Take away").click()
    expect(rings).to_have_count(0)
    page.wait_for_selector('.page[data-state="saved"]')
    assert land(program, page)["triangles"] == before["triangles"]
