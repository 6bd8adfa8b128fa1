"""Sight along the line in both directions, failures or advice as the limits say; and how often one may pass."""

from collections.abc import Callable, Iterator

import numpy as np

from delgrun.core.limits.check import Check, Checked, LimitUse, Mends, Remedy, SightKind, share
from delgrun.core.limits.mending import eased, lengthened, moved_level
from delgrun.core.runs import runs
from delgrun.core.sight.along import Sight
from delgrun.core.sight.passing import share_of
from delgrun.core.units import say

# What lies further from an IP than stopping and seeing reach changes no sight that the IP hides. [m]
_NEAR_M = 1000.0
# Where brakes don't hold on a fall, no sight is enough; so much stands for that. [m]
_NEVER_M = 1e5
# From here on it is said in words what hides the view. [needed / seen]
_TOLD = 0.9


def _uses(check: str, kind: SightKind, c: Checked) -> Iterator[LimitUse]:
    """Each lack, and of what hides the view without lack the eye that needs most of what it sees."""
    ends = "past the headlights from" if kind == "headlight" else "hidden by the road at"
    for sight, way in zip(c.sights(kind), ("ahead", "coming back"), strict=True):
        about = f"{way}, {ends} {{s:chainage}}"
        for lack in sight.lacks:
            yield _use(check, c, (lack.from_m, lack.to_m), lack.seen_m, lack.needed_m, lack.top_m, about)
        yield from _kept(check, c, sight, about)


def _kept(check: str, c: Checked, sight: Sight, about: str) -> Iterator[LimitUse]:
    for a, b in runs(np.isfinite(sight.seen_m)):
        used = sight.needed_m[a : b + 1] / np.maximum(sight.seen_m[a : b + 1], 1e-9)
        most = float(used.max())
        if most <= 1.0:
            k = a + int(np.argmax(used))
            # Only what is kept by a hair is told in words.
            words = about if most > _TOLD else ""
            stretch = float(sight.at_m[a]), float(sight.at_m[b])
            yield _use(
                check, c, stretch, float(sight.seen_m[k]), float(sight.needed_m[k]), float(sight.top_m[k]), words
            )


def _use(
    check: str, c: Checked, stretch: tuple[float, float], seen_m: float, needed_m: float, top_m: float, about: str
) -> LimitUse:
    ip = int(np.argmin(np.abs(c.line.chainage_m - top_m)))
    words = say(about, s=top_m) if about else ""
    needed_m = min(needed_m, _NEVER_M)
    return LimitUse(check, *stretch, seen_m, needed_m, share(needed_m, seen_m), ip, words)


def _say(words: str, u: LimitUse) -> str:
    if u.limit >= _NEVER_M:
        return say(
            words + " {seen:length}, and its brakes never stop it on this fall, {about}", seen=u.value, about=u.about
        )
    return say(
        words + " {seen:length} of {needed:length}, short by {short:length}, {about}",
        seen=u.value, needed=u.limit, short=u.limit - u.value, about=u.about,
    )  # fmt: skip


def _eased(c: Checked, u: LimitUse, mends: Mends) -> Iterator[Remedy]:
    """A longer curve, the IP moved to what bends less, or where there is no room for such a curve both."""
    sign = -1.0 if c.line.change_of_grade(u.ip) < 0 else 1.0
    longer = list(lengthened(c, u, mends))
    yield from longer
    yield from moved_level(c, u, mends, sign)
    if not longer:
        yield from eased(c, u, mends, sign)


def _check(kind: SightKind, mode: str, words: str) -> Check:
    field = f"{kind}_sight"
    check = field if mode == "fails" else f"{field}_advice"
    uses: Callable[[Checked], Iterator[LimitUse]] = lambda c: (  # noqa: E731
        _uses(check, kind, c) if getattr(c.limits, field) == mode else iter(())
    )
    return Check(
        id=check,
        name=f"{kind.capitalize()} sight",
        measure="length",
        source=_SOURCES[kind],
        near_m=_NEAR_M,
        row="sight",
        place="stretch",
        advice=mode == "advice",
        uses=uses,
        remedies=_eased,
        say=lambda u: _say(words, u),
    )


_WORDS: dict[SightKind, str] = {
    "stopping": "To stop it sees",
    "headlight": "By night it is lit for",
    "intermediate": "Two that meet on one lane see",
}
_POLICY = "A Policy on Geometric Design of Highways and Streets, 2011 and later, from memory"
_SOURCES: dict[SightKind, str] = {
    "stopping": "by the form that is chosen, with the grades on the way: 0.278 V t + V^2 / (254 (a / 9.81 + G)), in "
    f"mph and feet 1.47 V t + V^2 / (30 (a / 32.2 + G)), by friction V t / 3.6 + V^2 / (254 (d + G)); {_POLICY}",
    "headlight": f"as for stopping, seen as far as the beam reaches; {_POLICY}",
    "intermediate": "the sum of what both need to stop, each on its grades: common practice",
}
SIGHT: tuple[Check, ...] = tuple(
    _check(kind, mode, words) for kind, words in _WORDS.items() for mode in ("fails", "advice")
)


def _passing(c: Checked) -> Iterator[LimitUse]:
    least = c.limits.least_passing_share
    if least is None:
        return
    ends = float(c.line.chainage_m[0]), float(c.line.chainage_m[-1])
    for marked, way in zip(c.marked, ("ahead", "coming back"), strict=True):
        value = share_of(marked)
        yield LimitUse("passing_share", *ends, value, least, share(least, value), 0, way)


PASSING_SHARE = Check(
    id="passing_share",
    name="Passing possible",
    limit="least_passing_share",
    measure="percent",
    place="stretch",
    uses=_passing,
    say=lambda u: say(
        "Passing is possible on {value:percent} of the length {way}, needs {limit:percent}",
        value=u.value, limit=u.limit, way=u.about,
    ),
)  # fmt: skip
