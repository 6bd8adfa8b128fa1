"""A grade line from nothing over a new hillside, and curves that keep what they are to keep."""

from playwright.sync_api import Page, expect

from helpers import drawn, figure, opened, settled
from hillside import over_a_hillside, saved_after


def test_a_first_line_and_curves_that_keep(page: Page, program):
    over_a_hillside(page, program, "New hillside")
    page.get_by_role("button", name="New straight line").click()
    settled(page)
    straight = figure(page, "cost")
    page.get_by_role("button", name="Undo").click()

    # In one action: a fraction of the straight one's cost, nothing broken, and where it is deeper than wished is told.
    page.fill("#first-cut", "3")
    page.press("#first-cut", "Tab")
    page.get_by_role("button", name="Line along the ground").click()
    expect(page.get_by_text("Nothing fails on “first”.")).to_be_visible()
    settled(page)
    assert figure(page, "cost") < 0.2 * straight
    expect(page.locator(".notice")).to_contain_text("the cut is deeper than 3.00 m, by up to")

    # A circle that keeps its radius keeps it when its IP is lifted, and when undone all is as it was.
    revision = int(page.locator(".page").get_attribute("data-revision") or 0)
    for _ in range(3):
        page.keyboard.press("]")
    length = page.locator("#ip-length").input_value()
    page.select_option("#ip-shape", "circle")
    revision = saved_after(page, revision)
    page.select_option("#ip-keeps", "radius")
    revision = saved_after(page, revision)
    radius = page.locator("#ip-held_m").input_value()
    level = page.locator("#ip-level").input_value()
    page.fill("#ip-level", str(float(level) + 0.25))
    page.press("#ip-level", "Enter")
    revision = saved_after(page, revision)
    expect(page.locator("#ip-held_m")).to_have_value(radius)
    assert page.locator("#ip-length").input_value() != length
    # Undo works with the focus in a list too.
    page.locator("#ip-keeps").focus()
    for _ in range(3):
        page.keyboard.press("Control+z")
        revision = saved_after(page, revision)
    expect(page.locator("#ip-length")).to_have_value(length)
    expect(page.locator("#ip-shape")).to_have_value("parabola")

    # Lengths in and out; a point on the wrong side of the tangents is refused with the reason.
    page.select_option("#ip-shape", "two")
    revision = saved_after(page, revision)
    page.fill("#ip-length-in", "31")
    page.press("#ip-length-in", "Enter")
    revision = saved_after(page, revision)
    expect(page.locator("#ip-length-in")).to_have_value("31.00")
    page.select_option("#ip-keeps", "through")
    revision = saved_after(page, revision)
    before = page.locator("#ip-held_level_m").input_value()
    crest = "crest" in page.locator(".card-head b").inner_text()
    page.fill("#ip-held_level_m", str(float(before) + (20 if crest else -20)))
    page.press("#ip-held_level_m", "Enter")
    expect(page.locator("#ip-held_level_m-why")).to_contain_text("wrong side of the tangents")

    # Kept to its way while a key is held: only up and down, then on its grade in.
    page.keyboard.press("Escape")
    page.select_option("#ip-keeps", "length")
    revision = saved_after(page, revision)
    at = [page.locator(f"#ip-{name}").input_value() for name in ("chainage", "level", "grade-in")]
    box = page.locator('[data-ip="2"]').bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.keyboard.down("Shift")
    page.mouse.move(x + 5, y - 12, steps=4)
    expect(page.get_by_text("up and down only")).to_be_visible()
    expect(page.locator("#ip-level")).not_to_have_value(at[1])
    assert page.locator("#ip-chainage").input_value() == at[0]
    page.keyboard.up("Shift")
    page.keyboard.down("Control")
    page.mouse.move(x + 14, y - 12, steps=4)
    expect(page.get_by_text("on the grade in")).to_be_visible()
    expect(page.locator("#ip-chainage")).not_to_have_value(at[0])
    page.keyboard.up("Control")
    page.keyboard.press("Escape")
    page.mouse.up()
    settled(page)
    assert [page.locator(f"#ip-{name}").input_value() for name in ("chainage", "level", "grade-in")] == at


def test_what_is_written_in_the_long_section_is_chosen_and_stays_so(page: Page, program, own: int):
    """On the canvas, in the table of IPs, and after the page is opened again."""

    def deck() -> str:
        return drawn(page).evaluate("() => document.querySelector('.deck > canvas').toDataURL()")

    opened(page, program, own)
    radius = page.get_by_role("region", name="IP table").get_by_role("columnheader", name="R, m")
    expect(radius).to_have_count(0)
    page.get_by_role("button", name="Labels").click()
    seen = {deck()}
    for text in ("R of parabolas too (100 K)", "levels of IPs", "ends of bends, as verticals"):
        page.get_by_label(text).check()
        seen.add(deck())
    page.get_by_label("grades", exact=True).uncheck()
    seen.add(deck())
    assert len(seen) == 5
    expect(radius).to_be_visible()
    page.reload()
    settled(page)
    expect(radius).to_be_visible()
    page.get_by_role("button", name="Labels").click()
    expect(page.get_by_label("grades", exact=True)).not_to_be_checked()
