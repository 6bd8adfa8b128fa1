"""Surveys from files that know what they hold: each has parts (a layer, a class, a surface), and each part a role."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from delgrun.core.budget import MOST_POINTS
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.outline import RingKind
from delgrun.core.survey.doubts import unlikely
from delgrun.core.survey.points import Survey
from delgrun.exchange.contents import Contents, SurveyParts
from delgrun.exchange.survey_text import PLAIN, Reading, SurveyLook, SurveyText
from delgrun.exchange.text_columns import UNITS, LineError

# What a part is read as: loose points, lines that the surface keeps as edges, triangles with theirs, rings that bound
# it, or not at all.
PartRole = Literal["points", "breaklines", "surface", "boundary", "ignore"]
ROLES: tuple[PartRole, ...] = get_args(PartRole)
_ERRORS_KEPT = 200


@dataclass(frozen=True)
class Part:
    """A part of a file: its name, how many things of which kind it holds, its role and the roles it can have."""

    name: str
    holds: str
    count: int
    role: PartRole
    roles: tuple[PartRole, ...]


@dataclass(frozen=True)
class Chosen:
    """How the parts of a file are read: roles by name, and the unit of its figures."""

    roles: Mapping[str, PartRole]
    unit: str = "metre"


@dataclass
class Found:
    """What a reader finds in one part: points (k, 3), lines as points, triangles (t, 3, 3), rings with what they
    bound as (k, 2) corners; names of the points.
    """

    part: Part
    points: list[NDArray[np.float64]] = field(default_factory=list)
    lines: list[NDArray[np.float64]] = field(default_factory=list)
    faces: list[NDArray[np.float64]] = field(default_factory=list)
    names: list[str] = field(default_factory=list)
    rings: list[tuple[RingKind, NDArray[np.float64]]] = field(default_factory=list)


def look_of(contents: Contents, chosen: Chosen | None) -> SurveyLook:
    """How a file reads, part by part."""
    parts = _survey_of(contents, PLAIN)
    return replace(look_at(parts.found, chosen, parts.unit, parts.doubts), said=parts.said)


def read_of(contents: Contents, chosen: Chosen | None, how: Reading = PLAIN) -> SurveyText:
    """The survey of the chosen parts."""
    parts = _survey_of(contents, how)
    return replace(joined(parts.found, chosen or Chosen({}, parts.unit), how.most), said=parts.said)


def _survey_of(contents: Contents, how: Reading) -> SurveyParts:
    assert contents.survey is not None
    return contents.survey(how)


def look_at(found: Sequence[Found], chosen: Chosen | None, unit: str, doubts: Sequence[str] = ()) -> SurveyLook:
    """How a file with these parts reads, under what was chosen or under what its parts suggest."""
    options = chosen or Chosen({f.part.name: f.part.role for f in found}, unit)
    parts = [
        Part(f.part.name, f.part.holds, f.part.count, options.roles.get(f.part.name, f.part.role), f.part.roles)
        for f in found
    ]
    look = SurveyLook(None, [], [], 0, None, None, parts, options.unit, list(doubts))
    try:
        return SurveyLook(**{**vars(look), "text": joined(found, options)})
    except DesignInputError as e:
        return SurveyLook(**{**vars(look), "problem": e.message})


def joined(found: Sequence[Found], options: Chosen, most: int = MOST_POINTS) -> SurveyText:
    """The survey that the chosen parts make; of more points than can be one ground model the codes are left away.

    Raises
    ------
    DesignInputError
        Nothing is chosen, or far too many points.
    """
    unit = UNITS[options.unit]
    xyz: list[NDArray[np.float64]] = []
    lines: list[NDArray[np.int64]] = []
    names: list[NDArray[np.str_]] = []
    codes: list[tuple[str, int]] = []
    count = 0

    def put(points: NDArray[np.float64], code: str, own: Sequence[str] = ()) -> int:
        nonlocal count
        first = count
        xyz.append(points.reshape(-1, 3))
        names.append(np.array(own, dtype=np.str_) if own else np.zeros(len(points), dtype="U1"))
        codes.append((code[:60], len(points)))
        count += len(points)
        return first

    for f in found:
        role = options.roles.get(f.part.name, f.part.role)
        if role == "ignore":
            continue
        for points in f.points:
            put(points, f.part.name, f.names if len(f.points) == 1 and len(f.names) == len(points) else ())
        for line in f.lines:
            first = put(line, f.part.name)
            if role == "breaklines":
                lines.append(np.arange(first, count))
        for faces in f.faces:
            corner, number = np.unique(faces.reshape(-1, 3), axis=0, return_inverse=True)
            first = put(corner, f.part.name)
            if role == "surface":
                lines += list(first + _own_edges(corner, number.reshape(-1, 3)))
    if not count:
        raise DesignInputError("roles", "No part of the file is read: choose one.")
    if count > most:
        raise DesignInputError(
            "roles",
            f"These parts hold {count} points or more, and {most} at most can be read at once: choose fewer parts, "
            "only what lies near the centreline, or thin them.",
        )
    found_xyz = np.concatenate(xyz) * unit
    bounding = [f for f in found if options.roles.get(f.part.name, f.part.role) == "boundary"]
    rings = [(kind, plan * unit) for f in bounding for kind, plan in f.rings]
    if count > MOST_POINTS:
        return replace(_checked(Survey(found_xyz, lines), codes), rings=rings)
    each = np.concatenate([np.full(number, code) for code, number in codes])
    return replace(_checked(Survey(found_xyz, lines, np.concatenate(names), each), codes), rings=rings)


def _own_edges(corner: NDArray[np.float64], triangles: NDArray[np.int64]) -> NDArray[np.int64]:
    """(k, 2) edges of given triangles that triangulating their points alone would not give: those must be asked for.

    A surface that is Delaunay's anyway has none, and no map is hidden under its edges.
    """
    # Slow to import, and wanted for this alone.
    from scipy.spatial import Delaunay, QhullError

    def sides(of: NDArray[np.int64]) -> NDArray[np.int64]:
        pairs = np.sort(np.concatenate([of[:, [0, 1]], of[:, [1, 2]], of[:, [2, 0]]]).astype(np.int64), axis=1)
        return np.unique(pairs[:, 0] * len(corner) + pairs[:, 1])

    own = sides(triangles)
    try:
        plan = corner[:, :2] - corner[:, :2].min(axis=0)
        own = np.setdiff1d(own, sides(Delaunay(plan).simplices.astype(np.int64)), assume_unique=True)
    except (QhullError, ValueError):
        # All on one line, or no places at all: whatever is wrong is told where the ground is built.
        pass
    return np.column_stack(np.divmod(own, len(corner)))


def _checked(survey: Survey, codes: list[tuple[str, int]]) -> SurveyText:
    """The survey without what can't be a point; a line loses such a point and goes on."""
    xyz = survey.xyz
    bad: dict[int, str] = {}
    for column, role in enumerate(("easting", "northing", "level")):
        values = xyz[:, column]
        odd = ~np.isfinite(values) | (np.abs(values) > 12_000 if role == "level" else np.abs(values) > 1e8)
        if role == "level":
            odd |= np.isin(values, (-9999.0, -99999.0, -32768.0))
        for i in np.flatnonzero(odd).tolist():
            why = unlikely(role, float(values[i])) if np.isfinite(values[i]) else "is not a number"
            bad.setdefault(i, f"Point {i + 1}: {role} {why or f'{values[i]:g} m is no level on Earth'}.")
    errors = [LineError(i + 1, "point", "", why) for i, why in list(bad.items())[:_ERRORS_KEPT]]
    kept = np.ones(len(xyz), dtype=bool)
    kept[list(bad)] = False
    usual: Counter[str] = Counter()
    for code, number in codes:
        usual[code] += number
    if bad:
        number_of = np.where(kept, np.cumsum(kept) - 1, -1)
        rest = [number_of[line][number_of[line] >= 0] for line in survey.breaklines]
        survey = replace(survey.only(kept), breaklines=[r for r in rest if len(r) > 1])
    else:
        survey = replace(survey, breaklines=[line for line in survey.breaklines if len(line) > 1])
    return SurveyText(survey, errors, len(bad), usual.most_common(50), np.flatnonzero(kept) + 1, 0, "Point")
