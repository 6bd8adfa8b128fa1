"""Along the road and across it: a village, bends that lean, sections that follow, a batter without ground."""

import re

from playwright.sync_api import Page, expect

from helpers import drawn, figure, number, settled
from test_steps import go, undo


def bar(page: Page, words: str):
    return page.get_by_role("group", name="What is built along the road").locator(".bar", has_text=words)


def areas(page: Page) -> list[str]:
    return [pane.inner_text() for pane in page.locator(".panes output").all()]


def plumb(page: Page, share: float) -> None:
    """Put the plumb line at a share of the road."""
    deck = page.get_by_role("application").bounding_box()
    assert deck
    page.mouse.click(deck["x"] + 62 + share * (deck["width"] - 78), deck["y"] + deck["height"] - 60)


def test_a_village_a_lane_and_bends_are_walked_through_and_an_ip_is_dragged(demo: Page):
    page = demo
    go(page, "Along the road")
    cost = figure(page, "cost")
    # The village's bar is dragged by its end: earth follows, undo takes it back.
    end = bar(page, "Village").locator(".last").bounding_box()
    assert end
    page.mouse.move(end["x"] + 3, end["y"] + 5)
    page.mouse.down()
    for dx in (10, 20, 30):
        page.mouse.move(end["x"] + 3 + dx, end["y"] + 5)
        drawn(page)
    page.mouse.up()
    settled(page)
    expect(page.get_by_label("1 to", exact=True).first).not_to_have_value("2+060.00")
    assert figure(page, "cost") != cost
    undo(page)
    assert figure(page, "cost") == cost
    # A stretch without a section builds nothing, and says how much of the road that is.
    sections = page.locator("h2", has_text="Sections by stretch").locator("xpath=following-sibling::div[1]")
    sections.get_by_role("button", name="Add one").click()
    settled(page)
    sections.get_by_label("2 typical section").select_option(label="no section")
    settled(page)
    assert figure(page, "cost") < cost
    expect(page.locator(".ledger")).to_contain_text("without a section")
    undo(page, 2)
    # How the road leans is read out at the plumb line, in the middle of the tight bend.
    plumb(page, 1935 / 3984)
    lean = page.locator('[data-track="lean"] output')
    expect(lean).to_have_text(re.compile(r"^left rises 8.00 %; right falls 8.00 %, \d\.\d\d m wider$"))
    # Three pinned sections follow an IP that is dragged.
    go(page, "Sections")
    page.get_by_text(re.compile(r"\d+ sections|\d+ of \d+\)")).first.wait_for()
    for at in (2300, 2420, 2520):
        plumb(page, at / 3984)
        page.get_by_role("button", name="Pin", exact=True).click()
        page.keyboard.press(".")
    expect(page.locator(".pinned output", has_text="cut")).to_have_count(3)
    before = areas(page)
    handle = page.locator('[data-ip="9"]').bounding_box()
    assert handle
    x, y = handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for dy in (3, 6, 9, 12):
        page.mouse.move(x, y - dy)
        drawn(page)
    for k in (1, 2):
        expect(page.locator(".panes output").nth(k)).not_to_have_text(before[k])
    page.keyboard.press("Escape")
    page.mouse.up()
    settled(page)
    expect(page.locator(".panes output").nth(1)).to_have_text(before[1])
    # Next and previous by keys; what is there stands beside them.
    at = page.locator(".bar .num").first.inner_text()
    page.keyboard.press(".")
    page.keyboard.press(",")
    assert page.locator(".bar .num").first.inner_text() == at
    # A sheet of small ones, one of which is taken.
    page.get_by_role("radio", name="Sheet").click()
    cells = page.get_by_role("list", name="Sections of the stretch").get_by_role("listitem")
    expect(cells).to_have_count(40)
    expect(cells.nth(7).locator("output")).to_have_text(re.compile(r"^\d+\.\d / \d+\.\d$"))
    cells.nth(7).get_by_role("button").dblclick()
    # From the air and from a driver's eye.
    page.get_by_role("radio", name="In space").click()
    space = page.get_by_role("img", name="The road in space")
    expect(space).to_have_attribute("data-frames", re.compile(r"\d+"))
    expect(space.locator("canvas")).to_be_visible()
    frames = int(space.get_attribute("data-frames") or 0)
    page.get_by_role("radio", name="Driver").click()
    plumb(page, 0.5)
    page.wait_for_function("n => Number(document.querySelector('.space').dataset.frames) > n", arg=frames)


def test_on_a_steep_slope_a_batter_that_leaves_the_survey_is_found_and_mended(page: Page, program):
    """The second demo: its uphill side is cut, its downhill side filled; the ground is looked at on the map."""
    name = "Scar End traverse"
    page.get_by_text(name).first.click()
    settled(page)
    go(page, "Sections")
    page.get_by_text(re.compile(r"\d+ sections|\d+ of \d+\)")).first.wait_for()
    page.get_by_role("radio", name="Sheet").click()
    cells = page.get_by_role("list", name="Sections of the stretch").get_by_role("listitem")
    both = re.compile(r"^[1-9]\d*\.\d / [1-9]\d*\.\d$")
    expect(cells.locator("output", has_text=both).first).to_be_visible()
    page.get_by_role("radio", name="Section", exact=True).click()
    fails = page.get_by_role("list", name="Fails")
    open_ = fails.get_by_role("listitem").filter(has_text="No ground right")
    count = open_.count()
    assert count
    expect(open_.first).to_contain_text("the survey ends")
    open_.first.get_by_role("button").first.click()
    # From the section to the ground and back.
    pane = page.locator(".here .pane").bounding_box()
    assert pane
    at = page.locator(".bar .num").first.inner_text()
    page.mouse.click(pane["x"] + 0.6 * pane["width"], pane["y"] + 0.5 * pane["height"])
    page.get_by_role("button", name="Show on the map").click()
    page.get_by_role("button", name=f"Back to the section at {at}").click()
    expect(page.locator(".bar .num").first).to_have_text(at)
    # A remedy with its number is taken, and that finding is gone.
    way = open_.first.locator(".remedy").filter(has_text=re.compile("Steepen|End the works")).first
    if not way.is_visible():
        open_.first.get_by_role("button").first.click()
    expect(way).to_contain_text("EUR")
    revision = int(page.locator(".page").get_attribute("data-revision") or 0)
    way.click()
    page.wait_for_selector(f'.page[data-revision="{revision + 1}"][data-state="saved"]')
    expect(open_).to_have_count(count - 1)
    page.get_by_role("radio", name="In space").click()
    expect(page.get_by_role("img", name="The road in space").locator("canvas")).to_be_visible()
    # What a shifted stretch costs, planned anew.
    go(page, "Along the road")
    page.locator("summary", has_text="A stretch shifted sideways").click()
    page.get_by_role("button", name="What it costs").click()
    told = page.get_by_role("status").filter(has_text="planned anew")
    expect(told).to_be_visible()
    assert number(told.inner_text()) != 0
