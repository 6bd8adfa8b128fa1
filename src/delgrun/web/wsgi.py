"""The application as a server process starts it; its surroundings come by environment variables."""

import os
import threading
from pathlib import Path

from delgrun.service.projects import Projects
from delgrun.service.shelf import Shelf
from delgrun.service.warm import get_ready

# A shelf is good for one database and one version of the computation.
_kept = Path(os.environ["DELGRUN_SHELF"])
_shelf = Shelf(_kept, os.environ["DELGRUN_SHELF_OF"])
_projects = Projects.at(os.environ["DELGRUN_DATABASE_URL"], _shelf)
# The newest project opens at once, even right after a start: its ground is met while the rest is still being imported.
threading.Thread(target=get_ready, args=(_projects, _kept), daemon=True).start()

from delgrun.jobs.client import Jobs  # noqa: E402
from delgrun.service.jobs import Keeper  # noqa: E402
from delgrun.web.app import create_app  # noqa: E402

_elsewhere = os.environ.get("DELGRUN_SCHEDULER")
_keeper = Keeper(
    _projects, Jobs(Path(os.environ["DELGRUN_TLS"]), Path(os.environ["DELGRUN_SCHEDULER_FILE"]), _elsewhere)
)
app = create_app(_projects, _keeper, Path(os.environ["DELGRUN_FRONT_END"]))
# What waits or was cut off goes on, whoever started it.
threading.Thread(target=_keeper.keep, daemon=True).start()
