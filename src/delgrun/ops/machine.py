"""What the machine must have, what it lacks, and how to get it."""

import os
import shutil
import socket
import subprocess
import sys
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from delgrun.ops.errors import MachineError
from delgrun.ops.private_database import PrivateDatabase

LEAST_NODE = (20, 19)
# Debian's package for each program we call.
PACKAGES = {"mariadbd": "mariadb-server", "setpriv": "util-linux", "chromium": "chromium"}
DEFAULT_PORT = 8440
_PORTS_TRIED = 40


def put_system_folders_on_path() -> None:
    """Servers live in sbin, which a normal user's PATH often lacks."""
    have = os.environ.get("PATH", "").split(":")
    os.environ["PATH"] = ":".join([*have, *(f for f in ("/usr/sbin", "/sbin") if f not in have)])


def need_programs(programs: list[str], say: Callable[[str], None]) -> None:
    """Install Debian's packages for what is missing, or say what to install.

    Raises
    ------
    MachineError
        Something is missing and we are not root, or apt-get could not install it.
    """
    missing = sorted({PACKAGES[p] for p in programs if shutil.which(p) is None})
    if not missing:
        return
    command = f"apt-get install -y {' '.join(missing)}"
    if os.geteuid() != 0:
        raise MachineError(f"Missing on this machine: {', '.join(missing)}. As root, run: {command}")
    say(f"installing {', '.join(missing)} with apt-get")
    env = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    for step in (["apt-get", "update", "-q"], ["apt-get", "install", "-y", "-q", "--no-install-recommends", *missing]):
        done = subprocess.run(step, env=env, capture_output=True, text=True, check=False)
        if done.returncode:
            raise MachineError(f"`{' '.join(step)}` failed: {done.stderr.strip()[-400:]}\nRun {command} by hand.")


def need_writable(folder: Path) -> None:
    """Raises MachineError where nothing can be written into a folder: read-only, another's, or the disk is full."""
    try:
        with tempfile.TemporaryFile(dir=folder) as file:
            file.write(bytes(4096))
            file.flush()
            os.fsync(file.fileno())
    except OSError as e:
        raise MachineError(
            f"{folder} can't be written ({e.strerror}): mend that, make room, or set DELGRUN_DATA to another folder."
        ) from e


def need_node() -> None:
    """Raises MachineError where Node is missing or too old to build the front end."""
    version = node_version()
    if version is None:
        raise MachineError("Node.js is not installed: install Node 20.19 or newer from nodejs.org and start again.")
    if version < LEAST_NODE:
        have = ".".join(map(str, version))
        raise MachineError(f"Node.js {have} is too old for the front end's build: it needs 20.19 or newer.")


def node_version() -> tuple[int, ...] | None:
    node = shutil.which("node")
    if node is None:
        return None
    text = subprocess.run([node, "--version"], capture_output=True, text=True, check=False).stdout
    return tuple(int(p) for p in text.strip().lstrip("v").split(".")[:2])


def free_port(wanted: int | None) -> int:
    """The wanted port of 127.0.0.1, or the first free one from 8440 on.

    Raises
    ------
    MachineError
        The wanted port is taken.
    """
    for port in [wanted] if wanted else range(DEFAULT_PORT, DEFAULT_PORT + _PORTS_TRIED):
        with socket.socket() as s:
            s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                s.bind(("127.0.0.1", port))
            except OSError:
                continue
            return port
    if wanted:
        raise MachineError(f"Port {wanted} is taken by another program: stop that one, or leave --port out.")
    raise MachineError(f"No port from {DEFAULT_PORT} to {DEFAULT_PORT + _PORTS_TRIED - 1} is free: give one by --port.")


@dataclass(frozen=True)
class Finding:
    """One line of the doctor's report; `mend` says what to do where it is not fine."""

    name: str
    fine: bool
    says: str
    mend: str = ""


def examine(data: Path) -> list[Finding]:
    """Check versions, programs, ports, disk and permissions, changing nothing."""
    out = []
    py = ".".join(map(str, sys.version_info[:3]))
    out.append(Finding("Python", sys.version_info >= (3, 11), py, "install Python 3.11 or newer"))
    node = node_version()
    out.append(
        Finding(
            "Node.js",
            node is not None and node >= LEAST_NODE,
            ".".join(map(str, node)) if node else "not found",
            "install Node 20.19 or newer",
        )
    )
    for program, package in PACKAGES.items():
        path = shutil.which(program)
        what = "for tests only" if program == "chromium" else ""
        out.append(
            Finding(package, path is not None, path or f"not found {what}".strip(), f"apt-get install -y {package}")
        )
    home = data
    while not home.exists():
        home = home.parent
    writable = os.access(home, os.W_OK)
    out.append(
        Finding("data folder", writable, str(data), f"make {home} writable, or set DELGRUN_DATA to another folder")
    )
    if writable:
        out.append(Finding("database", True, PrivateDatabase(data).describe()))
    free = shutil.disk_usage(home).free // 2**20
    out.append(Finding("disk", free > 500, f"{free} MB free", "make room: 500 MB or more"))
    try:
        out.append(Finding("port", True, f"{free_port(None)} is free"))
    except MachineError as e:
        out.append(Finding("port", False, "none free", str(e)))
    return out
