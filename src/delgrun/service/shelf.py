"""Results that are dear to make, kept on disk over a restart: the newest few, in the data folder."""

import contextlib
import hashlib
import os
import shutil
import threading
from dataclasses import fields
from pathlib import Path
from typing import Any
from zipfile import BadZipFile

import numpy as np

# So many results are kept, and none that is larger.
_MOST, _LARGEST_BYTES = 8, 300 * 2**20


class Shelf:
    """Dataclasses of arrays and numbers, each in a file under a digest of what it was made from.

    Parameters
    ----------
    folder : for its owner only; what is in it can be deleted at any time
    of : names what the results hold for besides their keys: the database, and the version of the computation
    """

    def __init__(self, folder: Path, of: str) -> None:
        self._folder, self._of = folder, of
        self._writing: list[threading.Thread] = []
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)

    def free_bytes(self) -> int:
        """Room left on the disk of the data folder."""
        return shutil.disk_usage(self._folder).free

    def _path(self, key: object) -> Path:
        return self._folder / f"{hashlib.blake2b(f'{self._of} {key!r}'.encode(), digest_size=16).hexdigest()}.npz"

    def take(self, key: object, cls: type) -> Any | None:
        """The result under this key; None where there is none, or it can't be read."""
        path = self._path(key)
        try:
            with np.load(path, allow_pickle=False) as kept:
                values = {f.name: kept[f.name] for f in fields(cls)}
            os.utime(path)
        except (OSError, ValueError, KeyError, EOFError, BadZipFile):
            return None
        return cls(**{name: v.item() if v.ndim == 0 else v for name, v in values.items()})

    def put(self, key: object, value: Any) -> None:
        """Keep a result; a disk that is full keeps none, and nobody waits for it."""
        values = {f.name: getattr(value, f.name) for f in fields(value)}
        if sum(np.asarray(v).nbytes for v in values.values()) > _LARGEST_BYTES:
            return
        thread = threading.Thread(target=self._write, args=(self._path(key), values), daemon=True)
        self._writing = [t for t in self._writing if t.is_alive()] + [thread]
        thread.start()

    def settle(self) -> None:
        """Wait until what was put is on disk, for other processes to find."""
        for thread in self._writing:
            thread.join()

    def _write(self, path: Path, values: dict[str, Any]) -> None:
        draft = path.with_suffix(f".{threading.get_ident()}.new")
        try:
            with draft.open("wb") as out:
                np.savez(out, **values)
            draft.replace(path)
            newest = sorted(self._folder.glob("*.npz"), key=lambda p: p.stat().st_mtime, reverse=True)
            for old in newest[_MOST:]:
                old.unlink(missing_ok=True)
        except OSError:
            with contextlib.suppress(OSError):
                draft.unlink()
