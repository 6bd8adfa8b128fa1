"""Profiles of files made grade lines: as they are, or fitted within a stated deviation. Nothing is stored."""

import io
from dataclasses import asdict, dataclass, replace
from pathlib import PurePath
from typing import Any

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import check_fields
from delgrun.core.gradeline.around import Around
from delgrun.core.gradeline.edit_kinds import apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip, IpNumber
from delgrun.core.gradeline.many_ips import CurvesByLimits
from delgrun.core.gradeline.profile import as_it_is, in_order, on_road
from delgrun.core.gradeline.profile_fit import fit_profile
from delgrun.core.gradeline.vertical_curve import check_share
from delgrun.exchange import apart
from delgrun.exchange.profiles import FloatArray, Profile
from delgrun.exchange.readers import reader_of
from delgrun.exchange.text_columns import Unit
from delgrun.service.case import Case
from delgrun.service.projects import Projects
from delgrun.service.results import of_road
from delgrun.service.state import MAIN_ROAD

# Vertices of a line in space further beside the road than this do not belong to it. [m]
_BESIDE_M = 100.0


@dataclass(frozen=True, kw_only=True)
class ProfileWish:
    """How a profile is read. `deviation_m`: fitted within it, None: as it is; `which` of several. A drawing's heights
    are `exaggeration` times too large, and its origin is at a chainage and a level. [m] `unit`: of a table, None: as it
    seems to be. `curves`: with curves that follow what the limits ask, as far as there is room.
    """

    road: str = MAIN_ROAD
    which: int | None = None
    deviation_m: float | None = None
    exaggeration: float = 1.0
    origin_chainage_m: float = 0.0
    origin_level_m: float = 0.0
    unit: Unit | None = None
    curves: bool = False


@dataclass(frozen=True)
class ProfileHead:
    """A profile of a file, to choose it by: how many IPs or points it has."""

    name: str
    points: int


@dataclass(frozen=True)
class MadeLine:
    """A line made of a profile: how far it lies from the profile's points, and what was done to it. [m]"""

    name: str
    ips: list[dict[str, Any]]
    deviation_m: float
    said: list[str]


@dataclass(frozen=True)
class ProfilesRead:
    """The profiles of a file, and the line made of one; null where one must be chosen.

    `unit`: what a table's numbers were taken for, and `why`; null where the file says it.
    """

    profiles: list[ProfileHead]
    made: MadeLine | None
    unit: Unit | None
    why: str


def read(projects: Projects, project_id: int, revision: int, name: str, data: bytes, wish: ProfileWish) -> ProfilesRead:
    """Profiles of a file, and a line made of the only one, or of the chosen one."""
    found: list[Profile] = apart.read(reader_of("profile", name, data[:4096]), io.BytesIO(data), wish.unit)
    taken: tuple[Any, str] = found[0].unit, found[0].why
    heads = [ProfileHead(p.name, len(p.ips) or len(_given(p))) for p in found]
    if wish.which is None and len(found) > 1:
        return ProfilesRead(heads, None, *taken)
    if wish.which is not None and wish.which >= len(found):
        raise DesignInputError("which", f"The file holds {len(found)} profiles: choose one of them.")
    state = projects.states.at(project_id, revision)
    case = projects.case(state, road=wish.road)
    made = _made(case, found[wish.which or 0], wish)
    if wish.curves and len(made.ips) > 2:
        made = _curved(made, projects.around(state, wish.road))
    # A table has no name of its own.
    own = PurePath(name).stem if made.name == "table" else made.name
    return ProfilesRead(heads, replace(made, name=own[:60]), *taken)


# So many misfits are named.
_NAMED = 3


def _curved(made: MadeLine, around: Around) -> MadeLine:
    """The line with curves that follow what the limits ask."""
    line = GradeLine.of([Ip(**ip) for ip in made.ips])
    inner = tuple(IpNumber(ip=i) for i in range(1, len(line.ips) - 1))
    curved = apply_edit(line, CurvesByLimits(ips=inner, kind="limits", follow=True), around)
    said = [*curved.said[:_NAMED]]
    if len(curved.said) > _NAMED:
        said.append(f"{len(curved.said) - _NAMED} more curves are shorter than the limits ask.")
    return replace(made, ips=[asdict(ip) for ip in curved.line.ips], said=[*made.said, *said])


def _given(p: Profile) -> FloatArray:
    given = p.points if p.points is not None else p.places
    assert given is not None
    return given


def _made(case: Case, p: Profile, wish: ProfileWish) -> MadeLine:
    stretch = of_road.stretch(case)
    if p.ips:
        for ip in p.ips:
            check_fields(ip)
            check_share(ip.in_share)
        line, said = on_road(GradeLine.of(p.ips), stretch.from_m, stretch.to_m)
        return MadeLine(p.name, [asdict(ip) for ip in line.ips], 0.0, said)
    points = in_order(_points(case, p, wish))
    if wish.deviation_m is None:
        line, deviation = as_it_is(points), 0.0
    else:
        fitted = fit_profile(points[:, 0], points[:, 1], wish.deviation_m)
        line, deviation = fitted.line, fitted.deviation_m
    line, said = on_road(line, stretch.from_m, stretch.to_m)
    return MadeLine(p.name, [asdict(ip) for ip in _rounded(line).ips], deviation, said)


# How far a fitted line may lie from the levels of a line in space. [m]
_IN_SPACE_M = 0.05


def line_in_space(case: Case, xyz: FloatArray) -> GradeLine:
    """A grade line of the levels of a line in space (n, 3), fitted with few IPs and curves. [m]"""
    made = _made(case, Profile("line in space", places=xyz), ProfileWish(deviation_m=_IN_SPACE_M))
    return GradeLine.of([Ip(**ip) for ip in made.ips])


def _rounded(line: GradeLine) -> GradeLine:
    """To the millimetre, where that is possible; the ends keep their chainage."""
    last = len(line.ips) - 1
    ips = [
        replace(
            ip,
            chainage_m=ip.chainage_m if i in (0, last) else round(ip.chainage_m, 3),
            level_m=round(ip.level_m, 3),
            curve_length_m=float(np.floor(ip.curve_length_m * 500) / 500),
        )
        for i, ip in enumerate(line.ips)
    ]
    rounded = GradeLine(tuple(ips))
    return rounded if rounded.conflict() is None else line


def _points(case: Case, p: Profile, wish: ProfileWish) -> FloatArray:
    """(n, 2) chainage and level of a profile's points. [m]"""
    if p.places is None:
        assert p.points is not None
        heights = p.points[:, 1] / wish.exaggeration + wish.origin_level_m
        return np.column_stack([p.points[:, 0] + wish.origin_chainage_m, heights])
    feet = of_road.centreline(case).value.line.nearest(p.places[:, 0], p.places[:, 1])
    # Vertices beyond an end have no chainage of their own.
    near = (np.abs(feet.offset_m) <= _BESIDE_M) & (feet.ahead_m == 0)
    if near.sum() < 2:
        raise DesignInputError(
            "file",
            f"“{p.name}” lies beside the road: fewer than two of its {len(near)} vertices are within "
            "{beside:length} of the centreline.",
            beside=_BESIDE_M,
        )
    points: FloatArray = np.column_stack([feet.chainage_m[near], p.places[near, 2]])
    return points
