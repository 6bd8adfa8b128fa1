"""The summary of a line's checks for whoever signs them: on screen, and as the sheets of a workbook."""

from dataclasses import asdict

import numpy as np

from delgrun.core.centreline.speeds import marks
from delgrun.core.fields import fields_of
from delgrun.core.inputs import CONTROLS
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.limits.summary import CheckRow, check_rows, said_of, value_rows
from delgrun.core.units import System, chainage_text, spoken, text, worded
from delgrun.exchange.tables import Cell, Column, Sheet
from delgrun.service.case import Case
from delgrun.service.check_figures import BandFigures, controls
from delgrun.service.projects import Projects
from delgrun.service.results import of_checks, of_design, of_limits, of_road
from delgrun.service.results.of_limits import clashes_of
from delgrun.service.space import in_space, space
from delgrun.service.wire import Json, table_json


def of_line(projects: Projects, project_id: int, revision: int, slot: str, system: System) -> Json:
    """Every check, value and level control of a grade line at a revision, with its IPs, bends and ranges, in words of
    a system of units.
    """
    case = projects.case_of(projects.states.at(project_id, revision), slot)
    with spoken(system, of_road.written(case)):
        return {
            "checks": [asdict(row) for row in checks_of(case)],
            "values": [asdict(row) for row in value_rows(of_limits.limits(case).value)],
            "controls": [
                {
                    "what": of.what,
                    "reason": reason,
                    "slack_m": of.slack_m,
                    "at_m": of.at_m,
                    "level_m": of.level_m,
                    "limit_m": of.limit_m,
                }
                for of, reason in _controls(case)
            ],
            "clashes": [asdict(c) for c in clashes_of(case)],
            "tables": [table_json(sheet.shown_in(system)) for sheet in (_ips(case), _bends(case), _ranges(case))],
        }


def checks_of(case: Case) -> list[CheckRow]:
    """Every check of a line, sight past its bends too."""
    return [*check_rows(of_checks.checked(case), of_checks.uses(case)), *_past_bends(case)]


def sheets(case: Case) -> list[Sheet]:
    """What stands in the workbook beside the checks: controls, IPs, bends, ranges, and every value with its source."""
    heads = (
        Column("control"), Column("why"), Column("chainage"), Column("chainage", 3, "plan"), Column("level", 3, "plan"),
        Column("limit", 3, "plan"), Column("to spare", 3, "plan"),
    )  # fmt: skip
    held = [
        [
            of.what,
            reason,
            "" if of.at_m is None else chainage_text(of.at_m),
            of.at_m,
            of.level_m,
            of.limit_m,
            of.slack_m,
        ]
        for of, reason in _controls(case)
    ]
    values = [[v.name, v.holds, v.value, v.source] for v in value_rows(of_limits.limits(case).value)]
    return [
        Sheet("level controls", heads, held),
        *(_ips(case), _bends(case), _ranges(case)),
        Sheet("values and sources", [Column(h) for h in ("value", "holds", "is", "source")], values),
    ]


def _controls(case: Case) -> list[tuple[BandFigures, str]]:
    """What asks levels of the line, and the reason that was given."""
    reasons = [row.reason for row in case.state.get(CONTROLS).rows]
    return [(of, reasons[of.row] if of.kind == "control" else "") for of in controls(case)[0]]


def _ips(case: Case) -> Sheet:
    line = case.line
    columns = (
        Column("IP"), Column("chainage"), Column("chainage", 3, "plan"), Column("level", 3, "plan"),
        Column("grade out", 3, "exact_grade"), Column("curve"), Column("length", 3, "plan"), Column("K", 2, "k"),
        Column("starts", 3, "plan"), Column("ends", 3, "plan"),
    )  # fmt: skip
    rows: list[list[Cell]] = []
    for i, ip in enumerate(line.ips):
        at: list[Cell] = [line.name(i), chainage_text(ip.chainage_m), ip.chainage_m, ip.level_m]
        out: list[Cell] = [None if i == len(line.ips) - 1 else float(line.grade[i])]
        curve: list[Cell] = ["", None, None, None, None]
        if ip.curve_length_m > 0:
            bent = "crest" if line.change_of_grade(i) < 0 else "sag"
            ends = [float(line.curve_start_m[i]), float(line.curve_end_m[i])]
            curve = [bent, ip.curve_length_m, line.k(i), *ends]
        rows.append([*at, *out, *curve])
    return Sheet("IPs", columns, rows)


def _bends(case: Case) -> Sheet:
    columns = (
        Column("IP"), Column("chainage"), Column("from", 3, "plan"), Column("to", 3, "plan"), Column("turns"),
        Column("radius", 3, "plan"), Column("transition in", 3, "plan"), Column("transition out", 3, "plan"),
        Column("design", 0, "speed"), Column("allows", 0, "speed"), Column("superelevation", 2, "percent"),
        Column("widening", 2, "plan"), Column("says"),
    )  # fmt: skip
    line = of_road.centreline(case).value
    rows: list[list[Cell]] = [
        [
            str(b.ip), chainage_text(b.from_chainage_m), b.from_chainage_m, b.to_chainage_m,
            "right" if p.radius_m > 0 else "left", b.radius_m, b.transition_in_m, b.transition_out_m, s.design_kmh,
            s.allowed_kmh, s.superelevation, s.widening_m, "; ".join(marks(b, s)),
        ]
        for b, s, p in zip(line.bends, of_design.speeds(case).value, of_limits.plan_bends(case), strict=True)
    ]  # fmt: skip
    return Sheet("bends", columns, rows)


def _ranges(case: Case) -> Sheet:
    columns = (Column("chainage"), Column("from", 3, "plan"), Column("to", 3, "plan"), Column("what"), Column("limits"))
    given = [f for f in fields_of(LimitRange) if f.optional]
    rows: list[list[Cell]] = []
    for r in of_limits.limits(case).value.ranges:
        asks = [f"{worded(f.label)} {said_of(f, v)}" for f in given if (v := getattr(r, f.name)) is not None]
        rows.append([chainage_text(r.from_m), r.from_m, r.to_m, r.words, "; ".join(asks)])
    return Sheet("ranges", columns, rows)


def _past_bends(case: Case) -> list[CheckRow]:
    """Sight past bends as one more check, judged as stopping sight is."""
    mode = of_limits.limits(case).value.stopping_sight
    if mode == "off":
        return []
    found = in_space(case)
    lacks = [*found.ahead.lacks, *found.back.lacks]
    says = space(case)[0].hidden
    share = [s.needed_m / np.maximum(s.seen_m, 1e-9) for s in (found.ahead, found.back)]
    use = float(max(v.max() for v in share))
    worst = max(zip(lacks, says, strict=True), key=lambda pair: pair[0].needed_m / pair[0].seen_m, default=None)
    return [
        CheckRow(
            name="Sight past bends",
            verdict="kept" if worst is None else "fails" if mode == "fails" else "advice",
            fails=len(lacks),
            use=use if worst is None else worst[0].needed_m / worst[0].seen_m,
            value="" if worst is None else text(worst[0].seen_m, "length"),
            limit="" if worst is None else text(worst[0].needed_m, "length"),
            where="",
            says="" if worst is None else worst[1].sentence,
            source="as stopping sight, along a straight line past batters and ground",
        )
    ]
