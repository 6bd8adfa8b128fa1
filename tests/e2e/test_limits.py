"""What makes a line safe, seen at the step of its limits: sight along it, speeds, trucks."""

from playwright.sync_api import Page, expect

from helpers import project_of, settled
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
    page.get_by_role("button", name="Show", exact=True).click()
    page.get_by_label("Advice").get_by_role("button", name=" more").click()
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
    bar = page.locator('[data-bar="0"]')
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


def _typed(page: Page, revision: int, selector: str, text: str) -> int:
    page.fill(selector, text)
    page.press(selector, "Enter")
    return saved_after(page, revision)


def test_a_safe_road_from_its_limits_to_the_list_that_a_checker_signs(demo: Page, program):
    """On the demo: a slow range, a creek, a pipe, a wire; what hides what, mended; where trucks crawl; and the list."""
    page = demo
    project = str(project_of(page))
    first = revision = int(page.locator(".page").get_attribute("data-revision") or 0)
    page.get_by_role("navigation").get_by_role("button", name="Limits").click()
    assert page.locator("#limits-design_speed_kmh").input_value() == "70"
    page.get_by_role("button", name="Add a range at the plumb line").click()
    revision = saved_after(page, revision)
    for name, text in (("words", "switchback"), ("to_m", "2+100"), ("from_m", "1+700"), ("design_speed_kmh", "40")):
        revision = _typed(page, revision, f"#range-0-{name}", text)

    # The creek by pointer along a stretch, then what it is and why.
    page.get_by_role("button", name="Draw one").click()
    box = page.locator('[data-track="long"]').bounding_box()
    assert box
    y = box["y"] + 0.94 * box["height"]
    page.mouse.move(box["x"] + 600, y)
    page.mouse.down()
    page.mouse.move(box["x"] + 650, y, steps=4)
    page.mouse.up()
    revision = saved_after(page, revision)
    creek = (("words", "Creek flood"), ("reason", "1 in 100 years"), ("from_m", "2+740"), ("to_m", "2+840"))
    for name, text in (*creek, ("level_m", "180.2")):
        revision = _typed(page, revision, f"#control-0-{name}", text)
    # What is entered and not kept is told at once, beside what was entered.
    expect(page.locator('[data-item="entered"]')).to_contain_text("Creek flood: level 179.")
    revision = _typed(page, revision, "#control-0-clearance_m", "0.3")
    fails = page.get_by_label("Fails")
    expect(fails).to_contain_text("at least 180.500 m")
    before = page.locator('.ledger [data-item="cost"]').inner_text()
    fails.get_by_role("button").filter(has_text="Creek flood").click()
    fails.get_by_role("button", name="Lift").first.click()
    revision = saved_after(page, revision)
    expect(fails.get_by_text("Creek flood")).to_have_count(0)
    assert page.locator('.ledger [data-item="cost"]').inner_text() != before

    # A pipe across the road with too little cover, and headroom under a wire.
    page.get_by_text("Utilities in the ground").click()
    page.get_by_role("button", name="Add one across the road here").click()
    revision = saved_after(page, revision)
    expect(page.get_by_label("Utilities", exact=True)).to_contain_text("Pipe")
    page.get_by_role("button", name="Add one at the plumb line").click()
    revision = saved_after(page, revision)
    revision = _typed(page, revision, "#control-1-words", "Wire")
    page.locator("#control-1-bound").select_option("below")
    revision = saved_after(page, revision)
    level = float(page.locator("#control-1-level_m").input_value())
    revision = _typed(page, revision, "#control-1-level_m", f"{level + 16:.3f}")
    revision = _typed(page, revision, "#control-1-clearance_m", "5.5")
    expect(page.locator("details").filter(has_text="Wire").last).to_contain_text("to spare at")

    # Which crest hides what, and a curve that mends it.
    page.get_by_text("Sight along the line").click()
    page.locator("#limits-stopping_sight").select_option("fails")
    revision = saved_after(page, revision)
    hidden = fails.get_by_role("button").filter(has_text="hidden by the road at 3+7")
    count = hidden.count()
    expect(hidden.first).to_contain_text("short by")
    hidden.first.click()
    fails.locator("li.open .remedy").first.click()
    revision = saved_after(page, revision)
    assert hidden.count() < count
    page.get_by_role("button", name="Show", exact=True).click()
    expect(page.get_by_label("Advice").get_by_text("Slow truck").first).to_be_visible()
    expect(page.locator('[data-track="sight"]')).to_contain_text("line: past bends")

    # The list: each check that goes by a value names its source, changed ones their reason.
    page.get_by_text("Sources and reasons").click()
    page.fill("#limits-min_crest_k_m_per_pct", "15")
    page.press("#limits-min_crest_k_m_per_pct", "Enter")
    revision = saved_after(page, revision)
    revision = _typed(page, revision, "#why-min_crest_k_m_per_pct", "agreed with the county")
    page.get_by_role("link", name="Summary for a checker").click()
    checks = page.get_by_role("table", name="Checks")
    expect(checks.get_by_role("row").filter(has_text="Crest K")).to_contain_text("agreed with the county")
    expect(page.get_by_role("table", name="Level controls")).to_contain_text("1 in 100 years")
    for row in checks.get_by_role("row").all()[1:]:
        cells = row.get_by_role("cell").all_inner_texts()
        assert cells[-1] or not cells[3], row.inner_text()
    values = page.get_by_role("table", name="Values").get_by_role("row").all()[1:]
    assert len(values) > 20 and all(row.get_by_role("cell").all_inner_texts()[-1] for row in values)
    expect(page.get_by_role("table", name="Values")).to_contain_text("switchback")
    page.get_by_role("link", name="Back to the design").click()
    settled(page)
    back = page.request.post(
        f"{program.url}api/projects/{project}/back", data={"base": revision, "revision": first, "slot": None}
    )
    assert back.ok, back.text()
