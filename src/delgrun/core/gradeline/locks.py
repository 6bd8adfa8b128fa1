"""What is locked of an IP (its chainage, its level, the grade that leaves it), and how its neighbours go along."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

from delgrun.core.gradeline.ip import Ip
from delgrun.core.units import say

# Typed and dragged values are kept to the millimetre.
DIGITS = 3
# A level that follows a locked grade is rounded, and so is the one before it. [m]
_ROUNDED_M = 1.1e-3
_SAME_M = 1e-6


def drawn_along(ips: Sequence[Ip], moved: int) -> tuple[Ip, ...]:
    """The IPs with the levels that locked grades ask for, counted from the one that moved to both sides."""
    out = list(ips)
    for j in range(moved, len(out) - 1):
        grade = out[j].locked_grade
        if grade is None or keeps_grade(out[j], out[j + 1]):
            break
        level = out[j].level_m + grade * (out[j + 1].chainage_m - out[j].chainage_m)
        out[j + 1] = replace(out[j + 1], level_m=round(level, DIGITS))
    for j in range(moved - 1, -1, -1):
        grade = out[j].locked_grade
        if grade is None or keeps_grade(out[j], out[j + 1]):
            break
        level = out[j + 1].level_m - grade * (out[j + 1].chainage_m - out[j].chainage_m)
        out[j] = replace(out[j], level_m=round(level, DIGITS))
    return tuple(out)


def keeps_grade(ip: Ip, after: Ip) -> bool:
    """Whether the grade from an IP to the next is the locked one, or none is locked."""
    if ip.locked_grade is None:
        return True
    return abs(after.level_m - ip.level_m - ip.locked_grade * (after.chainage_m - ip.chainage_m)) <= _ROUNDED_M


def broken_lock(ips: Sequence[Ip], names: Sequence[str]) -> str | None:
    """Which lock does not hold any more, in a sentence; None where all do."""
    for ip, name in zip(ips, names, strict=True):
        if ip.locked_chainage_m is not None and abs(ip.chainage_m - ip.locked_chainage_m) > _SAME_M:
            return say(f"The chainage of {name} is locked at {{at:chainage}}.", at=ip.locked_chainage_m)
        if ip.locked_level_m is not None and abs(ip.level_m - ip.locked_level_m) > _SAME_M:
            return say(f"The level of {name} is locked at {{level:level}}.", level=ip.locked_level_m)
    for k in range(len(ips) - 1):
        if not keeps_grade(ips[k], ips[k + 1]):
            between = f"from {names[k]} to {names[k + 1]}"
            return say(f"The grade {between} is locked at {{grade:exact_grade}}.", grade=ips[k].locked_grade)
    return None


def resettled(ips: Sequence[Ip]) -> tuple[Ip, ...]:
    """The IPs of a line that had to move, locked where they are now; a grade that could not be kept is let go."""
    out = list(ips)
    for k, ip in enumerate(ips):
        kept = k + 1 < len(ips) and keeps_grade(ip, ips[k + 1])
        out[k] = replace(
            ip,
            locked_chainage_m=None if ip.locked_chainage_m is None else ip.chainage_m,
            locked_level_m=None if ip.locked_level_m is None else ip.level_m,
            locked_grade=ip.locked_grade if kept else None,
        )
    return tuple(out)


def lost_lock(before: Sequence[Ip], after: Sequence[Ip], names: Sequence[str]) -> str | None:
    """Which IP that is locked is not there any more, in a sentence; None where all locks are."""
    left = Counter(lock for ip in after for lock in _locks(ip))
    for ip, name in zip(before, names, strict=True):
        for lock in _locks(ip):
            if not left[lock]:
                return f"The {lock[0]} of {name} is locked: unlock it before it is taken out."
            left[lock] -= 1
    return None


def _locks(ip: Ip) -> list[tuple[str, float]]:
    found = ("chainage", ip.locked_chainage_m), ("level", ip.locked_level_m), ("grade out", ip.locked_grade)
    return [(what, value) for what, value in found if value is not None]
