"""What makes a line safe, seen at the step of its limits: sight along it, speeds, trucks."""

from playwright.sync_api import Page, expect

from helpers import settled
from hillside import over_a_hillside, saved_after


def test_too_little_sight_is_advice_or_a_failure_as_is_chosen(page: Page, program):
    over_a_hillside(page, program, "Safe or not")
    page.get_by_role("button", name="Line along the ground").click()
    settled(page)
    page.get_by_role("navigation").get_by_role("button", name="Limits").click()
    speed = page.locator("#limits-design_speed_kmh")
    revision = int(page.locator(".page").get_attribute("data-revision") or 0)
    speed.fill("110")
    speed.press("Enter")
    revision = saved_after(page, revision)
    # A standard's values are offered with where each comes from, and only taken when that is wished.
    offer = page.get_by_role("group", name="Starting values")
    crest = offer.get_by_role("row").filter(has_text="K of crests")
    expect(crest).to_contain_text("74")
    offer.get_by_label("by").select_option("friction")
    expect(crest).not_to_contain_text("74")
    offer.get_by_text("Where each value comes from").click()
    expect(offer.get_by_role("listitem").filter(has_text="K of crests")).to_contain_text("eye 1.1 m, object 0.2 m")
    page.get_by_role("button", name="Keep mine").click()
    advice = page.get_by_label("Advice").get_by_text("Stopping sight")
    expect(advice.first).to_be_visible()
    failures = page.locator('.ledger [data-item="worst"]').inner_text()

    page.get_by_text("Sight along the line").click()
    page.locator("#limits-stopping_sight").select_option("fails")
    revision = saved_after(page, revision)
    told = page.get_by_label("Fails").get_by_role("button").filter(has_text="Stopping sight")
    expect(told.first).to_contain_text("short by")
    expect(told.first).to_contain_text("hidden by the road at")
    expect(advice).to_have_count(0)
    assert page.locator('.ledger [data-item="worst"]').inner_text() != failures
    # A finding leads to its place, and the tracks tell what is seen there of what is needed, and how fast a truck is.
    told.first.click()
    expect(page.locator('[data-track="sight"]')).to_contain_text("of 2")
    expect(page.locator('[data-track="speed"]')).to_contain_text("truck ahead")

    page.locator("#limits-stopping_sight").select_option("off")
    saved_after(page, revision)
    expect(told).to_have_count(0)


def test_a_range_is_added_typed_and_dragged(page: Page, program):
    over_a_hillside(page, program, "By range")
    page.get_by_role("button", name="Line along the ground").click()
    settled(page)
    page.get_by_role("navigation").get_by_role("button", name="Limits").click()
    revision = int(page.locator(".page").get_attribute("data-revision") or 0)
    page.get_by_role("button", name="Add a range at the plumb line").click()
    revision = saved_after(page, revision)
    for name, text in (("words", "village"), ("from_m", "1+000"), ("to_m", "2+000"), ("max_grade", "1")):
        field = page.locator(f"#range-0-{name}")
        field.fill(text)
        field.press("Enter")
        revision = saved_after(page, revision)
    told = page.get_by_label("Fails").get_by_role("button").filter(has_text="at most 1.00 %")
    expect(told.first).to_contain_text("too steep")
    # What fails ends where the range does, also once its end was dragged.
    bar = page.locator('[data-range="0"]')
    expect(bar).to_contain_text("village")
    box = bar.bounding_box()
    assert box
    right, middle = box["x"] + box["width"] - 3, box["y"] + box["height"] / 2
    page.mouse.move(right, middle)
    page.mouse.down()
    page.mouse.move(right + 40, middle, steps=5)
    page.mouse.up()
    revision = saved_after(page, revision)
    to = page.locator("#range-0-to_m").input_value()
    assert to > "2+150.00", to
    page.locator("#range-0-to_m").fill("0+500")
    page.locator("#range-0-to_m").press("Enter")
    expect(page.get_by_text("The range from 1+000.00 to 0+500.00 has no length.")).to_be_visible()
    page.locator("#range-0-to_m").press("Escape")
    page.get_by_role("button", name="Delete the range").click()
    saved_after(page, revision)
    expect(told).to_have_count(0)
