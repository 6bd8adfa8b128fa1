"""Uploaded files, piece by piece, as they came."""

import hashlib
import io
from collections import OrderedDict
from dataclasses import dataclass
from datetime import timedelta

import sqlalchemy as sa
import zstandard
from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session

from delgrun.core.files import SizedFile
from delgrun.store import models as m
from delgrun.store import points_blob as blob
from delgrun.store.database import Database
from delgrun.store.jobs import LIVE
from delgrun.store.revisions import now

# Each piece but the last has this size. [bytes]
PIECE_BYTES = blob.CHUNK_BYTES
# What nobody has made a survey from stays so long; a page that was left can go on within it.
_KEPT_FOR = timedelta(days=1)
_PIECES_AT_HAND = 4


class UnknownUpload(Exception):
    """There is no such upload in the project."""


class StillComing(Exception):
    """A piece of an upload is read that has not come yet. No reader takes this for a fault of the file."""


@dataclass(frozen=True)
class UploadRow:
    """An upload: what it is to be, and how much of it is there. [bytes]"""

    id: int
    file_name: str
    size: int
    received: int

    @property
    def whole(self) -> bool:
        return self.received == self.size

    @property
    def pieces(self) -> int:
        """How many pieces it comes in."""
        return -(-self.size // PIECE_BYTES)

    def size_of(self, number: int) -> int:
        """What a piece is to hold. [bytes]"""
        return min(PIECE_BYTES, self.size - number * PIECE_BYTES)


def begin(session: Session, project_id: int, file_name: str, size: int) -> int:
    """Begin an upload; returns its number. Old ones of the project that nothing came of are dropped."""
    for old in session.scalars(_idle(project_id)).all():
        session.execute(sa.delete(m.UploadPiece).where(m.UploadPiece.upload_id == old))
        session.execute(sa.delete(m.Upload).where(m.Upload.id == old))
    upload = m.Upload(project_id=project_id, file_name=file_name[:200], size=size, made_at=now())
    session.add(upload)
    session.flush()
    return upload.id


def _idle(project_id: int) -> sa.Select[int]:
    """Uploads of a project that no survey was made from, some time ago, and no job is at work on."""
    head, _ = m.TABLES["survey"]
    busy = select(m.Job.id).where(m.Job.project_id == project_id, m.Job.kind == "import", m.Job.status.in_(LIVE))
    used = select(head.c.upload_id).where(head.c.upload_id.is_not(None))
    old = m.Upload.made_at < now() - _KEPT_FOR
    mine = m.Upload.project_id == project_id
    return select(m.Upload.id).where(mine, old, m.Upload.id.not_in(used), ~busy.exists())


def get(session: Session, project_id: int, upload_id: int) -> UploadRow:
    """One upload of a project; raises UnknownUpload."""
    found = session.get(m.Upload, upload_id)
    if found is None or found.project_id != project_id:
        raise UnknownUpload(upload_id)
    there = select(func.sum(m.UploadPiece.size)).where(m.UploadPiece.upload_id == upload_id)
    return UploadRow(found.id, found.file_name, found.size, int(session.scalar(there) or 0))


def put(session: Session, upload_id: int, number: int, data: bytes) -> bool:
    """Keep a piece; one that comes again, since its answer was lost, is kept once. False: another is there already.

    What is there is never replaced: it may have been looked at, or read.
    """
    packed = zstandard.compress(data, 1)
    values = {"upload_id": upload_id, "number": number, "size": len(data), "sha256": blob.checksum(packed)}
    added = session.execute(insert(m.UploadPiece).values(**values, data=packed).prefix_with("IGNORE"))
    return bool(added.rowcount) or piece(session, upload_id, number) == data  # type: ignore[attr-defined]


def piece(session: Session, upload_id: int, number: int) -> bytes | None:
    """A piece as it came; None where it is not there yet.

    Raises
    ------
    ValueError
        It does not match its checksum.
    """
    found = session.execute(
        select(m.UploadPiece.data, m.UploadPiece.sha256).where(
            m.UploadPiece.upload_id == upload_id, m.UploadPiece.number == number
        )
    ).one_or_none()
    if found is None:
        return None
    if blob.checksum(found[0]) != found[1]:
        raise ValueError(f"piece {number} of upload {upload_id} does not match its checksum")
    return zstandard.decompress(found[0])


class UploadedFile(SizedFile):
    """An upload as a file: pieces are read when they are wanted, so that a large one never stands in memory whole."""

    def __init__(self, database: Database, upload: UploadRow) -> None:
        super().__init__(upload.size)
        self._database, self._upload = database, upload
        self._kept: OrderedDict[int, bytes] = OrderedDict()
        # Of the pieces from the first on, as far as they were read.
        self._hash, self._hashed = hashlib.sha256(), 0

    def sha256(self) -> str:
        """Checksum of the whole file."""
        for number in range(self._hashed, self._upload.pieces):
            self._piece(number)
        return self._hash.hexdigest()

    def readinto(self, into: "bytearray | memoryview[int]") -> int:  # type: ignore[override]
        number, within = divmod(self.at, PIECE_BYTES)
        if self.at >= self.size:
            return 0
        part = self._piece(number)[within : within + len(into)]
        into[: len(part)] = part
        self.at += len(part)
        return len(part)

    def _piece(self, number: int) -> bytes:
        if number not in self._kept:
            with self._database.session() as session:
                data = piece(session, self._upload.id, number)
            if data is None:
                raise StillComing(f"piece {number} of “{self._upload.file_name}” has not come")
            self._kept[number] = data
            if number == self._hashed:
                self._hash.update(data)
                self._hashed += 1
            while len(self._kept) > _PIECES_AT_HAND:
                self._kept.popitem(last=False)
        self._kept.move_to_end(number)
        return self._kept[number]


def buffered(file: UploadedFile) -> io.BufferedReader:
    """An upload to be read from its start by small bites."""
    return io.BufferedReader(file, buffer_size=PIECE_BYTES)
