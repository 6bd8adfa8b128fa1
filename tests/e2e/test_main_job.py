"""The job by hand, in the real interface: from a survey file to a priced, found and adopted grade line."""

import http.client
import json
import threading
import time
import urllib.request

import pytest
from playwright.sync_api import Page, expect

from helpers import bring_in, eventually, figure, kill_server, kill_workers, line_tab, number, opened, settled
from kills import ROUNDS


def ask(program, path: str, body=None, method: str | None = None):
    data = None if body is None else json.dumps(body).encode()
    headers = {"Content-Type": "application/json", "Accept": "application/json"}
    request = urllib.request.Request(program.url + path.lstrip("/"), data, headers, method=method)
    return json.loads(urllib.request.urlopen(request, timeout=20).read())


def patiently(program, path: str):
    """The same, from a server that has just come back."""
    until = time.monotonic() + 20
    while True:
        try:
            return ask(program, path)
        except (OSError, http.client.HTTPException):
            if time.monotonic() > until:
                raise
            time.sleep(0.1)


def handle(page: Page, ip: int) -> tuple[float, float]:
    box = page.locator(f'[data-ip="{ip}"]').bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def drag(page: Page, ip: int, dx: float, dy: float, *, release: bool = True) -> None:
    x, y = handle(page, ip)
    was = figure(page, "cost")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx, y + dy, steps=6)
    eventually(lambda: figure(page, "cost") != was)
    if release:
        page.mouse.up()
        settled(page)


def test_from_a_mistyped_file_to_a_line(page: Page, program, demo_files, tmp_path):
    # A survey whose heading is mistyped and whose northings come first.
    rows = (demo_files / "hollin-brow-survey.csv").read_text().splitlines()
    cells = [r.split(",") for r in rows[1:]]
    swapped = ["pnt,nrthng,estng,lvl,code,string", *[",".join([c[0], c[2], c[1], *c[3:]]) for c in cells]]
    swapped[10] = swapped[10].replace(",GR", "x,GR")
    path = tmp_path / "survey.csv"
    path.write_text("\n".join(swapped))

    page.fill("#new-name", "By hand from a file")
    page.get_by_role("button", name="Start it").click()
    page.set_input_files("aside input[type=file]", path)
    expect(page.get_by_label("Column 2 holds")).to_have_value("easting")
    page.get_by_label("Column 2 holds").select_option("northing")
    expect(page.get_by_label("Column 3 holds")).to_have_value("easting")
    expect(page.get_by_text("Line 11: level")).to_be_visible()
    expect(page.locator('[data-item="errors"]')).to_have_text("1")
    page.get_by_label("Column 6 holds").select_option("breakline")
    page.get_by_role("button", name="Accept").click()

    # The ground is there before any centreline.
    expect(page.get_by_label("Map of the ground").locator("canvas").first).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="To the centreline").click()
    expect(page.get_by_role("heading", name="Centreline", exact=True)).to_be_visible()
    page.set_input_files("aside input[type=file]", demo_files / "hollin-brow-centreline.csv")
    expect(page.get_by_role("heading", name="Centreline, 3")).to_be_visible()
    page.get_by_role("button", name="Save the centreline").click()
    expect(page.get_by_role("heading", name="Limits for the whole length")).to_be_visible()
    page.get_by_role("navigation").get_by_role("button", name="Grade line").click()
    page.get_by_role("button", name="New straight line").click()
    settled(page)
    assert figure(page, "cut") > 1e5

    # Add an IP by a double-click and type its level: the ledger follows.
    before = figure(page, "cost")
    box = page.get_by_role("group", name="IPs of the grade line").bounding_box()
    assert box
    page.mouse.dblclick(box["x"] + box["width"] * 0.42, box["y"] + box["height"] * 0.5)
    page.wait_for_selector('.page[data-revision="5"]')
    page.fill("#ip-level", "230")
    page.press("#ip-level", "Tab")
    page.wait_for_selector('.page[data-revision="6"]')
    settled(page)
    assert figure(page, "cost") != before
    expect(page.locator("#ip-level")).to_have_value("230.000")
    expect(page.locator("#ip-k")).not_to_have_value("")


def test_drag_limit_undo_search_adopt_restart(page: Page, program, own: int):
    opened(page, program, own)
    page.locator('[data-ip="10"]').click()
    fields = {name: page.locator(f"#ip-{name}").input_value() for name in ("level", "k", "chainage")}
    ledger = {name: figure(page, name) for name in ("cost", "cut", "fill")}
    grade_use = page.locator('[data-track="use"] output').inner_text()
    drag(page, 10, 12, -40, release=False)
    # In mid-drag everything has moved, and says by how much.
    for name, was in fields.items():
        assert page.locator(f"#ip-{name}").input_value() != was
    for name, was in ledger.items():
        assert figure(page, name) != was
        expect(page.locator(f'.ledger [data-item="{name}"] .delta')).not_to_be_empty()
    assert page.locator('[data-track="use"] output').inner_text() != grade_use
    page.keyboard.press("Escape")
    page.mouse.up()
    settled(page)
    assert {name: figure(page, name) for name in ledger} == ledger

    # Break a limit by typing, read the message, mend it by the offered remedy, undo both.
    page.locator('[data-ip="6"]').click()
    page.fill("#ip-length", "100")
    page.press("#ip-length", "Enter")
    expect(page.get_by_role("alert").filter(has_text="Crest K")).to_contain_text("needs 17, short by")
    page.get_by_role("button", name="Lengthen the curve to").click()
    settled(page)
    expect(page.get_by_role("alert").filter(has_text="Crest K")).to_have_count(0)
    # An impossible length stays in the field with the reason beside it.
    page.fill("#ip-length", "2000 ft")
    page.press("#ip-length", "Enter")
    expect(page.locator("#ip-length-why")).to_contain_text("there is room for")
    assert page.locator("#ip-length").input_value() == "2000 ft"
    page.press("#ip-length", "Escape")
    for _ in range(2):
        page.get_by_role("button", name="Undo").click()
        settled(page)
    assert figure(page, "cost") == ledger["cost"]

    # Search, read the bound, adopt.
    page.get_by_role("navigation").get_by_role("button", name="Search").click()
    page.get_by_role("complementary").get_by_role("button", name="Search").click()
    expect(page.get_by_text("Finished after")).to_be_visible(timeout=150_000)
    gap = number(page.locator('[data-item="gap"]').inner_text())
    assert 0 <= gap <= 3
    page.get_by_role("button", name="Adopt as a second grade line").click()
    settled(page)
    expect(line_tab(page, "found")).to_have_attribute("aria-pressed", "true")
    assert figure(page, "cost") < 0.9 * ledger["cost"]
    cost, revision = figure(page, "cost"), page.locator(".page").get_attribute("data-revision")

    # Restart the server; everything is there, and undo reaches back over the reload.
    kill_server(program)
    page.reload()
    settled(page)
    assert page.locator(".page").get_attribute("data-revision") == revision
    line_tab(page, "found").click()
    settled(page)
    assert figure(page, "cost") == cost
    page.get_by_role("button", name="Undo").click()
    settled(page)
    expect(line_tab(page, "found")).to_have_count(0)


def test_ledger_in_mid_drag_is_the_apis(page: Page, program, own: int):
    """What the browser shows while an IP is held equals what the API computes for that line."""
    sent: list[dict] = []

    def asked(message: str | bytes) -> None:
        sent.append(json.loads(str(message).split("\n")[2]))

    # What is asked at each move goes by the line that the page keeps open.
    page.on("websocket", lambda line: line.on("framesent", asked))
    opened(page, program, own)
    drag(page, 5, 7, -23, release=False)
    assert sent[-1]["edits"][0]["what"] == "move"
    named = {"cost": "cost", "cut": "cut_m3", "fill": "fill_m3", "haul": "haul_m3_m", "topsoil": "topsoil_m3"}

    def shows_what_it_asked_for_last() -> bool:
        """Of the ledger and of the IP in hand; what is asked for last may be so only after the last move."""
        question = sent[-1]
        figures = ask(program, f"/api/projects/{own}/figures", {**question, "have": []})["products"]
        shown = [figure(page, name) for name in named]
        level = number(page.locator("#ip-level").input_value())
        return (
            shown == pytest.approx([figures["ledger"][name] for name in named.values()], rel=1e-12)
            and level == pytest.approx(figures["line"]["ips"][5]["level_m"], abs=5e-4)
            and question is sent[-1]
        )

    eventually(shows_what_it_asked_for_last)
    page.keyboard.press("Escape")
    page.mouse.up()


def test_drag_stops_at_the_last_possible_place_and_says_why(page: Page, program, own: int):
    opened(page, program, own)
    drag(page, 12, -200, 0, release=False)
    expect(page.get_by_text("Stopped here.")).to_be_visible()
    expect(page.locator(".stopped")).to_contain_text("The curves of IP 11 and IP 12 touch")
    page.keyboard.press("Escape")
    page.mouse.up()
    settled(page)


def test_two_tabs_the_later_save_is_told_and_nothing_is_overwritten(browser, page: Page, program, own: int):
    opened(page, program, own)
    start = ask(program, f"/api/projects/{own}")["revision"]
    other = browser.new_page(viewport={"width": 1280, "height": 800})
    other.goto(program.url)
    opened(other, program, own)
    drag(other, 5, 0, -10)
    level = other.locator("#ip-level").input_value()
    x, y = handle(page, 8)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 12, steps=4)
    page.mouse.up()
    told = page.get_by_role("alertdialog")
    expect(told).to_contain_text("“Move IP 5” was saved since")
    assert ask(program, f"/api/projects/{own}")["revision"] == start + 1
    told.get_by_role("button", name="Keep mine as a line").click()
    expect(line_tab(page, "by hand (mine)")).to_have_attribute("aria-pressed", "true")
    settled(page)
    line_tab(page, "by hand", exact=True).click()
    page.locator('[data-ip="5"]').click()
    expect(page.locator("#ip-level")).to_have_value(level)
    other.close()
    for _ in range(2):
        page.get_by_role("button", name="Undo").click()
        settled(page)


def test_a_survey_of_the_same_name_and_count_saved_elsewhere_replaces_the_ground_on_screen(
    page: Page, program, demo_files, own: int
):
    opened(page, program, own)
    readout = page.locator('[data-track="long"] output')
    was, cost = readout.inner_text(), figure(page, "cost")
    name = "hollin-brow-survey.csv"
    rows = [r.split(",") for r in (demo_files / name).read_text().splitlines()]
    at = rows[0].index("level_m")
    higher = [rows[0], *[[*r[:at], f"{float(r[at]) + 3:.3f}", *r[at + 1 :]] for r in rows[1:]]]
    bring_in(page, program, own, name, "\n".join(map(",".join, higher)).encode(), longest_edge_m=60.0)
    page.evaluate("window.dispatchEvent(new Event('focus'))")
    expect(page.get_by_text("Shown as saved elsewhere since.")).to_be_visible()
    settled(page)
    expect(readout).not_to_have_text(was)
    assert figure(page, "cost") != cost
    page.get_by_role("button", name="Undo").click()
    settled(page)
    expect(readout).to_have_text(was)


def test_a_limit_refused_by_a_conflict_is_kept_and_can_be_saved_on_top(page: Page, program, own: int):
    opened(page, program, own)
    page.get_by_role("navigation").get_by_role("button", name="Limits").click()
    now = ask(program, f"/api/projects/{own}")
    limits = {**now["limits"], "min_sag_k_m_per_pct": 20.0}
    ask(program, f"/api/projects/{own}/limits", {"base": now["revision"], "limits": limits}, "PUT")
    page.fill("#limits-min_ip_spacing_m", "75")
    page.press("#limits-min_ip_spacing_m", "Enter")
    told = page.get_by_role("alertdialog")
    expect(told).to_contain_text("Yours is kept here: “IP spacing”")
    expect(told.get_by_role("button", name="line of its own")).to_have_count(0)
    assert page.locator("#limits-min_ip_spacing_m").input_value() == "75"
    told.get_by_role("button", name="Save mine on top").click()
    settled(page)
    after = ask(program, f"/api/projects/{own}")["limits"]
    # Mine, and what the other saved of another field.
    assert (after["min_ip_spacing_m"], after["min_sag_k_m_per_pct"]) == (75.0, 20.0)
    for _ in range(2):
        page.get_by_role("button", name="Undo").click()
        settled(page)


def test_a_search_goes_on_by_itself_through_kills(page: Page, program, own: int):
    """kill -9 of the workers and then of the server while it runs; the page follows it to its end."""
    opened(page, program, own)
    page.get_by_role("navigation").get_by_role("button", name="Search").click()
    page.get_by_role("complementary").get_by_role("button", name="Search").click()
    page.locator('[data-item="gap"]').wait_for(timeout=60_000)
    kill_workers(program)
    kill_server(program)
    expect(page.get_by_text("Finished after")).to_be_visible(timeout=150_000)
    assert 0 <= number(page.locator('[data-item="gap"]').inner_text()) <= 3


def test_keyboard_alone_moves_an_ip_in_one_step_to_undo(page: Page, program, own: int):
    opened(page, program, own)
    revision = int(page.locator(".page").get_attribute("data-revision") or 0)
    for _ in range(4):
        page.keyboard.press("]")
    expect(page.locator("#ip-chainage")).to_have_value("0+700.00")
    level = number(page.locator("#ip-level").input_value())
    for key in ("ArrowUp", "ArrowUp", "Shift+ArrowUp", "Alt+ArrowDown"):
        page.keyboard.press(key)
    page.wait_for_selector(f'.page[data-revision="{revision + 1}"]')
    settled(page)
    assert number(page.locator("#ip-level").input_value()) == pytest.approx(level + 0.05 + 0.05 + 0.5 - 0.005)
    page.keyboard.press("Control+z")
    page.wait_for_selector(f'.page[data-revision="{revision + 2}"]')
    settled(page)
    page.keyboard.press("/")
    page.keyboard.type("whole line")
    page.keyboard.press("Enter")
    assert number(page.locator("#ip-level").input_value()) == pytest.approx(level)


def test_kill_9_of_the_server_in_a_stream_of_saves_loses_nothing_acknowledged(program):
    """Again and again, over HTTP, as a tab would save."""
    made = ask(program, "/api/projects", {"name": "killed"})
    path = f"/api/projects/{made['id']}"
    cost = ask(program, path)["cost"]
    head = made["revision"]
    for k in range(ROUNDS):
        killer = threading.Thread(target=lambda k=k: (time.sleep(0.04 + 0.012 * (k % 20)), kill_server(program)))
        killer.start()
        while True:
            try:
                body = {"base": head, "cost": {**cost, "cut_per_m3": float(head + 1)}}
                head = ask(program, f"{path}/cost", body, "PUT")["revision"]
            except (OSError, http.client.HTTPException):
                # Refused, cut off, or cut off in the middle of its answer.
                break
        killer.join()
        now = patiently(program, path)
        # The one under way may have come in without its answer.
        assert head <= now["revision"] <= head + 1
        if now["revision"] > 1:
            assert now["cost"]["cut_per_m3"] == float(now["revision"])
        head = now["revision"]
    # However slow the machine is, some came in.
    assert head > made["revision"]
