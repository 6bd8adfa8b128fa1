"""The server process: `python -m delgrun.web.serve PORT [spare]`, on loopback.

A spare has imported everything and waits for a line on its standard input: it takes the place of a server that ended
without the seconds that importing takes.
"""

import logging
import os
import signal
import sys
from types import FrameType
from typing import NoReturn

import waitress

os.environ["DELGRUN_UNDOCUMENTED"] = "yes"

_THREADS = 48
_CONNECTIONS = 2000
_IDLE_S = 75


def _end(_number: int, _frame: FrameType | None) -> NoReturn:
    raise SystemExit


def serve(port: int) -> None:
    """Answer until told to end."""
    from delgrun.web.app import LARGEST_UPLOAD
    from delgrun.web.wsgi import app

    # Requests are read whole before a thread has to do with them: who sends slowly, or never ends, holds nobody up.
    waitress.serve(
        app,
        host="127.0.0.1",
        port=port,
        threads=_THREADS,
        connection_limit=_CONNECTIONS,
        channel_timeout=_IDLE_S,
        max_request_body_size=LARGEST_UPLOAD + 2**20,
        ident=None,
        # It is told when a client leaves whose request is being answered, so that dear ones are given up.
        channel_request_lookahead=1,
        # A select can't look at more than 1 024 connections, and ends the server.
        asyncore_use_poll=True,
    )


if __name__ == "__main__":
    signal.signal(signal.SIGTERM, _end)
    logging.basicConfig(format="%(asctime)s %(levelname)s %(name)s: %(message)s", level=logging.INFO)
    # A request that waits a moment for a thread is nothing to write down.
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    if sys.argv[2:] == ["spare"]:
        import delgrun.jobs.client
        import delgrun.service.jobs
        import delgrun.service.warm
        import delgrun.web.app  # noqa: F401

        # Whoever started it has ended where there is no line to come.
        if not sys.stdin.readline():
            raise SystemExit
    serve(int(sys.argv[1]))
