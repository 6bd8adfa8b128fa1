"""One private MariaDB for the whole run, started by the program's own code; each test makes its own project."""

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

from delgrun.ops import machine, surroundings
from laws import examples

machine.put_system_folders_on_path()
surroundings.set_up(surroundings.data_folder())
settings.register_profile("ours", deadline=None, max_examples=examples(60))
settings.load_profile("ours")


@pytest.fixture(scope="session")
def database_url(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    from delgrun.ops.private_database import PrivateDatabase

    folder = tmp_path_factory.mktemp("db")
    for parent in [folder, *folder.parents]:
        # As root the server runs as `mysql`, who must be able to reach its data.
        if os.access(parent, os.W_OK) and parent != Path("/"):
            parent.chmod(parent.stat().st_mode | 0o011)
    server = PrivateDatabase(folder)
    server.start()
    yield server.url
    server.stop()


@pytest.fixture(scope="session")
def projects(database_url: str):
    from delgrun.service.projects import Projects

    made = Projects.at(database_url)
    made.database.migrate()
    return made


@pytest.fixture(scope="session")
def demo(projects, tmp_path_factory: pytest.TempPathFactory) -> int:
    """The demo project; tests read it and never save into it."""
    from delgrun.demo.load import load

    return load(projects, tmp_path_factory.mktemp("demo"), lambda _: None)


@pytest.fixture
def own(projects, demo) -> int:
    """A project like the demo as it was loaded, for one test to save into."""
    from copies import copy_of

    return copy_of(projects, demo)


@pytest.fixture(scope="session")
def demo_case(projects, demo):
    """The demo's line as it was drawn by hand, with all that follows from it."""
    state = projects.states.at(demo, 5)
    return projects.case(state, state.line("line-1").line)
