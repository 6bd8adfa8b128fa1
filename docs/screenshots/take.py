"""Take every picture of this folder anew, from the demo.

`PYTHONPATH=src:benchmarks .venv/bin/python docs/screenshots/take.py`
"""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page

from delgrun.ops import machine, surroundings

HERE = Path(__file__).parent


def shots(page: Page, url: str, files: Path) -> None:
    def keep(name: str) -> None:
        page.wait_for_timeout(500)
        page.screenshot(path=HERE / f"{name}.png")

    def go(step: str) -> None:
        page.get_by_role("navigation").get_by_role("button", name=re.compile(rf"^{step}\b")).click()

    page.goto(url)
    page.get_by_text("Hollin Brow link").wait_for()
    keep("projects")
    page.get_by_text("Hollin Brow link").click()
    page.wait_for_selector('.page[data-state="saved"]')
    page.locator('[data-ip="12"]').click()
    keep("grade-line")
    page.keyboard.press("u")
    page.wait_for_timeout(1500)
    keep("feet")
    page.keyboard.press("u")
    page.wait_for_selector('.page[data-state="saved"]')
    box = page.locator('[data-ip="10"]').bounding_box()
    assert box
    page.mouse.move(box["x"] + 13, box["y"] + 13)
    page.mouse.down()
    page.mouse.move(box["x"] + 18, box["y"] + 4, steps=5)
    keep("dragging")
    page.keyboard.press("Escape")
    page.mouse.up()
    page.get_by_role("link", name="Paper").click()
    page.get_by_role("button", name="PDF").or_(page.get_by_role("link", name="PDF")).first.wait_for()
    page.wait_for_timeout(2500)
    keep("sheet")
    page.get_by_text("Back to the design").click()
    page.wait_for_selector('.page[data-state="saved"]')
    # Some states to look back at, one of them named.
    page.locator('[data-ip="6"]').click()
    for up in (0.6, 1.2, -0.4):
        level = float(page.locator("#ip-level").input_value())
        revision = int(page.locator(".page").get_attribute("data-revision") or 0)
        page.fill("#ip-level", f"{level + up:.3f}")
        page.press("#ip-level", "Enter")
        page.wait_for_selector(f'.page[data-revision="{revision + 1}"][data-state="saved"]')
    page.keyboard.press("Escape")
    page.get_by_title("Look back along the history (H)").click()
    page.locator(".tick.mine").nth(-2).click()
    page.get_by_label("Name of this state").fill("for the meeting")
    page.get_by_label("Name of this state").press("Enter")
    page.locator("[data-past-cost] >> text=cost").wait_for()
    keep("history")
    page.get_by_role("button", name="Close", exact=True).first.click()
    for _ in range(3):
        page.get_by_role("button", name="Undo").click()
        page.wait_for_timeout(800)
    go("Search")
    page.get_by_role("complementary").get_by_role("button", name="Search").click()
    page.get_by_text("Finished after").wait_for(timeout=180_000)
    keep("search")
    go("Limits")
    page.get_by_role("button", name="Add a range at the plumb line").click()
    page.fill("#range-0-words", "village")
    page.press("#range-0-words", "Enter")
    page.fill("#range-0-max_grade", "6")
    page.press("#range-0-max_grade", "Enter")
    page.wait_for_timeout(2500)
    page.locator("summary", has_text="village").click()
    # A creek's flood that the line lies too low for, a pipe, and a power line.
    base = url.rstrip("/") + "/api/projects/1"
    now = page.request.get(base).json()
    control = {
        "words": "Creek flood", "reason": "1 in 100 years", "from_m": 2740, "to_m": 2840, "bound": "above",
        "measured_from": "level", "level_m": 180.2, "level_to_m": None, "height_m": None, "height_to_m": None,
        "old_line": None, "clearance_m": 0.3, "offset_m": 0, "road": "centreline",
    }  # fmt: skip
    made = {"base": now["revision"], "token": None, "controls": {"rows": [control]}}
    assert page.request.put(f"{base}/controls", data=made).ok
    page.reload()
    page.wait_for_selector('.page[data-state="saved"]')
    go("Limits")
    page.get_by_text("Utilities in the ground").click()
    box = page.locator('[data-track="long"]').bounding_box()
    assert box
    for what, x in (("buried", 470), ("overhead", 250)):
        page.get_by_label("Kind of utility").select_option(what)
        page.mouse.click(box["x"] + x, box["y"] + 60)
        page.get_by_role("button", name="Add one across the road here").click()
        page.wait_for_timeout(1500)
    page.locator("aside").evaluate("e => (e.scrollTop = 0)")
    page.get_by_label("Fails").get_by_role("button").filter(has_text="Creek").click()
    page.wait_for_timeout(1500)
    keep("limits")
    page.get_by_role("link", name="Summary for a checker").click()
    page.get_by_role("table", name="Checks").wait_for()
    keep("summary")
    page.get_by_role("link", name="Back to the design").click()
    page.wait_for_selector('.page[data-state="saved"]')
    go("Limits")
    page.locator("summary", has_text="village").click()
    page.get_by_role("button", name="Delete the range").click()
    page.wait_for_timeout(1500)
    go("Section")
    box = page.locator('[data-track="long"]').bounding_box()
    assert box
    page.mouse.click(box["x"] + 545, box["y"] + 60)
    page.get_by_role("button", name="Edit the section").click()
    page.get_by_role("button", name="drain, right").dispatch_event("pointerdown")
    page.wait_for_timeout(1000)
    keep("section-editor")
    page.get_by_role("button", name="Back to the tracks").click()
    along(page, go, keep)
    go("Centreline")
    page.wait_for_selector('[data-state="drawn"]')
    keep("centreline")
    page.get_by_role("tab", name="Bends").click()
    keep("bends")
    page.get_by_role("tab", name="IPs").click()
    page.get_by_role("button", name="New road").click()
    page.get_by_role("button", name="Draw", exact=True).click()
    box = page.get_by_label("Map of the ground").bounding_box()
    assert box
    for x, y in ((40, 240), (150, 190), (250, 260), (350, 200), (390, 290)):
        page.mouse.click(box["x"] + x, box["y"] + y)
    page.mouse.move(box["x"] + 520, box["y"] + 320, steps=8)
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Look", exact=True).click()
    page.get_by_role("button", name="Put it back").click()
    go("Survey")
    page.get_by_role("button", name="Look for suspects").click()
    page.locator('[data-item="counts"]').wait_for(timeout=90_000)
    page.get_by_role("listbox", name="Suspects").get_by_role("option").first.click()
    page.wait_for_timeout(2500)
    keep("suspects")
    page.get_by_role("button", name="3D").click()
    page.wait_for_timeout(3000)
    keep("air")
    page.get_by_role("button", name="Map", exact=True).click()
    page.set_input_files("aside input[type=file]", files / "hollin-brow-survey.csv")
    page.locator('[data-item="points"]').wait_for()
    keep("survey-import")


def along(page: Page, go: Callable[[str], None], keep: Callable[[str], None]) -> None:
    """What varies along the road, and sections seen."""

    def plumb(chainage: float) -> None:
        deck = page.get_by_role("application").bounding_box()
        assert deck
        page.mouse.click(deck["x"] + 62 + chainage / 3984 * (deck["width"] - 78), deck["y"] + deck["height"] - 60)

    go("Along the road")
    plumb(1900)
    page.wait_for_timeout(1500)
    keep("superelevation")
    page.keyboard.press("p")
    go("Sections")
    page.get_by_text(re.compile(r"\d+ sections|\d+ of \d+\)")).first.wait_for()
    for at in (2300, 2420, 3200):
        plumb(at)
        page.keyboard.press("k")
        page.keyboard.press("p")
    plumb(1900)
    page.wait_for_timeout(1500)
    keep("sections")
    page.get_by_role("radio", name="In space").click()
    page.get_by_role("radio", name="Driver").click()
    page.keyboard.press("p")
    plumb(2560)
    page.wait_for_timeout(3000)
    keep("space")
    page.keyboard.press("p")
    page.get_by_role("radio", name="Section", exact=True).click()


def hillside(page: Page, url: str) -> None:
    """The second demo's sections on a sheet."""
    page.goto(url)
    page.get_by_text("Scar End traverse").first.click()
    page.wait_for_selector('.page[data-state="saved"]')
    page.get_by_role("navigation").get_by_role("button", name=re.compile(r"^Sections\b")).click()
    page.get_by_role("radio", name="Sheet").click()
    page.get_by_role("list", name="Fails").get_by_role("button").first.click()
    page.get_by_text(re.compile(r"\d+ of \d+\)")).first.wait_for()
    page.wait_for_timeout(2500)
    page.screenshot(path=HERE / "section-sheet.png")


def main() -> None:
    machine.put_system_folders_on_path()
    surroundings.set_up(surroundings.data_folder())
    from program import opened

    with opened(demo=True) as (program, page):
        hillside(page, program.url)
        shots(page, program.url, program.data / "demo")


if __name__ == "__main__":
    main()
