"""What a checker signs: every check with its worst use, and every value with its source."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from delgrun.core.fields import Field, fields_of
from delgrun.core.limits.check import Check, Checked, LimitUse
from delgrun.core.limits.checks import BY_ID, CHECKS, brief, where
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.topics import TIES
from delgrun.core.units import chainage_text, say, text, worded

Verdict = Literal["fails", "advice", "kept", "nothing to check"]
_FREE = "free"


@dataclass(frozen=True)
class CheckRow:
    """One check: its verdict, how often it fails, its worst use (None: it has no measure) and where, in words."""

    name: str
    verdict: Verdict
    fails: int
    use: float | None
    value: str
    limit: str
    where: str
    says: str
    source: str


@dataclass(frozen=True)
class ValueRow:
    """One value that checks go by, where it holds, and where it comes from."""

    name: str
    holds: str
    value: str
    source: str


def check_rows(c: Checked, uses: list[LimitUse]) -> list[CheckRow]:
    """Every check in the order of lists; of those that are off there is none."""
    by_check: dict[str, list[LimitUse]] = {}
    for u in uses:
        by_check.setdefault(u.check, []).append(u)
    out = []
    for check in CHECKS:
        own = by_check.get(check.id, [])
        if own:
            out.append(_row(c, check, own))
        elif not check.advice and not _off(c, check):
            # A rule without a measure only speaks where it is broken.
            verdict: Verdict = "nothing to check" if check.limit else "kept"
            out.append(CheckRow(check.name, verdict, 0, None, "", "", "", "", check.source))
    return out


def _off(c: Checked, check: Check) -> bool:
    """Whether a check says nothing because what it goes by is left free, or it is of another choice."""
    if check.limit:
        return all(v is None or v == 0 for v in _values(c.limits, check.limit))
    return check.measure != ""


def _values(limits: LimitSet, name: str) -> list[float | None]:
    return [getattr(limits, name), *(getattr(r, name, None) for r in limits.ranges)]


def _row(c: Checked, check: Check, own: list[LimitUse]) -> CheckRow:
    worst = max(own, key=lambda u: np.inf if u.use is None and u.fails else (u.use or 0.0))
    bad = sum(u.fails for u in own)
    measured = check.measure and worst.use is not None
    # K to its hundredth, as it is judged.
    said = [round(abs(v), 2) if check.measure == "bare_k" else abs(v) for v in (worst.value, worst.limit)]
    value, limit = (text(v, check.measure) if measured else "" for v in said)
    verdict: Verdict = "kept" if not bad else "advice" if check.advice else "fails"
    return CheckRow(
        check.name, verdict, bad, worst.use, value, limit, where(worst), brief(worst) if worst.fails else "",
        source_of_use(c.limits, worst),
    )  # fmt: skip


def source_of_use(limits: LimitSet, u: LimitUse) -> str:
    """Where what a use is held against comes from: a range, a standard, a reason, or the rule itself."""
    check = BY_ID[u.check]
    asked = next((band for band in limits.bands if band.what == u.about), None)
    if not check.limit:
        return f"{check.source}: {asked.why}" if asked is not None and asked.why else check.source
    holding = [
        r for r in limits.ranges
        if getattr(r, check.limit, None) == u.limit and r.from_m < u.to_chainage_m and u.from_chainage_m < r.to_m
    ]  # fmt: skip
    if holding and getattr(limits, check.limit) != u.limit:
        r = holding[0]
        return say(
            f"the range {{a:chainage}} to {{b:chainage}}{': ' if r.words else ''}{{w}}", a=r.from_m, b=r.to_m, w=r.words
        )
    return source_in_words(limits, check.limit)


def source_in_words(limits: LimitSet, name: str) -> str:
    """The source of a limit of the whole length in a line: its formula, standard and edition, or why it was changed."""
    row = limits.source_of(name)
    if row is None:
        return _never_sourced(limits, name)
    reason = f": {row.reason}" if row.reason else ", no reason given"
    if not row.gives(getattr(limits, name)):
        return (
            f"changed in this project from what {row.source} gives" if row.source else "set in this project"
        ) + reason
    if not row.source:
        return "set in this project" + reason
    memory = "from memory" if row.from_memory else ""
    return "; ".join(part for part in (row.formula, row.source, row.edition, memory) if part)


def value_rows(limits: LimitSet) -> list[ValueRow]:
    """Every limit that is set, for the whole length and by range."""
    out = [
        ValueRow(worded(f.label), "the whole length", said_of(f, getattr(limits, f.name)), _of_field(limits, f))
        for f in fields_of(LimitSet)
        if f.of is None and getattr(limits, f.name) is not None
    ]
    names = {f.name: f for f in fields_of(LimitSet)}
    for r in limits.ranges:
        holds = f"{chainage_text(r.from_m)} to {chainage_text(r.to_m)}"
        for name, f in names.items():
            value = getattr(r, name, None)
            if value is not None:
                source = say("a range of this project{w}", w=f": {r.words}" if r.words else "")
                out.append(ValueRow(worded(f.label), holds, said_of(f, value), source))
    return out


def _of_field(limits: LimitSet, f: Field) -> str:
    if f.group == TIES:
        return "the existing road"
    return source_in_words(limits, f.name)


def _never_sourced(limits: LimitSet, name: str) -> str:
    """Of a value that no source was ever said for: whether it is another one than every project begins with."""
    first = next(f.first for f in fields_of(LimitSet) if f.name == name)
    return "as every project begins" if getattr(limits, name) == first else "set in this project"


def said_of(f: Field, value: float | str | None) -> str:
    """The value of a limit in words."""
    if value is None:
        return _FREE
    return text(value, f.dimension) if isinstance(value, float | int) else str(value)
