"""What the browser tests do again and again."""

import contextlib
import http.client
import os
import re
import signal
import subprocess
import time
import urllib.request
from collections.abc import Callable

from playwright.sync_api import Locator, Page

from delgrun.ops.supervisor import Supervisor


def settled(page: Page) -> Page:
    """The page once its figures belong to what is saved."""
    page.wait_for_selector('.page[data-state="saved"]')
    return page


def opened(page: Page, program: Supervisor, project: int) -> Page:
    """A project, once its figures stand."""
    page.goto(f"{program.url}#/projects/{project}")
    return settled(page)


def drawn(page: Page) -> Page:
    """The page once it has shown what it was told last: two of its frames later."""
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
    return page


def eventually(true: Callable[[], bool], seconds: float = 15) -> None:
    """Wait until something becomes true."""
    until = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < until
        time.sleep(0.02)


def bring_in(page: Page, program: Supervisor, project: int, name: str, data: bytes, **wish) -> None:
    """A survey brought in as from another page; back when it is saved."""
    base = f"{program.url}api/projects/{project}"
    upload = page.request.post(f"{base}/uploads", data={"file_name": name, "size": len(data)}).json()
    file = {"name": name, "mimeType": "text/csv", "buffer": data}
    assert page.request.post(f"{base}/uploads/{upload['id']}/pieces/0", multipart={"file": file}).ok
    asked = {"revision": page.request.get(base).json()["revision"], "upload_id": upload["id"], **wish}
    started = page.request.post(f"{base}/imports", data=asked).json()["id"]
    until = time.monotonic() + 60
    while time.monotonic() < until:
        answer = page.request.get(f"{base}/imports/newest")
        assert answer.ok, answer.text()
        job = answer.json()["job"]
        assert job["id"] == started and job["status"] in ("waiting", "running", "done"), job
        if job["status"] == "done":
            return
        time.sleep(0.2)
    raise AssertionError("the import did not end")


def kill_server(program: Supervisor) -> None:
    """kill -9 of the server and its worker, and waiting until it is back."""
    pid = program.server_pid
    children = subprocess.run(["pgrep", "-P", str(pid)], capture_output=True, text=True, check=False).stdout.split()
    for p in [*map(int, children), pid]:
        os.kill(p, signal.SIGKILL)
    until = time.monotonic() + 30
    while time.monotonic() < until:
        try:
            urllib.request.urlopen(program.url + "api/projects", timeout=2).read()
            if program.server_pid != pid:
                return
        except (OSError, http.client.HTTPException):
            pass
        time.sleep(0.05)
    raise AssertionError("the server did not come back")


def kill_workers(program: Supervisor) -> None:
    """kill -9 of the worker cluster with all its workers."""
    found = subprocess.run(["pgrep", "-f", str(program.scheduler_file)], capture_output=True, text=True, check=False)
    for pid in map(int, found.stdout.split()):
        children = subprocess.run(["pgrep", "-P", str(pid)], capture_output=True, text=True, check=False).stdout
        for p in [*map(int, children.split()), pid]:
            with contextlib.suppress(ProcessLookupError):
                os.kill(p, signal.SIGKILL)


def figure(page: Page, name: str) -> float:
    return float(page.locator(f'.ledger [data-item="{name}"]').get_attribute("data-value") or "nan")


def number(text: str) -> float:
    """A number as the page writes it."""
    found = re.search(r"[−+-]?[\d\u2009]+(\.\d+)?", text)
    assert found, text
    return float(found.group().replace("−", "-").replace("\u2009", ""))


def line_tab(page: Page, name: str | None = None, exact: bool = False) -> Locator:
    """The tab of a grade line, or all of them."""
    tabs = page.get_by_role("group", name="Grade lines").locator("button.tab-name")
    if name is None:
        return tabs
    return page.get_by_role("group", name="Grade lines").get_by_role("button", name=name, exact=exact)


def project_of(page: Page) -> int:
    """The number of the project that is open, as its address says."""
    found = re.search(r"#/projects/(\d+)", page.url)
    assert found, page.url
    return int(found[1])
