"""A line that a page keeps open for what it asks at every move of a hand: a WebSocket (RFC 6455) beside the requests.

A request by itself costs a browser 6 to 9 ms on the way there and back, a message on an open line 1 ms. Each message is
a POST to the same application, with the headers the line was opened with: its rules, its refusals and its answers are
those of any request. A page that finds no line asks by requests (`frontend/src/api/line.ts` is the other end).
"""

import io
import logging
import socket
import struct
import threading
from typing import TYPE_CHECKING
from urllib.parse import urlsplit

from waitress.channel import HTTPChannel
from waitress.task import WSGITask
from werkzeug.wrappers import Response
from wsproto import WSConnection
from wsproto.connection import ConnectionType
from wsproto.events import AcceptConnection, BytesMessage, CloseConnection, Ping, Request, TextMessage
from wsproto.frame_protocol import CloseReason
from wsproto.utilities import RemoteProtocolError

if TYPE_CHECKING:
    from _typeshed.wsgi import WSGIApplication, WSGIEnvironment

LINE = "/api/line"
_MOST = 200
_LARGEST = 2**20
_IDLE_S = 75
# Of the answer's status, before an answer; eight bytes, so that arrays in it lie where they can be read in place.
_STATUS = struct.Struct("<Q")

_log = logging.getLogger(__name__)
_free = threading.BoundedSemaphore(_MOST)


def _asks_for_a_line(environ: "WSGIEnvironment") -> bool:
    """Whether a request is the beginning of a line, of a page of this server."""
    origin = urlsplit(environ.get("HTTP_ORIGIN", "")).netloc
    return bool(
        environ["PATH_INFO"] == LINE
        and environ.get("HTTP_UPGRADE", "").lower() == "websocket"
        and origin == environ.get("HTTP_HOST")
    )


class _Task(WSGITask):
    channel: "Channel"

    def execute(self) -> None:
        environ = self.get_environment()
        if _asks_for_a_line(environ):
            self.channel.handed_over = environ
            # Nothing is answered here: whoever has the line does that, once this server has let go of the socket.
            self.wrote_header = self.close_on_finish = True
        else:
            super().execute()


class Channel(HTTPChannel):
    """A connection to the server, which may become a line: then another thread has its socket."""

    task_class = _Task
    handed_over: "WSGIEnvironment | None" = None

    def handle_close(self) -> None:
        environ, self.handed_over = self.handed_over, None
        line = self.socket.dup() if environ and self.socket else None
        super().handle_close()
        # Where there are too many it is closed, and the page goes on by requests.
        if environ and line and _free.acquire(blocking=False):
            line.settimeout(_IDLE_S)
            threading.Thread(target=_hold, args=(self.server.application, environ, line), daemon=True).start()


def _hold(app: "WSGIApplication", environ: "WSGIEnvironment", line: socket.socket) -> None:
    """Answer what comes on a line until it ends, is silent for long, or says what isn't understood."""
    try:
        with line:
            _talk(app, environ, line)
    except (OSError, RemoteProtocolError):
        # It was cut off, was idle, or is no WebSocket: the page asks by requests until it has another.
        _log.info("a line of a page ended")
    finally:
        _free.release()


def _talk(app: "WSGIApplication", environ: "WSGIEnvironment", line: socket.socket) -> None:
    talk = WSConnection(ConnectionType.SERVER)
    heads = [
        (name[5:].replace("_", "-").lower().encode(), value.encode("latin-1"))
        for name, value in environ.items()
        if name.startswith("HTTP_")
    ]
    talk.initiate_upgrade_connection(heads, LINE)
    assert isinstance(next(talk.events()), Request)
    # Without what would pack each message: between two programs of one machine that takes longer than it saves.
    line.sendall(talk.send(AcceptConnection()))
    asked = ""
    while data := line.recv(2**16):
        talk.receive_data(data)
        for event in talk.events():
            if isinstance(event, TextMessage):
                asked += event.data
                if len(asked) > _LARGEST:
                    event = CloseConnection(CloseReason.MESSAGE_TOO_BIG)
                elif event.message_finished:
                    event, asked = BytesMessage(_answer(app, environ, asked, line)), ""
                else:
                    continue
            elif isinstance(event, Ping | CloseConnection):
                event = event.response()
            else:
                event = CloseConnection(CloseReason.UNSUPPORTED_DATA)
            line.sendall(talk.send(event))
            if isinstance(event, CloseConnection):
                return


def _answer(app: "WSGIApplication", environ: "WSGIEnvironment", asked: str, line: socket.socket) -> bytes:
    """What the application answers a message: path, units and body, a line each."""
    path, units, body = (asked.split("\n", 2) + ["", ""])[:3]
    sent = body.encode()
    request = {k: v for k, v in environ.items() if k not in ("HTTP_UPGRADE", "HTTP_CONNECTION")} | {
        "REQUEST_METHOD": "POST",
        "PATH_INFO": path,
        "QUERY_STRING": "",
        "CONTENT_TYPE": "application/json",
        "CONTENT_LENGTH": str(len(sent)),
        "HTTP_ACCEPT": "application/octet-stream",
        "HTTP_X_DELGRUN_UNITS": units,
        "wsgi.input": io.BytesIO(sent),
        "waitress.client_disconnected": lambda: _is_gone(line),
    }
    answered = Response.from_app(app, request, buffered=True)
    return _STATUS.pack(answered.status_code) + answered.get_data()


def _is_gone(line: socket.socket) -> bool:
    try:
        return line.recv(1, socket.MSG_PEEK | socket.MSG_DONTWAIT) == b""
    except BlockingIOError:
        return False
    except OSError:
        return True
