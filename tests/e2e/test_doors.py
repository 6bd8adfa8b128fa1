"""What another account of the machine, or a client that means no good, finds open: nothing."""

import asyncio
import contextlib
import json
import os
import re
import signal
import socket
import ssl
import subprocess
import tempfile
import time
import urllib.error
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from distributed import Client
from distributed.comm import connect
from distributed.security import Security
from wsproto import WSConnection
from wsproto.connection import ConnectionType
from wsproto.events import AcceptConnection, BytesMessage, CloseConnection, Event, Request, TextMessage
from wsproto.utilities import RemoteProtocolError

from delgrun.jobs import tls
from delgrun.ops.supervisor import Supervisor
from helpers import eventually, kill_server


@pytest.fixture
def scheduler(program: Supervisor) -> str:
    """Address of the workers' scheduler, which comes up a little after the server."""
    until = time.monotonic() + 60
    while not program.scheduler_file.exists():
        assert time.monotonic() < until
        time.sleep(0.1)
    address = program.scheduler_file.read_text()
    # It can be handed work before there are workers to do it.
    with Client(address, security=tls.security(program.data / "tls"), timeout=20, set_as_default=False) as owner:
        owner.wait_for_workers(1, timeout=60)
    return address


def tree(pid: int) -> list[int]:
    found = subprocess.run(["pgrep", "-P", str(pid)], capture_output=True, text=True, check=False).stdout.split()
    return [pid, *(p for child in map(int, found) for p in tree(child))]


def listening(pids: list[int]) -> list[int]:
    """Ports on which these processes listen, from the kernel's own tables."""
    inodes = set()
    for pid in pids:
        for fd in Path(f"/proc/{pid}/fd").iterdir():
            with contextlib.suppress(OSError):
                inodes.add(os.readlink(fd))
    rows = [r.split() for r in Path("/proc/net/tcp").read_text().splitlines()[1:]]
    return [int(r[1].split(":")[1], 16) for r in rows if r[3] == "0A" and f"socket:[{r[9]}]" in inodes]


def test_only_who_holds_the_certificate_can_hand_work_to_the_workers(program, scheduler):
    with Client(scheduler, security=tls.security(program.data / "tls"), timeout=20, set_as_default=False) as owner:
        assert owner.submit(int, "7", pure=False).result(timeout=30) == 7
        workers = list(owner.scheduler_info()["workers"])
    for address in [scheduler, *workers]:
        assert address.startswith("tls://127.0.0.1:")
        # With a certificate of another owner, and with none over the plain protocol.
        foreign = Security.temporary().get_connection_args("client")
        # A stranger does not mind whom he talks to: it is the door that must.
        foreign["ssl_context"].verify_mode = ssl.CERT_NONE
        for door, shown in [(address, foreign), (address.replace("tls", "tcp"), {})]:
            # A thread of its own: the browser of other tests keeps a loop in this one.
            with pytest.raises(OSError), ThreadPoolExecutor(1) as beside:
                beside.submit(asyncio.run, connect(door, timeout=3, **shown)).result()


def test_no_port_of_the_workers_says_anything_over_plain_http(program, scheduler):
    holder = subprocess.run(["pgrep", "-f", str(program.scheduler_file)], capture_output=True, text=True, check=True)
    ports = listening([p for pid in map(int, holder.stdout.split()) for p in tree(pid)])
    assert len(ports) >= 3
    for port in ports:
        for path in ("", "info/main/workers.html", "metrics", "json/counts.json", "api/v1/retire_workers"):
            with pytest.raises((OSError, urllib.error.URLError)):
                urllib.request.urlopen(f"http://127.0.0.1:{port}/{path}", timeout=5)


def test_what_is_kept_is_for_the_owner_only_and_the_password_stands_in_one_place(program, scheduler):
    for path in program.data.rglob("*"):
        if not path.is_symlink() and path.name not in ("lock", "port.json") and "mariadb" not in path.parts:
            assert not path.stat().st_mode & 0o077, path
    assert not program.data.stat().st_mode & 0o066
    password = (program.data / "password").read_bytes()
    beside = [Path(tempfile.gettempdir()).glob("delgrun-*/*"), program.data.rglob("*.log"), program.data.glob("*")]
    for path in (p for places in beside for p in places if p.is_file() and p.name != "password"):
        assert password not in path.read_bytes(), path


def test_clients_that_send_half_a_request_and_then_nothing_hold_nobody_up(program):
    port = int(program.url.rsplit(":")[-1].strip("/"))
    with contextlib.ExitStack() as held:
        for i in range(200):
            s = held.enter_context(socket.create_connection(("127.0.0.1", port), 5))
            head = f"POST /api/projects HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nContent-Length: 900\r\n"
            s.sendall((head + ("\r\n{" if i % 2 else ""))[: 20 + i].encode() if i % 3 else head.encode())
        for _ in range(5):
            with urllib.request.urlopen(program.url + "api/projects", timeout=10) as answer:
                assert json.loads(answer.read())["projects"]


def test_a_log_that_grows_too_long_is_put_aside_while_it_is_written(program, monkeypatch):
    from delgrun.ops import supervisor

    monkeypatch.setattr(supervisor, "_LONGEST_LOG_BYTES", 1000)
    log = program.data / "server.log"
    with log.open("ab") as out:
        for _ in range(400):
            out.write(b"a line of the log\n")
            out.flush()
            time.sleep(0.002)
        assert log.stat().st_size < 4000
    assert (program.data / "server.old.log").stat().st_size > 900


def test_a_spare_server_takes_over_from_one_that_is_killed(program):
    until = time.monotonic() + 60
    while not program.spare_pid:
        assert time.monotonic() < until
        time.sleep(0.1)
    spare = program.spare_pid
    # However soon one ends after another: each is back before a page asks twice, made by the same spare.
    for _ in range(4):
        before = program.server_pid
        kill_server(program)
        assert program.server_pid not in (before, spare) and program.spare_pid == spare
        assert json.loads(urllib.request.urlopen(program.url + "api/projects", timeout=20).read())
    os.kill(spare, signal.SIGKILL)
    assert json.loads(urllib.request.urlopen(program.url + "api/projects", timeout=20).read())


def test_more_connections_than_a_select_can_look_at_are_served(program):
    port = int(program.url.rsplit(":")[-1].strip("/"))
    with contextlib.ExitStack() as held:
        for _ in range(1200):
            held.enter_context(socket.create_connection(("127.0.0.1", port), 5))
        assert json.loads(urllib.request.urlopen(program.url + "api/alive", timeout=20).read())


@contextlib.contextmanager
def line(program: Supervisor, origin: str):
    """What a page does to hold a line open: a function that sends bytes or a message, and gives the next event."""
    host = program.url[len("http://") : -1]
    with socket.create_connection((host.split(":")[0], int(host.split(":")[1])), 10) as held:
        talk = WSConnection(ConnectionType.CLIENT)

        def say(what: Event | bytes) -> Event:
            held.sendall(what if isinstance(what, bytes) else talk.send(what))
            while (event := next(talk.events(), None)) is None:
                talk.receive_data(held.recv(2**16) or None)
            return event

        yield say, say(Request(host=host, target="/api/line", extra_headers=[(b"Origin", origin.encode())]))


def test_a_line_answers_what_a_request_is_answered_and_is_for_pages_of_this_server_only(program, own):
    url = f"/api/projects/{own}/figures"
    revision = json.loads(urllib.request.urlopen(f"{program.url}api/projects/{own}").read())["revision"]
    asked = {"revision": revision, "slot": "line-1", "road": None, "ips": None, "edits": [], "at_m": None, "have": []}
    body = json.dumps(asked | {"upon": "", "want": ["line", "uses"]})
    heads = {"Content-Type": "application/json", "Accept": "application/octet-stream", "X-Delgrun-Units": "us"}
    request = urllib.request.Request(program.url[:-1] + url, body.encode(), heads)
    plain = urllib.request.urlopen(request, timeout=20).read()
    with line(program, program.url[:-1]) as (say, opened):
        assert isinstance(opened, AcceptConnection)
        answer = b""
        event = say(TextMessage(f"{url}\nus\n{body}"))
        while isinstance(event, BytesMessage):
            answer += event.data
            if event.message_finished:
                break
            event = say(b"")
        # But for the name by which the next answer is told.
        token = re.compile(rb'"token":"[^"]*"')
        assert int.from_bytes(answer[:8], "little") == 200 and token.sub(b"", answer[8:]) == token.sub(b"", plain)
        for unfit in ("", "/api/nothing\nus\n{}", f"{url}\nus\n{{", "/api/line\n\n"):
            refused = say(TextMessage(unfit))
            assert isinstance(refused, BytesMessage) and 400 <= int.from_bytes(refused.data[:8], "little") < 500
    for other in ("http://elsewhere.example", "null", ""):
        with line(program, other) as (_, opened):
            assert not isinstance(opened, AcceptConnection)


def test_lines_that_send_what_no_page_sends_are_closed_and_hold_nobody_up(program):
    own = program.url[:-1]
    for unfit in (b"\x00" * 64, b"\xff" * 64, b"\x81\x05hello", TextMessage("x" * 2**21)):
        with line(program, own) as (say, opened):
            assert isinstance(opened, AcceptConnection)
            with contextlib.suppress(OSError):
                assert isinstance(say(unfit), CloseConnection)
    with contextlib.ExitStack() as held:
        taken = 0
        for _ in range(260):
            with contextlib.suppress(OSError, RemoteProtocolError, EOFError):
                taken += isinstance(held.enter_context(line(program, own))[1], AcceptConnection)
        assert 150 < taken <= 200
        assert json.loads(urllib.request.urlopen(program.url + "api/alive", timeout=20).read())

    def one_more() -> bool:
        with contextlib.suppress(OSError, RemoteProtocolError), line(program, own) as (_, opened):
            return isinstance(opened, AcceptConnection)
        return False

    eventually(one_more)
