"""The centreline: what it is made of before it is stored, and what follows it when it is another one."""

from contextlib import suppress
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from delgrun.core.carrying import carried, stands_at_chainages
from delgrun.core.centreline.carry import Carry, Keeps
from delgrun.core.centreline.centreline import CentrelineDesign
from delgrun.core.fields import made_of
from delgrun.core.ground.drawn import outline
from delgrun.core.inputs import CENTRELINE, kind_of_slot
from delgrun.service.errors import NotReady
from delgrun.service.made import Kept, Key
from delgrun.service.state import ProjectState
from delgrun.service.wire import Json

if TYPE_CHECKING:
    from delgrun.service.projects import Projects


def elements(ips: list[Json], start_m: float) -> Json:
    """Table of the elements of a centreline that is not stored, and how it lies; radii positive to the right."""
    line = made_of(CentrelineDesign, {"start_chainage_m": start_m, "ips": ips}).made()
    rows = [
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
    return {"length_m": line.length_m, "elements": rows, "plan": outline(line).round(3).tolist()}


def followers(
    projects: "Projects", state: ProjectState, design: CentrelineDesign, keeps: Keeps
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
