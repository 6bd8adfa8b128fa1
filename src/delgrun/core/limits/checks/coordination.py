"""Bends and vertical curves against each other: advice, as the trade gives it, and never a failure.

What is said here is common practice, and its numbers are from memory of its authors: bends enclose the vertical curves
in them and start before them; nothing surprises behind a crest or below a steep grade; no two curves of one sense
stand close together.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterator

import numpy as np

from delgrun.core.limits.check import Check, Checked, LimitUse, PlanBend
from delgrun.core.units import say

# Curve and bend meet if they share so much. [m]
_MEET_M = 1.0
# Starts that are further apart than this share of the bend are out of phase.
_PHASE = 0.25
# A crest hides what follows if its grades differ by this.
_PRONOUNCED = 0.02
# So long after a crest, or a steep grade, a bend comes as a surprise. [s]
_SURPRISE_S = 3.0
# Steep: this share of the steepest grade allowed; sharp: allowing no more than this over the design speed. [km/h]
_STEEP, _SHARP_KMH = 0.75, 10.0
# A steep grade that is shorter gathers no speed. [m]
_STEEP_LENGTH_M = 100.0
# Straights between bends of one sense, and tangents between curves of one sense: metres for each km/h.
_STRAIGHT_M_PER_KMH, _TANGENT_M_PER_KMH = 4.0, 1.0


class _Curves:
    """Vertical curves of a line that have a length, by chainage."""

    def __init__(self, c: Checked) -> None:
        line = c.line
        change = np.diff(line.grade)
        length = line.curve_end_m - line.curve_start_m
        self.ip = [i for i in range(1, len(line.ips) - 1) if length[i] > 0]
        self.start: list[float] = line.curve_start_m[self.ip].tolist()
        self.end: list[float] = line.curve_end_m[self.ip].tolist()
        self.change: list[float] = [float(change[i - 1]) for i in self.ip]


def _kind(change: float) -> str:
    return "crest" if change < 0 else "sag"


def _meetings(c: Checked) -> Iterator[tuple[int, float, float, float, PlanBend]]:
    """(IP, start, end, change of grade) of each curve with each bend it shares some length with."""
    curves = _Curves(c)
    ends = [b.to_m for b in c.bends]
    starts = [b.from_m for b in c.bends]
    for ip, start, end, change in zip(curves.ip, curves.start, curves.end, curves.change, strict=True):
        for bend in c.bends[bisect_right(ends, start + _MEET_M) : bisect_left(starts, end - _MEET_M)]:
            yield ip, start, end, change, bend


def _overlap(c: Checked) -> Iterator[LimitUse]:
    """Curves that begin or end within a bend, and lie on its tangent with the rest."""
    for ip, start, end, change, b in _meetings(c):
        if (start < b.from_m) == (end > b.to_m):
            continue
        inside = min(end, b.to_m) - max(start, b.from_m)
        about = f"{_kind(change)} and {b.words}"
        yield LimitUse(
            "curve_partly_in_bend", max(start, b.from_m), min(end, b.to_m), inside, end - start, None, ip, about
        )


def _phase(c: Checked) -> Iterator[LimitUse]:
    """Curves wholly inside a bend but to one side of it, and bends wholly inside a curve."""
    for ip, start, end, change, b in _meetings(c):
        lead, trail = start - b.from_m, b.to_m - end
        if lead >= 0 and trail >= 0:
            off, limit = abs(lead - trail), _PHASE * (b.to_m - b.from_m)
            if off > limit:
                about = say(
                    f"{_kind(change)} inside {{bend}}, whose ends are {{lead:about}} before and {{trail:about}} "
                    "after it",
                    bend=b.words, lead=lead, trail=trail,
                )  # fmt: skip
                yield LimitUse("out_of_phase", b.from_m, b.to_m, off, limit, None, ip, about)
        elif lead < 0 and trail < 0:
            about = say(
                f"{_kind(change)} that starts {{lead:about}} before and ends {{trail:about}} after {{bend}}",
                bend=b.words, lead=-lead, trail=-trail,
            )  # fmt: skip
            yield LimitUse("out_of_phase", start, end, max(-lead, -trail), 0.0, None, ip, about)


def _beyond_crest(c: Checked) -> Iterator[LimitUse]:
    """Bends that begin just behind a crest, in either direction of travel."""
    curves = _Curves(c)
    starts, ends = [b.from_m for b in c.bends], [b.to_m for b in c.bends]
    for ip, start, end, change in zip(curves.ip, curves.start, curves.end, curves.change, strict=True):
        if change > -_PRONOUNCED:
            continue
        top = (start + end) / 2
        reach = c.limits.over("design_speed_kmh", top, top) / 3.6 * _SURPRISE_S
        for b in c.bends[bisect_left(starts, top) : bisect_right(starts, end + reach)]:
            yield LimitUse("bend_beyond_crest", top, b.from_m, b.from_m - top, end + reach - top, None, ip, b.words)
        for b in c.bends[bisect_left(ends, start - reach) : bisect_right(ends, top)]:
            about = f"coming back, {b.words}"
            yield LimitUse("bend_beyond_crest", b.to_m, top, top - b.to_m, top - start + reach, None, ip, about)


def _at_foot(c: Checked) -> Iterator[LimitUse]:
    """Sharp bends that begin at the foot of a steep grade, in either direction of travel."""
    line = c.line
    sharp = [b for b in c.bends if b.allowed_kmh < c.limits.over("design_speed_kmh", b.from_m, b.to_m) + _SHARP_KMH]
    starts, ends = [b.from_m for b in sharp], [b.to_m for b in sharp]
    for i, grade in enumerate(line.grade.tolist()):
        head, foot = float(line.chainage_m[i]), float(line.chainage_m[i + 1])
        if abs(grade) < _STEEP * c.limits.over("max_grade", head, foot) or foot - head < _STEEP_LENGTH_M:
            continue
        at = foot if grade < 0 else head
        speed = c.limits.over("design_speed_kmh", at, at)
        reach = speed / 3.6 * _SURPRISE_S
        if grade < 0:
            for b in sharp[bisect_left(starts, foot - reach) : bisect_right(starts, foot + reach)]:
                yield LimitUse("bend_at_foot", foot, max(foot, b.from_m), -grade, speed, None, i, b.words)
        else:
            for b in sharp[bisect_left(ends, head - reach) : bisect_right(ends, head + reach)]:
                about = f"coming back, {b.words}"
                yield LimitUse("bend_at_foot", min(head, b.to_m), head, grade, speed, None, i, about)


def _broken_back_bends(c: Checked) -> Iterator[LimitUse]:
    chainage = c.line.chainage_m
    for a, b in zip(c.bends, c.bends[1:], strict=False):
        straight = b.from_m - a.to_m
        least = _STRAIGHT_M_PER_KMH * c.limits.over("design_speed_kmh", a.to_m, max(b.from_m, a.to_m))
        # Bends that touch are one compound bend.
        if (a.radius_m > 0) == (b.radius_m > 0) and 1e-3 < straight < least:
            ip = int(np.clip(np.searchsorted(chainage, a.to_m, side="right") - 1, 0, len(chainage) - 1))
            about = say(
                f"R {{a:about}} and {{b:about}} to the {'right' if a.radius_m > 0 else 'left'}",
                a=abs(a.radius_m), b=abs(b.radius_m),
            )  # fmt: skip
            yield LimitUse("broken_back_bends", a.to_m, b.from_m, straight, least, None, ip, about)


def _broken_back_curves(c: Checked) -> Iterator[LimitUse]:
    v = _Curves(c)
    for k in range(len(v.ip) - 1):
        tangent = v.start[k + 1] - v.end[k]
        least = _TANGENT_M_PER_KMH * c.limits.over("design_speed_kmh", v.end[k], max(v.start[k + 1], v.end[k]))
        if v.change[k] * v.change[k + 1] > 0 and 1e-3 < tangent < least:
            about = f"{_kind(v.change[k])}s"
            yield LimitUse("broken_back_curves", v.end[k], v.start[k + 1], tangent, least, None, v.ip[k], about)


def _advice(
    id_: str, name: str, uses: Callable[[Checked], Iterator[LimitUse]], words: str, *, local: bool = True
) -> Check:
    return Check(
        id=id_,
        local=local,
        name=name,
        place="stretch",
        advice=True,
        group="coordination",
        uses=uses,
        say=lambda u: say(words, about=u.about, value=u.value, limit=u.limit),
    )


COORDINATION: tuple[Check, ...] = (
    _advice(
        "curve_partly_in_bend",
        "Curve partly in a bend",
        _overlap,
        "{about} share {value:about} of the curve's {limit:about}: lay it inside the bend, or off it",
    ),
    _advice("out_of_phase", "Out of phase", _phase, "{about}: the bend should enclose the curve, evenly"),
    _advice(
        "bend_beyond_crest",
        "Bend beyond a crest",
        _beyond_crest,
        "{about} starts {value:about} beyond the top of the crest, which hides it: start it before the crest",
    ),
    _advice(
        "bend_at_foot",
        "Sharp bend at the foot",
        _at_foot,
        "{about} is sharp at the foot of a grade of {value:percent}: ease the bend or the grade above it",
    ),
    _advice(
        "broken_back_bends",
        "Broken-back bends",
        _broken_back_bends,
        "{about} with only {value:about} of straight between, advised at least {limit:about}: join them, or draw "
        "them apart",
        local=False,
    ),
    _advice(
        "broken_back_curves",
        "Broken-back curves",
        _broken_back_curves,
        "two {about} with only {value:about} of even grade between, advised at least {limit:about}: join them",
    ),
)
