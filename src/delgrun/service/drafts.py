"""A centreline that is typed, drawn or dragged and not stored: what it would be, what is wrong, what is advised."""

from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np

from delgrun.core.carrying import carried
from delgrun.core.centreline.bends import Bend
from delgrun.core.centreline.carry import Carry, Keeps
from delgrun.core.centreline.centreline import Centreline, CentrelineDesign
from delgrun.core.centreline.legs import CentrelineIp, turns_of
from delgrun.core.centreline.room import Misfit, made_to_fit, plan_remedies
from delgrun.core.centreline.speeds import BendSpeed, bend_speeds, marks, standard_bend
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import made_of
from delgrun.core.ground.along import beside, long_section, stretch_with_ground
from delgrun.core.ground.drawn import drawn
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import all_uses
from delgrun.core.limits.checks.coordination import COORDINATION
from delgrun.core.units import say
from delgrun.service import wire
from delgrun.service.case import Case
from delgrun.service.centrelines import put_on_roads, unmet_junction
from delgrun.service.check_figures import failing, worst_first
from delgrun.service.projects import Projects
from delgrun.service.results import of_design, of_ground, of_limits, of_road
from delgrun.service.results.of_limits import as_checked
from delgrun.service.wire import Json

Arrays = dict[str, Any]

# The grade line that follows is drawn by levels so far apart. [m]
_LEVELS_M = 10.0


@dataclass(frozen=True, kw_only=True)
class DraftWish:
    """What is wanted of a draft.

    `fit`: bends are made as large as there is room for. `beside_m`: offsets at which the ground is wanted too. `line`:
    slot of the grade line that goes along, keeping `keeps`.
    """

    fit: bool = False
    beside_m: tuple[float, ...] = ()
    line: str = ""
    keeps: Keeps = "place"


def draft(projects: Projects, project_id: int, revision: int, row: Json, wish: DraftWish) -> bytes:
    """What there is to know of a centreline that is not stored: see `web.plan_outputs`. Where its bends find no room,
    why, and what would mend it.
    """
    state = projects.states.at(project_id, revision)
    case = projects.case(state)
    design = made_of(CentrelineDesign, row)
    head: Json = {
        "problem": None, "remedies": [], "misfits": [], "ips": None, "length_m": None, "bends": [], "advice": [],
    }  # fmt: skip
    try:
        if wish.fit:
            ips, misfits = made_to_fit(list(design.ips))
            design = replace(design, ips=tuple(ips))
            head |= {"ips": [vars(p) for p in ips], "misfits": [_misfit(m.ip, m.reason) for m in misfits]}
        line = design.made()
    except DesignInputError as e:
        head |= {"problem": {"message": e.message, "field": e.field}, "remedies": _remedies(list(design.ips))}
        return wire.pack(head, {})
    unmet = unmet_junction(projects, state, design)
    if unmet is not None:
        head |= {"problem": {"message": unmet.message, "field": unmet.field}, "remedies": put_on_roads(state, design)}
    head["length_m"] = line.length_m
    speeds = _speeds(case, line)
    head["bends"] = _bends(line.bends, speeds)
    points, starts = drawn(line)
    arrays: Arrays = {"plan_e": points[:, 0], "plan_n": points[:, 1], "plan_starts": starts}
    ends = (line.start_chainage_m, line.end_chainage_m)
    if state.surveys:
        tin = of_ground.tin(case).value
        along = long_section(tin, line)
        road = stretch_with_ground(along, line)
        ends = (road.from_m, road.to_m) if road else ends
        arrays |= {
            "ground_chainage": along.chainage_m, "ground_level": along.level_m, "ground_gap": along.after_gap,
        }  # fmt: skip
        if wish.beside_m:
            s, levels = beside(tin, line, list(wish.beside_m))
            arrays |= {"beside_chainage": s, "beside_level": levels.ravel()}
    if wish.line in state.lines:
        arrays |= _followed(case, line, ends, speeds, wish, head)
    return wire.pack(head, arrays)


def _followed(
    case: Case, line: Centreline, ends: tuple[float, float], speeds: list[BendSpeed], wish: DraftWish, head: Json
) -> Arrays:
    """The grade line as it follows its road between its ends, with what is advised of it and the bends together."""
    met = case.state.lines[wish.line]
    road = case.state.roads.get(met.road)
    if road is None:
        return {}
    carry = Carry(road.value.made(), line, wish.keeps)
    kept = carried(met, carry, *ends, met.road)[0].line
    checked = Checked(kept, of_limits.limits(case).value, bends=as_checked(line, speeds))
    head["advice"] = [asdict(f) for f in worst_first(failing(u) for u in all_uses(checked, COORDINATION) if u.fails)]
    even = np.arange(*ends, _LEVELS_M)
    s = np.unique(np.concatenate([even, kept.chainage_m, kept.curve_start_m, kept.curve_end_m]))
    return {"line_chainage": s, "line_level": kept.levels(s)}


def ground_beside(projects: Projects, project_id: int, revision: int, road: str, beside_m: list[float]) -> bytes:
    """The ground at offsets beside a centreline that is saved."""
    case = projects.case(projects.states.at(project_id, revision), road=road)
    s, levels = beside(of_ground.tin(case).value, of_road.centreline(case).value, beside_m)
    return wire.pack({}, {"beside_chainage": s, "beside_level": levels.ravel()})


def _misfit(ip: int, reason: str) -> Json:
    return {"ip": ip, "reason": reason}


def _smaller(m: Misfit) -> str:
    radii = {"made": m.made.radius_m, "wished": m.wished.radius_m}
    return say("R {made:size} instead of {wished:size}: {reason}", reason=m.reason, **radii)


def _remedies(ips: list[CentrelineIp]) -> list[Json]:
    return [
        {"label": r.label, "changes": [{"at": i, "ip": vars(ip)} for i, ip in r.changes.items()]}
        for r in plan_remedies(ips)
    ]


def _speeds(case: Case, line: Centreline) -> list[BendSpeed]:
    return bend_speeds(
        line.bends,
        line.ips,
        of_design.bend_rules(case).value,
        of_design.design_speeds(line.bends, of_limits.limits(case).value),
        [of_design.road_width(case)] * len(line.bends),
    )


def _bends(bends: list[Bend], speeds: list[BendSpeed]) -> list[Json]:
    """Table of bends with their speeds."""
    return [
        {"bend": vars(b), "speed": vars(s), "too_tight": s.too_tight, "marks": marks(b, s)}
        for b, s in zip(bends, speeds, strict=True)
    ]


def usual_bend(projects: Projects, project_id: int, revision: int) -> Json:
    """Radius and transitions that the rules ask for at a right angle and the project's design speed."""
    case = projects.case(projects.states.at(project_id, revision))
    speed, road = of_limits.limits(case).value.design_speed_kmh, of_design.road_width(case)
    radius, transition = standard_bend(np.pi / 2, of_design.bend_rules(case).value, speed, road)
    return {"radius_m": radius, "transition_m": transition}


def by_standard(projects: Projects, project_id: int, revision: int, row: Json) -> Json:
    """All corners with the bends that the design speed asks for, made smaller where there is no room, and why."""
    case = projects.case(projects.states.at(project_id, revision))
    design = made_of(CentrelineDesign, row)
    ips = list(design.ips)
    speed, road = of_limits.limits(case).value.design_speed_kmh, of_design.road_width(case)
    for i, turn in enumerate(turns_of(ips).tolist(), 1):
        # A corner too slight to be one stays as it is.
        if abs(turn) > 1e-6:
            radius, transition = standard_bend(turn, of_design.bend_rules(case).value, speed, road)
            ips[i] = replace(ips[i], radius_m=radius, transition_in_m=transition, transition_out_m=transition)
    made, misfits = made_to_fit(ips)
    return {
        "ips": [vars(p) for p in made],
        "misfits": [_misfit(m.ip, _smaller(m)) for m in misfits],
    }
