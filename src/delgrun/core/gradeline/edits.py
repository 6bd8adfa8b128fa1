"""What a hand may do to a grade line, and where a drag has to stop."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal, assert_never

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import fields_of
from delgrun.core.gradeline.grade_line import TOUCH_TOLERANCE_M, GradeLine, Refused
from delgrun.core.gradeline.ip import Ip, IpCurve
from delgrun.core.gradeline.locks import DIGITS, drawn_along
from delgrun.core.gradeline.vertical_curve import Held, check_share
from delgrun.core.stopping import Heights

# A larger radius, or a longer sight distance, is none. [m]
_LARGEST_M = 1e7
# In a narrow way a drag goes on along one axis and the other in turn, so often at the most.
_SLIDES = 12


@dataclass(frozen=True)
class EditResult:
    """The line after an edit; `stopped` says why a drag went no further, `said` what it could not do, in sentences."""

    line: GradeLine
    selected: int | None
    stopped: str | None = None
    said: tuple[str, ...] = ()


def move_ip(line: GradeLine, i: int, chainage_m: float, level_m: float, *, slide: bool) -> EditResult:
    """Move IP i; the ends move in level only.

    With `slide` (a drag) the IP stops at the last possible place on the way and says why; without it
    (a typed value) an impossible place is refused.

    Raises
    ------
    DesignInputError
        No such IP, or (without `slide`) curves would overlap or run past an end.
    """
    ip = _at(line, i)
    # An end keeps its exact chainage: rounded, it would lose the last section of the road.
    end = i in (0, len(line.ips) - 1)
    chainage_m = ip.chainage_m if end else round(chainage_m, DIGITS)
    want = _fit(line, i, replace(ip, chainage_m=chainage_m, level_m=round(level_m, DIGITS)))
    why = want.conflict()
    if why is None:
        return EditResult(want, i)
    if not slide:
        raise Refused("chainage_m", why, want)

    def on(before: GradeLine, share_s: float, share_z: float) -> GradeLine:
        """The line with its IP so far on the way from where it stands in `before`."""
        here = before.ips[i]
        there_s = chainage_m if end else _toward(here.chainage_m, chainage_m, share_s)
        return _fit(line, i, replace(ip, chainage_m=there_s, level_m=_toward(here.level_m, level_m, share_z)))

    # First give up chainage only, then level only, then both together.
    paths: list[Callable[[float], GradeLine]] = [
        lambda t: on(line, t, 1.0),
        lambda t: on(line, 1.0, t),
        lambda t: on(line, t, t),
    ]
    last = next((last_possible(path) for path in paths if path(0.0).conflict() is None), line)
    # Where one of the two is in the way, the other may still have room: slide along, until there is none.
    for _ in range(_SLIDES):
        before = last
        for share_s, share_z in ((1.0, 0.0), (0.0, 1.0)):
            last = last_possible(_on_the_way(on, last, share_s, share_z))
            last = _over_a_sliver(_on_the_way(on, last, share_s, share_z), last, i)
        if last.ips[i] == before.ips[i]:
            break
        # And on the way that both took together, as far as it leads.
        share_s, share_z = _shares(before.ips[i], last.ips[i], chainage_m, level_m)
        last = last_possible(_on_the_way(on, last, share_s, share_z))
    last = min(
        (last, _along_locked_grade(line, i, chainage_m, level_m)), key=lambda to: _away(to, i, chainage_m, level_m)
    )
    return EditResult(last, i, last.touching(line) or why)


def _over_a_sliver(path: Callable[[float], GradeLine], here: GradeLine, i: int) -> GradeLine:
    """Where curves touch, places rounded to a millimetre are free and not in turn: a free one just ahead, or `here`."""
    ip, end = here.ips[i], path(1.0).ips[i]
    far = abs(end.chainage_m - ip.chainage_m) + abs(end.level_m - ip.level_m)
    for ahead in (2, 1):
        if far > ahead * 10.0**-DIGITS:
            line = path(ahead * 10.0**-DIGITS / far)
            if line.conflict() is None:
                return line
    return here


def _shares(was: Ip, here: Ip, chainage_m: float, level_m: float) -> tuple[float, float]:
    """What is left of the way to a place along each axis, by how far that just went: the further one all of it."""
    gone = here.chainage_m - was.chainage_m, here.level_m - was.level_m
    left = chainage_m - here.chainage_m, level_m - here.level_m
    shares = [g / way if abs(way) > 10.0**-DIGITS else 0.0 for g, way in zip(gone, left, strict=True)]
    most = max(shares)
    return (shares[0] / most, shares[1] / most) if most > 0 else (0.0, 0.0)


def _away(line: GradeLine, i: int, chainage_m: float, level_m: float) -> float:
    return float(np.hypot(line.chainage_m[i] - chainage_m, line.level_m[i] - level_m))


def _along_locked_grade(line: GradeLine, i: int, chainage_m: float, level_m: float) -> GradeLine:
    """The line with IP i moved on a grade that is locked beside it, as far as it goes; itself where none is."""
    ip = line.ips[i]
    for grade in (line.ips[i - 1].locked_grade if i > 0 else None, ip.locked_grade):
        if grade is not None:
            # The point of the grade that is nearest to the pointer.
            along = (chainage_m - ip.chainage_m + grade * (level_m - ip.level_m)) / (1 + grade**2)
            found = move_straight(line, i, ip.chainage_m + along, ip.level_m + grade * along).line
            if found != line:
                return found
    return line


def move_straight(line: GradeLine, i: int, chainage_m: float, level_m: float) -> EditResult:
    """A drag that is kept to one way: IP i goes straight to a place, and stops on the way where it can't go on.

    The ends move in level only.
    """
    ip = _at(line, i)
    end = i in (0, len(line.ips) - 1)
    want = round(ip.chainage_m if end else chainage_m, DIGITS), round(level_m, DIGITS)

    def on(share: float) -> GradeLine:
        there = ip.chainage_m if end else _toward(ip.chainage_m, want[0], share)
        return _fit(line, i, replace(ip, chainage_m=there, level_m=_toward(ip.level_m, want[1], share)))

    whole = on(1.0)
    why = whole.conflict()
    if why is None:
        return EditResult(whole, i)
    last = last_possible(on)
    return EditResult(last, i, last.touching(line) or why)


def _on_the_way(
    on: Callable[[GradeLine, float, float], GradeLine], before: GradeLine, share_s: float, share_z: float
) -> Callable[[float], GradeLine]:
    return lambda t: on(before, share_s * t, share_z * t)


def _toward(here: float, there: float, share: float) -> float:
    """A point on the way, rounded towards where it came from and never beyond that."""
    value = here + (there - here) * share
    step = 10.0**-DIGITS
    down = there > here
    steps = np.floor(value / step + 1e-6) if down else np.ceil(value / step - 1e-6)
    value = round(float(steps) * step, DIGITS)
    return max(value, here) if down else min(value, here)


def last_possible(path: Callable[[float], GradeLine]) -> GradeLine:
    """The last line on a way, which begins (at 0) with one that can stand, where it can stand."""
    lo, hi = 0.0, 1.0
    best = path(lo)
    # A hundred kilometres of way to a millimetre.
    for _ in range(27):
        mid = (lo + hi) / 2
        line = path(mid)
        if line.conflict() is None:
            lo, best = mid, line
        else:
            hi = mid
    return best


def add_ip(line: GradeLine, chainage_m: float, level_m: float) -> EditResult:
    """Put a new IP in, with the curve that the limits ask for, or what there is room for.

    Raises
    ------
    DesignInputError
        The chainage lies outside the line, or on an IP, or inside another IP's curve.
    """
    s = round(chainage_m, DIGITS)
    if not line.chainage_m[0] < s < line.chainage_m[-1]:
        raise DesignInputError(
            "chainage_m",
            "A new IP must lie between {start:chainage} and {end:chainage}.",
            start=line.chainage_m[0],
            end=line.chainage_m[-1],
        )
    i = int(np.searchsorted(line.chainage_m, s))
    # Both parts of a tangent whose grade is locked are.
    new = Ip(chainage_m=s, level_m=round(level_m, DIGITS), locked_grade=line.ips[i - 1].locked_grade)
    grown = line.of_ips((*line.ips[:i], new, *line.ips[i:])).held()
    why = grown.conflict()
    if why is not None:
        raise Refused("chainage_m", f"{why} Put the new IP clear of the curves beside it.", grown)
    return EditResult(with_room(grown, i), i)


def with_room(line: GradeLine, i: int, wanted_m: float | None = None) -> GradeLine:
    """The line with a curve of the wanted length at IP i, or what there is room for. [m]

    None: what the limits ask; without limits there is none.
    """
    if wanted_m is None:
        wanted_m = (
            0.0
            if line.asks is None
            else float(np.ceil(line.asks(line.ips[i].chainage_m, line.curve(i)) * 1000 - 1e-6) / 1000)
        )
    room = np.floor(line.room_m(i) * 1000) / 1000
    ips = list(line.ips)
    ips[i] = replace(ips[i], curve_length_m=float(min(wanted_m, room)))
    return line.of_ips(ips)


def delete_ip(line: GradeLine, i: int) -> EditResult:
    """Take IP i out; the ends stay."""
    _inner(line, i)
    left = line.of_ips(line.ips[:i] + line.ips[i + 1 :]).held().possible("ips")
    return EditResult(left, min(i, len(left.ips) - 1))


def set_length(line: GradeLine, i: int, length_m: float) -> EditResult:
    """Give IP i a curve of this length [m] and keep the length from now on."""
    _inner(line, i)
    if not length_m >= 0:
        raise DesignInputError("curve_length_m", "A curve length is 0 (no curve) or more.")
    return _longest_refusal(line, i, _fit(line, i, line.ips[i].freed(round(length_m, DIGITS))))


def set_k(line: GradeLine, i: int, k_m_per_pct: float) -> EditResult:
    """Give IP i a curve of this K [m/%] and keep the K from now on."""
    _inner(line, i)
    if not k_m_per_pct > 0:
        raise DesignInputError("k_m_per_pct", "K is above 0.")
    return _longest_refusal(line, i, _fit(line, i, replace(line.ips[i].freed(), held_k_m_per_pct=k_m_per_pct)))


def set_curve(line: GradeLine, i: int, curve: IpCurve, sees: Heights | None = None) -> EditResult:
    """Give IP i another shape of curve, and what it keeps; its chainage and level stay.

    Raises
    ------
    DesignInputError
        What is to be kept lacks its value, can't be kept there, or has no room.
    """
    ip = _inner(line, i)
    check_share(curve.in_share)
    held_m, level = curve.held_m, curve.held_level_m
    if held_m is None:
        held_m = _kept_now(line, i, curve.held)
    if curve.held == "through" and level is None:
        level = round(float(line.levels(np.array([held_m]))[0]), DIGITS)
        if np.isnan(level):
            raise DesignInputError("held_m", "The point lies past an end of the line.")
    if curve.held in ("radius", "sight") and (held_m is None or not 0 < held_m < _LARGEST_M):
        what = "radius" if curve.held == "radius" else "sight distance"
        raise DesignInputError("held_m", f"Type the {what} that the curve is to keep: it is above 0.")
    share = None if curve.shape == "circle" else curve.in_share
    typed = {f.name: getattr(curve, f.name) for f in fields_of(IpCurve)}
    here = replace(ip.seeing(sees), **(typed | {"in_share": share, "held_m": held_m, "held_level_m": level}))
    return _longest_refusal(line, i, _fit(line, i, here))


def _kept_now(line: GradeLine, i: int, held: Held) -> float | None:
    """What there is now of what is to be kept; None where there is nothing to it. [m]"""
    match held:
        case "radius":
            radius = line.curve(i).radius_m
            return round(radius, DIGITS) if np.isfinite(radius) else None
        case "start":
            return round(float(line.curve_start_m[i]), DIGITS)
        case "end":
            return round(float(line.curve_end_m[i]), DIGITS)
        case "through":
            return line.ips[i].chainage_m
        case _:
            return None


# A grade typed again as it is locked, to the digits it is shown with.
_SAME_GRADE = 5e-6


def set_grade(
    line: GradeLine, i: int, grade: float, side: Literal["in", "out"], moves: Literal["this", "other"] = "this"
) -> EditResult:
    """Make the incoming ("in") or outgoing ("out") grade of IP i `grade`; it moves up or down, or the other IP. [m/m]

    The ends have one side only.
    """
    ip = _at(line, i)
    if i == (0 if side == "in" else len(line.ips) - 1):
        raise DesignInputError("ip", f"There is no grade {side} at {line.name(i)}.")
    match side:
        case "in":
            other = line.ips[i - 1]
        case "out":
            other = line.ips[i + 1]
        case never:
            assert_never(never)
    k = i - 1 if side == "in" else i
    locked = line.ips[k].locked_grade
    if locked is not None and abs(locked - grade) > _SAME_GRADE:
        raise DesignInputError(
            "grade",
            f"The grade from {line.name(k)} to {line.name(k + 1)} is locked at {{grade:exact_grade}}: unlock it first.",
            grade=locked,
        )
    if moves == "other":
        level = ip.level_m + grade * (other.chainage_m - ip.chainage_m)
        at = i - 1 if side == "in" else i + 1
        return replace(move_ip(line, at, other.chainage_m, level, slide=False), selected=i)
    level = other.level_m + grade * (ip.chainage_m - other.chainage_m)
    return move_ip(line, i, ip.chainage_m, level, slide=False)


def set_ips(line: GradeLine, ips: Sequence[Ip]) -> EditResult:
    """Put other IPs in place of all; the ends keep their chainage, and curves that hold a K follow it."""
    if len(ips) < 2:
        raise DesignInputError("ips", "A grade line needs a start and an end.")
    first, last = line.ips[0], line.ips[-1]
    ends = [replace(ips[0], chainage_m=first.chainage_m), replace(ips[-1], chainage_m=last.chainage_m)]
    if any(ip.curve_length_m != 0 for ip in ends):
        raise DesignInputError("curve_length_m", "The ends of a grade line have no vertical curve.")
    return EditResult(line.of_ips((ends[0], *ips[1:-1], ends[1])).held().possible("ips"), None)


def _at(line: GradeLine, i: int) -> Ip:
    if not 0 <= i < len(line.ips):
        raise DesignInputError("ip", f"The line has no IP {i}.")
    return line.ips[i]


def _inner(line: GradeLine, i: int) -> Ip:
    ip = _at(line, i)
    if i in (0, len(line.ips) - 1):
        raise DesignInputError("ip", "The ends of the line have no curve and stay where they are.")
    return ip


def _fit(line: GradeLine, i: int, ip: Ip) -> GradeLine:
    return line.of_ips(drawn_along((*line.ips[:i], ip, *line.ips[i + 1 :]), i)).held()


def _longest_refusal(before: GradeLine, i: int, after: GradeLine) -> EditResult:
    why = after.conflict()
    if why is not None:
        wanted = after.ips[i].curve_length_m
        if wanted <= after.room_m(i) + TOUCH_TOLERANCE_M:
            raise Refused("held_m", why, after)
        raise Refused(
            "curve_length_m",
            f"{why} This curve would be {{long:length}}; there is room for {{room:length}}.",
            after,
            long=wanted,
            room=after.room_m(i),
        )
    return EditResult(after, i)
