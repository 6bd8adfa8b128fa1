"""The other steps by hand: centreline, limits, section and costs, several lines, stopping a search, and the look."""

import json
import re
from collections import Counter
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from delgrun.core.inputs import BENDS, COST, LIMITS, RESERVE, STRATA, SUPERELEVATION, TRUCK, WORKS
from helpers import drawn, figure, line_tab, number, settled

AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"


def go(page: Page, step: str) -> None:
    page.get_by_role("navigation").get_by_role("button", name=re.compile(rf"^{step}\b")).click()


def undo(page: Page, times: int = 1) -> None:
    for _ in range(times):
        revision = int(page.locator(".page").get_attribute("data-revision") or 0)
        page.get_by_role("button", name="Undo").click()
        page.wait_for_selector(f'.page[data-revision="{revision + 1}"]')
        settled(page)


def typed(page: Page, field: str, text: str, key: str = "Enter") -> None:
    page.fill(field, text)
    page.press(field, key)
    settled(drawn(page))


def test_a_moved_bend_moves_all_that_follows(demo: Page):
    page = demo
    cost = figure(page, "cost")
    go(page, "Centreline")
    radius = page.get_by_label("4 radius")
    radius.fill("900")
    radius.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("IP 4 has room for a radius of 291.55 m")
    expect(page.get_by_role("button", name="Save the centreline")).to_be_disabled()
    radius.fill("130")
    radius.press("Tab")
    bends = page.get_by_label("Bends and their speeds")
    page.get_by_role("tab", name="Bends").click()
    expect(bends).to_contain_text("130 right")
    page.get_by_role("tab", name="IPs").click()
    for way, length in (("in", "30"), ("out", "40")):
        page.get_by_label(f"4 transition {way}").fill(length)
        page.get_by_label(f"4 transition {way}").press("Tab")
    page.get_by_role("tab", name="Bends").click()
    expect(bends).to_contain_text("30 of ")
    expect(page.get_by_label("grade lines and notes keep")).to_have_value("place")
    page.get_by_role("button", name="Save the centreline").click()
    settled(drawn(page))
    assert figure(page, "cost") != cost
    undo(page)
    assert figure(page, "cost") == cost


def test_a_centreline_is_pasted_from_a_spreadsheet(page: Page, demo_files):
    page.fill("#new-name", "Pasted")
    page.get_by_role("button", name="Start it").click()
    page.set_input_files("aside input[type=file]", demo_files / "hollin-brow-survey.csv")
    page.get_by_role("button", name="Accept").click()
    page.get_by_role("button", name="To the centreline").click(timeout=60_000)
    page.get_by_role("button", name="Insert a row").click()
    rows = "12000\t48000\t\n12710\t48190\t450\n13240\t47900\t"
    page.get_by_label("1 easting").focus()
    page.evaluate(
        """(text) => {
          const data = new DataTransfer();
          data.setData('text/plain', text);
          const paste = new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true });
          document.activeElement.dispatchEvent(paste);
        }""",
        rows,
    )
    expect(page.get_by_label("2 radius")).to_have_value("450.00")
    expect(page.get_by_role("heading", name="Centreline, 1 3")).to_be_visible()
    page.get_by_role("button", name="Save the centreline").click()
    # On to the next step of the work, and no further.
    expect(page.get_by_role("heading", name="Limits for the whole length")).to_be_visible()
    go(page, "Grade line")
    expect(page.get_by_role("button", name="New straight line")).to_be_visible()


def test_a_higher_design_speed_offers_its_limits_and_more_fails(demo: Page):
    page = demo
    go(page, "Limits")
    typed(page, "#limits-design_speed_kmh", "90")
    offer = page.get_by_role("group", name="Starting values")
    for name, k in (("K of crests", "39"), ("K of sags", "38")):
        expect(offer.get_by_role("row").filter(has_text=name)).to_contain_text(k)
    page.get_by_role("button", name="Take these limits").click()
    settled(drawn(page))
    expect(page.locator("#limits-min_crest_k_m_per_pct")).to_have_value("39")
    # The tie-ins are the project's own and stay.
    expect(page.locator("#limits-start_level_m")).to_have_value("177.205")
    assert number(page.locator('[data-item="worst"] b').first.inner_text().replace("✕ ", "")) > 5
    undo(page, 2)
    expect(page.locator("#limits-design_speed_kmh")).to_have_value("70")
    typed(page, "#limits-max_grade", "1:20")
    expect(page.locator("#limits-max_grade")).to_have_value("5")
    expect(page.get_by_text("too steep by").first).to_be_visible()
    undo(page)


def row(page: Page, name: str) -> float:
    """The amount in a row of what the line takes."""
    return float(page.locator(f'[data-row="{name}"]').get_attribute("data-value") or "nan")


def test_section_and_costs_move_the_ledger(demo: Page):
    page = demo
    was = {name: figure(page, name) for name in ("cost", "cut", "fill", "topsoil")}
    go(page, "Section")
    typed(page, "#cost-cut_per_m3", "12")
    assert figure(page, "cut") == was["cut"] and figure(page, "cost") == pytest.approx(
        was["cost"] + 6 * row(page, "cut-0")
    )
    undo(page)
    typed(page, "#works-topsoil_depth_m", "30 cm")
    assert figure(page, "topsoil") > 1.9 * was["topsoil"]
    undo(page)
    go(page, "Along the road")
    page.fill("#works-interval_m", "-3")
    page.press("#works-interval_m", "Enter")
    expect(page.locator("#works-interval_m-why")).to_contain_text("greater than or equal to 1")
    assert page.locator("#works-interval_m").input_value() == "-3"
    page.press("#works-interval_m", "Escape")
    assert figure(page, "cost") == was["cost"]


def test_lines_are_copied_renamed_shown_over_each_other_and_deleted(demo: Page):
    page = demo
    page.get_by_role("button", name="Line…").click()
    page.get_by_role("menuitem", name="Copy").click()
    expect(line_tab(page, "by hand copy")).to_have_attribute("aria-pressed", "true")
    settled(page)
    page.locator('[data-ip="3"]').click()
    typed(page, "#ip-level", "193")
    page.get_by_role("button", name="Line…").click()
    page.get_by_role("menuitem", name="Rename").click()
    page.get_by_label("Name of the line").fill("lower at 0+700")
    page.get_by_label("Name of the line").press("Enter")
    expect(line_tab(page, "lower at 0+700")).to_be_visible()
    page.get_by_label("Show by hand over the present line").check()
    cost = figure(page, "cost")
    line_tab(page, "by hand", exact=True).click()
    settled(drawn(page))
    assert figure(page, "cost") != cost
    line_tab(page, "lower at 0+700").click()
    settled(page)
    page.get_by_role("button", name="Line…").click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(line_tab(page, "lower at 0+700")).to_have_count(0)
    undo(page)
    expect(line_tab(page, "lower at 0+700")).to_be_visible()
    undo(page, 3)
    expect(line_tab(page)).to_have_count(1)


def test_a_search_can_be_stopped_and_keeps_its_best(demo: Page):
    page = demo
    go(page, "Search")
    page.get_by_role("complementary").get_by_role("button", name="Search").click()
    page.get_by_role("button", name="Stop and keep the best").click()
    # Its worker first loads what it needs: 4 s, and several times that on a busy machine.
    expect(page.get_by_text("Stopped after")).to_be_visible(timeout=90_000)
    expect(page.get_by_role("button", name="Adopt as a second grade line")).to_be_enabled()


def test_an_ip_is_added_and_deleted_by_keys(demo: Page):
    page = demo
    count = page.locator("[data-ip]").count()
    page.mouse.move(640, 330)
    page.keyboard.press("i")
    expect(page.locator("[data-ip]")).to_have_count(count + 1)
    settled(page)
    page.keyboard.press("Delete")
    expect(page.locator("[data-ip]")).to_have_count(count)
    settled(page)
    undo(page, 2)
    page.keyboard.press("Escape")
    # The worst first, which is a bend; then the crest.
    page.keyboard.press("f")
    page.keyboard.press("f")
    expect(page.get_by_text("IP 12, crest")).to_be_visible()


def test_main_job_needs_no_scrolling_and_nothing_is_too_small(demo: Page):
    """At 1280 x 800: no page scroll, text of 12 px or more, targets of 24 px or more."""
    page = demo
    page.locator('[data-ip="12"]').click()
    expect(page.get_by_role("button", name="Lengthen the curve")).to_be_visible()
    found = page.evaluate(
        """() => {
          const aside = document.querySelector('aside');
          const out = { scrolls: [document.documentElement.scrollHeight > innerHeight,
                                  aside.scrollHeight > aside.clientHeight], text: [], targets: [] };
          for (const e of document.querySelectorAll('body *')) {
            const box = e.getBoundingClientRect();
            if (!box.width || !box.height) continue;
            const own = [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
            if (own && parseFloat(getComputedStyle(e).fontSize) < 12) out.text.push(e.outerHTML.slice(0, 80));
            if (e.matches('button, input:not([type=checkbox]), select, [role=tab], .handle')
                && (box.height < 23.5 || box.width < 23.5)) out.targets.push(e.outerHTML.slice(0, 80));
          }
          return out;
        }"""
    )
    assert found == {"scrolls": [False, False], "text": [], "targets": []}


@pytest.mark.parametrize("theme", ["paper", "dusk"])
def test_contrast_names_and_roles(demo: Page, theme: str):
    """axe-core finds nothing on any step, in either theme."""
    page = demo
    if theme == "dusk":
        page.keyboard.press("t")
    page.evaluate(AXE.read_text() + "; undefined")
    for step in ("Grade line", "Search", "Limits", "Section", "Along the road", "Sections", "Centreline", "Survey"):
        go(page, step)
        drawn(page)
        found = page.evaluate("axe.run(document, { resultTypes: ['violations'] })")
        bad = [
            (step, v["id"], v["nodes"][0]["html"][:90], v["nodes"][0].get("failureSummary", "")[:160])
            for v in found["violations"]
        ]
        assert not bad, json.dumps(bad, indent=1)
    page.evaluate("localStorage.clear()")


def test_every_declared_field_stands_in_exactly_one_form(demo: Page):
    """A field that no form draws can't be typed: the side of the road to drive on was such a one."""
    page, found = demo, Counter[str]()
    for step in ("Centreline", "Limits", "Section", "Along the road"):
        go(page, step)
        if step == "Centreline":
            page.get_by_role("tab", name="Rules").click()
        page.evaluate("document.querySelectorAll('aside details').forEach((fold) => (fold.open = true))")
        settled(page)
        found.update(page.locator("aside :is(input, select)[id]").evaluate_all("all => all.map((e) => e.id)"))
    forms = (BENDS, LIMITS, TRUCK, WORKS, STRATA, RESERVE, SUPERELEVATION, COST)
    # Where there is one survey there is no surface to choose.
    declared = {f"{kind.name}-{f.name}" for kind in forms for f in kind.fields} - {"works-survey"}
    assert {name: found[name] for name in declared} == dict.fromkeys(declared, 1)


def test_gone_server_is_told_and_what_was_typed_is_saved_when_it_is_back(demo: Page):
    page = demo
    page.locator('[data-ip="4"]').click()
    level = page.locator("#ip-level").input_value()
    page.route("**/edits", lambda route: route.abort())
    page.fill("#ip-level", "213")
    page.press("#ip-level", "Enter")
    expect(page.get_by_text("not saved yet: the server is away")).to_be_visible()
    expect(page.get_by_role("alert").filter(has_text="it is sent as soon as the server is back")).to_be_visible()
    assert page.locator("#ip-level").input_value() == "213"
    page.unroute("**/edits")
    settled(page)
    expect(page.locator("#ip-level")).to_have_value("213.000")
    undo(page)
    expect(page.locator("#ip-level")).to_have_value(level)


def test_undo_by_key_works_from_a_field_that_holds_nothing_typed(demo: Page):
    page = demo
    page.locator('[data-ip="4"]').click()
    level = page.locator("#ip-level").input_value()
    typed(page, "#ip-level", "213")
    expect(page.locator("#ip-level")).to_have_value("213.000")
    page.locator("#ip-level").focus()
    page.keyboard.press("Control+z")
    expect(page.locator("#ip-level")).to_have_value(level)
    # With something typed in it, undo is the field's own.
    settled(page)
    revision = page.locator(".page").get_attribute("data-revision")
    page.locator("#ip-level").press_sequentially("77")
    page.keyboard.press("Control+z")
    drawn(page)
    assert page.locator(".page").get_attribute("data-revision") == revision
    page.keyboard.press("Escape")
