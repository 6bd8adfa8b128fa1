"""Sets of limits as text tables: one value a row, by road class, terrain, tier and speed."""

import csv
import io
import itertools
from collections.abc import Iterator
from typing import get_args

from delgrun.core.errors import DesignInputError
from delgrun.core.standards.own import ANY, GIVEN, OwnRow
from delgrun.core.standards.standard import RoadClass, Standard, Terrain, Tier, Wish
from delgrun.core.units import DIMENSIONS, System

HEADINGS = ("limit", "value", "speed", "class", "terrain", "tier", "formula", "source", "edition", "units")
MOST_ROWS = 20_000
_SPEEDS = range(20, 131, 10)
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
    first = text.lstrip("\ufeff").split("\n", 1)[0]
    between = max(",;\t", key=first.count)
    lines = csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=between)
    head = [cell.strip().lower() for cell in next(lines, [])]
    missing = [name for name in ("limit", "value") if name not in head]
    if missing:
        raise DesignInputError(
            "text", "The first line needs headings, and has no column “{name}”. Known are {all}.",
            name=missing[0], all=", ".join(HEADINGS),
        )  # fmt: skip
    rows: list[OwnRow] = []
    for number, cells in enumerate(lines, 2):
        if not any(cell.strip() for cell in cells):
            continue
        if len(rows) == MOST_ROWS:
            raise DesignInputError("text", "More than {most} rows.", most=str(MOST_ROWS))
        said = {name: cell.strip() for name, cell in zip(head, cells, strict=False)}
        try:
            rows.append(_row(said))
        except DesignInputError as e:
            raise DesignInputError(
                "text", "Line {n}: {why} Nothing of the file is kept.", n=str(number), why=e.message
            ) from e
    if not rows:
        raise DesignInputError("text", "The table has no rows.")
    return tuple(rows)


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
    row = OwnRow(
        limit=name,
        value=_number(said.get("value", ""), "value") / DIMENSIONS[GIVEN[name].dimension].factor(system),
        speed_kmh=_number(speed, "speed") / DIMENSIONS["speed"].factor(system) if speed else None,
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
    try:
        return float(text.replace(" ", "").replace(",", ".").removesuffix("%"))
    except ValueError:
        raise DesignInputError(column, "“{text}” is no number for the {column}.", text=text, column=column) from None


def write_limits(of: Standard) -> str:
    """A family of limits as such a table, for an office to make its own from; metric."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(HEADINGS)
    writer.writerows(_written(of))
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
