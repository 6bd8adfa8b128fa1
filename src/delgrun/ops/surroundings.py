"""Environment of every process of ours, set before the computation is imported."""

import hashlib
import os
import re
import time
from pathlib import Path
from typing import Literal

# What a page asks for, and what is only asked for by itself.
Part = Literal["page", "rest"]

# All is compiled by then, however slow the machine is. [s]
_PATIENCE_S = 1800.0

PROJECT = Path(__file__).resolve().parents[3]
SOURCES = PROJECT / "src"
FRONT_END = PROJECT / "frontend"


def data_folder() -> Path:
    """Where everything is kept: DELGRUN_DATA, or .data in the project."""
    return Path(os.environ.get("DELGRUN_DATA", PROJECT / ".data")).resolve()


def set_up(cache: Path) -> None:
    """One BLAS thread, and compiled kernels kept under a hash of their sources.

    A changed kernel would otherwise leave stale machine code in the callers that have it inlined.
    """
    for name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
        os.environ.setdefault(name, "1")
    os.environ["PYTHONPATH"] = str(SOURCES)
    total = hashlib.sha256()
    for path in sorted((SOURCES / "delgrun" / "core").rglob("*.py")):
        text = path.read_bytes()
        if b"delgrun.core.kernels import" in text or path.name == "kernels.py":
            total.update(path.name.encode() + text)
    os.environ["NUMBA_CACHE_DIR"] = str(cache / "kernels" / total.hexdigest()[:16])


def core_digest() -> str:
    """Names this version of the computation."""
    total = hashlib.sha256()
    for path in sorted((SOURCES / "delgrun" / "core").rglob("*.py")):
        total.update(path.read_bytes())
    return total.hexdigest()[:16]


def _kernels() -> Path:
    return Path(os.environ["NUMBA_CACHE_DIR"])


def is_compiled(part: Part) -> bool:
    """Whether `mark_compiled` was called for these sources."""
    return (_kernels() / part).exists()


def mark_compiled(part: Part) -> None:
    _kernels().mkdir(parents=True, exist_ok=True)
    (_kernels() / part).touch()


def wait_for(part: Part) -> None:
    """Wait until a part of the kernels is compiled by another process; not for ever, should that have ended."""
    until = time.monotonic() + _PATIENCE_S
    while not is_compiled(part) and time.monotonic() < until:
        time.sleep(0.2)


def compiled_share() -> float:
    """Which share of all kernels is on disk."""
    declared = 0
    for path in (SOURCES / "delgrun" / "core").rglob("*.py"):
        declared += len(re.findall(r"^@(?:fast_)?kernel$", path.read_text(), re.MULTILINE))
    there = {path.name.rsplit(".", 2)[0] for path in _kernels().rglob("*.nbi")}
    return min(len(there) / max(declared, 1), 1.0)
