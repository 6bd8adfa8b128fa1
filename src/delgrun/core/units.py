"""The one table of dimensions: how a number of each kind is shown, and sentences with numbers in them.

Inside everything is SI and grades are ratios. A number becomes text only here and, from the same table
(written to `frontend/src/api/fields.ts`), in the front end.
"""

import string
from collections.abc import Callable
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Any, Literal

Kind = Literal["number", "whole", "text", "flag"]


@dataclass(frozen=True, kw_only=True)
class Dimension:
    """`unit` as shown, `scale` from SI to it, `digits` behind the point (None: as many as it has, up to six).

    `typed` says how a person may type it: as a length (with units), a chainage, a grade (%, 1:12), a plain
    number, or text; `shortest` and `longest` bound a text, `pattern` is what it must match.
    """

    unit: str = ""
    scale: float = 1.0
    digits: int | None = None
    signed: bool = False
    kind: Kind = "number"
    typed: Literal["length", "chainage", "grade", "number", "text"] = "number"
    longest: int = 0
    shortest: int = 1
    pattern: str = ""


DIMENSIONS: dict[str, Dimension] = {
    "length": Dimension(unit="m", digits=2, typed="length"),
    "size": Dimension(unit="m", typed="length"),
    "plan": Dimension(unit="m", digits=3, typed="length"),
    "level": Dimension(unit="m", digits=3, typed="length"),
    "chainage": Dimension(typed="chainage"),
    "station": Dimension(typed="chainage"),
    "grade": Dimension(unit="%", scale=100.0, digits=2, signed=True, typed="grade"),
    "exact_grade": Dimension(unit="%", scale=100.0, digits=3, signed=True, typed="grade"),
    "fall": Dimension(unit="%", scale=100.0, typed="grade"),
    "percent": Dimension(unit="%", scale=100.0, digits=2, typed="grade"),
    "batter": Dimension(unit="V : H"),
    "k": Dimension(unit="m/%"),
    "speed": Dimension(unit="km/h"),
    "jerk": Dimension(unit="m/s³"),
    "price_m3": Dimension(unit="/ m³"),
    "price_haul": Dimension(unit="/ (m³⋅m)"),
    "factor": Dimension(),
    "currency": Dimension(kind="text", typed="text", longest=3, pattern="^[A-Z]{3}$"),
    "name": Dimension(kind="text", typed="text", longest=60, pattern=r"\S"),
    "text": Dimension(kind="text", typed="text", longest=200, pattern=r"\S"),
    "line": Dimension(kind="text", typed="text", longest=200, shortest=0),
    "record": Dimension(kind="text", typed="text", longest=4000, shortest=0),
    "word": Dimension(kind="text", typed="text", longest=20),
    "digest": Dimension(kind="text", typed="text", longest=64),
    "count": Dimension(kind="whole"),
    "flag": Dimension(kind="flag"),
}


# How chainages are written in what is being said: by the equations of the road it is about.
_written: ContextVar[Callable[[float], str] | None] = ContextVar("written", default=None)


def write_chainages(how: Callable[[float], str] | None) -> None:
    """Write chainages so, in all that is said in this thread from here on; None: as they are."""
    _written.set(how)


def chainage_text(chainage_m: float) -> str:
    """A chainage as it is written along the road that is spoken of."""
    how = _written.get()
    return plain_chainage(chainage_m) if how is None else how(chainage_m)


def plain_chainage(chainage_m: float) -> str:
    """Kilometres and metres: 1234.5 m is 1+234.50.

    >>> plain_chainage(1234.5)
    '1+234.50'
    """
    hundredths = round(abs(chainage_m) * 100)
    sign = "-" if chainage_m < 0 and hundredths else ""
    km, rest = divmod(hundredths, 100_000)
    return f"{sign}{km}+{rest // 100:03d}.{rest % 100:02d}"


def text(value: float, dimension: str, *, signed: bool = False) -> str:
    """A number with its unit, as a person reads it.

    >>> text(0.0325, "grade"), text(12.5, "length"), text(23.0, "k")
    ('+3.25 %', '12.50 m', '23 m/%')
    """
    if dimension == "chainage":
        return chainage_text(value)
    if dimension == "station":
        return plain_chainage(value)
    d = DIMENSIONS[dimension]
    scaled = value * d.scale
    sign = "+" if signed or d.signed else ""
    number = f"{round(scaled, 6):{sign}g}" if d.digits is None else f"{scaled:{sign}.{d.digits}f}"
    return f"{number} {d.unit}".rstrip()


class _Words(string.Formatter):
    def format_field(self, value: Any, spec: str) -> Any:
        name = spec.removeprefix("+")
        if name in DIMENSIONS:
            return text(value, name, signed=spec.startswith("+"))
        return super().format_field(value, spec)


_words = _Words()


def say(template: str, **values: Any) -> str:
    """A sentence with numbers in it; the part behind a colon names a dimension, a plus before it asks for a sign.

    >>> say("overlap by {over:length} at {at:chainage}", over=2.5, at=1200.0)
    'overlap by 2.50 m at 1+200.00'
    """
    return _words.vformat(template, (), values)
