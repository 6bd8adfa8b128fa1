"""The server process: `python -m delgrun.web.serve PORT [spare]`, on loopback.

A spare has imported everything and waits for lines on its standard input: at each it makes a child of itself that takes
the place of a server that ended, without the seconds that importing takes, however soon one ends after another. The
number of the child is its answer.
"""

import logging
import os
import signal
import sys
import threading
from types import FrameType
from typing import NoReturn

from waitress.server import TcpWSGIServer, create_server

os.environ["DELGRUN_UNDOCUMENTED"] = "yes"

_THREADS = 48
_CONNECTIONS = 2000
_IDLE_S = 75


def _end(_number: int, _frame: FrameType | None) -> NoReturn:
    raise SystemExit


def make_children() -> None:
    """At each line a child, which returns from here; ends with whoever started it."""
    # Nobody waits for a child here, and none is left behind when it ends.
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)
    while sys.stdin.buffer.readline():
        pid = os.fork()
        if pid == 0:
            signal.signal(signal.SIGCHLD, signal.SIG_DFL)
            # What it prints is for the log, and no answer.
            os.dup2(sys.stderr.fileno(), sys.stdout.fileno())
            return
        os.write(sys.stdout.fileno(), b"%d\n" % pid)
    raise SystemExit


def end_with(pipe: str | None) -> None:
    """End when the other end of a pipe is closed, as it is when whoever started all this ends, however that ends."""
    if pipe is None:
        return

    def wait() -> None:
        os.read(int(pipe), 1)
        os.kill(os.getpid(), signal.SIGTERM)

    threading.Thread(target=wait, daemon=True).start()


def serve(port: int) -> None:
    """Answer until told to end."""
    from delgrun.web.app import LARGEST_UPLOAD
    from delgrun.web.open_line import Channel
    from delgrun.web.wsgi import app

    # Requests are read whole before a thread has to do with them: who sends slowly, or never ends, holds nobody up.
    server = create_server(
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
    assert isinstance(server, TcpWSGIServer)
    server.channel_class = Channel
    server.run()


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

        make_children()
    end_with(os.environ.get("DELGRUN_ALIVE"))
    serve(int(sys.argv[1]))
