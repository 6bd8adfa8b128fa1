"""The whole program, as `serve` runs it, and a real browser."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect, sync_playwright

from copies import copy_of
from delgrun.ops.supervisor import Supervisor
from delgrun.service.projects import Projects
from helpers import opened
from program import running

# As patient as everything else that is waited for, on a machine that others use too.
expect.set_options(timeout=15_000)
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]


@pytest.fixture(scope="session")
def program(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Supervisor]:
    data = tmp_path_factory.mktemp("program")
    for parent in data.parents[:2]:
        parent.chmod(parent.stat().st_mode | 0o011)
    with running(data, demo=True) as parts:
        yield parts


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as p:
        chromium = p.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        yield chromium
        chromium.close()


@pytest.fixture
def page(browser, program) -> Iterator[Page]:
    """A tab at 1280 x 800; any error in its console or script fails the test."""
    made = browser.new_page(viewport={"width": 1280, "height": 800})
    made.set_default_timeout(15_000)
    errors: list[str] = []
    made.on("pageerror", lambda e: errors.append(str(e)))
    # A browser writes down what it could not load or open while a server was killed: that is no error of the page.
    away = ("Failed to load", "WebSocket connection to")
    made.on(
        "console",
        lambda m: errors.append(m.text) if m.type == "error" and not any(a in m.text for a in away) else None,
    )
    made.goto(program.url)
    yield made
    made.close()
    assert not errors, errors


@pytest.fixture(scope="session")
def demo_files(program) -> Path:
    return program.data / "demo"


@pytest.fixture
def own(program) -> int:
    """A project like the demo as it was loaded, for one test to save into."""
    return copy_of(Projects.at(program.database.url), 1)


@pytest.fixture
def demo(page: Page, program, own: int) -> Page:
    """The same, open in a tab."""
    return opened(page, program, own)
