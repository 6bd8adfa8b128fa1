"""Ways on from an edit that can't be: lines near to what was wanted that can stand, each in words with its numbers.

What they cost, and which limits they break, is another matter (`core.limits.ways_out`).
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.around import Around
from delgrun.core.gradeline.edit_kinds import (
    AddIp,
    DeleteIp,
    Edit,
    MoveIp,
    MoveStraight,
    SetGrade,
    apply_edit,
)
from delgrun.core.gradeline.edits import with_room
from delgrun.core.gradeline.governed import governs, unkept
from delgrun.core.gradeline.grade_line import TOUCH_TOLERANCE_M, GradeLine, Refused
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.locks import broken_lock, keeps_grade
from delgrun.core.gradeline.many_ips import CopyStretch, MoveMany, Straighten
from delgrun.core.gradeline.placing import AddAtGround, AddOnGrade, Meet, Merge, Split
from delgrun.core.units import say

# A neighbour is tried so far away, and the least that mends is then found to the centimetre. [m]
_STEPS_M = (1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0)
# IPs stand so far apart where one is put beside another, and curves are at least so long. [m]
_APART_M = 1.0


@dataclass(frozen=True)
class Way:
    """A line that can stand, and what it does, as a button says it."""

    label: str
    line: GradeLine


@dataclass(frozen=True)
class Refusal:
    """Why an edit can't be, and what could be instead."""

    reason: str
    ways: list[Way]


def firm(edit: Edit) -> Edit:
    """The edit as if it was typed: it goes where it was to go, or is refused."""
    match edit:
        case MoveIp() | MoveMany():
            return replace(edit, slide=False)
        case MoveStraight():
            return MoveIp(ip=edit.ip, chainage_m=edit.chainage_m, level_m=edit.level_m, slide=False)
        case _:
            return edit


def refusal(line: GradeLine, edit: Edit, around: Around) -> Refusal | None:
    """What stands in the way of an edit; None where nothing does."""
    try:
        apply_edit(line, firm(edit), around)
    except Refused as e:
        reason, found = e.message, [*_instead(line, edit, around), *_mended(line, e.wanted, edit)]
    except DesignInputError as e:
        reason, found = e.message, list(_instead(line, edit, around))
    else:
        return None
    ways: dict[tuple[Ip, ...], Way] = {}
    for way in found:
        if way.line != line:
            ways.setdefault(way.line.ips, way)
    return Refusal(reason, list(ways.values()))


def _instead(line: GradeLine, edit: Edit, around: Around) -> Iterator[Way]:
    """Other edits near to the one that is refused."""

    def tried(label: str, other: Edit) -> Iterator[Way]:
        try:
            yield Way(label, apply_edit(line, other, around).line)
        except Refused as e:
            yield from _fitting(label, e.wanted)
        except DesignInputError:
            return

    match edit:
        case MoveIp() | MoveStraight():
            yield from _as_far_as(line, edit, around)
        case MoveMany():
            yield from tried("Move them as far as they go", replace(edit, slide=True))
        case SetGrade():
            beside = edit.ip + (-1 if edit.side == "in" else 1)
            flipped = replace(edit, moves="other" if edit.moves == "this" else "this")
            name = line.name(edit.ip if edit.moves == "other" else beside)
            yield from tried(f"Move {name} instead, for the same grade", flipped)
        case AddIp() | AddOnGrade() | AddAtGround():
            yield from _put_elsewhere(line, edit, around, tried)
        case Split():
            near = int(np.argmin(np.abs(line.chainage_m - edit.chainage_m)))
            if 0 < near < len(line.ips) - 1:
                at = line.ips[near].chainage_m
                yield from tried(say(f"Split {line.name(near)} at {{at:chainage}}", at=at), Split(chainage_m=at))
        case Merge():
            for i in (edit.ip, edit.ip + 1):
                yield from tried(f"Take out {line.name(i)}", DeleteIp(ip=i))
            label = f"Straighten from {line.name(edit.ip - 1)} to {line.name(edit.ip + 2)}"
            yield from tried(label, Straighten(ip=max(edit.ip - 1, 0), to=edit.ip + 2))
        case Meet():
            yield from _meet_otherwise(line, edit, tried)
        case CopyStretch():
            yield from _other_stretch(edit, around, tried)
        case _:
            return


Tried = Callable[[str, Edit], Iterator[Way]]


def _as_far_as(line: GradeLine, edit: MoveIp | MoveStraight, around: Around) -> Iterator[Way]:
    try:
        slid = apply_edit(line, replace(edit, slide=True) if isinstance(edit, MoveIp) else edit, around).line
    except DesignInputError:
        return
    ip = slid.ips[edit.ip]
    label = f"Move {line.name(edit.ip)} as far as it goes: {{s:chainage}}, {{z:level}}"
    yield Way(say(label, s=ip.chainage_m, z=ip.level_m), slid)


def _put_elsewhere(
    line: GradeLine, edit: AddIp | AddOnGrade | AddAtGround, around: Around, tried: Tried
) -> Iterator[Way]:
    s = edit.chainage_m
    if not line.chainage_m[0] < s < line.chainage_m[-1]:
        return
    nearest = int(np.argmin(np.abs(line.chainage_m - s)))
    if isinstance(edit, AddIp) and abs(line.ips[nearest].chainage_m - s) < _APART_M:
        move = MoveIp(ip=nearest, chainage_m=line.ips[nearest].chainage_m, level_m=edit.level_m, slide=False)
        yield from tried(say(f"Move {line.name(nearest)} there, to {{z:level}}", z=edit.level_m), move)
    yield from tried(say("Put it on the line, at {s:chainage}", s=s), Split(chainage_m=s))
    for clear in (float(line.curve_start_m[nearest]) - _APART_M, float(line.curve_end_m[nearest]) + _APART_M):
        label = say("Put it clear of the curve, at {s:chainage}", s=clear)
        yield from tried(label, replace(edit, chainage_m=round(clear, 2)))
    if isinstance(edit, AddOnGrade) and 0 <= edit.ip < len(line.ips):
        low, high = sorted((float(line.chainage_m[edit.ip]), s))
        between = [i for i, there in enumerate(line.chainage_m.tolist()) if low < there <= high and i != edit.ip]
        left = line.of_ips(ip for i, ip in enumerate(line.ips) if i not in between)
        try:
            at = edit.ip - sum(1 for i in between if i < edit.ip)
            made = apply_edit(left, replace(edit, ip=at), around).line
        except DesignInputError:
            return
        yield Way(f"Take out {_listed([line.name(i) for i in between])}, and put it there", made)


def _meet_otherwise(line: GradeLine, edit: Meet, tried: Tried) -> Iterator[Way]:
    if not 0 <= edit.ip < edit.to < len(line.ips):
        return
    a, b = line.ips[edit.ip], line.ips[edit.to]
    swapped = replace(edit, grade_out=edit.grade_in, grade_in=edit.grade_out)
    label = "Swap them: leave at {out:exact_grade}, arrive at {into:exact_grade}"
    yield from tried(say(label, out=swapped.grade_out, into=swapped.grade_in), swapped)
    middle, half = (a.chainage_m + b.chainage_m) / 2, (b.chainage_m - a.chainage_m) / 2
    into = (b.level_m - a.level_m - edit.grade_out * half) / half
    label = "Keep the grade out, and arrive at {g:exact_grade} from {s:chainage}"
    yield from tried(say(label, g=into, s=middle), replace(edit, grade_in=into))
    out = (b.level_m - a.level_m - edit.grade_in * half) / half
    label = "Keep the grade in, and leave at {g:exact_grade} up to {s:chainage}"
    yield from tried(say(label, g=out, s=middle), replace(edit, grade_out=out))


def _other_stretch(edit: CopyStretch, around: Around, tried: Tried) -> Iterator[Way]:
    other = around.lines.get(edit.line)
    if other is None:
        return

    def out_of_curves(at: float, ahead: bool) -> float:
        for start, end in zip(other.curve_start_m.tolist(), other.curve_end_m.tolist(), strict=True):
            if start + TOUCH_TOLERANCE_M < at < end - TOUCH_TOLERANCE_M:
                return float(end if ahead else start)
        return at

    for label, ahead_from, ahead_to in (("Wider", False, True), ("Narrower", True, False), ("Earlier", False, False)):
        a, b = out_of_curves(edit.from_m, ahead_from), out_of_curves(edit.to_m, ahead_to)
        yield from tried(
            say(f"{label}: from {{a:chainage}} to {{b:chainage}}", a=a, b=b), replace(edit, from_m=a, to_m=b)
        )


def _mended(line: GradeLine, wanted: GradeLine, edit: Edit) -> Iterator[Way]:
    """What was wanted, with the least changed that lets it stand."""
    new = [i for i, ip in enumerate(wanted.ips) if ip not in line.ips]
    called = _names(line, wanted)
    yield from _unlocked(line, wanted)
    if not (np.diff(wanted.chainage_m) > 0).all():
        yield from _past_others(wanted, new, called)
        return
    over = wanted.curve_end_m[:-1] - wanted.curve_start_m[1:]
    pairs = np.flatnonzero(over > TOUCH_TOLERANCE_M).tolist()
    if not pairs:
        yield from _let_go(wanted, called)
        return
    moved = {edit.ip} if isinstance(edit, MoveIp | MoveStraight) else set(new)
    everyone = set(range(len(wanted.ips)))
    for may in (moved, everyone - moved, everyone):
        yield from _shortened(wanted, pairs, may, called)
    if len(pairs) == 1:
        for q in (pairs[0], pairs[0] + 1):
            if q not in moved and 0 < q < len(wanted.ips) - 1:
                yield from _neighbour_away(wanted, q, 1 if q == pairs[0] + 1 else -1, called)
                if _locked(wanted, {q}):
                    continue
                yield from _fitting(f"Take out {called[q]}", _without(wanted, {q}).held())
    if len(pairs) > 1:
        gone = {i for pair in pairs for i in (pair, pair + 1) if i not in moved and 0 < i < len(wanted.ips) - 1}
        for some in ({min(gone)}, {max(gone)}, gone) if gone else ():
            if _locked(wanted, some):
                continue
            names = _listed([called[q] for q in sorted(some)])
            yield from _fitting(f"Take out {names}", _without(wanted, some).held())
    for i in sorted({i for pair in pairs for i in (pair, pair + 1)}):
        if 0 < i < len(wanted.ips) - 1 and governs(wanted.ips[i]):
            yield from _less_bend(wanted, i, called)


def _standing(label: str, line: GradeLine) -> Iterator[Way]:
    grown = line.held()
    if grown.conflict() is None:
        yield Way(label, grown)


def _names(line: GradeLine, wanted: GradeLine) -> list[str]:
    """What the IPs of a wanted line are called: as in the line before, where they are in it."""
    if len(wanted.ips) == len(line.ips):
        return [line.name(i) for i in range(len(line.ips))]
    return [line.name(line.ips.index(ip)) if ip in line.ips else "the new IP" for ip in wanted.ips]


def _listed(names: list[str]) -> str:
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


def _locked(line: GradeLine, gone: set[int]) -> bool:
    """Whether something of these IPs is locked, or of the tangents that end in them: they stay."""
    return any(
        line.ips[i].locked_chainage_m is not None
        or line.ips[i].locked_level_m is not None
        or line.ips[i].locked_grade is not None
        or (i > 0 and line.ips[i - 1].locked_grade is not None)
        for i in gone
    )


def _without(line: GradeLine, gone: set[int]) -> GradeLine:
    return line.of_ips(ip for i, ip in enumerate(line.ips) if i not in gone)


def _past_others(wanted: GradeLine, new: list[int], called: list[str]) -> Iterator[Way]:
    """Where IPs would stand on the wrong side of others: without those, or in the order of their chainages."""
    last = len(wanted.ips) - 1
    gone: set[int] = set()
    for p in new:
        s = wanted.chainage_m[p]
        gone |= {q for q in range(1, last) if q not in new and (wanted.chainage_m[q] - s) * (q - p) <= 0}
    names = _listed([called[q] for q in sorted(gone)])
    inner = wanted.chainage_m[1:-1]
    if not gone or not (wanted.chainage_m[0] < inner.min() and inner.max() < wanted.chainage_m[-1]):
        return
    without = _without(wanted, gone).held()
    if not _locked(wanted, gone):
        yield from _fitting(f"Take out {names}", without)
    ordered = wanted.of_ips(sorted(wanted.ips, key=lambda ip: ip.chainage_m)).held()
    yield from _fitting(
        f"Let it stand behind {names}" if new[0] < max(gone) else f"Let it stand before {names}", ordered
    )


def _fitting(label: str, line: GradeLine) -> Iterator[Way]:
    """The line, or with curves that overlap made shorter."""
    if line.conflict() is None:
        yield Way(label, line)
        return
    if not (np.diff(line.chainage_m) > 0).all():
        return
    over = line.curve_end_m[:-1] - line.curve_start_m[1:]
    pairs = np.flatnonzero(over > TOUCH_TOLERANCE_M).tolist()
    names = [line.name(i) for i in range(len(line.ips))]
    for way in _shortened(line, pairs, set(range(len(line.ips))), names):
        yield Way(f"{label}, with shorter curves", way.line)


def _shortened(wanted: GradeLine, pairs: list[int], may: set[int], called: list[str]) -> Iterator[Way]:
    """Those of the overlapping curves that may be are shortened, each in proportion, as much as is needed."""
    factor = {i: 1.0 for pair in pairs for i in (pair, pair + 1) if i in may and wanted.curve_length_m[i] > 0}
    before, after = wanted.curve_length_m * wanted.before, wanted.curve_length_m * (1 - wanted.before)
    for i in pairs:
        room = wanted.chainage_m[i + 1] - wanted.chainage_m[i]
        fixed = (0.0 if i in factor else after[i]) + (0.0 if i + 1 in factor else before[i + 1])
        free = (after[i] if i in factor else 0.0) + (before[i + 1] if i + 1 in factor else 0.0)
        if free <= 0 or fixed > room:
            return
        for k in (i, i + 1):
            if k in factor:
                factor[k] = min(factor[k], float(room - fixed) / float(free))
    ips = list(wanted.ips)
    for i, share in factor.items():
        ips[i] = ips[i].freed(float(np.floor(share * ips[i].curve_length_m * 1000) / 1000))
    if any(ips[i].curve_length_m < _APART_M for i in factor):
        # As good as none: no curve is no way on.
        return
    made = wanted.of_ips(ips)
    words = [
        say(f"{called[i]} to {{length:length}}{' (K {k:bare_k})' if np.isfinite(made.k(i)) else ''}",
            length=made.ips[i].curve_length_m, k=round(made.k(i), 1))
        for i in sorted(factor)
    ]  # fmt: skip
    yield from _standing(f"Shorten the curve{'s' if len(words) > 1 else ''} of {' and '.join(words)}", made)


def _neighbour_away(wanted: GradeLine, q: int, side: int, called: list[str]) -> Iterator[Way]:
    """The neighbour moves away on its other grade, so that the line beyond it stays."""
    ip, grade = wanted.ips[q], float(wanted.grade[q if side > 0 else q - 1])

    def away(centimetres: int) -> GradeLine:
        along = side * centimetres / 100
        moved = replace(ip, chainage_m=ip.chainage_m + along, level_m=ip.level_m + grade * along)
        return wanted.of_ips((*wanted.ips[:q], moved, *wanted.ips[q + 1 :])).held()

    good = next((step for step in _STEPS_M if away(round(100 * step)).conflict() is None), None)
    if good is None:
        return
    lo, hi = 0, round(100 * good)
    while hi - lo > 1:
        mid = (lo + hi) // 2
        lo, hi = (lo, mid) if away(mid).conflict() is None else (mid, hi)
    where = "on" if side > 0 else "back"
    yield from _standing(say(f"Move {called[q]} {where} by {{m:length}}, on its grade", m=hi / 100), away(hi))


def _less_bend(wanted: GradeLine, i: int, called: list[str]) -> Iterator[Way]:
    """A curve that keeps its K or sight is shorter where its IP lies nearer to the straight line past it."""
    a, ip, b = wanted.ips[i - 1], wanted.ips[i], wanted.ips[i + 1]
    chord = a.level_m + (b.level_m - a.level_m) * (ip.chainage_m - a.chainage_m) / (b.chainage_m - a.chainage_m)

    def nearer(steps: int) -> GradeLine:
        level = ip.level_m + (chord - ip.level_m) * steps / 1000
        moved = replace(ip, level_m=round(level, 3))
        return wanted.of_ips((*wanted.ips[:i], moved, *wanted.ips[i + 1 :])).held()

    lo, hi = 0, 1000
    if nearer(hi).conflict() is not None:
        return
    while hi - lo > 1:
        mid = (lo + hi) // 2
        lo, hi = (lo, mid) if nearer(mid).conflict() is None else (mid, hi)
    made = nearer(hi)
    by = made.ips[i].level_m - ip.level_m
    how = "Lift" if by > 0 else "Lower"
    yield from _standing(say(f"{how} {called[i]} by {{by:length}}, and keep its curve's measure", by=abs(by)), made)


_KEPT = {
    "length": "its K", "radius": "its radius", "start": "its start", "end": "its end", "through": "its point",
    "sight": "its sight distance", "longest": "what it is",
}  # fmt: skip


def _let_go(wanted: GradeLine, called: list[str]) -> Iterator[Way]:
    """The first curve that can't keep what it is to keep lets it go, and is as long as it was, or as there is room."""
    lost = [i for i in range(1, len(wanted.ips) - 1) if unkept(wanted.ips[i], wanted.curve(i), "") is not None]
    if not lost:
        return
    i = lost[0]
    ips = list(wanted.ips)
    ips[i] = ips[i].freed()
    free = wanted.of_ips(ips)
    roomy = with_room(free, i, float("inf"))
    for label, made in (("keep a length of", free), ("have what room there is,", roomy)):
        words = say(f"{label} {{m:length}}", m=made.ips[i].curve_length_m)
        yield from _standing(f"Let the curve of {called[i]} {words} instead of {_KEPT[wanted.ips[i].held]}", made)


def _unlocked(line: GradeLine, wanted: GradeLine) -> Iterator[Way]:
    """What was wanted, with the locks that are in its way opened."""
    names = [""] * len(wanted.ips)
    ips = list(wanted.ips)
    for i, ip in enumerate(ips):
        if ip.locked_chainage_m is not None and ip.locked_chainage_m != ip.chainage_m:
            ips[i] = replace(ips[i], locked_chainage_m=None)
        if ip.locked_level_m is not None and ip.locked_level_m != ip.level_m:
            ips[i] = replace(ips[i], locked_level_m=None)
        if i + 1 < len(ips) and not keeps_grade(ip, wanted.ips[i + 1]):
            ips[i] = replace(ips[i], locked_grade=None)
    if broken_lock(wanted.ips, names) is not None:
        yield from _standing("Unlock what is in the way, and do it", wanted.of_ips(ips))
    elif wanted.conflict() is None:
        yield Way("Take it out, locked or not", wanted)
