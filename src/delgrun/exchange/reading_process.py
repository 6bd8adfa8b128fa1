"""What reads files for `apart.py`, each in a child with a budget: `python -m delgrun.exchange.reading_process FD`."""

import ctypes
import encodings
import io
import os
import pkgutil
import resource
import secrets
import signal
import sys
import time
import traceback
import warnings
from contextlib import suppress
from importlib import import_module
from multiprocessing.connection import Connection
from multiprocessing.reduction import recv_handle
from typing import Any, NoReturn

import numpy as np
import openpyxl
from pyproj import CRS
from rasterio import Affine
from rasterio.errors import NotGeoreferencedWarning
from rasterio.io import MemoryFile

from delgrun.core.errors import DesignInputError
from delgrun.core.files import SizedFile
from delgrun.core.units import MARKS, marked_by, spoken
from delgrun.exchange.crs import said as said_of
from delgrun.exchange.plain import plain
from delgrun.exchange.readers import READERS
from delgrun.exchange.survey_text import Reading
from delgrun.exchange.text_columns import read_in

_LIBRARIES = ("clouds", "dxf", "geojson", "grids", "landxml", "pictures", "workbook")
# Parts of libraries that are loaded when something in them is first used.
_PARTS = ("numpy.ma", "numpy.strings", "scipy.spatial")
_PIECE = 4 * 2**20
# Code points of plane 15, for private use.
_NOBODYS = range(0xF0000, 0xFFFFE)
# PR_SET_PDEATHSIG of Linux's prctl.
_SET_PARENTS_DEATH = 1


def main(control: Connection) -> None:
    """Import; then make a child for each file, and end it, as is asked. Ends with whoever asks."""
    _import_all()
    while True:
        try:
            asked = control.recv()
        except (EOFError, ConnectionError):
            return
        if asked == "start":
            handle = recv_handle(control)
            pid = os.fork()
            if pid == 0:
                control.close()
                _child(handle)
            os.close(handle)
            control.send(pid)
        else:
            # It is a child until it is waited for here, so that its number is no other's.
            _, pid = asked
            with suppress(ProcessLookupError):
                os.kill(pid, signal.SIGKILL)
            os.waitpid(pid, 0)
            control.send(None)


def _child(handle: int) -> NoReturn:
    """Read one file and end, with nothing of what its parent would do at its end."""
    # Nobody waits for what a child reads whose parent has ended.
    ctypes.CDLL(None).prctl(_SET_PARENTS_DEATH, signal.SIGKILL)
    try:
        with Connection(handle) as connection:
            read_one(connection)
    finally:
        os._exit(0)


def read_one(connection: Connection) -> None:
    """Read what is asked for over a connection, and answer."""
    try:
        asked, (size, memory, seconds), (system, units) = connection.recv()
    except (EOFError, ConnectionError):
        return
    makes, name, what, options, wanted, most = asked
    _hold_to(memory, seconds)
    if (makes, name) != ("centreline", "alignments of LandXML"):
        # That one reads XML, which opens nothing, and uses compiled kernels of ours, which are loaded as they are met.
        _seal()
    reader = next(r for r in READERS if (r.makes, r.name) == (makes, name))
    file = io.BufferedReader(_Elsewhere(connection, size), buffer_size=2**16)
    how = Reading(lambda share, points: connection.send(("far", (share, points))), wanted, most)
    # What is said here is marked in a way that no file can know of.
    begin, end = map(chr, secrets.SystemRandom().sample(_NOBODYS, 2))
    ours = dict(zip(map(ord, (begin, end)), MARKS, strict=True))
    try:
        with spoken(system), marked_by(begin, end), read_in(units):
            found = reader.look(file, options) if what == "look" else reader.read(file, options, how)
            answer: Any = ("done", plain(found, ours))
    except DesignInputError as e:
        answer = ("refused", plain((e.field, e.template, e.values), ours))
    except MemoryError:
        answer = ("memory", None)
    except ConnectionError:
        return
    except Exception:
        answer = ("defect", traceback.format_exc()[-4000:])
    try:
        connection.send(answer)
    except MemoryError:
        connection.send(("memory", None))


def _hold_to(memory: int, seconds: float) -> None:
    """No more memory beyond what there is now, no more time of the processor, no cores of a process that dies."""
    with open("/proc/self/statm") as told:
        data_pages = int(told.read().split()[5])
    most = data_pages * os.sysconf("SC_PAGE_SIZE") + memory
    resource.setrlimit(resource.RLIMIT_DATA, (most, most))
    ends = int(time.process_time() + seconds) + 1
    resource.setrlimit(resource.RLIMIT_CPU, (ends, ends + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def _seal() -> None:
    """Nothing else is opened, followed, included or asked over a network from here on, whatever a library makes of a
    file: there is no number left for it. What the libraries themselves need stands open since before.
    """
    nothing = os.open(os.devnull, os.O_RDONLY)
    highest = max(map(int, os.listdir("/proc/self/fd")))
    while nothing < highest:
        nothing = os.dup(nothing)
    most = max(nothing, highest) + 1
    resource.setrlimit(resource.RLIMIT_NOFILE, (most, most))


def _import_all() -> None:
    """What readers may want, which can't be opened any more once a file is read."""
    # A picture without a place is no news here: its world file has that, or it is said in words.
    warnings.simplefilter("ignore", NotGeoreferencedWarning)
    for name in _LIBRARIES:
        import_module(f"delgrun.exchange.{name}")
    for name in _PARTS:
        import_module(name)
    for _, name, _ in pkgutil.iter_modules(encodings.__path__):
        with suppress(ImportError):
            import_module(f"encodings.{name}")
    # Their databases of coordinate systems.
    said_of(CRS.from_epsg(25832).to_wkt())
    empty = io.BytesIO()
    openpyxl.Workbook().save(empty)
    openpyxl.load_workbook(empty, read_only=True)
    small = {"width": 2, "height": 2, "count": 1, "dtype": "float32", "transform": Affine.scale(2.0)}
    # Their parts that pack and unpack pictures.
    for driver in ("JPEG", "PNG"):
        with MemoryFile() as memory:
            with memory.open(driver=driver, width=16, height=16, count=3, dtype="uint8") as picture:
                picture.write(np.zeros((3, 16, 16), dtype=np.uint8))
            with memory.open(driver=driver) as picture:
                picture.read()
                picture.dataset_mask()
    with MemoryFile() as memory:
        with memory.open(driver="GTiff", crs="EPSG:25832", **small) as grid:
            grid.write(np.ones((1, 2, 2), dtype=np.float32))
        with memory.open(driver="GTiff") as grid:
            said_of(grid.crs.to_wkt())


class _Elsewhere(SizedFile):
    """A file whose bytes are asked for where it is."""

    def __init__(self, connection: Connection, size: int) -> None:
        super().__init__(size)
        self._connection = connection

    def readinto(self, into: Any) -> int:
        count = max(min(len(into), self.size - self.at, _PIECE), 0)
        if not count:
            return 0
        self._connection.send(("bytes", (self.at, count)))
        data = self._connection.recv_bytes()
        into[: len(data)] = data
        self.at += len(data)
        return len(data)

    def readall(self) -> bytes:
        out = bytearray(max(self.size - self.at, 0))
        with memoryview(out) as whole:
            there = 0
            while there < len(out):
                got = self.readinto(whole[there:])
                if not got:
                    break
                there += got
        return bytes(out[:there]) if there < len(out) else bytes(out)


if __name__ == "__main__":
    with Connection(int(sys.argv[1])) as own:
        main(own)
