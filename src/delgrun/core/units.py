"""The one table of dimensions: how a number of each kind is shown, and sentences with numbers in them.

Inside everything is SI and grades are ratios. A number becomes text only here and, from the same table
(written to `frontend/src/api/fields.ts`), in the front end; in metres, or in feet with the words of that practice.
"""

import math
import re
import string
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal, get_args

Kind = Literal["number", "whole", "text", "flag"]

# What numbers are shown in: metres, or feet. The foot of old surveys is 2 parts in a million longer, which is 1.2 m
# in an easting of 600 km, so that one who reads such coordinates needs it.
System = Literal["metric", "us", "us_survey"]
SYSTEMS: tuple[System, ...] = get_args(System)
# Metres in a foot. Source: United States, Federal Register 24 FR 5348 (1959): 0.3048 m, and 1200/3937 m for surveys.
FOOT_M: dict[System, float] = {"us": 0.3048, "us_survey": 1200 / 3937}
# Kilometres in a mile. Source: as above, of 5280 ft.
MILE_KM = 1.609344


@dataclass(frozen=True, kw_only=True)
class Customary:
    """A dimension in feet: what is shown is SI times `scale` over `foot ** feet`, of so many digits.

    `most`: no more digits than these where there is no number of them.
    """

    unit: str = ""
    scale: float = 1.0
    feet: int = 0
    digits: int | None = None
    most: int = 4

    def factor(self, system: System) -> float:
        """From SI to what is shown."""
        return self.scale / FOOT_M[system] ** self.feet


def _feet(digits: int | None = None) -> Customary:
    return Customary(unit="ft", feet=1, digits=digits)


@dataclass(frozen=True, kw_only=True)
class Dimension:
    """`unit` as shown, `scale` from SI to it, `digits` behind the point (None: as many as it has, up to six).

    `typed` says how a person may type it: as a length (with units), a chainage, a grade (%, 1:12), a plain
    number, or text; `shortest` and `longest` bound a text, `pattern` is what it must match. `lead` stands before a
    number in metres. `us` is how it is shown
    in feet; without it there is no difference.
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
    lead: str = ""
    us: Customary | None = None

    def factor(self, system: System) -> float:
        """From SI to what is shown."""
        return self.scale if system == "metric" or self.us is None else self.us.factor(system)

    def unit_in(self, system: System) -> str:
        return self.unit if system == "metric" or self.us is None else self.us.unit

    def number(self, value: float, system: System, sign: str = "") -> str:
        """As shown, without its unit."""
        scaled = value * self.factor(system)
        us = None if system == "metric" else self.us
        digits = self.digits if us is None else us.digits
        return f"{round(scaled, us.most if us else 6):{sign}g}" if digits is None else f"{scaled:{sign}.{digits}f}"


DIMENSIONS: dict[str, Dimension] = {
    "length": Dimension(unit="m", digits=2, typed="length", us=_feet(2)),
    "size": Dimension(unit="m", typed="length", us=_feet()),
    "about": Dimension(unit="m", digits=0, typed="length", us=_feet(0)),
    "plan": Dimension(unit="m", digits=3, typed="length", us=_feet(3)),
    "level": Dimension(unit="m", digits=3, typed="length", us=_feet(2)),
    "chainage": Dimension(typed="chainage"),
    "station": Dimension(typed="chainage"),
    "grade": Dimension(unit="%", scale=100.0, digits=2, signed=True, typed="grade"),
    "exact_grade": Dimension(unit="%", scale=100.0, digits=3, signed=True, typed="grade"),
    # How fast a grade changes.
    "bend": Dimension(unit="1/m", us=Customary(unit="1/ft", feet=-1)),
    "fall": Dimension(unit="%", scale=100.0, typed="grade"),
    "percent": Dimension(unit="%", scale=100.0, digits=2, typed="grade"),
    "batter": Dimension(unit="V : H", us=Customary(unit=": 1, H : V")),
    # The same as it is written along a slope.
    "steepness": Dimension(lead="1 : ", us=Customary(unit=": 1")),
    "k": Dimension(unit="m/%", us=Customary(unit="ft/%", feet=1, most=2)),
    "speed": Dimension(unit="km/h", us=Customary(unit="mph", scale=1 / MILE_KM, most=2)),
    "time": Dimension(unit="s"),
    "acceleration": Dimension(unit="m/s²", us=Customary(unit="ft/s²", feet=1, most=2)),
    # Pounds in a kilogram, and kilowatts in a horsepower: NIST Special Publication 811 (2008), B.8.
    "mass": Dimension(unit="kg", us=Customary(unit="lb", scale=1 / 0.45359237, most=0)),
    "mass_to_power": Dimension(unit="kg/kW", us=Customary(unit="lb/hp", scale=0.74569987 / 0.45359237, most=1)),
    "angle": Dimension(unit="°"),
    "bare_k": Dimension(us=Customary(feet=1, most=2)),
    "about_speed": Dimension(unit="km/h", digits=0, us=Customary(unit="mph", scale=1 / MILE_KM, digits=0)),
    "jerk": Dimension(unit="m/s³", us=Customary(unit="ft/s³", feet=1)),
    "area": Dimension(unit="m²", digits=0, us=Customary(unit="ft²", feet=2, digits=0)),
    "section_area": Dimension(unit="m²", digits=2, us=Customary(unit="ft²", feet=2, digits=1)),
    "land": Dimension(unit="ha", scale=1e-4, digits=3, us=Customary(unit="ac", scale=1 / 43560, feet=2, digits=3)),
    "volume": Dimension(unit="m³", digits=0, us=Customary(unit="yd³", scale=1 / 27, feet=3, digits=0)),
    # A cubic yard over a station of a hundred feet.
    "haul": Dimension(
        unit="m³⋅km", scale=1e-3, digits=0, us=Customary(unit="station-yd³", scale=1 / 2700, feet=4, digits=0)
    ),
    "distance": Dimension(unit="km", scale=1e-3, digits=1, us=Customary(unit="mi", scale=1 / 5280, feet=1, digits=1)),
    "price_m3": Dimension(unit="/ m³", us=Customary(unit="/ yd³", scale=27, feet=-3)),
    "price_m2": Dimension(unit="/ m²", us=Customary(unit="/ ft²", feet=-2)),
    "price_haul": Dimension(unit="/ (m³⋅m)", us=Customary(unit="/ station-yd³", scale=2700, feet=-4)),
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


# What the practice in feet calls things, in what the program itself says.
WORDS_IN_FEET: dict[str, str] = {
    "a level": "an elevation",
    "chainage": "station",
    "chainages": "stations",
    "level": "elevation",
    "levels": "elevations",
    "crossfall": "cross slope",
    "batter 1 :": "batter",
    "m³ and m": "station-yd³",
    "m³": "yd³",
    "m²": "ft²",
}
# What stands in quotation marks is somebody's own.
_WORD = re.compile("“[^”]*”|" + "|".join(rf"(?<![\w-]){w}(?![\w-])" for w in WORDS_IN_FEET), re.IGNORECASE)

# In which system is spoken here; "kept": numbers and words are marked, and said by `said` once somebody reads them.
_spoken: ContextVar[System | Literal["kept"]] = ContextVar("spoken", default="metric")
# A mark stands between two code points that no text from outside has: `cleaned` takes them out where text comes in.
# Source: The Unicode Standard 16.0, section 23.7: noncharacters are for internal use and never interchanged.
_MARK, _MARK_END = "\ufdd0", "\ufdd1"
_MARK_BYTES = _MARK.encode()
_MARKED = re.compile(
    rf"{_MARK}(?:(-?\d+(?:\.\d+)?(?:e[-+]?\d+)?)\|(\+?)({'|'.join(DIMENSIONS)})(?:@([a-z0-9-]+))?"
    rf"|\|((?i:{'|'.join(WORDS_IN_FEET)}))){_MARK_END}"
)
_OF_NO_ROAD = re.compile(rf"\|chainage{_MARK_END}")
# What no text that comes in keeps: control characters but for tab and ends of lines, halves of surrogate pairs, and
# noncharacters, marks among them. None of them may stand in XML either (XML 1.0, 2.2), but for C1 and U+FDD0 on.
_NO_TEXT = re.compile(
    "[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufdd0-\ufdef"
    + "".join(chr(plane << 16 | last) for plane in range(17) for last in (0xFFFE, 0xFFFF))
    + "]"
)
_ENDS_OF_LINES = re.compile(r"[\t\n\r\x85\u2028\u2029]+")
# A chainage beyond is none of a road, and is written as a plain number. [m]
_FURTHEST_CHAINAGE_M = 1e12


# What marks stand between here.
_between: ContextVar[tuple[str, str]] = ContextVar("between", default=(_MARK, _MARK_END))


@contextmanager
def marked_by(begin: str, end: str) -> Iterator[None]:
    """Put other characters about marks in the block: where strangers' texts are read, which might have ours in them."""
    before = _between.set((begin, end))
    try:
        yield
    finally:
        _between.reset(before)


def _mark(inside: str) -> str:
    begin, end = _between.get()
    return f"{begin}{inside}{end}"


# How chainages are written along a road, and that of each road; an empty name stands for the one that is asked about.
Written = Callable[[float], str]
Roads = Callable[[str], Written]
_written: ContextVar[Written | None] = ContextVar("written", default=None)


MARKS = (_MARK, _MARK_END)


def cleaned(text: str) -> str:
    """A text from outside, without characters that are none and without anything that could be taken for a mark.

    >>> cleaned("Mill\\x00 road\\ufdd05|length\\ufdd1")
    'Mill road5|length'
    """
    return _NO_TEXT.sub("", text)


def one_line(text: str) -> str:
    """A name from outside: `cleaned`, and on one line."""
    return _ENDS_OF_LINES.sub(" ", cleaned(text))


@contextmanager
def spoken(system: System | Literal["kept"], written: Written | None = None) -> Iterator[None]:
    """Speak so in the block: in metres or in feet, or keep what is said for readers of either.

    `written`: how chainages are written, of a road that has equations.
    """
    before = _spoken.set(system), _written.set(written)
    try:
        yield
    finally:
        _spoken.reset(before[0])
        _written.reset(before[1])


def spoken_now() -> System | Literal["kept"]:
    """In what is spoken here, for another process to speak alike."""
    return _spoken.get()


def said(kept: str, system: System, roads: Roads | None = None) -> str:
    """What was kept, as one who reads in a system reads it; `roads` says how chainages are written along each.

    >>> with spoken("kept"):
    ...     kept = say("a level of {z:length} at {s:chainage}", z=3.048, s=304.8)
    >>> said(kept, "metric"), said(kept, "us")
    ('a level of 3.05 m at 0+304.80', 'an elevation of 10.00 ft at 10+00.00')
    """
    if _MARK not in kept:
        return kept

    def one(mark: re.Match[str]) -> str:
        number, sign, dimension, road, word = mark.groups()
        if word:
            return worded(word)
        value = float(number)
        if not math.isfinite(value):
            return mark[0]
        if dimension == "chainage":
            return plain_chainage(value) if roads is None else roads(road or "")(value)
        return text(value, dimension, signed=bool(sign))

    with spoken(system):
        return _MARKED.sub(one, kept)


def written_by(kept: str, roads: Roads) -> str:
    """What was kept, its chainages as they are written along their roads; in which units is still to be said."""
    if _MARK not in kept:
        return kept

    def one(mark: re.Match[str]) -> str:
        number, _, dimension, road, _ = mark.groups()
        return roads(road or "")(float(number)) if dimension == "chainage" else mark[0]

    with spoken("kept"):
        return _MARKED.sub(one, kept)


def speaks_of_a_road(kept: str) -> bool:
    """Whether a chainage is kept in it whose road is not said."""
    return _OF_NO_ROAD.search(kept) is not None


def on_road(kept: str, road: str) -> str:
    """What was kept, its chainages those of a road: where it is read, nobody may know any more which one it was about.

    >>> with spoken("kept"):
    ...     kept = on_road(say("at {s:chainage}", s=10.0), "centreline-2")
    >>> said(kept, "metric", lambda road: lambda s: f"{s:.0f} of {road}")
    'at 10 of centreline-2'
    """
    return _OF_NO_ROAD.sub(f"|chainage@{road}{_MARK_END}", kept)


def has_marks(kept: bytes) -> bool:
    """Whether there may be anything in a text that is still to be said."""
    return _MARK_BYTES in kept


def shortened(kept: str, longest: int) -> str:
    """A text cut to so many letters, and to none of the marks in it."""
    cut = kept[:longest]
    at = cut.rfind(_MARK)
    return cut[:at] if at > cut.rfind(_MARK_END) else cut


def worded(template: str) -> str:
    """Words of the program in those of the practice that is spoken in.

    >>> with spoken("us"):
    ...     worded("Level of a point; levels; level-headed")
    'Elevation of a point; elevations; level-headed'
    """
    system = _spoken.get()
    if system == "metric":
        return template
    return _WORD.sub(lambda m: _in_feet(m[0], kept=system == "kept"), template)


def _in_feet(word: str, *, kept: bool) -> str:
    other = WORDS_IN_FEET.get(word.lower())
    if other is None:
        return word
    if kept:
        return _mark(f"|{word}")
    return other[0].upper() + other[1:] if word[0].isupper() else other


def chainage_text(chainage_m: float) -> str:
    """A chainage as it is written along the road that is spoken of; kept, it is a mark until that is known."""
    if _spoken.get() == "kept":
        return _mark(f"{float(chainage_m)!r}|chainage") if math.isfinite(chainage_m) else str(chainage_m)
    how = _written.get()
    return plain_chainage(chainage_m) if how is None else how(chainage_m)


def plain_chainage(chainage_m: float) -> str:
    """Kilometres and metres: 1234.5 m is 1+234.50; in feet, stations of a hundred and what is left.

    >>> plain_chainage(1234.5)
    '1+234.50'
    >>> with spoken("us"):
    ...     plain_chainage(1234.56 * 0.3048)
    '12+34.56'
    """
    system = _spoken.get()
    if system == "kept":
        return _mark(f"{float(chainage_m)!r}|station") if math.isfinite(chainage_m) else str(chainage_m)
    if not abs(chainage_m) < _FURTHEST_CHAINAGE_M:
        return f"{chainage_m:g}"
    whole, wide = (1000, 3) if system == "metric" else (100, 2)
    shown = chainage_m if system == "metric" else chainage_m / FOOT_M[system]
    hundredths = round(abs(shown) * 100)
    sign = "-" if shown < 0 and hundredths else ""
    many, rest = divmod(hundredths, 100 * whole)
    return f"{sign}{many}+{rest // 100:0{wide}d}.{rest % 100:02d}"


def text(value: float, dimension: str, *, signed: bool = False) -> str:
    """A number with its unit, as a person reads it.

    >>> text(0.0325, "grade"), text(12.5, "length"), text(23.0, "k")
    ('+3.25 %', '12.50 m', '23 m/%')
    """
    if dimension == "chainage":
        return chainage_text(value)
    if dimension == "station":
        return plain_chainage(value)
    system = _spoken.get()
    if system == "kept":
        if math.isfinite(value):
            return _mark(f"{float(value)!r}|{'+' if signed else ''}{dimension}")
        system = "metric"
    d = DIMENSIONS[dimension]
    lead = d.lead if system == "metric" else ""
    return f"{lead}{d.number(value, system, '+' if signed or d.signed else '')} {d.unit_in(system)}".rstrip()


# A literal, and the name and the dimension or format of the value behind it; no name: it is the end.
_Part = tuple[str, str | None, str, bool, bool]


@lru_cache(maxsize=2048)
def _parts(template: str, system: System | Literal["kept"], _between: tuple[str, str]) -> tuple[_Part, ...]:
    """A template taken apart once for a system, its own words in those of that practice."""
    found = []
    for literal, name, spec, _ in string.Formatter().parse(template):
        spec = spec or ""
        dimension = spec.removeprefix("+")
        measured = dimension in DIMENSIONS
        found.append((worded(literal), name, dimension if measured else spec, measured and spec[:1] == "+", measured))
    return tuple(found)


def say(template: str, **values: Any) -> str:
    """A sentence with numbers in it; the part behind a colon names a dimension, a plus before it asks for a sign.

    >>> say("overlap by {over:length} at {at:chainage}", over=2.5, at=1200.0)
    'overlap by 2.50 m at 1+200.00'
    """
    # What is put in may be a person's own words, and stays as it is.
    out = []
    for literal, name, spec, signed, measured in _parts(template, _spoken.get(), _between.get()):
        out.append(literal)
        if name is not None:
            value = values[name]
            out.append(text(value, spec, signed=signed) if measured else format(value, spec))
    return "".join(out)
