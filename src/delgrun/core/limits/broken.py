"""What a line breaks that another one, changed in places, does not; in words."""

from collections.abc import Iterable

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.check import LimitUse
from delgrun.core.limits.checks import BY_ID, brief


def newly_broken(
    before: GradeLine, was: Iterable[LimitUse], after: GradeLine, now: Iterable[LimitUse]
) -> list[LimitUse]:
    """Uses that fail after a change and, at the same IP, did not before; advice left out."""
    failed = {(u.check, _place(u.ip, before, after)) for u in was if u.fails}
    return [
        u for u in now if u.fails and not BY_ID[u.check].advice and (u.check, _place(u.ip, after, before)) not in failed
    ]


def in_words(of: GradeLine, uses: Iterable[LimitUse]) -> list[str]:
    """What each says of a line, each once."""
    return list(dict.fromkeys(f"{_small(BY_ID[u.check].name)} at {of.name(u.ip)}: {brief(u)}" for u in uses))


def _place(ip: int, line: GradeLine, other: GradeLine) -> int:
    """Names an IP in both of two lines: counted from the end where they differ before it."""
    if len(line.ips) == len(other.ips):
        return ip
    same = next((i for i, (a, b) in enumerate(zip(line.ips, other.ips, strict=False)) if a != b), len(line.ips))
    return ip if ip < same else ip - len(line.ips)


def _small(name: str) -> str:
    return name[:1].lower() + name[1:]
