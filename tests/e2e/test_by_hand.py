"""A line over a new hillside by the keyboard alone, and by the mouse alone: made, refused, repaired, taken back."""

import pytest
from playwright.sync_api import Locator, Page, expect

from helpers import settled
from hillside import over_a_hillside, saved_after


def revision_of(page: Page) -> int:
    settled(page)
    return int(page.locator(".page").get_attribute("data-revision") or 0)


def reason(page: Page) -> Locator:
    return page.get_by_role("region", name="What could be instead")


def line_now(page: Page) -> list[list[str]]:
    """The table of IPs as it stands, to the last digit shown."""
    rows = page.get_by_role("table", name="IPs of the grade line").locator("tbody tr")
    return [
        [
            cell.input_value() if cell.evaluate("e => e.tagName") == "INPUT" else ""
            for cell in row.locator("input").all()
        ]
        for row in rows.all()
    ]


def tab_to(page: Page, selector: str, key: str = "Tab") -> None:
    """Press Tab until the focus is there: nothing else moves it."""
    for _ in range(150):
        there = page.locator(selector)
        if there.count() and there.first.evaluate("e => e === document.activeElement"):
            return
        page.keyboard.press(key)
    pytest.fail(f"the keyboard never reached {selector}")


def command(page: Page, words: str) -> None:
    page.keyboard.press("/")
    page.keyboard.type(words)
    page.keyboard.press("Enter")


def typed(page: Page, field: str, text: str) -> None:
    tab_to(page, f"#{field}")
    page.keyboard.press("Control+a")
    page.keyboard.type(text)
    page.keyboard.press("Enter")


def test_by_the_keyboard_alone(page: Page, program):
    over_a_hillside(page, program, "By keys")
    settled(page)
    revision = revision_of(page)
    command(page, "New line along the ground")
    revision = saved_after(page, revision)
    first = line_now(page)
    # Named, to come back to.
    page.keyboard.press("h")
    expect(page.get_by_role("option").first).to_be_visible()
    page.keyboard.press("End")
    tab_to(page, 'input[aria-label="Name of this state"]')
    page.keyboard.type("an hour ago")
    page.keyboard.press("Enter")
    expect(page.get_by_role("option", name="an hour ago")).to_be_visible()
    page.keyboard.press("h")

    for _ in range(3):
        page.keyboard.press("]")
    expect(page.locator(".card-head b")).to_contain_text("IP 2")

    def repaired(way: int = 1) -> None:
        """Three ways on or more, each with its cost; one is taken, and the line stands."""
        nonlocal revision
        expect(reason(page)).to_contain_text("Not possible.")
        expect(reason(page).get_by_role("button")).not_to_have_count(0)
        page.keyboard.press(f"Alt+{way}")
        revision = saved_after(page, revision)
        expect(reason(page)).to_be_hidden()

    # A curve with too little room for its length.
    page.keyboard.press("Enter")
    typed(page, "ip-length", "2000")
    expect(page.locator("#ip-length-why")).to_contain_text("overlap by")
    expect(reason(page).locator(".way")).not_to_have_count(2)
    assert reason(page).locator(".way").count() >= 3
    repaired()
    # An IP moved past its neighbour.
    there = page.locator("#ip-chainage").input_value()
    tab_to(page, "#ip-chainage", "Shift+Tab")
    page.keyboard.press("Control+a")
    page.keyboard.type(f"{there}+1500")
    page.keyboard.press("Enter")
    expect(page.locator("#ip-chainage-why")).to_contain_text("does not lie after")
    repaired()
    # What is locked: the level.
    page.keyboard.press("Escape")
    for _ in range(3):
        page.keyboard.press("[")
    page.keyboard.press("]")
    tab_to(page, "summary:has-text('More')")
    page.keyboard.press("Enter")
    tab_to(page, ".locks label:has-text('level') > input")
    page.keyboard.press("Space")
    revision = saved_after(page, revision)
    level = float(page.locator("#ip-level").input_value())
    tab_to(page, "#ip-level", "Shift+Tab")
    page.keyboard.press("Control+a")
    page.keyboard.type(f"{level + 1:.3f}")
    page.keyboard.press("Enter")
    expect(page.locator("#ip-level-why")).to_contain_text("is locked at")
    expect(reason(page)).to_contain_text("Unlock what is in the way, and do it")
    repaired()
    expect(page.locator("#ip-level")).to_have_value(f"{level + 1:.3f}")
    # Grades that do not meet.
    tab_to(page, "summary:has-text('Put an IP')")
    page.keyboard.press("Enter")
    tab_to(page, "#put-how")
    page.keyboard.type("grades meet")
    expect(page.locator("#put-how")).to_have_value("meet")
    typed(page, "put-grade_out", "1")
    typed(page, "put-grade_in", "1.5")
    tab_to(page, "button:has-text('Put it')")
    page.keyboard.press("Enter")
    expect(page.locator(".put .failure")).to_contain_text("do not meet between")
    assert reason(page).locator(".way").count() >= 2
    repaired()

    # Back to an hour ago, and that undone.
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    changed = line_now(page)
    assert changed != first
    page.keyboard.press("h")
    for _ in range(10):
        page.keyboard.press("ArrowLeft")
        if page.get_by_role("option", name="an hour ago").get_attribute("aria-selected") == "true":
            break
    expect(page.locator("[data-past-cost]")).to_contain_text("cost")
    tab_to(page, "button:has-text('Restore the line')")
    page.keyboard.press("Enter")
    revision = saved_after(page, revision)
    assert line_now(page) == first
    page.keyboard.press("Control+z")
    saved_after(page, revision)
    assert line_now(page) == changed


def drag(page: Page, handle: Locator, dx: float, dy: float) -> None:
    box = handle.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx, y + dy, steps=8)
    page.mouse.up()


def test_by_the_mouse_alone(page: Page, program):
    over_a_hillside(page, program, "By mouse")
    page.get_by_role("button", name="Line along the ground").click()
    settled(page)
    revision = revision_of(page)
    first = line_now(page)
    page.mouse.move(640, 330)
    page.get_by_role("button", name="All", exact=True).click()

    def repaired(words: str = "") -> None:
        nonlocal revision
        expect(reason(page)).to_contain_text("Not possible.")
        button = reason(page).locator(".way", has_text=words).first
        button.hover()
        button.click()
        revision = saved_after(page, revision)
        expect(reason(page)).to_be_hidden()

    # A handle dragged past the next IP stops before it, and says so.
    page.locator('[data-ip="2"]').click()
    at, beside = page.locator('[data-ip="2"]').bounding_box(), page.locator('[data-ip="3"]').bounding_box()
    assert at and beside
    drag(page, page.locator('[data-ip="2"]'), beside["x"] - at["x"] + 25, 0)
    revision = saved_after(page, revision)
    expect(reason(page)).to_contain_text("does not lie after")
    repaired()
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    # Two in a row: the first of them may stand for less than a picture.
    revision = saved_after(page, revision + 1)
    # An end of a curve dragged further than there is room; seen from near, as it is close to its IP.
    page.locator('[data-ip="2"]').click()
    page.get_by_role("button", name="IP", exact=True).click()
    ends = page.locator(".handle:has(.end)")
    drag(page, ends.nth(1), 250, 0)
    revision = saved_after(page, revision)
    expect(reason(page)).to_contain_text("overlap by")
    repaired("Shorten the curve")
    # A new IP within a curve.
    page.locator('[data-ip="2"]').click()
    start, end = (ends.nth(k).bounding_box() for k in (0, 1))
    assert start and end
    page.mouse.dblclick(start["x"] + 0.3 * (end["x"] - start["x"]) + 12, start["y"] + 40)
    expect(reason(page)).to_contain_text("Put the new IP clear of the curves")
    repaired("Put it on the line")
    # A locked level, with the grade that leads there: the drag stops, and the lock is opened.
    page.locator('[data-ip="4"]').click()
    page.get_by_text("More: locks").click()
    page.get_by_role("group", name="Locks").get_by_label("level").click()
    revision = saved_after(page, revision)
    drag(page, page.locator('[data-ip="4"]'), 0, -30)
    expect(reason(page)).to_contain_text("is locked at")
    revision = revision_of(page)
    reason(page).get_by_role("button", name="Unlock what is in the way").click()
    revision = saved_after(page, revision)

    # Looking back by clicking through the strip, and back to the first state of the line.
    page.get_by_title("Look back along the history (H)").click()
    page.get_by_role("option").filter(has=page.locator(".mark")).nth(-1).click()
    ticks = page.locator(".tick.mine")
    ticks.first.click()
    expect(page.locator("[data-past-cost]")).to_contain_text("cost")
    page.get_by_role("button", name="Restore the line").click()
    saved_after(page, revision)
    assert line_now(page) == first
