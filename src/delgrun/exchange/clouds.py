"""Point clouds: LAS and its compressed form LAZ, by class."""

import struct
from collections.abc import Iterator
from dataclasses import replace
from typing import Any, BinaryIO

import laspy
import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.exchange.crs import Said, said
from delgrun.exchange.survey_parts import Chosen, Found, Part, PartRole, joined, look_at
from delgrun.exchange.survey_text import PLAIN, Reading, SurveyLook, SurveyText

_MOST_READ = 100_000_000
_CHUNK = 1_000_000
# Of a large cloud so many runs of so many points are looked at.
_SAMPLES, _SAMPLE = 20, 20_000
_GROUND = 2
# Classes by number: ASPRS, LAS specification 1.4 R15, table 17.
_CLASSES = {
    0: "never classified", 1: "unassigned", 2: "ground", 3: "low vegetation", 4: "medium vegetation",
    5: "high vegetation", 6: "building", 7: "low noise", 8: "model key point", 9: "water", 10: "rail",
    11: "road surface", 17: "bridge deck", 18: "high noise",
}  # fmt: skip


def _found(
    file: BinaryIO, chosen: Chosen | None, how: Reading, sampled: bool = False
) -> tuple[list[Found], float, Said]:
    """Points by class, of a sample or of all; of classes that are not read only the number, so that a large cloud fits.

    With the share of the points that was read, and what the file says of its coordinates.
    """
    counts: dict[int, int] = {}
    points: dict[int, list[np.ndarray]] = {}  # type: ignore[type-arg]
    held = 0
    try:
        with laspy.open(file, closefd=False) as cloud:
            whole = int(cloud.header.point_count)
            if whole > _MOST_READ:
                raise DesignInputError("file", f"The cloud says it holds {whole} points: cut it down.")
            _check_length(file, cloud.header, whole)
            of = said(cloud.header.parse_crs())
            if of.degrees:
                raise DesignInputError(
                    "file", "This cloud is in degrees: convert it to a projected grid and read that."
                )
            for chunk in _samples(cloud, whole) if sampled else cloud.chunk_iterator(_CHUNK):
                held += len(chunk)
                kind = np.asarray(chunk.classification)
                for number, count in zip(*(v.tolist() for v in np.unique(kind, return_counts=True)), strict=True):
                    counts[number] = counts.get(number, 0) + count
                    own = points.setdefault(number, [])
                    if _wanted(number, chosen) and sum(map(len, own)) <= how.most:
                        mine = kind == number
                        xyz = np.column_stack(
                            [np.asarray(c, dtype=np.float64)[mine] for c in (chunk.x, chunk.y, chunk.z)]
                        )
                        own.append(xyz if how.wanted is None else xyz[how.wanted(xyz)])
                how.say(held / max(whole, 1), sum(len(p) for own in points.values() for p in own))
    except (laspy.LaspyException, ValueError, EOFError, RuntimeError) as e:
        raise DesignInputError("file", f"This is no LAS or LAZ file that can be read: {e}.") from e
    if (held != whole and not sampled) or not held:
        raise DesignInputError(
            "file", f"This is no LAS or LAZ file that can be read: it holds {held} of the {whole} points it speaks of."
        )
    share = held / whole
    ground = _GROUND in counts
    out = []
    for number in sorted(counts):
        role: PartRole = "points" if not ground or number == _GROUND else "ignore"
        part = Part(_name(number), "points", round(counts[number] / share), role, ("points", "ignore"))
        out.append(Found(part, [np.concatenate([np.zeros((0, 3)), *points[number]])]))
    return out, share, of


def _check_length(file: BinaryIO, header: Any, count: int) -> None:
    """Raise where an uncompressed cloud speaks of more points than there are bytes for."""
    at = file.tell()
    size = file.seek(0, 2)
    file.seek(at)
    needed = header.offset_to_point_data + count * header.point_format.size
    if not header.are_points_compressed and needed > size:
        raise DesignInputError(
            "file",
            f"This is no LAS or LAZ file that can be read: it speaks of {count} points and ends before them. It was "
            "cut off on its way, or is damaged: fetch it again.",
        )


def _samples(cloud: laspy.LasReader, count: int) -> Iterator[laspy.ScaleAwarePointRecord]:
    """Runs of points from all over a cloud."""
    for k in range(_SAMPLES):
        cloud.seek(k * (count - _SAMPLE) // (_SAMPLES - 1))
        yield cloud.read_points(_SAMPLE)


def _name(number: int) -> str:
    return f"{number} {_CLASSES.get(number, 'class')}"


def _wanted(number: int, chosen: Chosen | None) -> bool:
    return chosen is None or chosen.roles.get(_name(number)) == "points"


def look(file: BinaryIO, chosen: Chosen | None) -> SurveyLook:
    """How a cloud reads: its classes, the ground's if there is one. Of a large one a sample is looked at."""
    found, share, of = _found(file, chosen, PLAIN, sampled=_large(file))
    return replace(look_at(found, chosen, of.unit), share=share, said=of)


def read(file: BinaryIO, chosen: Chosen | None, how: Reading = PLAIN) -> SurveyText:
    """The points of the chosen classes."""
    found, _, of = _found(file, chosen, how)
    return replace(joined(found, chosen or Chosen({}, of.unit), how.most), said=of)


def _large(file: BinaryIO) -> bool:
    """Whether a cloud holds more points than are looked at; the file stands at its start again."""
    try:
        with laspy.open(file, closefd=False) as cloud:
            count = int(cloud.header.point_count)
    except (laspy.LaspyException, ValueError, EOFError, RuntimeError, struct.error) as e:
        raise DesignInputError("file", f"This is no LAS or LAZ file that can be read: {e}.") from e
    finally:
        file.seek(0)
    return count > 2 * _SAMPLE * _SAMPLES
