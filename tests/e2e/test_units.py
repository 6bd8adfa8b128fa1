"""A road read and typed in feet: nothing that is kept changes by it."""

from playwright.sync_api import Page, expect

from helpers import figure, number, project_of, settled
from hillside import over_a_hillside, saved_after


def test_a_line_in_feet_is_the_line_in_metres(page: Page, program):
    over_a_hillside(page, program, "In feet and metres")
    page.get_by_role("button", name="Line along the ground").click()
    settled(page)
    cut = page.locator('.ledger [data-item="cut"]')
    expect(cut).to_contain_text("m³")
    shown, kept = number(cut.locator("b").inner_text()), figure(page, "cut")
    pid = project_of(page)
    before = page.request.get(f"{program.url}api/projects/{pid}").json()

    page.keyboard.press("u")
    settled(page)
    expect(cut).to_contain_text("yd³")
    assert abs(number(cut.locator("b").inner_text()) * 0.764554857984 - shown) < 2 and figure(page, "cut") == kept
    assert page.request.get(f"{program.url}api/projects/{pid}").json() == before

    # Typed in stations and feet, in metres, and refused in feet.
    revision = before["revision"]
    for _ in range(3):
        page.keyboard.press("]")
    for text, reads in (("100", "100.00"), ("20 m", "65.62")):
        page.fill("#ip-length", text)
        page.press("#ip-length", "Enter")
        revision = saved_after(page, revision)
        expect(page.locator("#ip-length")).to_have_value(reads)
    at = page.locator("#ip-chainage")
    station, rest = at.input_value().split("+")
    at.fill(f"{station}+{float(rest) + 1:05.2f}" if float(rest) < 98 else f"{station}+{float(rest) - 1:05.2f}")
    typed = at.input_value()
    at.press("Enter")
    revision = saved_after(page, revision)
    expect(at).to_have_value(typed)
    page.fill("#ip-length", "90000")
    page.press("#ip-length", "Enter")
    expect(page.locator("#ip-length-why")).to_contain_text("This curve would be 90000.00 ft")
    expect(page.get_by_text("\ufdd0")).to_have_count(0)
    page.keyboard.press("Escape")

    # The project's own units hold for whoever has chosen none; they are a change that is undone.
    page.get_by_role("button", name="Feet", exact=True).click()
    page.get_by_label("I read it in").select_option("")
    settled(page)
    expect(cut).to_contain_text("m³")
    page.get_by_label("This project is in").select_option("us")
    revision = saved_after(page, revision)
    expect(cut).to_contain_text("yd³")
    page.reload()
    settled(page)
    expect(cut).to_contain_text("yd³")
    page.keyboard.press("Control+z")
    saved_after(page, revision)
    expect(cut).to_contain_text("m³")
