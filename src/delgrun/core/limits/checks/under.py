"""Sight under bridges and wires: under what hangs over the road, as far as its level is given."""

from collections.abc import Iterator

import numpy as np

from delgrun.core.controls.bands import Band
from delgrun.core.limits.check import Check, Checked, LimitUse
from delgrun.core.sight.under import sight_under
from delgrun.core.units import say


def _uses(check: str, mode: str, c: Checked) -> Iterator[LimitUse]:
    if c.limits.stopping_sight != mode:
        return
    for band in c.limits.bands:
        if band.hangs_m is None:
            continue
        at, underside = _lowest(c, band)
        for sight, way in ((c.ahead, "ahead"), (c.back, "coming back")):
            found = sight_under(c.line, at, underside, (sight.at_m, sight.needed_m), back=way != "ahead")
            if found is not None:
                ip = int(np.argmin(np.abs(c.line.chainage_m - at)))
                about = say("{way} from {s:chainage}, hidden by {what}", way=way, s=found.eye_m, what=band.what)
                use = found.needed_m / max(found.seen_m, 1e-9)
                yield LimitUse(check, at, at, found.seen_m, found.needed_m, use, ip, about)


def _lowest(c: Checked, band: Band) -> tuple[float, float]:
    """Where it hangs lowest over the line, and the level of its underside. [m]"""
    assert band.hangs_m is not None
    underside = band.reference_m + band.hangs_m
    over = underside - c.line.levels(band.chainage_m)
    k = int(np.nanargmin(over)) if not np.isnan(over).all() else 0
    return float(band.chainage_m[k]), float(underside[k])


def _check(check: str, mode: str) -> Check:
    return Check(
        id=check,
        name="Sight under a structure",
        row="sight",
        place="stretch",
        advice=mode == "advice",
        measure="length",
        source="a straight line from 2.4 m to 0.6 m; A Policy on Geometric Design of Highways and Streets, from memory",
        uses=lambda c: _uses(check, mode, c),
        say=lambda u: say(
            "A truck's driver sees {seen:length} of {needed:length} under it to stop, short by {short:length}, {about}",
            seen=u.value, needed=u.limit, short=u.limit - u.value, about=u.about,
        ),
    )  # fmt: skip


UNDER = (_check("sight_under", "fails"), _check("sight_under_advice", "advice"))
