"""What reads files elsewhere: made again when it was killed, opens nothing else, hands on what was raised."""

import io
import os
import signal
import subprocess
import sys

import pytest

from delgrun.core.errors import DesignInputError
from delgrun.exchange import apart
from delgrun.exchange.readers import reader_of

SURVEY = "\n".join(
    ["easting,northing,level,code", *(f"{10 * (i % 20)},{10 * (i // 20)},{100 + i % 7},GR" for i in range(400))]
).encode()
READER = reader_of("survey", "s.csv", SURVEY[:4096])
OPENS_NOTHING = """
from delgrun.exchange.reading_process import _seal
_seal()
for opens in (lambda: open("/etc/hostname"), lambda: __import__("socket").socket(), lambda: __import__("os").pipe()):
    try:
        opens()
    except OSError:
        continue
    raise SystemExit("it was opened")
"""


class Waits(io.BytesIO):
    """A file: something happens whenever its bytes are read."""

    def __init__(self, data, happens):
        super().__init__(data)
        self._happens = happens

    def read(self, size=-1):
        self._happens()
        return super().read(size)


def kill_the_nursery():
    os.kill(apart._nursery._process.pid, signal.SIGKILL)
    apart._nursery._process.wait()


def test_a_killed_nursery_is_made_again_also_in_the_middle_of_a_file():
    apart.look(READER, io.BytesIO(SURVEY), None)
    kill_the_nursery()
    assert len(apart.look(READER, io.BytesIO(SURVEY), None).text.survey.xyz) == 400
    with pytest.raises(DesignInputError, match="can't be read as"):
        apart.look(READER, Waits(SURVEY, kill_the_nursery), None)
    assert len(apart.look(READER, io.BytesIO(SURVEY), None).text.survey.xyz) == 400


def test_a_child_opens_nothing():
    subprocess.run([sys.executable, "-c", OPENS_NOTHING], check=True)


def test_what_reading_the_bytes_raises_reaches_whoever_asked_and_the_nursery_lives():
    apart.get_ready()
    nursery = apart._nursery._process.pid
    with pytest.raises(ZeroDivisionError):
        apart.look(READER, Waits(SURVEY, lambda: 1 // 0), None)
    assert len(apart.look(READER, io.BytesIO(SURVEY), None).text.survey.xyz) == 400
    assert apart._nursery._process.pid == nursery
