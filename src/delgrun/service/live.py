"""The live path: a line, perhaps with an edit tried on it, and every figure that follows."""

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

import numpy as np
from numpy.typing import NDArray

from delgrun.core.earthworks.evaluator import Evaluation, evaluate_line
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline import edits
from delgrun.core.gradeline.grade_line import GradeLine, Ip
from delgrun.core.ground.along import ground_sections
from delgrun.core.limits.checks import LimitUse, ground_failures, limit_uses, tie_in_failures
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.wording import check_name
from delgrun.core.section.section import exact_section
from delgrun.core.units import chainage_text
from delgrun.service.errors import NotReady
from delgrun.service.state import ProjectState
from delgrun.service.terrain import SECTION_REACH_M, Terrain, Terrains
from delgrun.service.wire import Json, finding_json, ips_json, pack, use_json

FloatArray = NDArray[np.float64]

# The section beside the deck shows this much ground past the outer catch point. [m]
_SECTION_MARGIN_M = 6.0


def apply_edit(state: ProjectState, line: GradeLine, edit: Json) -> edits.EditResult:
    """One edit of the wire on a line; `what` says which."""
    what = edit["what"]
    if what == "move":
        return edits.move_ip(line, edit["ip"], edit["chainage_m"], edit["level_m"], slide=edit["slide"])
    if what == "add":
        limits = state.limits
        wanted = limits.min_curve_length_m if limits else 0.0
        return edits.add_ip(line, edit["chainage_m"], edit["level_m"], wanted)
    if what == "delete":
        return edits.delete_ip(line, edit["ip"])
    if what == "length":
        return edits.set_length(line, edit["ip"], edit["curve_length_m"])
    if what == "k":
        return edits.set_k(line, edit["ip"], edit["k_m_per_pct"])
    if what == "ips":
        return edits.set_ips(line, [Ip(**ip) for ip in edit["ips"]])
    return edits.set_grade(line, edit["ip"], edit["grade"], edit["side"])


def edit_label(line: GradeLine, edit: Json) -> str:
    """What the undo list calls an edit."""
    what = edit["what"]
    if what == "add":
        return f"Add an IP at {chainage_text(edit['chainage_m'])}"
    if what == "ips":
        return "IPs from a table"
    ip = edit["ip"]
    name = "the start" if ip == 0 else "the end" if ip == len(line.ips) - 1 else f"IP {ip}"
    return {
        "move": f"Move {name}",
        "delete": f"Delete {name}",
        "length": f"Curve length of {name}",
        "k": f"K of {name}",
        "grade": f"Grade at {name}",
    }[what]


def all_uses(limits: LimitSet, line: GradeLine, terrain: Terrain, evaluation: Evaluation) -> list[LimitUse]:
    """Use of limits, and whatever else is wrong, of one line."""
    return [*limit_uses(line, limits), *tie_in_failures(line, limits), *ground_failures(terrain.works, evaluation)]


def ledger_json(evaluation: Evaluation, uses: list[LimitUse]) -> Json:
    worst = max((u for u in uses if u.use < 1e6), key=lambda u: u.use, default=None)
    return {
        **asdict(evaluation.ledger),
        "worst_use": None
        if worst is None
        else {"use": worst.use, "name": check_name(worst.check), "chainage_m": worst.from_chainage_m},
        "failures": sum(u.fails for u in uses),
    }


def preview(
    terrains: Terrains, state: ProjectState, line: GradeLine, edit: Json | None, plumb_m: float | None
) -> bytes:
    """A line after an edit that is not saved, with ledger, uses, findings, tracks and the section at the plumb line.

    The answer is binary: see `wire.pack`.
    """
    result = edits.EditResult(line, None) if edit is None else apply_edit(state, line, edit)
    line = result.line
    terrain = terrains.terrain(state)
    if state.limits is None or state.cost is None:
        raise NotReady("limits", "The project has no limits or no costs yet.")
    evaluation = evaluate_line(terrain.works, line, state.cost)
    uses = all_uses(state.limits, line, terrain, evaluation)
    drawn = np.unique(np.concatenate([terrain.works.chainage_m, line.chainage_m, line.curve_start_m, line.curve_end_m]))
    header = {
        "revision": state.revision,
        "ips": ips_json(line),
        "selected": result.selected,
        "stopped": result.stopped,
        "ledger": ledger_json(evaluation, uses),
        "uses": [use_json(u) for u in uses if not u.check.startswith(("tie", "no_"))],
        "findings": [finding_json(u) for u in uses if u.fails],
        "turning_points": line.turning_points(),
        "section": None if plumb_m is None else section_at(terrains, state, terrain, line, plumb_m),
    }
    return pack(
        header,
        {
            "line_chainage": drawn,
            "line_level": line.levels(drawn),
            "level": evaluation.level_m,
            "cut": evaluation.cut_m2,
            "fill": evaluation.fill_m2,
            "left": -evaluation.left_m,
            "right": evaluation.right_m,
            "mass": evaluation.mass_m3,
        },
    )


def section_at(terrains: Terrains, state: ProjectState, terrain: Terrain, line: GradeLine, chainage_m: float) -> Json:
    """The exact section at any chainage, with what is drawn of it; offsets negative left."""
    s = float(np.clip(chainage_m, terrain.centreline.start_chainage_m, terrain.centreline.end_chainage_m))
    across = ground_sections(terrains.tin(state), terrain.centreline, np.array([s]), SECTION_REACH_M)
    offset, ground = across.one(0)
    level = float(line.levels(np.array([s]))[0])
    out: Json = {
        "chainage_m": s,
        "level_m": None if np.isnan(level) else level,
        "ground_level_m": None,
        "grade": None,
        "cut_m2": 0.0,
        "fill_m2": 0.0,
        "ground": [],
        "road": [],
        "left": None,
        "right": None,
    }
    if len(offset) < 2:
        return out
    out["ground_level_m"] = float(across.centre_level_m[0])
    if state.section is None or np.isnan(level):
        return out
    typical = state.section.typical
    section = exact_section(offset, ground, typical, level)
    ends = np.clip(s + np.array([-0.05, 0.05]), line.chainage_m[0], line.chainage_m[-1])
    out["grade"] = float(np.diff(line.levels(ends))[0] / np.diff(ends)[0])
    out["cut_m2"], out["fill_m2"] = section.cut_m2, section.fill_m2
    half = max(section.left.catch_offset_m, section.right.catch_offset_m, typical.half_width_m) + _SECTION_MARGIN_M
    near = np.abs(offset) <= half
    out["ground"] = np.column_stack([offset[near], ground[near]]).tolist()
    for name, corners in (("formation", typical.formation()), ("road", typical.finished())):
        right = corners + np.array([0.0, level])
        out[name] = np.concatenate([right[:0:-1] * [-1, 1], right]).tolist()
    for name, side in (("left", section.left), ("right", section.right)):
        out[name] = asdict(side)
    return out


def remedies(terrains: Terrains, state: ProjectState, line: GradeLine, ip: int) -> list[Json]:
    """Edits at this IP that leave nothing of its own failing, each with what it would change in cost."""
    if state.limits is None or state.cost is None or not 0 < ip < len(line.ips) - 1:
        return []
    limits, cost = state.limits, state.cost
    works = terrains.terrain(state).works
    before = evaluate_line(works, line, cost).ledger.cost
    failing = {u.check for u in limit_uses(line, limits) if u.fails and u.ip == ip}
    if not failing & {"crest_k", "sag_k", "curve_length"}:
        return []

    def mended(candidate: GradeLine) -> bool:
        bad = [u for u in limit_uses(candidate, limits) if u.fails and abs(u.ip - ip) <= 1]
        was = {(u.check, u.ip) for u in limit_uses(line, limits) if u.fails}
        return not any((u.ip == ip and u.check in failing) or (u.check, u.ip) not in was for u in bad)

    out: list[Json] = []

    def offer(label: str, edit: Json) -> None:
        try:
            new = apply_edit(state, line, edit).line
        except DesignInputError:
            return
        if mended(new):
            change = evaluate_line(works, new, cost).ledger.cost - before
            out.append({"label": label, "edit": edit, "cost_change": change})

    a = line.change_of_grade(ip)
    k = limits.min_crest_k_m_per_pct if a < 0 else limits.min_sag_k_m_per_pct
    length = float(np.ceil(max(100 * k * abs(a), limits.min_curve_length_m) - 1e-9))
    offer(f"Lengthen the curve to {length:g} m", {"what": "length", "ip": ip, "curve_length_m": length})
    here = line.ips[ip]

    def moved(level: float) -> Json:
        return {"what": "move", "ip": ip, "chainage_m": here.chainage_m, "level_m": level, "slide": False}

    # A crest is eased by lowering its IP, a sag by lifting it.
    sign = -1.0 if a < 0 else 1.0
    step = _least_step(lambda d: mended(_try(state, line, moved(here.level_m + sign * d))))
    if step is not None:
        offer(f"{'Lower' if a < 0 else 'Lift'} this IP by {step:.2f} m", moved(round(here.level_m + sign * step, 3)))
    return out


def _try(state: ProjectState, line: GradeLine, edit: Json) -> GradeLine:
    try:
        return apply_edit(state, line, edit).line
    except DesignInputError:
        return line


def _least_step(mends: Callable[[float], bool]) -> float | None:
    """Smallest whole centimetres up to 5 m that mend, by bisection; None where 5 m do not help."""
    good = next((d for d in (0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0) if mends(d)), None)
    if good is None:
        return None
    lo, hi = 0, round(good * 100)
    while hi - lo > 1:
        mid = (lo + hi) // 2
        lo, hi = (lo, mid) if mends(mid / 100) else (mid, hi)
    return hi / 100


def terrain_answer(terrains: Terrains, state: ProjectState) -> bytes:
    """What does not depend on the grade line: ground along, sections' chainages, plan and strip drawings."""
    terrain = terrains.terrain(state)
    c = terrain.centreline
    sample = np.unique(
        np.concatenate([np.arange(c.start_chainage_m, c.end_chainage_m, 5.0), c.critical_chainages, [c.end_chainage_m]])
    )
    e, n, direction = c.locate(sample)
    tin = terrains.tin(state)
    spread = float(np.ptp(tin.xyz[:, 2]))
    interval = next(i for i in (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 1e3) if spread / i <= 80)
    strip = terrains.strip_contours(state, interval)
    plan = terrains.plan_contours(state, interval)
    origin = [float(np.floor(tin.xyz[:, 0].min())), float(np.floor(tin.xyz[:, 1].min()))]
    ls = terrain.long_section
    header = {
        "start_m": c.start_chainage_m,
        "end_m": c.end_chainage_m,
        "origin": origin,
        "contour_interval_m": interval,
        "bends": [asdict(b) for b in c.bends],
        "strip_levels": [level for level, _ in strip],
        "strip_lengths": [len(part) for _, part in strip],
        "points": len(tin.xyz),
        "triangles": len(tin.triangles),
    }
    arrays: dict[str, Any] = {
        "ground_chainage": ls.chainage_m,
        "ground_level": ls.level_m,
        "ground_gap": ls.after_gap,
        "section_chainage": terrain.works.chainage_m,
        "section_ground": terrain.works.tables.centre_level_m,
        "plan_chainage": sample,
        "plan_e": e - origin[0],
        "plan_n": n - origin[1],
        "plan_direction": direction,
        "strip": np.concatenate([part for _, part in strip]) if strip else np.zeros(0),
        "contours": plan - np.array([origin[0], origin[1], origin[0], origin[1], 0.0]),
    }
    return pack(header, arrays)
