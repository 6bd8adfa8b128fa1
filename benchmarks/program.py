"""The whole program, as `serve` runs it, for what is measured, tested or shown in a browser."""

import tempfile
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from delgrun.cli import prepare
from delgrun.ops import front_end, machine, surroundings
from delgrun.ops.supervisor import Supervisor


@contextmanager
def running(data: Path, *, demo: bool, say: Callable[[str], object] = lambda _: None) -> Iterator[Supervisor]:
    """The program with its data in a folder; stopped at the end."""
    data.chmod(0o755)
    parts = Supervisor(data, front_end.build(surroundings.FRONT_END, say), machine.free_port(None), say)
    try:
        prepare(parts.start_database(), data, with_demo=demo)
        parts.start_rest()
        threading.Thread(target=parts.watch, daemon=True).start()
        yield parts
    finally:
        parts.stop()


@contextmanager
def opened(*, demo: bool) -> Iterator[tuple[Supervisor, Page]]:
    """The program on data of its own, and a tab at 1280 x 800 in headless Chromium."""
    with running(Path(tempfile.mkdtemp(prefix="delgrun-bench-")), demo=demo) as parts, sync_playwright() as p:
        chromium = p.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
        yield parts, chromium.new_page(viewport={"width": 1280, "height": 800})
