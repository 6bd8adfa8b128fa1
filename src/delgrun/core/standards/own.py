"""A set of limits that an office brings itself: rows by road, ground, tier and speed, as data."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import Field, check_fields, fields_of
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.topics import TIES
from delgrun.core.standards.standard import Offered, Standard, Wish

ANY = "any"
# Limits that a set can give: numbers, and not what belongs to one place of one road.
GIVEN: dict[str, Field] = {
    f.name: f
    for f in fields_of(LimitSet)
    if f.of is None and f.shown.kind == "number" and f.name != "design_speed_kmh" and f.group != TIES
}


@dataclass(frozen=True, kw_only=True)
class OwnRow:
    """A value [SI] of one limit for a class of roads, a terrain and a tier ("any": all), at a speed (None: any)."""

    limit: str
    value: float
    speed_kmh: float | None = None
    road_class: str = ANY
    terrain: str = ANY
    tier: str = ANY
    formula: str = ""
    source: str = ""
    edition: str = ""

    def suits(self, wish: Wish) -> bool:
        own = zip((self.road_class, self.terrain, self.tier), (wish.road_class, wish.terrain, wish.tier), strict=True)
        return all(mine in (ANY, asked) for mine, asked in own)

    @property
    def special(self) -> int:
        """How much it says of the road: what is said of fewer roads goes first."""
        return sum(word != ANY for word in (self.road_class, self.terrain, self.tier))

    def check(self) -> None:
        """Raises DesignInputError where it names no limit, or has a value that none can have."""
        if self.limit not in GIVEN:
            raise DesignInputError("limit", "There is no limit “{name}”.", name=self.limit)
        try:
            values: dict[str, Any] = {self.limit: self.value}
            check_fields(replace(LimitSet(), **values))
        except DesignInputError as e:
            raise DesignInputError("value", "{why}", why=e.message) from e


def own_standard(id_: str, name: str, rows: Sequence[OwnRow]) -> Standard:
    """A family of limits of an office's own rows."""
    sources = sorted({row.source for row in rows if row.source})
    editions = sorted({row.edition for row in rows if row.edition})
    return Standard(
        id=id_,
        name=name,
        source="; ".join(sources) or name,
        edition=", ".join(editions),
        offers=partial(_offers, tuple(rows)),
    )


def _offers(rows: tuple[OwnRow, ...], wish: Wish) -> list[Offered]:
    out = []
    for limit in dict.fromkeys(row.limit for row in rows):
        own = [row for row in rows if row.limit == limit and row.suits(wish)]
        if not own:
            continue
        most = max(row.special for row in own)
        own = [row for row in own if row.special == most]
        by_speed = sorted(((row.speed_kmh, row) for row in own if row.speed_kmh is not None), key=lambda pair: pair[0])
        row, value = own[0], own[0].value
        if by_speed:
            speeds = [speed for speed, _ in by_speed]
            # In proportion between the speeds of its table, level beyond its ends.
            value = float(np.interp(wish.design_speed_kmh, speeds, [r.value for _, r in by_speed]))
            row = min((r for _, r in by_speed), key=lambda r: abs((r.speed_kmh or 0.0) - wish.design_speed_kmh))
        out.append(
            Offered(
                field=limit, value=value, formula=row.formula or "table of our own", source=row.source or "our own",
                edition=row.edition, from_memory=False,
            )
        )  # fmt: skip
    return out
