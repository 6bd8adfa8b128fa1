"""The machine's side: ports, programs, stamps of builds, one data folder for one program, and plain words."""

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest
from sqlalchemy import create_engine, text

from delgrun import cli
from delgrun.ops import front_end, machine, surroundings
from delgrun.ops.errors import MachineError
from delgrun.ops.private_database import PrivateDatabase


def test_a_taken_port_is_told_and_the_next_free_one_found():
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        with pytest.raises(MachineError, match=f"Port {port} is taken by another program"):
            machine.free_port(port)
    assert machine.free_port(port) == port
    assert machine.DEFAULT_PORT <= machine.free_port(None) < machine.DEFAULT_PORT + 40


def test_without_root_it_says_what_root_must_install(monkeypatch):
    monkeypatch.setitem(machine.PACKAGES, "no-such-program", "no-such-package")
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    with pytest.raises(MachineError, match=r"As root, run: apt-get install -y no-such-package"):
        machine.need_programs(["no-such-program"], print)


def test_an_old_or_missing_node_is_told(monkeypatch, tmp_path):
    monkeypatch.setenv("PATH", str(tmp_path))
    with pytest.raises(MachineError, match=r"Node 20\.19 or newer"):
        machine.need_node()
    (tmp_path / "node").write_text("#!/bin/sh\necho v18.19.0\n")
    (tmp_path / "node").chmod(0o755)
    monkeypatch.setenv("PATH", f"{tmp_path}:/bin:/usr/bin")
    with pytest.raises(MachineError, match=r"Node\.js 18\.19 is too old"):
        machine.need_node()


def test_the_doctor_changes_nothing_and_says_what_to_mend(monkeypatch, tmp_path, capsys):
    folder = tmp_path / "not" / "yet"
    found = {f.name: f for f in machine.examine(folder)}
    assert found["database"].says == "not laid out yet"
    assert found["Python"].fine and found["data folder"].fine and not folder.exists()
    monkeypatch.setattr(machine, "LEAST_NODE", (99, 0))
    monkeypatch.setattr(surroundings, "data_folder", lambda: folder)
    assert cli.doctor() == 1
    assert "WRONG  Node.js" in capsys.readouterr().out


def test_a_second_program_on_the_same_data_is_refused(tmp_path):
    first, second = PrivateDatabase(tmp_path), PrivateDatabase(tmp_path)
    first._take_lock()
    with pytest.raises(MachineError, match="already runs on the data"):
        second._take_lock()
    first.stop()
    second._take_lock()
    second.stop()


def test_no_room_on_the_disk_is_told_before_anything_is_written(monkeypatch, tmp_path):
    import shutil

    monkeypatch.setattr(shutil, "disk_usage", lambda _: shutil._ntuple_diskusage(1, 1, 0))
    with pytest.raises(MachineError, match="make room and start again"):
        PrivateDatabase(tmp_path / "d").start()


def test_the_front_end_is_built_again_only_when_a_source_changed(monkeypatch, tmp_path):
    calls: list[tuple[str, ...]] = []

    def npm(folder: Path, *args: str, show: bool = False) -> None:
        calls.append(args)
        if args[0] == "ci":
            (folder / "node_modules").mkdir(exist_ok=True)
        else:
            (folder / "dist").mkdir(exist_ok=True)
            (folder / "public").mkdir(exist_ok=True)
            (folder / "public" / "licences.txt").write_text("made by the build")

    monkeypatch.setattr(front_end, "npm", npm)
    for name in ("package.json", "package-lock.json", "main.ts"):
        (tmp_path / name).write_text(name)
    for _ in range(2):
        front_end.build(tmp_path, print)
    assert [c[0] for c in calls] == ["ci", "run"]
    (tmp_path / "main.ts").write_text("changed")
    front_end.build(tmp_path, print)
    assert [c[0] for c in calls] == ["ci", "run", "run"]
    (tmp_path / "package-lock.json").write_text("changed")
    front_end.build(tmp_path, print)
    assert [c[0] for c in calls] == ["ci", "run", "run", "ci", "run"]


def test_a_failing_npm_shows_the_end_of_what_it_said(tmp_path):
    (tmp_path / "package.json").write_text('{"scripts": {"build": "echo the reason; exit 3"}}')
    with pytest.raises(MachineError, match=r"(?s)`npm run build` failed.*the reason"):
        front_end.npm(tmp_path, "run", "build")


def test_kernels_are_kept_under_a_hash_of_their_sources(monkeypatch, tmp_path):
    monkeypatch.setenv("NUMBA_CACHE_DIR", "")
    surroundings.set_up(tmp_path)
    was = os.environ["NUMBA_CACHE_DIR"]
    assert not surroundings.is_compiled("page")
    surroundings.mark_compiled("page")
    surroundings.set_up(tmp_path)
    assert os.environ["NUMBA_CACHE_DIR"] == was and surroundings.is_compiled("page")


def test_a_taken_port_is_told_by_any_python_before_anything_is_installed():
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        # Without the packages that are still to be installed.
        before = [sys.executable, "-S", "-m", "delgrun.ops.before", "demo"]
        for wish, code in ((["--port", str(port)], 1), ([], 0)):
            done = subprocess.run([*before, *wish], capture_output=True, text=True, check=False)
            assert done.returncode == code and (f"Port {port} is taken" in done.stderr) == bool(code)


def test_serve_prints_one_address_and_ctrl_c_stops_all_it_started(tmp_path):
    """Started as a shell starts it in the background: told to ignore Ctrl-C."""
    tmp_path.chmod(0o755)
    for parent in tmp_path.parents[:2]:
        parent.chmod(parent.stat().st_mode | 0o011)
    kernels = Path(os.environ["NUMBA_CACHE_DIR"])
    (tmp_path / "kernels").symlink_to(kernels.parent)
    env = {**os.environ, "DELGRUN_DATA": str(tmp_path)}
    # Not the usual port: the browser tests beside this one have theirs there, and kill what holds it.
    with socket.create_server(("127.0.0.1", 0)) as free:
        port = str(free.getsockname()[1])
    process = subprocess.Popen(
        [sys.executable, "-m", "delgrun.cli", "serve", "--port", port], env=env, stdout=subprocess.PIPE, text=True,
        cwd=surroundings.PROJECT, preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_IGN),
    )  # fmt: skip
    try:
        _serve_and_stop(process, tmp_path)
    finally:
        # Whatever goes wrong, no server is left behind.
        process.terminate()
        process.wait(30)


def _serve_and_stop(process: "subprocess.Popen[str]", tmp_path: Path) -> None:
    assert process.stdout
    said = []
    for line in process.stdout:
        said.append(line)
        if "http://" in line:
            break
    url = said[-1].strip()
    assert urllib.request.urlopen(url + "api/projects", timeout=10).read() == b'{"projects":[]}'
    # Only on loopback, and nothing of the machine's own database.
    assert url.startswith("http://127.0.0.1:")
    # Database and, a little later, workers.
    until = time.monotonic() + 30
    while len(_processes_of(tmp_path)) < 2:
        assert time.monotonic() < until
        time.sleep(0.1)
    process.send_signal(signal.SIGINT)
    assert process.wait(30) == 0
    assert _processes_of(tmp_path) == []


def _processes_of(folder: Path) -> list[str]:
    found = subprocess.run(["pgrep", "-f", str(folder)], capture_output=True, text=True, check=False)
    return found.stdout.split()


def test_a_database_that_waits_for_room_is_back_at_once_when_there_is_room(tmp_path):
    """MariaDB itself looks for room once a minute."""
    for parent in (tmp_path, *tmp_path.parents[:2]):
        parent.chmod(0o711)
    server = PrivateDatabase(tmp_path)
    server.start()
    try:
        engine = create_engine(server.url)
        with engine.begin() as own:
            own.execute(text("CREATE TABLE t (i INT)"))
            own.execute(text("INSERT INTO t VALUES (7)"))
        before = server.pid
        assert not server.wake_if_full() and not server.restart_if_dead()
        with server.log.open("a") as log:
            log.write("mariadbd: Disk is full writing './a.MAI'. Waiting for someone to free space...\n")
        assert server.wake_if_full() and server.restart_if_dead() and server.pid != before
        engine.dispose()
        with engine.connect() as own:
            assert own.execute(text("SELECT i FROM t")).scalar() == 7
        assert not server.wake_if_full()
    finally:
        server.stop()
