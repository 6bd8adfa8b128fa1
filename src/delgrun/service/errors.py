"""What a use case may refuse with; the web turns each into one answer."""

import errno

from sqlalchemy.exc import DBAPIError

from delgrun.core.errors import DesignInputError
from delgrun.store.jobs import QueueFull
from delgrun.store.revisions import RevisionConflict, UnknownProject

__all__ = [
    "DesignInputError",
    "NoRoom",
    "NotReady",
    "QueueFull",
    "RevisionConflict",
    "Stopped",
    "UnknownProject",
    "machine_trouble",
]


class NotReady(Exception):
    """A result needs an input that the project does not have yet; `step` names the one to do next."""

    def __init__(self, step: str, message: str) -> None:
        super().__init__(message)
        self.step = step
        self.message = message


class Stopped(Exception):
    """Whoever asked for the work wants no more of it; nothing of it is kept."""

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message


_FULL = "The disk is full: nothing of this change was saved. Make room on it, then do it again."


class NoRoom(Exception):
    """The disk is too full to save anything; a database that runs out of room in the middle ends."""

    def __init__(self) -> None:
        super().__init__(_FULL)
        self.message = _FULL


# MariaDB's numbers for a disk without room (full, no room for a table, write failed, 28 from the engine), and for
# data that may only be read.
_NO_ROOM = (1021, 1026, 1114)
_READ_ONLY = (1036, 1290, 1792)


def machine_trouble(e: Exception) -> str | None:
    """What the machine under the program lacks, in a sentence, where an error says so; None where it is another one."""
    number, words = None, ""
    if isinstance(e, OSError):
        number = {errno.ENOSPC: 1021, errno.EDQUOT: 1021, errno.EROFS: 1290}.get(e.errno or 0)
    elif isinstance(e, DBAPIError) and e.orig is not None and e.orig.args:
        number, words = e.orig.args[0], str(e.orig)
    if number in _NO_ROOM or (number == 1030 and ("28" in words or "122" in words)):
        return _FULL
    if number in _READ_ONLY or (number == 1030 and "30" in words):
        return "The data folder can't be written: nothing of this change was saved. Make it writable, then do it again."
    return None
