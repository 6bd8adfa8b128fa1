"""A survey of a million text points in the browser: preview, Accept to shaded ground, changes by hand, panning.

`PYTHONPATH=src .venv/bin/python benchmarks/ground.py [thousands of points]`. Preview and Accept are timed from outside;
panning and changes inside the page, from the event to the frame that shows its answer.
"""

import re
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
from playwright.sync_api import Page

from delgrun.ops import machine, surroundings

machine.put_system_folders_on_path()
surroundings.set_up(surroundings.data_folder())

from delgrun.cli import compile_once  # noqa: E402
from program import opened  # noqa: E402
from size import size  # noqa: E402


def write(path: Path, count: int) -> None:
    """Hills about 3 m by 3 m a point, with spikes, at eastings of 500 000."""
    rng = np.random.default_rng(3)
    nx = int(np.sqrt(1.5 * count))
    e, n = (v.ravel() for v in np.meshgrid(np.arange(nx) * 3.0, np.arange(count // nx) * 3.0))
    e, n = e + rng.uniform(-1.2, 1.2, len(e)), n + rng.uniform(-1.2, 1.2, len(n))
    z = 300 + 8 * np.sin(e / 140) * np.cos(n / 110) + 2 * np.sin(e / 47 + n / 63) + rng.normal(0, 0.03, len(e))
    z[:: len(z) // 50] += 5.0
    rows = [f"{i},{a:.3f},{b:.3f},{c:.3f}" for i, (a, b, c) in enumerate(zip(e + 5e5, n + 4.2e6, z, strict=True))]
    path.write_text("\n".join(["no,easting,northing,level", *rows]))


# Ink of the map's canvases around a place, or its middle, as one number, 0 without any.
_HELPERS = """
  window.mapInk = (half) => {
    const map = document.querySelector('[aria-label="Map of the ground"]');
    if (!map) return 0;
    const whole = map.getBoundingClientRect();
    const small = window.smallCanvas ??= document.createElement('canvas');
    [small.width, small.height] = [2 * half, 2 * half];
    const c = small.getContext('2d', { willReadFrequently: true });
    for (const canvas of map.querySelectorAll('canvas')) {
      const box = canvas.getBoundingClientRect();
      if (!canvas.width || !box.width) continue;
      const k = canvas.width / box.width;
      const [cx, cy] = window.inkAt ?? [whole.x + whole.width / 2, whole.y + whole.height / 2];
      const [x, y] = [(cx - box.x) * k - half, (cy - box.y) * k - half];
      c.drawImage(canvas, x, y, 2 * half, 2 * half, 0, 0, 2 * half, 2 * half);
    }
    let sum = 0;
    const px = c.getImageData(0, 0, 2 * half, 2 * half).data;
    for (let i = 0; i < px.length; i++) sum = (sum * 31 + px[i]) % 2147483647;
    return sum;
  };
  window.untilDrawn = async () => {
    const began = performance.now();
    while (!window.mapInk(30)) {
      if (performance.now() - began > 20000) throw new Error('the map stays empty');
      await new Promise((r) => requestAnimationFrame(r));
    }
  };
  for (const name of ['clearRect', 'drawImage', 'stroke', 'fill', 'fillText']) {
    const draw = CanvasRenderingContext2D.prototype[name];
    CanvasRenderingContext2D.prototype[name] = function (...how) {
      window.drawn ||= this.canvas.isConnected;
      return draw.apply(this, how);
    };
  }
  // A function as the value of all this would be called.
  null;
"""
_ACCEPTABLE = """() =>
  [...document.querySelectorAll('button')].some((b) => b.textContent.includes('Accept') && !b.disabled)"""
_EDIT = """async (words) => {
  const was = window.mapInk(40);
  const button = [...document.querySelectorAll('button')].find((b) => b.textContent.includes(words));
  const began = performance.now();
  window.drawn = false;
  button.click();
  // The map is drawn for the last time with the new ground: reading its pixels meanwhile would hold it up.
  let last = -1;
  while (performance.now() - began < 1500) {
    await new Promise((r) => requestAnimationFrame(r));
    if (window.drawn) last = performance.now() - began;
    window.drawn = false;
  }
  if (window.mapInk(40) === was) throw new Error(`“${words}” changed nothing of the map`);
  return last;
}"""
_PAN = """async () => {
  const map = document.querySelector('[aria-label="Map of the ground"] .ol-viewport');
  const box = map.getBoundingClientRect();
  const at = (type, x, y) => (type === 'pointerdown' ? map : document).dispatchEvent(new PointerEvent(type, {
    clientX: x, clientY: y, pointerId: 1, button: 0, buttons: 1, bubbles: true, isPrimary: true,
    pointerType: 'mouse' }));
  let [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  at('pointerdown', x, y);
  const began = performance.now();
  let frames = 0;
  while (performance.now() - began < 4000) {
    const back = (performance.now() - began) % 2000 < 1000 ? 1 : -1;
    at('pointermove', (x += 3 * back), (y += back));
    await new Promise((r) => requestAnimationFrame(r));
    frames++;
  }
  at('pointerup', x, y);
  return (1000 * frames) / (performance.now() - began);
}"""


def place(page: Page, x: float, y: float) -> list[float]:
    """Easting and northing under a pixel, as the map's read-out tells."""
    page.mouse.move(x - 1, y)
    page.mouse.move(x, y)
    page.wait_for_timeout(700)
    return [
        float(v) for v in re.findall(r"[EN] ([\d.]+)", page.locator("text=/E [0-9.]+ N [0-9.]+/").first.inner_text())
    ]


def scale_at(page: Page, x: float, y: float) -> float:
    """Pixels of a metre."""
    metres = 0.0
    # The read-out follows the pointer a moment later.
    while metres <= 0:
        metres = place(page, x + 100, y)[0] - place(page, x, y)[0]
    return 100 / metres


def nearest(page: Page, x: float, y: float) -> list[float]:
    """The pixel of the surveyed point that is nearest to one."""
    e, n = place(page, x, y)
    scale = scale_at(page, x, y)
    project = page.url.split("#/projects/")[1].split("/")[0]
    base = f"{page.url.split('#')[0]}api/projects/{project}"
    revision = page.request.get(base).json()["revision"]
    spot = page.request.get(f"{base}/land/spot?revision={revision}&easting_m={e}&northing_m={n}").json()
    return [x + scale * (spot["point_easting_m"] - e), y - scale * (spot["point_northing_m"] - n)]


def main() -> None:
    count = 1000 * int(next((a for a in sys.argv[1:] if a.isdigit()), size("1000", "10")))
    path = Path(tempfile.mkdtemp(prefix="delgrun-bench-")) / "million.csv"
    write(path, count)
    with opened(demo=False) as (program, page):
        page.goto(program.url)
        page.evaluate(_HELPERS)
        page.fill("#new-name", "A million points")
        page.get_by_role("button", name="Start it").click()
        page.wait_for_selector("aside input[type=file]", state="attached")
        # Workers come up some seconds after the server.
        page.wait_for_timeout(10_000)
        began = time.perf_counter()
        page.set_input_files("aside input[type=file]", path)
        page.wait_for_selector('[data-item="points"]', timeout=120_000)
        print(f"| preview | {time.perf_counter() - began:.1f} s |", flush=True)
        accept = page.get_by_role("button", name="Accept")
        page.wait_for_function(_ACCEPTABLE, timeout=120_000)
        began = time.perf_counter()
        accept.click()
        page.wait_for_selector('[aria-label="Map of the ground"] canvas', timeout=300_000)
        page.evaluate("() => window.untilDrawn()")
        print(f"| Accept to the first shaded pixels | {time.perf_counter() - began:.1f} s |", flush=True)
        page.wait_for_timeout(4000)
        print(f"| the map panned | {page.evaluate(_PAN):.0f} frames a second |", flush=True)
        ground = page.get_by_label("Map of the ground")
        box = ground.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        # Until points are some hundred pixels apart.
        while scale_at(page, x, y) < 30:
            page.mouse.wheel(0, -400)
            page.wait_for_timeout(400)
        page.wait_for_timeout(2000)
        page.get_by_role("group", name="Tools").get_by_role("button", name="Point").click()
        at = nearest(page, x, y)
        page.evaluate("([x, y]) => (window.inkAt = [x, y])", at)
        took: dict[str, list[float]] = {"a point taken out": [], "and back by undo": []}
        for _ in range(size(8, 1)):
            page.mouse.click(*at)
            page.get_by_role("button", name="Take it out of the ground").wait_for()
            page.wait_for_timeout(600)
            took["a point taken out"].append(page.evaluate(_EDIT, "Take it out of the ground"))
            page.wait_for_timeout(1500)
            took["and back by undo"].append(page.evaluate(_EDIT, "Undo"))
            page.wait_for_timeout(1500)
        for name, ms in took.items():
            print(f"| {name}, until it is drawn | {np.median(ms):.0f} ms median, {max(ms):.0f} most |")


if __name__ == "__main__":
    compile_once("page")
    compile_once("rest")
    main()
