"""The server process: `python -m delgrun.web.serve PORT`, on loopback."""

import logging
import os
import signal
import sys
from types import FrameType
from typing import NoReturn

import waitress

os.environ["DELGRUN_UNDOCUMENTED"] = "yes"

from delgrun.web.app import LARGEST_UPLOAD
from delgrun.web.wsgi import app

_THREADS = 48
_CONNECTIONS = 2000
_IDLE_S = 75


def _end(_number: int, _frame: FrameType | None) -> NoReturn:
    raise SystemExit


if __name__ == "__main__":
    signal.signal(signal.SIGTERM, _end)
    logging.basicConfig(format="%(asctime)s %(levelname)s %(name)s: %(message)s", level=logging.INFO)
    # A request that waits a moment for a thread is nothing to write down.
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    # Requests are read whole before a thread has to do with them: who sends slowly, or never ends, holds nobody up.
    waitress.serve(
        app,
        host="127.0.0.1",
        port=int(sys.argv[1]),
        threads=_THREADS,
        connection_limit=_CONNECTIONS,
        channel_timeout=_IDLE_S,
        max_request_body_size=LARGEST_UPLOAD + 2**20,
        ident=None,
    )
