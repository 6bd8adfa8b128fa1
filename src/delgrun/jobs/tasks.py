"""What a Dask worker runs."""

import os
import threading
from pathlib import Path

from delgrun.ops import surroundings
from delgrun.service import jobs
from delgrun.service.projects import Projects
from delgrun.service.shelf import Shelf
from delgrun.service.warm import compile_page, compile_rest
from delgrun.store.database import Database

_projects: dict[str, Projects] = {}


def dask_setup(_: object) -> None:
    """Called by a worker that has come up: it loads the kernels' machine code while it waits for its first job."""
    threading.Thread(target=_load_kernels, daemon=True).start()


def _load_kernels() -> None:
    if "DELGRUN_SHELF" in os.environ:
        # On this machine they are compiled once for all; a worker elsewhere has to do it itself.
        surroundings.wait_for("rest")
    compile_page()
    compile_rest()


def run_job(job_id: int) -> None:
    """One job; the worker keeps what it has derived for the next.

    Which database is said by the worker's surroundings (DELGRUN_DATABASE_URL): an address with its password is
    nothing to hand around, where it would end in logs.
    """
    url = os.environ["DELGRUN_DATABASE_URL"]
    if url not in _projects:
        # Workers on this machine share the server's shelf: the ground that one has built the other needs not.
        kept = os.environ.get("DELGRUN_SHELF")
        shelf = Shelf(Path(kept), os.environ["DELGRUN_SHELF_OF"]) if kept else None
        _projects[url] = Projects(Database(url), shelf)
    jobs.run(_projects[url], job_id)
