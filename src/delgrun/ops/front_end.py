"""The front end: installed from its lock file and built, each only when something changed."""

import hashlib
import subprocess
from collections.abc import Callable
from pathlib import Path

from delgrun.ops import machine
from delgrun.ops.errors import MachineError


def install(folder: Path, say: Callable[[str], None]) -> None:
    """npm ci, unless what the lock file names is there."""
    stamp = folder / "node_modules" / ".delgrun-lock"
    now = _digest([folder / "package-lock.json", folder / "package.json"])
    if stamp.exists() and stamp.read_text() == now:
        return
    machine.need_node()
    say("installing the front end's packages (npm ci)")
    npm(folder, "ci", "--no-audit", "--no-fund")
    stamp.write_text(now)


def build(folder: Path, say: Callable[[str], None]) -> Path:
    """The folder of the built front end."""
    dist = folder / "dist"
    stamp = dist / ".delgrun-built"
    files = [p for p in sorted(folder.rglob("*")) if p.is_file() and not _made(p.relative_to(folder))]
    # What is shipped with it and stands with the documents.
    files += sorted((folder.parent / "docs" / "guide").glob("*.md"))
    now = _digest(files)
    if not (stamp.exists() and stamp.read_text() == now):
        install(folder, say)
        say("building the front end")
        npm(folder, "run", "build")
        stamp.write_text(now)
    return dist


def npm(folder: Path, *args: str, show: bool = False) -> None:
    """Run npm; raises MachineError with the end of what it said."""
    try:
        done = subprocess.run(["npm", *args], cwd=folder, capture_output=not show, text=True, check=False)
    except FileNotFoundError as e:
        raise MachineError("npm is not installed: it comes with Node.js 20.19 or newer.") from e
    if done.returncode:
        tail = "" if show else f":\n{(done.stdout + done.stderr).strip()[-1500:]}"
        raise MachineError(f"`npm {' '.join(args)}` failed{tail}")


def _made(path: Path) -> bool:
    made = path.parts[0] in ("node_modules", "dist") or path.name == "licences.txt"
    return made or path.name.startswith(".delgrun")


def _digest(files: list[Path]) -> str:
    total = hashlib.sha256()
    for path in files:
        total.update(path.name.encode())
        total.update(path.read_bytes())
    return total.hexdigest()
