"""The centreline: what it is made of before it is stored, how it is saved, and what follows another one."""

import io
from contextlib import suppress
from dataclasses import asdict, replace
from typing import Any

import numpy as np

from delgrun.core.carrying import carried, stands_at_chainages
from delgrun.core.centreline.carry import Carry, Keeps
from delgrun.core.centreline.centreline import Centreline, CentrelineDesign
from delgrun.core.centreline.legs import CentrelineIp, turns_of
from delgrun.core.centreline.room import made_to_fit, plan_remedies
from delgrun.core.centreline.shorten import shortened
from delgrun.core.centreline.speeds import bend_speeds, standard_bend
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import check_fields, made_of
from delgrun.core.ground.along import beside, long_section
from delgrun.core.ground.drawn import outline
from delgrun.core.inputs import CENTRELINE, kind_of_slot
from delgrun.exchange.alignments import Alignment
from delgrun.exchange.readers import reader_of
from delgrun.service import wire
from delgrun.service.errors import NotReady
from delgrun.service.made import Kept, Key
from delgrun.service.projects import Projects, Saving
from delgrun.service.state import ProjectState
from delgrun.service.wire import Json


def from_file(
    projects: Projects, project_id: int, file_name: str, data: bytes, on_grid: bool = False
) -> list[Alignment]:
    """Lines of a file, not stored; those that lie on the grid brought to the ground, with their radii."""
    reader = reader_of("centreline", file_name, data[:4096])
    found: list[Alignment] = []
    for line in reader.read(io.BytesIO(data), None):
        design = CentrelineDesign(start_chainage_m=line.start_chainage_m, ips=line.ips)
        check_fields(design)
        design.check()
        if on_grid:
            design = design.on_ground(projects.states.newest(project_id).coordinates)
        found.append(replace(line, ips=design.ips))
    return found


def draft(projects: Projects, project_id: int, revision: int, row: Json, fit: bool, beside_m: list[float]) -> bytes:
    """What there is to know of a centreline that is not stored: see `web.centrelines`. Where its bends find no room,
    why, and what would mend it; with `fit` they are made as large as there is room for.
    """
    state = projects.states.at(project_id, revision)
    design = made_of(CentrelineDesign, row)
    head: Json = {"problem": None, "remedies": [], "misfits": [], "ips": None, "length_m": None}
    head |= {"elements": [], "bends": []}
    try:
        if fit:
            ips, misfits = made_to_fit(list(design.ips))
            design = replace(design, ips=tuple(ips))
            head |= {"ips": [vars(p) for p in ips], "misfits": [_misfit(m.ip, m.reason) for m in misfits]}
        line = design.made()
    except DesignInputError as e:
        head |= {"problem": {"message": e.message, "field": e.field}, "remedies": _remedies(list(design.ips))}
        return wire.pack(head, {})
    head |= {"length_m": line.length_m, "elements": _elements(line), "bends": _bends(projects, state, line)}
    drawn = outline(line)
    arrays: dict[str, Any] = {"plan_e": drawn[:, 0], "plan_n": drawn[:, 1]}
    if state.surveys:
        tin = projects.case(state).tin.value
        along = long_section(tin, line)
        arrays |= {
            "ground_chainage": along.chainage_m, "ground_level": along.level_m, "ground_gap": along.after_gap,
        }  # fmt: skip
        if beside_m:
            s, levels = beside(tin, line, beside_m)
            arrays |= {"beside_chainage": s, "beside_level": levels.ravel()}
    return wire.pack(head, arrays)


def _misfit(ip: int, reason: str) -> Json:
    return {"ip": ip, "reason": reason}


def _remedies(ips: list[CentrelineIp]) -> list[Json]:
    return [
        {"label": r.label, "changes": [{"at": i, "ip": vars(ip)} for i, ip in r.changes.items()]}
        for r in plan_remedies(ips)
    ]


def _elements(line: Centreline) -> list[Json]:
    """Table of elements; radii positive to the right, 0 where straight."""
    return [
        {
            "kind": e.kind,
            "from_chainage_m": e.from_chainage_m,
            "to_chainage_m": e.to_chainage_m,
            "length_m": e.length_m,
            "radius_m": -1 / e.curvature if e.curvature else 0.0,
            "to_radius_m": -1 / e.to_curvature if e.to_curvature else 0.0,
        }
        for e in line.elements
    ]


def _bends(projects: Projects, state: ProjectState, line: Centreline) -> list[Json]:
    """Table of bends with their speeds."""
    case = projects.case(state)
    speeds = bend_speeds(line.bends, line.ips, case.bend_rules.value, *case.speeds_for(len(line.bends)))
    return [{"bend": asdict(b), "speed": asdict(s)} for b, s in zip(line.bends, speeds, strict=True)]


def usual_bend(projects: Projects, project_id: int, revision: int) -> Json:
    """Radius and transitions that the rules ask for at a right angle and the project's design speed."""
    case = projects.case(projects.states.at(project_id, revision))
    (speed,), road = case.speeds_for(1)
    radius, transition = standard_bend(np.pi / 2, case.bend_rules.value, speed, road)
    return {"radius_m": radius, "transition_m": transition}


def by_standard(projects: Projects, project_id: int, revision: int, row: Json) -> Json:
    """All corners with the bends that the design speed asks for, made smaller where there is no room, and why."""
    case = projects.case(projects.states.at(project_id, revision))
    design = made_of(CentrelineDesign, row)
    ips = list(design.ips)
    (speed,), road = case.speeds_for(1)
    for i, turn in enumerate(turns_of(ips).tolist(), 1):
        # A corner too slight to be one stays as it is.
        if abs(turn) > 1e-6:
            radius, transition = standard_bend(turn, case.bend_rules.value, speed, road)
            ips[i] = replace(ips[i], radius_m=radius, transition_in_m=transition, transition_out_m=transition)
    made, misfits = made_to_fit(ips)
    return {
        "ips": [vars(p) for p in made],
        "misfits": [
            _misfit(m.ip, f"R {m.made.radius_m:g} m instead of {m.wished.radius_m:g}: {m.reason}") for m in misfits
        ],
    }


def save(
    projects: Projects, to: Saving, ips: list[Json], start_m: float, keeps: Keeps = "place"
) -> tuple[int, list[str]]:
    """Check and save the centreline; whatever stands at its chainages follows in the same revision.

    Returns the revision, and what of it fell off an end.
    """
    design = made_of(CentrelineDesign, {"start_chainage_m": start_m, "ips": ips})
    changes, gone = followers(projects, projects.states.at(to.project_id, to.base), design, keeps)
    return projects.save(to, CENTRELINE.label, {CENTRELINE.name: design} | changes), gone


def shorten(projects: Projects, to: Saving) -> tuple[int, list[str]]:
    """Cut off what runs past the ground; chainages stay. Returns the revision, and what fell off an end."""
    state = projects.states.at(to.project_id, to.base)
    road = projects.case(state).stretch
    assert state.centreline is not None
    design = shortened(state.centreline, road.from_m, road.to_m)
    changes, gone = followers(projects, state, design, "chainage")
    return projects.save(to, "Shorten the centreline to its ground", {CENTRELINE.name: design} | changes), gone


def followers(
    projects: Projects, state: ProjectState, design: CentrelineDesign, keeps: Keeps
) -> tuple[dict[str, Any], list[str]]:
    """What changes where a project has another centreline, and what finds no place on it."""
    line = design.made()
    if state.centreline is None:
        return {}, []
    carry = Carry(state.centreline.made(), line, keeps)
    start, end = line.start_chainage_m, line.end_chainage_m
    if state.surveys:
        moved = replace(state, slots=state.slots | {CENTRELINE.name: Kept(design, Key(CENTRELINE.name, design))})
        # Where there is no ground at all it is saved all the same, and said on screen.
        with suppress(NotReady):
            road = projects.case(moved).stretch
            start, end = road.from_m, road.to_m
    changes: dict[str, Any] = {}
    gone: list[str] = []
    for slot, kept in state.slots.items():
        if slot == CENTRELINE.name or not stands_at_chainages(kind_of_slot(slot).cls):
            continue
        follower, fell = carried(kept.value, carry, start, end)
        gone += fell
        if follower != kept.value:
            changes[slot] = follower
    return changes, gone
