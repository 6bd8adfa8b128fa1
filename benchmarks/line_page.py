"""A grade line of 10 km with 60 IPs in the browser: an IP dragged for some seconds.

`PYTHONPATH=src:benchmarks:tests/e2e .venv/bin/python benchmarks/line_page.py`. Frames are counted inside the page;
script, style and layout are what Chromium itself counts as such; a move is answered when the ledger shows another cost.
"""

import statistics

import numpy as np
from playwright.sync_api import Page

from delgrun.ops import machine, surroundings

machine.put_system_folders_on_path()
surroundings.set_up(surroundings.data_folder())

from delgrun.cli import compile_once  # noqa: E402
from helpers import bring_in  # noqa: E402
from plan_page import ask  # noqa: E402
from program import REQUESTS, opened  # noqa: E402
from size import size  # noqa: E402

_LENGTH, _IPS, _SECONDS = 10_000.0, 60, 5

# One move in each frame, as a pointer gives them; and how long each took until it was answered.
_DRAG = """async (seconds) => {
  const handle = document.querySelector('[data-ip="30"]');
  const cost = () => document.querySelector('[data-item="cost"]').dataset.value;
  const box = handle.getBoundingClientRect();
  const at = (x, y, type) => handle.dispatchEvent(new PointerEvent(type, {
    clientX: x, clientY: y, pointerId: 1, button: 0, buttons: 1, bubbles: true }));
  handle.setPointerCapture = () => {}; handle.hasPointerCapture = () => false;
  const frame = () => new Promise((r) => requestAnimationFrame(r));
  at(box.x + 13, box.y + 13, 'pointerdown');
  let [frames, answers, was] = [0, 0, cost()];
  const began = performance.now();
  while (performance.now() - began < seconds * 1000) {
    await frame();
    frames++;
    at(box.x + 13 + 3 * Math.sin(frames / 7), box.y + 13 + 6 * Math.cos(frames / 5), 'pointermove');
    if (cost() !== was) { answers++; was = cost(); }
  }
  const took = performance.now() - began;
  window.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' }));
  return { rate: frames / took * 1000, answers: answers / took * 1000, frames };
}"""


def ground() -> bytes:
    x, y = np.meshgrid(np.arange(-20.0, _LENGTH + 21, 20), np.arange(-80.0, 81.0, 20))
    z = 300 + 25 * np.sin(x / 700) + 8 * np.sin(x / 230) + 0.1 * y
    rows = np.column_stack([x.ravel(), y.ravel(), z.ravel()]).tolist()
    return ("easting,northing,level\n" + "\n".join(f"{a:.3f},{b:.3f},{c:.3f}" for a, b, c in rows)).encode()


def long_line(page: Page, parts, url: str) -> int:
    """A project with 10 km of road and a line of 60 IPs near its ground; returns its number."""
    project = ask(url, "api/projects", {"name": "ten kilometres"}, "POST")["id"]
    bring_in(page, parts, project, "ground.csv", ground(), longest_edge_m=60.0)
    base = f"api/projects/{project}"
    end = {"radius_m": 0, "transition_in_m": 0, "transition_out_m": 0, "joins": False, "superelevation": None}
    ips = [{"easting_m": e, "northing_m": 0, **end} for e in (0, _LENGTH)]
    ask(url, f"{base}/centreline", {"base": ask(url, base)["revision"], "start_chainage_m": 0, "ips": ips}, "PUT")
    s = np.linspace(0, _LENGTH, _IPS + 2)
    z = 300 + 25 * np.sin(s / 700) + 8 * np.sin(s / 230)
    plain = {
        "held_k_m_per_pct": None, "shape": "parabola", "in_share": None, "held": "length", "held_m": None,
        "held_level_m": None, "step_m": 0, "locked_chainage_m": None, "locked_level_m": None, "locked_grade": None,
        "held_eye_m": None, "held_object_m": None, "held_headlight_m": None, "held_headlight_deg": None,
    }  # fmt: skip
    rows = [
        {
            "chainage_m": float(a),
            "level_m": round(float(b), 3),
            "curve_length_m": 0 if i in (0, _IPS + 1) else 100,
            **plain,
        }
        for i, (a, b) in enumerate(zip(s, z, strict=True))
    ]
    body = {"base": ask(url, base)["revision"], "name": "sixty", "ips": rows, "road": "centreline"}
    ask(url, f"{base}/lines/adopted", body, "POST")
    return project


def main() -> None:
    compile_once("page")
    compile_once("rest")
    with opened(demo=False) as (parts, page):
        project = long_line(page, parts, parts.url)
        page.goto(f"{parts.url}#/projects/{project}")
        page.wait_for_selector('.page[data-state="saved"]')
        page.wait_for_timeout(6000)
        tools = page.context.new_cdp_session(page)
        tools.send("Performance.enable")

        def counted() -> dict[str, float]:
            return {m["name"]: m["value"] for m in tools.send("Performance.getMetrics")["metrics"]}

        rates, answers = [], []
        spent: dict[str, list[float]] = {name: [] for name in ("Script", "RecalcStyle", "Layout", "Task")}
        for _ in range(size(3, 1)):
            before = counted()
            found = page.evaluate(_DRAG, _SECONDS)
            after = counted()
            rates.append(found["rate"])
            answers.append(found["answers"])
            for name, all_of in spent.items():
                key = f"{name}Duration"
                all_of.append((after[key] - before[key]) * 1000 / found["frames"])
            page.wait_for_timeout(800)
        print(f"| 10 km, 60 IPs: frames a second while one is dragged | {statistics.median(rates):.0f} |")
        for name, all_of in spent.items():
            print(f"| {name} in each | {statistics.median(all_of):.1f} ms |")
        print(f"| answers a second, all figures drawn anew | {statistics.median(answers):.0f} |")
        took = sorted(page.evaluate(REQUESTS, {"project": project, "ip": 30, "chainage": 4918, "level": 310})[5:])
        print(f"| the request alone | {statistics.median(took):.1f} ms, {took[int(0.95 * len(took))]:.1f} p95 |")


if __name__ == "__main__":
    main()
