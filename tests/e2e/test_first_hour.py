"""The tour of docs/first-hour.md, from a file that is not the demo's: each name in bold there is pressed here."""

import re
from pathlib import Path

import numpy as np
import pdfplumber
from playwright.sync_api import Page, expect

from helpers import figure, settled

TOUR = Path(__file__).parents[2] / "docs" / "first-hour.md"
E0, N0 = 500_000.0, 4_200_000.0


def survey() -> str:
    """A hillside of 900 by 400 m with a dell, at eastings of 500 000: a semicolon table of another program's kind."""
    e, n = (a.ravel() for a in np.meshgrid(np.arange(0, 901, 12.0), np.arange(0, 401, 12.0)))
    level = 180 + e / 25 - n / 40 + 4 * np.sin(e / 90) - 6 * np.exp(-(((e - 450) / 80) ** 2))
    rows = [f"{k};{E0 + x:.3f};{N0 + y:.3f};{z:.3f}" for k, (x, y, z) in enumerate(zip(e, n, level, strict=True), 1)]
    return "\n".join(["Point;East;North;Height", *rows])


def test_the_first_hour(page: Page, tmp_path):
    pressed: set[str] = set()

    def press(name: str, within=None) -> None:
        pressed.add(name)
        (within or page).get_by_role("button", name=name, exact=True).first.click()

    def step(name: str) -> None:
        pressed.add(name)
        page.get_by_role("navigation").get_by_role("button", name=re.compile(rf"^{name}\b")).click()

    page.fill("#new-name", "A first hour")
    press("Start it")

    path = tmp_path / "hillside.txt"
    path.write_text(survey())
    page.set_input_files("aside input[type=file]", path)
    expect(page.get_by_label("Column 2 holds")).to_have_value("easting")
    pressed.add("Accept")
    page.get_by_role("button", name="Accept").click()
    ground = page.get_by_label("Map of the ground")
    expect(ground.locator("canvas").first).to_be_visible(timeout=60_000)
    press("To the centreline")

    press("Draw")
    box = ground.bounding_box()
    assert box
    for x, y in ((0.2, 0.45), (0.5, 0.6), (0.8, 0.45)):
        page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])
    press("Done")
    expect(page.get_by_role("textbox", name="3 easting")).to_be_visible()
    press("Bends by the rules")
    press("Save the centreline")

    step("Limits")
    pressed.add("Starting values of a standard…")
    page.get_by_text("Starting values of a standard…").click()
    press("Take these limits")
    settled(page)

    step("Section")
    press("Edit the section")
    page.get_by_label("New section").select_option(label="Two lanes, unsealed")
    press("Build this one")
    settled(page)
    press("Back to the tracks")

    step("Grade line")
    press("Line along the ground")
    settled(page)
    cost = figure(page, "cost")
    assert cost > 0 and figure(page, "cut") > 0

    handle = page.locator("[data-ip]").nth(1).bounding_box()
    assert handle
    x, y = handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 12, steps=5)
    page.mouse.up()
    settled(page)
    assert figure(page, "cost") != cost
    press("Undo")
    settled(page)
    assert figure(page, "cost") == cost

    step("Limits")
    pressed.add("Summary for a checker")
    page.get_by_text("Summary for a checker").click()
    expect(page.get_by_role("button", name="Print")).to_be_visible()
    pressed.add("Back to the design")
    page.get_by_text("Back to the design").click()
    settled(page)

    step("Grade line")
    pressed.add("Paper")
    page.get_by_text("Paper", exact=True).click()
    with page.expect_download() as loaded:
        pressed.add("PDF")
        page.get_by_text("PDF", exact=True).click()
    with pdfplumber.open(loaded.value.path()) as sheet:
        assert "A first hour" in sheet.pages[0].extract_text()
    page.get_by_text("Back to the design").click()
    settled(page)

    step("Search")
    press("Search", page.get_by_role("complementary"))
    expect(page.get_by_text("Finished after")).to_be_visible(timeout=150_000)
    press("Adopt as a second grade line")
    settled(page)
    assert figure(page, "cost") <= cost

    assert set(re.findall(r"\*\*(.+?)\*\*", TOUR.read_text())) == pressed
