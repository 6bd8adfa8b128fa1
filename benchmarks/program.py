"""The whole program, as `serve` runs it, for what is measured in a browser."""

import tempfile
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from delgrun.cli import prepare
from delgrun.ops import front_end, machine, surroundings
from delgrun.ops.supervisor import Supervisor


@contextmanager
def opened(*, demo: bool) -> Iterator[tuple[str, Page]]:
    """Its address, and a tab at 1280 x 800 in headless Chromium; stopped at the end."""
    data = Path(tempfile.mkdtemp(prefix="delgrun-bench-"))
    data.chmod(0o755)
    parts = Supervisor(data, front_end.build(surroundings.FRONT_END, print), machine.free_port(None), lambda _: None)
    try:
        prepare(parts.start_database(), data, with_demo=demo)
        parts.start_rest()
        threading.Thread(target=parts.watch, daemon=True).start()
        with sync_playwright() as p:
            chromium = p.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
            yield parts.url, chromium.new_page(viewport={"width": 1280, "height": 800})
    finally:
        parts.stop()
