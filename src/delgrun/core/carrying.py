"""Whatever stands at a chainage goes along when its centreline is another one: every input by one function."""

from dataclasses import replace
from typing import Any

import numpy as np

from delgrun.core.centreline.carry import Carry
from delgrun.core.fields import Field, fields_of
from delgrun.core.gradeline.follow import follow
from delgrun.core.gradeline.grade_line import GradeLine, LineDesign
from delgrun.core.gradeline.ip import Ip
from delgrun.core.units import say


def stands_at_chainages(cls: type) -> bool:
    """Whether rows of this input stand at chainages of the centreline."""
    return any(f.of is not None and _chainages(f.of) for f in fields_of(cls))


def carried(value: Any, carry: Carry, start_m: float, end_m: float, road: str) -> tuple[Any, list[str]]:
    """An input with its chainages on the new centreline of a road, which runs from `start_m` to `end_m`.

    What belongs to another road stays as it is. A row all of whose chainages lie beyond the ends is let go, and named;
    one with some of them ends there. Grade lines go by rules of their own: see `follow`.
    """
    if isinstance(value, LineDesign):
        if value.road != road:
            return value, []
        at = carry.to(np.array([ip.chainage_m for ip in value.ips]))
        kept, gone = follow(GradeLine(tuple(_with_its_point(ip, carry) for ip in value.ips)), at, start_m, end_m)
        says = [_named(f"IP {i} of “{value.name}”", value.ips[i].chainage_m) for i in gone]
        if kept.ips == value.ips:
            return value, says
        # What was final was so on the road that it had.
        if value.status == "final":
            says.append(f"the final status of “{value.name}”, which is for checking now")
        return replace(value, ips=kept.ips, status="checking" if value.status == "final" else value.status), says
    lists: dict[str, Any] = {}
    lost: list[str] = []
    for field in fields_of(type(value)):
        if field.of is not None and _chainages(field.of):
            lists[field.name], named = _carried_rows(getattr(value, field.name), field, carry, road)
            lost += named
    return replace(value, **lists), lost


def _carried_rows(given: tuple[Any, ...], field: Field, carry: Carry, road: str) -> tuple[tuple[Any, ...], list[str]]:
    assert field.of is not None
    names = [f.name for f in _chainages(field.of)]
    words = next((f.name for f in fields_of(field.of) if f.dimension in ("text", "line")), None)
    rows, says = [], []
    for row in given:
        if getattr(row, "road", road) != road:
            rows.append(row)
            continue
        before = np.array([getattr(row, name) for name in names])
        after = carry.to(before)
        if np.isnan(after).all():
            called = f"“{getattr(row, words)}”" if words and getattr(row, words) else field.label
            says.append(_named(called, float(before[0])))
            continue
        # Of a stretch that lost an end the rest is kept: it goes from where the road starts, or to where it ends.
        ends = np.where(before == before.min(), carry.new.start_chainage_m, carry.new.end_chainage_m)
        places = np.sort(np.where(np.isnan(after), ends, after)).round(3).tolist()
        rows.append(replace(row, **dict(zip(names, places, strict=True))))
    return tuple(rows), says


def _with_its_point(ip: Ip, carry: Carry) -> Ip:
    """An IP whose curve keeps a chainage (start, end, point), with that carried along; let go beyond the ends."""
    if ip.held not in ("start", "end", "through") or ip.held_m is None:
        return ip
    at = float(carry.to(np.array([ip.held_m]))[0])
    if np.isnan(at):
        return ip.freed()
    return replace(ip, held_m=ip.held_m if abs(at - ip.held_m) < 1e-6 else round(at, 3))


def _chainages(cls: type) -> list[Field]:
    return [f for f in fields_of(cls) if f.dimension == "chainage"]


def _named(what: str, chainage_m: float) -> str:
    return say(f"{what} at {{at:chainage}}", at=chainage_m)
