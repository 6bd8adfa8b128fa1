"""What another account of the machine, or a client that means no good, finds open: nothing."""

import asyncio
import contextlib
import json
import os
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

from delgrun.jobs import tls
from delgrun.ops.supervisor import Supervisor
from helpers import kill_server


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
