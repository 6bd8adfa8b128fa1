"""The application as a server process starts it; its surroundings come by environment variables."""

import os
import threading
from pathlib import Path

from delgrun.jobs.client import Jobs
from delgrun.service.jobs import Keeper
from delgrun.service.projects import Projects
from delgrun.service.warm import keep_terrains_ready
from delgrun.web.app import create_app

_projects = Projects.at(os.environ["DELGRUN_DATABASE_URL"])
_keeper = Keeper(_projects, Jobs(address_file=Path(os.environ["DELGRUN_SCHEDULER_FILE"])))
app = create_app(_projects, _keeper, Path(os.environ["DELGRUN_FRONT_END"]))
# What waits or was cut off goes on, whoever started it.
threading.Thread(target=_keeper.keep, daemon=True).start()
# The newest project opens at once, even right after a start.
threading.Thread(target=keep_terrains_ready, args=(_projects,), daemon=True).start()
