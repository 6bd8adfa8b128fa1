"""The centreline: what it is made of before it is stored, how it is saved, and what follows another one."""

import io
import time
from contextlib import suppress
from dataclasses import replace
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.carrying import carried, stands_at_chainages
from delgrun.core.centreline.carry import Carry, Keeps
from delgrun.core.centreline.centreline import MAIN_NAME, CentrelineDesign
from delgrun.core.centreline.fitting import fit_line
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.shorten import shortened
from delgrun.core.centreline.stations import Equation, Equations
from delgrun.core.controls.junction import check_on
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import check_fields, made_of
from delgrun.core.inputs import CENTRELINE, EQUATIONS, NOTES, kind_of_slot
from delgrun.core.notes.notes import Notes
from delgrun.core.units import say
from delgrun.exchange import apart
from delgrun.exchange.alignments import Alignment
from delgrun.exchange.polylines import Polyline
from delgrun.exchange.readers import reader_of
from delgrun.service import lines, profiles, wire
from delgrun.service.errors import NotReady
from delgrun.service.projects import Projects, Saving
from delgrun.service.results import of_design, of_road
from delgrun.service.state import MAIN_ROAD, ProjectState
from delgrun.service.wire import Json

FloatArray = NDArray[np.float64]

# What a fit may take: roads of 10 km with a point each 5 m take 5 s.
_FIT_S, _FIT_EACH_S = 6.0, 0.01
# A line in space with more vertices goes on without its levels.
MOST_IN_SPACE = 20_000
# More vertices than these are points on a line, and no corners of it.
_MOST_VERTICES = 60


def from_file(
    projects: Projects, project_id: int, file_name: str, data: bytes, on_grid: bool = False
) -> list[Alignment]:
    """Lines of a file, not stored; those that lie on the grid brought to the ground, with their radii."""
    reader = reader_of("centreline", file_name, data[:4096])
    found: list[Alignment] = []
    for line in apart.read(reader, io.BytesIO(data)):
        design = CentrelineDesign(start_chainage_m=line.start_chainage_m, ips=line.ips)
        check_fields(design)
        design.check()
        if on_grid:
            design = design.on_ground(projects.states.newest(project_id).coordinates)
        found.append(replace(line, ips=design.ips))
    return found


def fit(
    projects: Projects, project_id: int, file_name: str, data: bytes, which: int | None, on_grid: bool = False
) -> Json:
    """A centreline fitted to a line of a file, not stored: to the only one, or the one chosen of several.

    With the vertices as IPs, where they are few: a line drawn by its corners is meant so, and need not be fitted.
    """
    found: list[Polyline] = apart.read(reader_of("polyline", file_name, data[:4096]), io.BytesIO(data))
    heads = [{"name": x.name, "points": len(x.plan), "length_m": x.length_m} for x in found]
    if which is None and len(found) > 1:
        return {"lines": heads, "fitted": None, "vertices": [], "refused": "", "space": []}
    if which is not None and which >= len(found):
        raise DesignInputError("which", f"The file holds {len(found)} lines: choose one of them.")
    chosen = found[which or 0]
    plan = projects.states.newest(project_id).coordinates.on_ground(chosen.plan) if on_grid else chosen.plan
    vertices = [vars(p) for p in _as_ips(plan)]
    space: list[list[float]] = []
    if chosen.level is not None and len(plan) <= MOST_IN_SPACE:
        space = np.column_stack([plan, chosen.level]).round(4).tolist()
    try:
        fitted = _fitted(plan, chosen.name)
    except DesignInputError as e:
        if not vertices:
            raise
        return {"lines": heads, "fitted": None, "vertices": vertices, "refused": e.message, "space": space}
    return {"lines": heads, "fitted": fitted, "vertices": vertices, "refused": "", "space": space}


def _as_ips(plan: FloatArray) -> list[CentrelineIp]:
    """The vertices of a line themselves as IPs, without bends; none where there are far too many to be meant so."""
    if len(plan) > _MOST_VERTICES:
        return []
    return [CentrelineIp(easting_m=round(e, 3), northing_m=round(n, 3)) for e, n in plan.tolist()]


def _fitted(plan: FloatArray, name: str) -> Json:
    # A processor's time, so that a busy machine refuses no road that a quiet one takes.
    until = time.thread_time() + _FIT_S + _FIT_EACH_S * len(plan)
    made = fit_line(plan, stop=lambda: time.thread_time() > until)
    design = CentrelineDesign(ips=tuple(made.ips))
    check_fields(design)
    design.check()
    told = {"noise_m": made.noise_m, "rms_m": made.rms_m, "deviation_m": made.deviation_m, "points": len(plan)}
    return {"name": name, "ips": [vars(p) for p in made.ips], **told}


def save(
    projects: Projects,
    to: Saving,
    row: Json,
    keeps: Keeps = "place",
    road: str | None = MAIN_ROAD,
    equations: list[tuple[float, float]] | None = None,
    space: list[list[float]] | None = None,
) -> tuple[int, str, list[str]]:
    """Check and save a centreline; whatever stands at its chainages follows in the same revision.

    `space` (n, 3): a line in space that it was made of, whose levels become a grade line over it, in the same revision.

    `row` holds its start and IPs, and what else is to change of it; without a slot (`road`) it is a further one.
    `equations` are its chainage equations where they change: where, and what is written on from there.
    Returns the revision, the centreline's slot, and what of its followers fell off an end.
    """
    state = projects.states.at(to.project_id, to.base)
    if road is None:
        road = next_road(state)
    before = state.roads.get(road)
    known = {"name": _name_of(road)} if before is None else wire.input_json(before.value) or {}
    design = made_of(CentrelineDesign, known | row)
    design.check()
    _check_junctions(projects, state, road, design)
    changes, gone = followers(projects, state, design, keeps, road)
    if equations is not None:
        # Those that follow go on, and these are the road's own.
        others = [row for row in state.get(EQUATIONS).rows if row.road != road]
        own = [Equation(at_m=at, ahead_m=ahead, road=road) for at, ahead in equations]
        changes[EQUATIONS.name] = Equations(rows=(*others, *own))
    if space:
        moved = state.changed({road: design})
        line = profiles.line_in_space(projects.case(moved, road=road), np.array(space, dtype=np.float64))
        changes |= dict([lines.design_of(state, "from the line in space", line, road)])
    label = CENTRELINE.label if len(state.roads) < 2 and road == MAIN_ROAD else f"{CENTRELINE.label} of “{design.name}”"
    return projects.save(to, label, {road: design} | changes), road, gone


def next_road(state: ProjectState) -> str:
    """The slot of a further centreline."""
    if not state.roads:
        return MAIN_ROAD
    return f"{CENTRELINE.name}-{max(int(s.partition('-')[2] or 1) for s in state.roads) + 1}"


def _name_of(road: str) -> str:
    return MAIN_NAME if road == MAIN_ROAD else f"road {road.partition('-')[2]}"


_Meeting = tuple[Literal["start", "end"], str, CentrelineIp]


def _meetings(design: CentrelineDesign) -> list[_Meeting]:
    """Ends that are to meet another road: which, the slot of its grade line, and the IP there."""
    ends: list[_Meeting] = [("start", design.start_meets, design.ips[0]), ("end", design.end_meets, design.ips[-1])]
    return [end for end in ends if end[1]]


def _check_junctions(projects: Projects, state: ProjectState, road: str, design: CentrelineDesign) -> None:
    """Raise where an end is to meet a line that is not there, or a road that it does not lie on."""
    for end, slot, _ in _meetings(design):
        met = state.lines.get(slot)
        if met is None or met.road == road or met.road not in state.roads:
            raise DesignInputError(f"{end}_meets", f"The line's {end} can meet a grade line of another road only.")
    unmet = unmet_junction(projects, state, design)
    if unmet is not None:
        raise unmet


def unmet_junction(projects: Projects, state: ProjectState, design: CentrelineDesign) -> DesignInputError | None:
    """Why an end does not lie on the road that it is to meet; None where all do."""
    for end, slot, ip in _meetings(design):
        met = state.lines.get(slot)
        if met is not None and met.road in state.roads:
            other = state.roads[met.road].value
            typical = of_design.design(projects.case(state, road=met.road)).value
            try:
                check_on(other.made(), other.name, typical, end, ip.easting_m, ip.northing_m)
            except DesignInputError as e:
                return e
    return None


def put_on_roads(state: ProjectState, design: CentrelineDesign) -> list[Json]:
    """Ends moved onto the centrelines of the roads that they are to meet, each with what its button says."""
    out = []
    for end, slot, ip in _meetings(design):
        met = state.lines.get(slot)
        if met is None or met.road not in state.roads:
            continue
        other = state.roads[met.road].value
        line = other.made().line
        s = line.nearest(np.array([ip.easting_m]), np.array([ip.northing_m])).chainage_m
        at = line.at(s)
        moved = replace(ip, easting_m=round(float(at.easting_m[0]), 3), northing_m=round(float(at.northing_m[0]), 3))
        if moved != ip:
            label = say(f"Put the {end} on “{{name}}” at {{s:chainage}}", name=other.name, s=float(s[0]))
            where = 0 if end == "start" else len(design.ips) - 1
            out.append({"label": label, "changes": [{"at": where, "ip": vars(moved)}]})
    return out


def remove(projects: Projects, to: Saving, road: str) -> int:
    """Take a road away with all that stands on it; the main road stays."""
    state = projects.states.at(to.project_id, to.base)
    if road == MAIN_ROAD or road not in state.roads:
        raise DesignInputError("road", "Only a road beside the main one can be taken away.")
    gone: dict[str, Any] = dict.fromkeys([road, *state.lines_of(road)])
    notes: Notes | None = state.get(NOTES)
    if notes is not None:
        gone[NOTES.name] = replace(notes, rows=tuple(note for note in notes.rows if note.road != road))
    equations: Equations = state.get(EQUATIONS)
    if equations.rows:
        gone[EQUATIONS.name] = replace(equations, rows=tuple(row for row in equations.rows if row.road != road))
    return projects.save(to, f"Delete “{state.roads[road].value.name}”", gone)


def shorten(projects: Projects, to: Saving, road: str = MAIN_ROAD) -> tuple[int, list[str]]:
    """Cut off what runs past the ground; chainages stay. Returns the revision, and what fell off an end."""
    state = projects.states.at(to.project_id, to.base)
    stretch = of_road.stretch(projects.case(state, road=road))
    design = shortened(state.roads[road].value, stretch.from_m, stretch.to_m)
    changes, gone = followers(projects, state, design, "chainage", road)
    return projects.save(to, "Shorten the centreline to its ground", {road: design} | changes), gone


def followers(
    projects: Projects, state: ProjectState, design: CentrelineDesign, keeps: Keeps, road: str
) -> tuple[dict[str, Any], list[str]]:
    """What changes where a road has another centreline, and what finds no place on it."""
    line = design.made()
    before = state.roads.get(road)
    if before is None:
        return {}, []
    carry = Carry(before.value.made(), line, keeps)
    start, end = line.start_chainage_m, line.end_chainage_m
    if state.surveys:
        moved = state.changed({road: design})
        # Where there is no ground at all it is saved all the same, and said on screen.
        with suppress(NotReady):
            stretch = of_road.stretch(projects.case(moved, road=road))
            start, end = stretch.from_m, stretch.to_m
    changes: dict[str, Any] = {}
    gone: list[str] = []
    for slot, kept in state.slots.items():
        if kind_of_slot(slot) is CENTRELINE or not stands_at_chainages(kind_of_slot(slot).cls):
            continue
        follower, fell = carried(kept.value, carry, start, end, road)
        gone += fell
        if follower != kept.value:
            changes[slot] = follower
    return changes, gone
