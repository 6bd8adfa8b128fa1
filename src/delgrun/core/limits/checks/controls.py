"""Level controls, and cover over utilities and headroom under them, that the line does not keep."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from delgrun.core.controls.bands import AT_M, Band, Slack, lacking
from delgrun.core.gradeline.edit_kinds import MoveIp
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.check import Check, Checked, LimitUse, Mends, Remedy
from delgrun.core.limits.mending import moved_level, moved_together
from delgrun.core.units import say

# An IP that moves the line at the place by less of its own way is of no use there.
_LEAST_SHARE = 0.2
# Of the last so many metres of room it is said how much is used: ours. [m]
_ROOM_M = 1.0


@dataclass(frozen=True)
class _Bands:
    """Uses of the bands of one kind."""

    kind: str
    check: str

    def __call__(self, c: Checked) -> Iterator[LimitUse]:
        for band, found in c.rooms:
            if found is not None and band.kind == self.kind:
                yield self._use(c.line, band, found)

    def _use(self, line: GradeLine, band: Band, found: Slack) -> LimitUse:
        kept = found.slack_m >= -AT_M
        from_m, to_m = (band.from_m, band.to_m) if kept else lacking(line, band)
        use: float | None = max(1 - found.slack_m / _ROOM_M, 0.0)
        if band.high_m - band.low_m < 2 * AT_M:
            use = 0.0 if kept else None
        elif kept and use is not None:
            use = min(use, 1.0)
        inner = line.chainage_m[1:-1]
        ip = 1 + int(np.argmin(np.abs(inner - found.at_m))) if len(inner) else 0
        return LimitUse(self.check, from_m, to_m, found.level_m, found.limit_m, use, ip, band.what)


def _unmeasured(c: Checked) -> Iterator[LimitUse]:
    """Controls that there is nothing to measure from."""
    for band in c.limits.bands:
        if np.isnan(band.reference_m).all():
            yield LimitUse("control_unmeasured", band.from_m, band.to_m, 0.0, 0.0, None, 0, band.what)


def _say(u: LimitUse) -> str:
    lower = u.value < u.limit
    return say(
        f"{{what}}: level {{v:level}}, {'at least' if lower else 'at most'} {{limit:level}}, "
        f"{'short by' if lower else 'too high by'} {{by:length}}",
        what=u.about, v=u.value, limit=u.limit, by=abs(u.value - u.limit),
    )  # fmt: skip


def _remedies(c: Checked, u: LimitUse, mends: Mends) -> Iterator[Remedy]:
    """This IP alone to where it is met, or it with the one on the other side of the place."""
    if not 0 < u.ip < len(c.line.ips) - 1:
        return
    if u.use is None and u.from_chainage_m == u.to_chainage_m:
        yield from _onto(c, u)
        return
    sign = 1.0 if u.value < u.limit else -1.0
    yield from moved_level(c, u, mends, sign)
    yield from moved_together(c, u, mends, sign)


def _onto(c: Checked, u: LimitUse) -> Iterator[Remedy]:
    """This IP moved so that the line passes a place at its level: levels are linear in the level of an IP."""
    ip = c.line.ips[u.ip]
    lifted = GradeLine((*c.line.ips[: u.ip], replace(ip, level_m=ip.level_m + 1.0), *c.line.ips[u.ip + 1 :]))
    share = float(lifted.levels(np.array([u.from_chainage_m]))[0]) - u.value
    if share > _LEAST_SHARE:
        by = (u.limit - u.value) / share
        edit = MoveIp(ip=u.ip, chainage_m=ip.chainage_m, level_m=round(ip.level_m + by, 3), slide=False)
        yield Remedy(say(f"{'Lift' if by > 0 else 'Lower'} this IP by {{m:plan}}", m=abs(by)), edit)


def _check(check: str, kind: str, name: str) -> Check:
    name_of = "utility" if kind == "utility" else "level control"
    return Check(
        id=check, name=name, measure="level", source=f"a {name_of} of this project", row="level", place="stretch",
        rows="levels", uses=_Bands(kind, check), say=_say, remedies=_remedies,
    )  # fmt: skip


LEVEL_CONTROL = _check("level_control", "control", "Level control")
UTILITY = _check("utility", "utility", "Cover or headroom")
UNMEASURED = Check(
    id="control_unmeasured",
    name="Control without a level",
    place="stretch",
    uses=_unmeasured,
    say=lambda u: say("{what}: there is no ground, or no old road, to measure it from", what=u.about),
)
