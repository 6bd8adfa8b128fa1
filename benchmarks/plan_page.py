"""Centrelines in the browser: an IP dragged on the demo's 4 km, and 49 km with 400 bends opened and dragged.

`PYTHONPATH=src:benchmarks .venv/bin/python benchmarks/plan_page.py`. Frames are counted inside the page while an IP is
dragged for three seconds; "follows" is from letting go until every figure on screen is that of the moved line.
"""

import json
import statistics
import time
import urllib.request
from dataclasses import replace

from playwright.sync_api import Page

from delgrun.ops import machine, surroundings

machine.put_system_folders_on_path()
surroundings.set_up(surroundings.data_folder())

from delgrun.cli import compile_once  # noqa: E402
from plan import BENDS, winding  # noqa: E402
from program import opened  # noqa: E402
from size import size  # noqa: E402

_FRAMES = """() => {
  window.frames_ = { count: 0, drawn: 0, from: performance.now() };
  const paint = CanvasRenderingContext2D.prototype.fillText;
  CanvasRenderingContext2D.prototype.fillText = function (text, ...at) {
    if (String(text).startsWith('R ')) window.touched = true;
    return paint.call(this, text, ...at);
  };
  const frame = () => {
    window.frames_.count++;
    if (window.touched) window.frames_.drawn++;
    window.touched = false;
    requestAnimationFrame(frame);
  };
  requestAnimationFrame(frame);
}"""


def ask(url: str, path: str, body: object = None, method: str = "GET") -> dict:
    data = None if body is None else json.dumps(body).encode()
    headers = {"Content-Type": "application/json", "Accept": "application/json"}
    request = urllib.request.Request(url + path, data, headers, method=method)
    return json.load(urllib.request.urlopen(request, timeout=300))


# When the page says again that all it shows is saved and worked out, from the moment the pointer is let go.
_FOLLOWED = """() => {
  const page = document.querySelector('.page');
  let up = Infinity;
  window.followed_ = null;
  addEventListener('pointerup', () => (up = performance.now()), { capture: true, once: true });
  const watch = new MutationObserver(() => {
    if (up === Infinity || page.dataset.state !== 'saved' || page.dataset.revision === window.revision_) return;
    window.followed_ = (performance.now() - up) / 1000;
    watch.disconnect();
  });
  window.revision_ = page.dataset.revision;
  watch.observe(page, { attributes: true });
}"""


def dragged(page: Page, at: tuple[float, float], reach: int, aside: int = 0) -> tuple[float, float]:
    """Frames a second with the line drawn anew while it is dragged by so many pixels, and seconds from letting go
    until all follows.
    """
    page.evaluate(_FRAMES)
    page.mouse.move(*at)
    page.mouse.down()
    began, k = time.perf_counter(), 0
    page.evaluate("() => { window.frames_ = { count: 0, drawn: 0, from: performance.now() } }")
    while time.perf_counter() - began < 3:
        k += 1
        page.mouse.move(at[0] + k % reach, at[1] + (k // 2) % reach)
    rate = page.evaluate("() => window.frames_.drawn / (performance.now() - window.frames_.from) * 1000")
    # Let go near where it was, where its bends have room.
    page.mouse.move(at[0] + 2 + aside, at[1] + 2)
    page.evaluate(_FOLLOWED)
    page.mouse.up()
    page.wait_for_function("() => window.followed_ !== null", timeout=60_000)
    return rate, page.evaluate("() => window.followed_")


def main() -> None:
    compile_once("page")
    compile_once("rest")
    with opened(demo=True) as (parts, page):
        page.goto(parts.url + "#/projects/1")
        page.wait_for_selector('.page[data-state="saved"]')
        page.get_by_role("navigation").get_by_role("button", name="Centreline").click()
        page.wait_for_selector('[data-state="drawn"]')
        page.wait_for_timeout(6000)
        rates, follows = [], []
        for k in range(size(3, 1)):
            # The fourth IP's handle: the map shows the whole road at first.
            box = page.get_by_label("Map of the ground").bounding_box()
            ips = ask(parts.url, "api/projects/1")["centrelines"][0]["ips"]
            rate, after = dragged(page, _pixel(ips, ips[3], box), 24, k)
            rates.append(rate)
            follows.append(after)
            page.get_by_role("button", name="Undo").click()
            page.wait_for_timeout(1500)
        print(f"| demo, 4 km: frames a second while an IP is dragged | {statistics.median(rates):.0f} |")
        each = ", ".join(f"{t:.2f}" for t in follows)
        print(f"| demo: let go until all follows, three times | {each} s |")

        road = long_road(parts.url)
        began = time.perf_counter()
        page.goto(parts.url + "#/projects/1")
        page.reload()
        page.get_by_role("navigation").get_by_role("button", name="Centreline").click()
        page.wait_for_selector('[data-state="drawn"]')
        page.locator("select.road").select_option(road["slot"])
        page.get_by_label("IPs of the centreline").and_(page.locator(f'[aria-rowcount="{BENDS + 3}"]')).wait_for()
        print(f"| 49 km, 400 bends: opened with its table | {time.perf_counter() - began:.1f} s |")
        page.wait_for_timeout(3000)
        box = page.get_by_label("Map of the ground").bounding_box()
        # The map shows the main road, and the first IPs of this one; nearer, a pixel is a metre.
        at = _pixel(ips, road["ips"][4], box)
        page.mouse.move(*at)
        for _ in range(6):
            page.mouse.wheel(0, -120)
            page.wait_for_timeout(400)
        page.wait_for_timeout(2000)
        rate, after = dragged(page, at, 8)
        print(f"| 49 km: frames a second with the moved bend while an IP is dragged | {rate:.0f} |")
        print(f"| 49 km: let go until all follows | {after:.1f} s |")


def long_road(url: str) -> dict:
    """A further road of the demo with 400 bends, most of it beyond the survey."""
    project = ask(url, "api/projects/1")
    ips = project["centrelines"][0]["ips"]
    east, north = ips[0]["easting_m"], ips[0]["northing_m"]
    design = winding()
    rows = [vars(replace(p, easting_m=p.easting_m + east, northing_m=p.northing_m + north)) for p in design.ips]
    body = {"base": project["revision"], "road": None, "name": "long", "start_chainage_m": 0, "ips": rows}
    ask(url, "api/projects/1/centreline", body, "PUT")
    return ask(url, "api/projects/1")["centrelines"][-1]


def _pixel(ips: list[dict], ip: dict, box: dict) -> tuple[float, float]:
    """Where an IP is on a map that was fitted to a road, 70 m around it, with 34 and 30 pixels kept free."""
    east, north = [ip["easting_m"] for ip in ips], [ip["northing_m"] for ip in ips]
    w, s, e, n = min(east) - 70, min(north) - 70, max(east) + 70, max(north) + 70
    scale = max((e - w) / (box["width"] - 40), (n - s) / (box["height"] - 64))
    x = box["x"] + box["width"] / 2 + (ip["easting_m"] - (w + e) / 2) / scale
    y = box["y"] + (box["height"] - 64) / 2 + 34 - (ip["northing_m"] - (s + n) / 2) / scale
    return x, y


if __name__ == "__main__":
    main()
