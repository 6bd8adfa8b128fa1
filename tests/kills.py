"""How often the kill campaigns kill: a few times in the normal run, a hundred by `./delgrun test --only kills`."""

import os

ROUNDS = int(os.environ.get("DELGRUN_KILL_ROUNDS", "3"))
