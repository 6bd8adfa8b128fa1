"""A winding road drawn over the ground, read against its profile, moved, and taken to another program and back."""

import csv
import io
import re
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from alignments import closed_form
from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.gradeline.ip import Ip
from helpers import bring_in, project_of, settled

# Where it is clicked, from the map's left and top. [px]
WINDING = [(40, 260), (110, 130), (190, 390), (270, 110), (350, 400), (430, 120), (510, 390), (590, 140), (650, 260)]


def new_project(page: Page, name: str) -> int:
    page.goto(page.url.split("#")[0])
    page.fill("#new-name", name)
    page.get_by_role("button", name="Start it").click()
    page.wait_for_selector(".page")
    return project_of(page)


def go(page: Page, step: str) -> None:
    page.get_by_role("navigation").get_by_role("button", name=step).click()


def along(page: Page) -> float:
    """Length of the line under the map. [m]"""
    text = page.get_by_role("region", name="Ground along the line").locator("b").inner_text()
    return float(re.search(r"([\d.]+) m", text)[1])


def places(page: Page, program, project: int) -> np.ndarray:
    """(n, 4) chainage, easting, northing, bearing of what is set out each 20 m."""
    base = f"{program.url}api/projects/{project}"
    revision = page.request.get(base).json()["revision"]
    file = page.request.get(f"{base}/centreline/tables/setting-out/file?revision={revision}&form=csv&critical=false")
    rows = list(csv.DictReader(io.StringIO(file.text())))
    return np.array([[float(r[k]) for k in ("chainage m", "easting m", "northing m", "bearing deg")] for r in rows])


@pytest.fixture
def drawn(page: Page, program, demo_files) -> int:
    """A project with the demo's ground, open at its empty centreline."""
    number = new_project(page, "Drawn")
    name = "hollin-brow-survey.csv"
    bring_in(page, program, number, name, (demo_files / name).read_bytes(), longest_edge_m=60.0)
    page.reload()
    settled(page)
    go(page, "Centreline")
    page.get_by_role("button", name="Whole").click()
    return number


def test_a_winding_road_is_drawn_judged_moved_and_comes_back_from_landxml(
    page: Page, program, drawn: int, tmp_path: Path
):
    ground = page.get_by_label("Map of the ground")
    box = ground.bounding_box()
    section = page.get_by_role("region", name="Ground along the line")
    page.get_by_role("button", name="Draw", exact=True).click()

    def to(x: float, y: float) -> None:
        page.mouse.move(box["x"] + x, box["y"] + y, steps=4)

    for i, (x, y) in enumerate(WINDING):
        to(x, y)
        page.mouse.click(box["x"] + x, box["y"] + y)
        if i == 3:
            # The ground follows the pointer before anything is clicked.
            was = along(page)
            to(x + 60, y + 60)
            expect(section.locator("b")).not_to_contain_text(f"{was:.1f}")
            expect(page.locator('[data-item="leg"]')).to_contain_text("bend of R")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Look", exact=True)).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_label("IPs of the centreline").locator("tbody tr")).to_have_count(len(WINDING))
    # Kilometres: the figure for all of it is there.
    expect(section.locator("b")).to_contain_text(re.compile(r" [67]\d\d\d\.\d m"))
    page.get_by_role("button", name="Save the centreline").click()
    expect(page.get_by_role("heading", name="Limits for the whole length")).to_be_visible()
    go(page, "Grade line")
    expect(page.get_by_role("button", name="New straight line").first).to_be_visible()

    # Two crests just before bends, by the API as from another page: advice is due.
    base = f"{program.url}api/projects/{drawn}"
    project = page.request.get(base).json()
    draft = page.request.post(
        f"{base}/centreline/draft",
        data={"revision": project["revision"], "start_chainage_m": 0, "ips": project["centrelines"][0]["ips"]},
        headers={"Accept": "application/json"},
    ).json()
    bends = [row["bend"] for row in draft["bends"]]
    assert all(b["transition_in_m"] > 0 for b in bends)
    crest = bends[2]["from_chainage_m"] - 30
    ips = [(0, 200, 0), (crest, 200 + 0.03 * crest, 40), (draft["length_m"], 200, 0)]
    body = {
        "base": project["revision"],
        "name": "over the hill",
        "ips": [vars(Ip(chainage_m=s, level_m=z, curve_length_m=v)) for s, z, v in ips],
    }
    assert page.request.post(f"{base}/lines/adopted", data=body).ok
    page.evaluate("window.dispatchEvent(new Event('focus'))")
    expect(page.get_by_text("Shown as saved elsewhere since.")).to_be_visible()
    settled(page)
    go(page, "Centreline")
    page.get_by_role("tab", name="Bends").click()
    speeds = page.get_by_label("Bends and their speeds")
    expect(speeds.locator("tbody tr")).to_have_count(len(WINDING) - 2)
    expect(page.get_by_label("Coordination")).to_contain_text("Bend beyond a crest")

    # Dragged, the bend and the ground are live; let go, all that follows is there, in one step to undo.
    before, length = places(page, program, drawn), along(page)
    x, y = WINDING[4]
    to(x, y)
    page.mouse.down()
    to(x + 30, y + 40)
    expect(section.locator("b")).not_to_contain_text(f"{length:.1f}")
    live = along(page)
    revision = int(page.locator(".page").get_attribute("data-revision") or 0)
    page.mouse.up()
    page.wait_for_selector(f'.page[data-revision="{revision + 1}"]')
    settled(page)
    after = places(page, program, drawn)
    assert abs(after[-1, 0] - live) < 20 and len(after) != len(before)
    go(page, "Grade line")
    expect(page.locator('[data-track="bends"]')).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    page.wait_for_selector(f'.page[data-revision="{revision + 2}"]')
    assert np.array_equal(places(page, program, drawn), before)

    # Out as LandXML, and in again in a project of its own.
    go(page, "Centreline")
    page.get_by_role("tab", name="Points").click()
    with page.expect_download() as there:
        page.get_by_role("link", name="LandXML").click()
    file = tmp_path / "winding.xml"
    there.value.save_as(file)
    other = new_project(page, "Back again")
    go(page, "Centreline")
    page.set_input_files('label:has-text("Read a file") input', file)
    expect(page.get_by_label("IPs of the centreline").locator("tbody tr")).to_have_count(len(WINDING))
    page.get_by_role("button", name="Save the centreline").click()
    page.wait_for_selector('.page[data-revision="2"]')
    assert np.abs(places(page, program, other) - before).max() < 1e-6


def test_a_file_of_closed_forms_lies_where_it_says(page: Page, program, tmp_path: Path):
    text, want = closed_form(6)
    file = tmp_path / "by-hand.xml"
    file.write_text(text)
    number = new_project(page, "Closed forms")
    go(page, "Centreline")
    page.set_input_files('label:has-text("Read a file") input', file)
    page.get_by_role("button", name="Save the centreline").click()
    page.wait_for_selector('.page[data-revision="2"]')
    found = {round(s): (e, n) for s, e, n, _ in places(page, program, number)}
    # Its elements end at whole twenties of metres, and the file's chainage starts at a kilometre.
    for chainage, place in zip((1000, 1300, 1360, 1480, 1520, 1720), want, strict=True):
        assert found[chainage] == pytest.approx(place, abs=1e-3)


def test_a_bend_that_overruns_is_mended_with_one_click(demo: Page):
    page = demo
    go(page, "Centreline")
    radius = page.get_by_label("4 radius")
    radius.fill("900")
    radius.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("short: use a smaller radius")
    remedies = page.get_by_role("group", name="What would mend it").get_by_role("button")
    expect(remedies.first).to_have_text("IP 4: a radius of 291.00 m")
    remedies.first.click()
    expect(page.get_by_role("button", name="Save the centreline")).to_be_enabled()
    assert radius.input_value() == "291.00"
    # Undone step by step without touching what is saved.
    for _ in range(2):
        page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Put it back")).to_be_disabled()
    assert radius.input_value() == "110.00"


def test_a_track_is_fitted_a_side_road_meets_it_and_chainages_go_on_from_an_old_line(
    page: Page, program, drawn: int, tmp_path: Path
):
    base = f"{program.url}api/projects/{drawn}"
    # A track walked along the demo's ground: straights and a bend of R 300, a step of five metres, two digits.
    line = Centreline(
        [
            CentrelineIp(easting_m=e, northing_m=n, radius_m=r)
            for e, n, r in ((12050, 48013, 0), (12710, 48190, 450), (13240, 47900, 0))
        ]
    )
    at = line.line.at(np.arange(0, line.length_m, 5.0))
    track = tmp_path / "track.csv"
    track.write_text("E;N\n" + "\n".join(f"{e:.2f};{n:.2f}" for e, n in zip(at.easting_m, at.northing_m, strict=True)))
    page.set_input_files('label:has-text("Fit to a line") input', track)
    expect(page.get_by_text("one bend")).to_be_visible(timeout=30_000)
    radius = page.get_by_label("2 radius")
    assert float(radius.input_value()) == pytest.approx(450, rel=0.02)
    # What is typed and not saved outlives the page, once the hand rests.
    page.wait_for_function("() => Object.values(localStorage).some((kept) => kept.includes('radius_m'))")
    page.reload()
    expect(page.get_by_text("is here again")).to_be_visible()
    go(page, "Centreline")
    assert float(radius.input_value()) == pytest.approx(450, rel=0.02)
    # An equation goes by emptying a cell of it, or as the row in hand; no IP goes with it.
    for gone in ("emptied", "deleted"):
        page.get_by_role("button", name="Equation").click()
        if gone == "emptied":
            page.get_by_label("= 1 ahead").fill("")
            page.get_by_label("= 1 ahead").press("Enter")
        else:
            page.get_by_label("= 1 ahead").click()
            page.get_by_role("button", name="Delete the row").click()
        expect(page.get_by_label("= 1 ahead")).to_have_count(0)
        expect(page.get_by_label("3 easting")).to_be_visible()
    page.get_by_role("button", name="Equation").click()
    page.get_by_label("= 1 back").fill("0+600")
    page.get_by_label("= 1 back").press("Enter")
    page.get_by_label("= 1 ahead").fill("12+000")
    page.get_by_label("= 1 ahead").press("Enter")
    page.get_by_role("button", name="Save the centreline").click()
    expect(page.get_by_role("heading", name="Limits for the whole length")).to_be_visible()
    go(page, "Grade line")
    page.get_by_role("button", name="New straight line").first.click()
    settled(page)
    go(page, "Centreline")
    page.get_by_role("tab", name="Setting out").click()
    expect(page.get_by_role("table", name="Setting out")).to_contain_text("12+020.00")
    # A side road that begins beside it is put on it with one click, and takes its level.
    page.get_by_role("tab", name="IPs").click()
    page.get_by_role("button", name="New road").click()
    page.get_by_role("button", name="Insert a row").click()
    page.get_by_role("button", name="Insert a row").click()
    for field, value in (
        ("1 easting", "12300"),
        ("1 northing", "48085"),
        ("2 easting", "12300"),
        ("2 northing", "48140"),
    ):
        page.get_by_label(field).fill(value)
        page.get_by_label(field).press("Enter")
    page.get_by_label("start meets").select_option(index=1)
    page.get_by_role("button", name=re.compile("Put the start on “main road”")).click()
    page.get_by_role("button", name="Save the centreline").click()
    expect(page.get_by_role("heading", name="Limits for the whole length")).to_be_visible()
    go(page, "Grade line")
    page.get_by_role("button", name="New straight line").first.click()
    settled(page)
    project = page.request.get(base).json()
    assert [c["name"] for c in project["centrelines"]] == ["main road", "road 2"]
    main, side = (project["lines"][k] for k in (0, 1))
    assert (main["road"], side["road"]) == ("centreline", "centreline-2")
    share = line.line.nearest(np.array([12300.0]), np.array([48085.0])).chainage_m[0] / line.length_m
    first, last = (main["ips"][k]["level_m"] for k in (0, -1))
    assert side["ips"][0]["level_m"] == pytest.approx(first + share * (last - first), abs=0.3)
