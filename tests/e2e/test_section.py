"""The section built by hand: sides that differ, drains, benches in rock, layers, a reserve; then an IP dragged."""

import math
import re

from playwright.sync_api import Page, expect

from helpers import bring_in, drawn, figure, opened, settled
from test_steps import go, typed


def amount(page: Page, name: str) -> float:
    """What the line takes of a row, by its name."""
    found = page.get_by_role("table", name="What the line takes").locator("tr", has_text=name)
    return float(found.get_attribute("data-value") or "nan")


def editor(page: Page):
    return page.get_by_role("region", name="Section editor")


def cell(page: Page, name: str, text: str) -> None:
    box = editor(page).get_by_label(name, exact=True)
    box.fill(text)
    box.press("Enter")
    settled(page)


def pull(page: Page, corner: str, dx: float, dy: float) -> None:
    box = page.get_by_role("slider", name=corner).bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 6):
        page.mouse.move(x + dx * k / 5, y + dy * k / 5)
        drawn(page)
    page.mouse.up()
    settled(page)


def test_a_road_whose_sides_differ_is_built_and_a_drag_takes_all_of_it_along(page: Page, program, own: int):
    opened(page, program, own)
    go(page, "Section")
    page.get_by_role("button", name="Edit the section").click()
    editor(page).get_by_label("New section").select_option(label="Two lanes, sealed")
    expect(editor(page).get_by_label("Section that is edited")).to_contain_text("Two lanes, sealed")
    settled(page)
    page.get_by_role("button", name="Build this one").click()
    expect(editor(page).get_by_text("is built")).to_be_visible()
    settled(page)
    # Sides apart: the left lane is pulled wider, the right shoulder typed.
    page.get_by_label("both at once").uncheck()
    pull(page, "Corner 1 of lane, left", -40, 1)
    left = editor(page).get_by_label("1 width", exact=True)
    assert 3.2 < float(left.input_value()) < 5
    page.get_by_role("button", name="Right side").click()
    assert editor(page).get_by_label("1 width", exact=True).input_value() == "3"
    cell(page, "2 width", "1.5")
    # What can't be says so beside it, and nothing is lost.
    cell(page, "2 outer point", "lane")
    expect(editor(page).get_by_text("Two points on the right are called “lane”.")).to_be_visible()
    page.keyboard.press("Escape")
    # Benches behind each four metres of cut, on the right.
    page.get_by_role("tab", name="Batters and benches").click()
    cell(page, "1 band's height", "4")
    cell(page, "1 bench behind", "2")
    # Over a cut the drain is there, in fill it is not.
    for ground, drains in (("In fill", 0), ("In cut", 2)):
        page.get_by_role("button", name=ground, exact=True).click()
        expect(page.get_by_role("button", name=re.compile("^drain, "))).to_have_count(drains)
    page.get_by_role("button", name="Back to the tracks").click()
    # Three layers are among what the line takes, rock stands in the cut.
    for name in ("surface course", "base course", "subbase", "cut: rock", "fill"):
        assert amount(page, name) > 0, name
    # A reserve on the right, so near that batters end in walls.
    page.locator("summary", has_text="Reserve").click()
    fold = page.locator("details", has_text="Land that the works must not leave")
    fold.get_by_role("button", name="Add one").click()
    settled(page)
    box = fold.get_by_label("1 offset", exact=True)
    box.fill("8")
    box.press("Enter")
    settled(page)
    walls = amount(page, "walls")
    assert walls > 10
    # All of it follows an IP under the hand.
    was = {name: figure(page, name) for name in ("cost", "cut", "fill")}
    ip = page.locator('[data-ip="4"]').bounding_box()
    assert ip
    page.mouse.move(ip["x"] + ip["width"] / 2, ip["y"] + ip["height"] / 2)
    page.mouse.down()
    page.mouse.move(ip["x"] + ip["width"] / 2, ip["y"] + ip["height"] / 2 + 25, steps=6)
    drawn(page)
    expect(page.locator('[data-item="cut"] .delta')).to_contain_text("+")
    page.mouse.up()
    settled(page)
    assert figure(page, "cut") > was["cut"] and figure(page, "cost") != was["cost"]
    # Undo leads back through all of it.
    page.keyboard.press("Control+z")
    settled(page)
    assert figure(page, "cut") == was["cut"]


def test_a_piece_and_a_section_are_kept_for_another_project(page: Page, program, own: int):
    opened(page, program, own)
    go(page, "Section")
    page.get_by_role("button", name="Edit the section").click()
    page.get_by_role("button", name="drain, right").dispatch_event("pointerdown")
    page.get_by_role("button", name="Keep as a piece").click()
    expect(page.get_by_text("“drain” is kept for all projects.")).to_be_visible()
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("“Two lanes, sealed” is kept for all projects.")).to_be_visible()
    other = page.request.post(f"{program.url}api/projects", data={"name": "other", "units": "metric"}).json()["id"]
    page.goto(f"{program.url}#/projects/{other}/section")
    page.reload()
    page.get_by_role("button", name="Edit the section").click()
    expect(editor(page)).to_be_visible()
    page.get_by_label("Kind of element").select_option(label="drain (kept)")
    page.get_by_role("button", name="Add outside").click()
    settled_rows = editor(page).get_by_label("3 outer point", exact=True)
    expect(settled_rows).to_have_value("drain")
    editor(page).get_by_label("New section").select_option(label="Two lanes, sealed")
    expect(editor(page).get_by_label("Section that is edited")).to_contain_text("Two lanes, sealed")
    typed(page, "#section-name", "Ours")
    expect(editor(page).get_by_label("Section that is edited")).to_contain_text("Ours")


def hillside() -> bytes:
    """A hillside of 40 %, rising to the north, at coordinates of a national grid."""
    rows = ["point,easting,northing,level"]
    for i, (e, n) in enumerate((e, n) for e in range(0, 401, 10) for n in range(-90, 91, 10)):
        z = 100 + 0.4 * n + 1.5 * math.sin(e / 40)
        rows.append(f"{i + 1},{500_000 + e},{4_200_000 + n},{z:.3f}")
    return "\n".join(rows).encode()


def test_on_a_steep_hillside_one_side_is_cut_and_the_other_filled(page: Page, program):
    base = f"{program.url}api/projects"
    pid = page.request.post(base, data={"name": "hill", "units": "metric"}).json()["id"]
    bring_in(page, program, pid, "hill.csv", hillside(), longest_edge_m=40)
    ips = [
        {"easting_m": 500_000.0 + e, "northing_m": 4_200_000.0, "radius_m": 0.0, "joins": False}
        | {"transition_in_m": 0.0, "transition_out_m": 0.0, "superelevation": None}
        for e in (20, 380)
    ]
    now = page.request.get(f"{base}/{pid}").json()["revision"]
    line = {"base": now, "token": None, "start_chainage_m": 0.0, "ips": ips}
    made = page.request.put(f"{base}/{pid}/centreline", data=line)
    assert made.ok, made.text()
    opened(page, program, pid)
    go(page, "Grade line")
    page.get_by_role("button", name="Line along the ground").click()
    settled(page)
    go(page, "Section")
    page.get_by_role("button", name="Edit the section").click()
    editor(page).get_by_label("New section").select_option(label="Two lanes on a side slope")
    expect(editor(page).get_by_label("Section that is edited")).to_contain_text("side slope")
    page.get_by_role("button", name="Build this one").click()
    settled(page)
    page.get_by_role("button", name="On a side slope").click()
    # The hill is on the left: there a drain, on the right a fill.
    expect(page.get_by_role("button", name="drain, left")).to_be_visible()
    expect(page.get_by_role("button", name="drain, right")).to_have_count(0)
    page.get_by_role("button", name="Back to the tracks").click()
    # Rock at two metres, of no use as fill.
    fold = page.locator("details", has_text="Soil lies on top")
    page.locator("summary", has_text="Rock and other strata").click()
    fold.get_by_role("button", name="Add one").first.click()
    settled(page)
    fold.get_by_role("button", name="Add one").last.click()
    settled(page)
    assert amount(page, "cut: rippable") > 10
    before = figure(page, "net")
    fold.get_by_label("1 may be fill").select_option("no")
    settled(page)
    assert figure(page, "net") < before - 10
    # A reserve downhill: what would run past it is steepened, and then walled.
    page.locator("summary", has_text="Reserve").click()
    land = page.locator("details", has_text="Land that the works must not leave")
    land.get_by_role("button", name="Add one").click()
    settled(page)
    land.get_by_label("1 offset").fill("6")
    land.get_by_label("1 offset").press("Enter")
    settled(page)
    assert amount(page, "walls") > 10
    go(page, "Grade line")
    page.get_by_role("heading", name="Advice").get_by_role("button", name="Show").click()
    expect(page.get_by_text("a wall of up to").first).to_be_visible()
    was = {name: figure(page, name) for name in ("cut", "fill")}
    ip = page.locator("[data-ip]").nth(1).bounding_box()
    assert ip
    x, y = ip["x"] + ip["width"] / 2, ip["y"] + ip["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 30, steps=5)
    drawn(page)
    page.mouse.up()
    settled(page)
    assert figure(page, "cut") < was["cut"] and figure(page, "fill") > was["fill"]
