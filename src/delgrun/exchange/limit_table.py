"""Sets of limits as text tables: one value a row, by road class, terrain, tier and speed."""

import csv
import io
import itertools
import math
from collections.abc import Iterator
from typing import get_args

from delgrun.core.errors import DesignInputError
from delgrun.core.standards.own import ANY, GIVEN, OwnRow
from delgrun.core.standards.standard import RoadClass, Standard, Terrain, Tier, Wish
from delgrun.core.units import DIMENSIONS, System
from delgrun.exchange.tables import as_typed, no_formulas
from delgrun.exchange.text_columns import NUMBER

HEADINGS = ("limit", "value", "speed", "class", "terrain", "tier", "formula", "source", "edition", "units")
MOST_ROWS = 20_000
_SPEEDS = range(20, 131, 10)
_SLOWEST_KMH, _FASTEST_KMH = 5.0, 200.0
_CHOICES = {"class": get_args(RoadClass), "terrain": get_args(Terrain), "tier": get_args(Tier)}


def read_limits(text: str) -> tuple[OwnRow, ...]:
    """Rows of a table with a line of headings: `limit` and `value`, and as many of the others as are wanted.

    A limit is named as in the program's forms, or by its field; a value is in the unit that its field shows, in metric
    ones or, where `units` says "us", in US customary ones. The speed is in km/h or mph. Commas, semicolons or tabs.

    Raises
    ------
    DesignInputError
        It says the line that can't be read, and why.
    """
    # Whatever a line ends with.
    plain = text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    between = max(",;\t", key=plain.split("\n", 1)[0].count)
    lines = _lines(plain, between)
    head = [cell.lower() for cell in next(lines, (1, []))[1]]
    missing = [name for name in ("limit", "value") if name not in head]
    if missing:
        raise DesignInputError(
            "text", "The first line needs headings, and has no column “{name}”. Known are {all}.",
            name=missing[0], all=", ".join(HEADINGS),
        )  # fmt: skip
    rows: list[OwnRow] = []
    for number, cells in lines:
        if not any(cells):
            continue
        if len(rows) == MOST_ROWS:
            raise DesignInputError("text", "More than {most} rows.", most=str(MOST_ROWS))
        said = dict(zip(head, cells, strict=False))
        try:
            rows.append(_row(said))
        except DesignInputError as e:
            raise DesignInputError(
                "text", "Line {n}: {why} Nothing of the file is kept.", n=str(number), why=e.message
            ) from e
    if not rows:
        raise DesignInputError("text", "The table has no rows.")
    return tuple(rows)


def _lines(text: str, between: str) -> Iterator[tuple[int, list[str]]]:
    """Lines of a table as cells, with the number of the line in which each ends."""
    lines = csv.reader(io.StringIO(text), delimiter=between)
    while True:
        try:
            cells = next(lines, None)
        except csv.Error as e:
            raise DesignInputError(
                "text", "Line {n} is no line of a table: {why}. Nothing of the file is kept.",
                n=str(lines.line_num), why=str(e),
            ) from e  # fmt: skip
        if cells is None:
            return
        yield lines.line_num, [as_typed(cell.strip()) for cell in cells]


def _row(said: dict[str, str]) -> OwnRow:
    system: System = "us" if said.get("units", "").lower() in ("us", "us customary", "feet") else "metric"
    name = _named(said.get("limit", ""))
    words = {}
    for column, known in _CHOICES.items():
        word = said.get(column, "").lower() or ANY
        if word not in (*known, ANY):
            raise DesignInputError(
                column,
                "“{word}” is no {column}; known are {all}, and any.",
                word=word,
                column=column,
                all=", ".join(known),
            )
        words[column] = word
    speed = said.get("speed", "")
    speed_kmh = _number(speed, "speed") / DIMENSIONS["speed"].factor(system) if speed else None
    if speed_kmh is not None and not _SLOWEST_KMH <= speed_kmh <= _FASTEST_KMH:
        raise DesignInputError(
            "speed", "{v:speed} is no design speed of a road: from {low:speed} to {high:speed}.",
            v=speed_kmh, low=_SLOWEST_KMH, high=_FASTEST_KMH,
        )  # fmt: skip
    row = OwnRow(
        limit=name,
        value=_number(said.get("value", ""), "value") / DIMENSIONS[GIVEN[name].dimension].factor(system),
        speed_kmh=speed_kmh,
        road_class=words["class"],
        terrain=words["terrain"],
        tier=words["tier"],
        formula=said.get("formula", "")[:200],
        source=said.get("source", "")[:200],
        edition=said.get("edition", "")[:200],
    )
    row.check()
    return row


def _named(text: str) -> str:
    if text in GIVEN:
        return text
    found = next((name for name, f in GIVEN.items() if f.label.lower() == text.lower()), None)
    if found is None:
        raise DesignInputError("limit", "There is no limit “{name}”.", name=text)
    return found


def _number(text: str, column: str) -> float:
    plain = text.replace(" ", "").removesuffix("%")
    value = float(plain.replace(",", ".")) if NUMBER.fullmatch(plain) else math.nan
    if not math.isfinite(value):
        raise DesignInputError(column, "“{text}” is no number for the {column}.", text=text[:60], column=column)
    return value


def write_limits(of: Standard) -> str:
    """A family of limits as such a table, for an office to make its own from; metric."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(HEADINGS)
    writer.writerows(map(no_formulas, _written(of)))
    return out.getvalue()


def _written(of: Standard) -> Iterator[list[str]]:
    wishes = itertools.product(get_args(RoadClass), get_args(Terrain), get_args(Tier), _SPEEDS)
    for road, terrain, tier, speed in wishes:
        wish = Wish(design_speed_kmh=float(speed), road_class=road, terrain=terrain, tier=tier)
        for o in of.offers(wish):
            value = o.value * DIMENSIONS[GIVEN[o.field].dimension].factor("metric")
            yield [
                GIVEN[o.field].label, f"{value:.10g}", str(speed), road, terrain, tier, o.formula, o.source,
                o.edition, "metric",
            ]  # fmt: skip
