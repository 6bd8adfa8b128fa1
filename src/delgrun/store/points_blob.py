"""Points as compressed columns: whole millimetres where that is exact, else doubles."""

import hashlib

import numpy as np
import zstandard
from numpy.typing import NDArray

CHUNK_POINTS = 50_000
# The driver sends bytes as hex, so a blob stays far below half the packet limit.
CHUNK_BYTES = 4_000_000


def pack_columns(values: NDArray[np.float64]) -> bytes:
    """(n, k) numbers to bytes; the first byte says how."""
    with np.errstate(over="ignore"):
        mm = np.round(values * 1000)
    exact = bool((np.abs(mm) < 2**53).all()) and bool((mm / 1000 == values).all())
    raw = np.ascontiguousarray((mm.astype(np.int64) if exact else values).T)
    shuffled = raw.view(np.uint8).reshape(-1, 8).T.copy().tobytes()
    head: bytes = (b"m" if exact else b"d") + values.shape[1].to_bytes(1, "big")
    body: bytes = zstandard.compress(shuffled, 6)
    return head + body


def unpack_columns(data: bytes) -> NDArray[np.float64]:
    """The (n, k) numbers that `pack_columns` was given."""
    columns = data[1]
    shuffled = np.frombuffer(zstandard.decompress(data[2:]), dtype=np.uint8)
    raw = np.ascontiguousarray(shuffled.reshape(8, -1).T)
    if data[:1] == b"m":
        return np.ascontiguousarray(raw.view(np.int64).reshape(columns, -1).T / 1000)
    return np.ascontiguousarray(raw.view(np.float64).reshape(columns, -1).T)


def pack_bytes(data: bytes) -> list[bytes]:
    """Compressed pieces of any bytes; at least one."""
    return [zstandard.compress(data[i : i + CHUNK_BYTES], 6) for i in range(0, max(len(data), 1), CHUNK_BYTES)]


def unpack_bytes(pieces: list[bytes]) -> bytes:
    return b"".join(zstandard.decompress(p) for p in pieces)


def text_bytes(texts: NDArray[np.str_]) -> bytes:
    """(n,) texts as their type, a line end, and four bytes a character."""
    own = texts.astype(texts.dtype.newbyteorder("<"))
    return own.dtype.str.encode() + b"\n" + own.tobytes()


def texts_of(data: bytes) -> NDArray[np.str_]:
    """The texts that `text_bytes` was given."""
    kind, _, body = data.partition(b"\n")
    return np.frombuffer(body, dtype=kind.decode()).astype(np.str_)


def checksum(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()
