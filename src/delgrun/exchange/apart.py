"""Files are read in a process of their own: it has a budget of memory and of time, and can be ended.

A file is written by a stranger, and so, in effect, is whatever a library does with it: ask for all the memory there is,
never end, or die. None of that reaches who asks. `reading_process.py` is the other side.
"""

import logging
import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from multiprocessing.connection import Connection, Pipe
from multiprocessing.reduction import send_handle
from typing import Any, BinaryIO

from delgrun.core.errors import DesignInputError
from delgrun.core.units import spoken_now
from delgrun.exchange.readers import Reader
from delgrun.exchange.survey_text import PLAIN, Reading
from delgrun.exchange.text_columns import read_in_now

_LOG = logging.getLogger(__name__)
# What a file may take beyond what the process has anyway: so much at once, and so many times its own size. [bytes]
_LEAST_BYTES, _TIMES = 320 * 2**20, 40
# At the most this share of the machine's memory.
_SHARE = 0.7
# Of a processor's time: so long at once, and so long for each megabyte; and so many times that by the clock, since
# others use the machine too. [s]
_LEAST_S, _EACH_MB_S, _BY_THE_CLOCK = 6.0, 4.0, 4.0
_ASK_GONE_S = 0.2
# Files that are read side by side; whoever comes later waits for one to be done.
_AT_ONCE = threading.BoundedSemaphore(max(2, os.cpu_count() or 2))


class Gone(Exception):
    """Whoever asked has left."""


def nobody_leaves() -> bool:
    """Whoever asks stays until it is answered."""
    return False


@dataclass(frozen=True)
class Budget:
    """What reading one file may take. [bytes, s]"""

    memory: int
    seconds: float


def budget_of(size: int) -> Budget:
    """What a file of so many bytes may take: a small one that asks for much means no good."""
    machine = int(_SHARE * os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE"))
    return Budget(min(_LEAST_BYTES + _TIMES * size, machine), _LEAST_S + _EACH_MB_S * size / 2**20)


def look(reader: Reader, file: BinaryIO, options: Any, gone: Callable[[], bool] = nobody_leaves) -> Any:
    """`reader.look`, elsewhere; see `read`."""
    return _ask(reader, "look", file, options, PLAIN, gone)


def read(
    reader: Reader,
    file: BinaryIO,
    options: Any = None,
    how: Reading = PLAIN,
    gone: Callable[[], bool] = nobody_leaves,
) -> Any:
    """`reader.read`, elsewhere. What the file calls things has no character that is none.

    Raises
    ------
    DesignInputError
        The file can't be read, or asks for more memory or time than a file of its size may.
    Gone
        `gone` said that nobody waits for it any more.
    Exception
        Whatever `how.say`, or reading the bytes of the file, raises.
    """
    return _ask(reader, "read", file, options, how, gone)


def _ask(
    reader: Reader, what: str, file: BinaryIO, options: Any, how: Reading, gone: Callable[[], bool]
) -> Any:  # fmt: skip
    size = file.seek(0, os.SEEK_END)
    budget = budget_of(size)
    with _AT_ONCE:
        process = _Reading(_nursery)
        try:
            asked = (reader.makes, reader.name, what, options, how.wanted, how.most)
            process.send((asked, (size, budget.memory, budget.seconds), (spoken_now(), read_in_now())))
            return _answered(process, reader, file, how, gone, _BY_THE_CLOCK * budget.seconds)
        finally:
            process.end()


def _answered(
    process: "_Reading", reader: Reader, file: BinaryIO, how: Reading, gone: Callable[[], bool], seconds: float
) -> Any:
    until = time.monotonic() + seconds
    while True:
        while not process.connection.poll(_ASK_GONE_S):
            if gone():
                raise Gone
            if time.monotonic() > until:
                raise _too_dear(reader)
        try:
            kind, value = process.connection.recv()
        except (EOFError, ConnectionError):
            # Ended by its limit of time, or by a library that found no memory.
            raise _too_dear(reader) from None
        match kind:
            case "bytes":
                at, count = value
                file.seek(at)
                data = file.read(count)
                # One that has ended meanwhile is met where its answer is waited for.
                with suppress(ConnectionError):
                    process.connection.send_bytes(data)
            case "far":
                how.say(*value)
            case "done":
                return value
            case "refused":
                field, template, values = value
                raise DesignInputError(field, template, **values)
            case "memory":
                raise _too_dear(reader)
            case "defect":
                # A library that trips over a file tells of the file; what it tripped over is for the log.
                _LOG.warning("a file could not be read as %s:\n%s", reader.name, value)
                raise DesignInputError(
                    "file", f"This file can't be read as {reader.name}: it is damaged, or of another kind."
                )


def _too_dear(reader: Reader) -> DesignInputError:
    return DesignInputError(
        "file",
        f"This file can't be read as {reader.name}: it asks for far more memory or time than a file of its size may. "
        "It is damaged, or holds far more than it seems to; export it anew, or in parts.",
    )


class _Reading:
    """A process that reads one file: a child of the nursery, which ends it too."""

    def __init__(self, nursery: "_Nursery") -> None:
        self._nursery = nursery
        self.connection, other = Pipe()
        with other:
            self._child = nursery.start(other)

    def send(self, message: Any) -> None:
        with suppress(ConnectionError):
            self.connection.send(message)

    def end(self) -> None:
        self._nursery.end(*self._child)
        self.connection.close()


class _Nursery:
    """A process that has imported what readers need, a second's work, and makes a child of itself for each file."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._control: Connection | None = None

    def get_ready(self) -> None:
        """Start it, so that nobody waits for what it imports."""
        with self._lock:
            self._up()

    def _up(self) -> Connection:
        if self._process is not None and self._process.poll() is None and self._control is not None:
            return self._control
        self._control, other = Pipe()
        with other:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "delgrun.exchange.reading_process", str(other.fileno())],
                pass_fds=[other.fileno()],
                stdin=subprocess.DEVNULL,
                env=_surroundings(),
            )
        return self._control

    def start(self, connection: Connection) -> tuple[Connection, int]:
        """A child at the other end of a connection: by what it is ended, and its number."""
        with self._lock:
            for last in (False, True):
                control = self._up()
                try:
                    control.send("start")
                    send_handle(control, connection.fileno(), None)
                    return control, int(control.recv())
                except (EOFError, ConnectionError):
                    # It was ended from outside: once more, with a new one.
                    if last:
                        raise
                    self._process = None
        raise AssertionError

    def end(self, control: Connection, pid: int) -> None:
        """End a child, whatever it is at. One whose nursery has ended has ended too: its number may be another's."""
        with self._lock, suppress(EOFError, ConnectionError):
            if control is self._control:
                control.send(("end", pid))
                control.recv()


def _surroundings() -> dict[str, str]:
    """Nothing that is secret is handed to a process that reads what strangers wrote; and no library starts threads."""
    kept = {name: value for name, value in os.environ.items() if not name.startswith("DELGRUN_")}
    alone = dict.fromkeys(("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS"), "1")
    return kept | alone | {"PYTHONPATH": os.pathsep.join(p for p in sys.path if p)}


_nursery = _Nursery()
get_ready: Callable[[], None] = _nursery.get_ready
