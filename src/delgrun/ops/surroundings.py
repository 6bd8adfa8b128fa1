"""Environment of every process of ours, set before the computation is imported."""

import hashlib
import os
from pathlib import Path

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


def kernels_are_compiled() -> bool:
    """Whether `mark_compiled` was called for these sources."""
    return (Path(os.environ["NUMBA_CACHE_DIR"]) / "complete").exists()


def mark_compiled() -> None:
    folder = Path(os.environ["NUMBA_CACHE_DIR"])
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "complete").touch()
