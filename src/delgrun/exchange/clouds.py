"""Point clouds: LAS and its compressed form LAZ, by class."""

import io

import laspy
import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.survey.points import MOST_POINTS
from delgrun.exchange.survey_parts import Chosen, Found, Part, PartRole, joined, look_at
from delgrun.exchange.survey_text import SurveyLook, SurveyText

_MOST_READ = 100_000_000
_CHUNK = 1_000_000
_GROUND = 2
# Classes by number: ASPRS, LAS specification 1.4 R15, table 17.
_CLASSES = {
    0: "never classified", 1: "unassigned", 2: "ground", 3: "low vegetation", 4: "medium vegetation",
    5: "high vegetation", 6: "building", 7: "low noise", 8: "model key point", 9: "water", 10: "rail",
    11: "road surface", 17: "bridge deck", 18: "high noise",
}  # fmt: skip


def _found(data: bytes, chosen: Chosen | None) -> list[Found]:
    """Points by class; of classes that are not read only the number, so that a large cloud fits."""
    counts: dict[int, int] = {}
    points: dict[int, list[np.ndarray]] = {}  # type: ignore[type-arg]
    try:
        with laspy.open(io.BytesIO(data)) as file:
            said = int(file.header.point_count)
            if said > _MOST_READ:
                raise DesignInputError("file", f"The cloud says it holds {said} points: cut it down.")
            crs = file.header.parse_crs()
            if crs is not None and crs.is_geographic:
                raise DesignInputError(
                    "file", "This cloud is in degrees: convert it to a projected grid and read that."
                )
            for chunk in file.chunk_iterator(_CHUNK):
                kind = np.asarray(chunk.classification)
                for number, count in zip(*(v.tolist() for v in np.unique(kind, return_counts=True)), strict=True):
                    counts[number] = counts.get(number, 0) + count
                    if _wanted(number, chosen) and counts[number] <= MOST_POINTS:
                        mine = kind == number
                        xyz = [np.asarray(c, dtype=np.float64)[mine] for c in (chunk.x, chunk.y, chunk.z)]
                        points.setdefault(number, []).append(np.column_stack(xyz))
    except (laspy.LaspyException, ValueError, EOFError, RuntimeError) as e:
        raise DesignInputError("file", f"This is no LAS or LAZ file that can be read: {e}.") from e
    held = sum(counts.values())
    if held != said or not held:
        raise DesignInputError(
            "file", f"This is no LAS or LAZ file that can be read: it holds {held} of the {said} points it speaks of."
        )
    ground = _GROUND in counts
    out = []
    for number in sorted(counts):
        role: PartRole = "points" if not ground or number == _GROUND else "ignore"
        part = Part(_name(number), "points", counts[number], role, ("points", "ignore"))
        own = points.get(number, [])
        out.append(Found(part, [np.concatenate(own)] if own else [np.zeros((counts[number], 3))]))
    return out


def _name(number: int) -> str:
    return f"{number} {_CLASSES.get(number, 'class')}"


def _wanted(number: int, chosen: Chosen | None) -> bool:
    return chosen is None or chosen.roles.get(_name(number)) == "points"


def look(data: bytes, chosen: Chosen | None) -> SurveyLook:
    """How a cloud reads: its classes, the ground's if there is one."""
    return look_at(_found(data, chosen), chosen, "metre")


def read(data: bytes, chosen: Chosen | None) -> SurveyText:
    """The points of the chosen classes."""
    return joined(_found(data, chosen), chosen or Chosen({}))
