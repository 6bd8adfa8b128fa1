"""A grade line from nothing over a new hillside, and curves that keep what they are to keep."""

import numpy as np
from playwright.sync_api import Page, expect

from helpers import bring_in, figure, settled

LENGTH = 5000.0


def hillside() -> bytes:
    """Five kilometres of hillside, points each 25 m along and 20 m across."""
    x, y = np.meshgrid(np.arange(-25.0, LENGTH + 26, 25), np.arange(-80.0, 81.0, 20))
    z = 300 + 25 * np.sin(x / 700) + 8 * np.sin(x / 230) + 0.1 * y
    rows = np.column_stack([x.ravel(), y.ravel(), z.ravel()]).tolist()
    return ("easting,northing,level\n" + "\n".join(f"{a:.3f},{b:.3f},{c:.3f}" for a, b, c in rows)).encode()


def saved_after(page: Page, revision: int) -> int:
    page.wait_for_selector(f'.page[data-revision="{revision + 1}"]')
    settled(page)
    return revision + 1


def test_a_first_line_and_curves_that_keep(page: Page, program):
    page.fill("#new-name", "New hillside")
    page.get_by_role("button", name="Start it").click()
    page.wait_for_selector(".page")
    project = int(page.url.rsplit("/", 1)[-1])
    bring_in(page, program, project, "hillside.csv", hillside(), longest_edge_m=60.0)
    base = f"{program.url}api/projects/{project}"
    end = {"radius_m": 0, "transition_in_m": 0, "transition_out_m": 0, "joins": False, "superelevation": None}
    ips = [{"easting_m": e, "northing_m": 0, **end} for e in (0, LENGTH)]
    made = {"base": page.request.get(base).json()["revision"], "start_chainage_m": 0, "ips": ips}
    assert page.request.put(f"{base}/centreline", data=made).ok
    page.reload()
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
    expect(page.get_by_role("alert")).to_contain_text("the cut is deeper than 3.00 m, by up to")

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
