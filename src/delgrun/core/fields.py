"""Fields as data: an input's field is declared once, with all that its table, API body, form and document need."""

import dataclasses
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal, TypeVar, assert_never

from delgrun.core.errors import DesignInputError
from delgrun.core.units import DIMENSIONS, Dimension

T = TypeVar("T")
Stricter = Literal["higher", "lower"]
_KEY = "meant"
_fields: dict[type, tuple["Field", ...]] = {}


@dataclass(frozen=True, kw_only=True)
class Field:
    """What one field means.

    `low` and `high` are physical bounds (with `above`, `low` itself is out of bounds), the same for all time:
    a rule that may be tightened belongs into the class's `check`. `first` is what a new input has, and what
    inputs saved before the field existed read as. `optional`: None leaves it free. `aside` follows the unit
    in a form; `says` explains it. `choices` are the only values of a text; `of` is the class of the rows of a
    table. `group` is the form it stands in, where its kind has several. `ranged`: a stretch of the road may have a
    value of its own, and it tells which of two is the stricter.
    """

    name: str = ""
    dimension: str
    label: str
    low: float | None = None
    high: float | None = None
    above: bool = False
    first: Any = None
    optional: bool = False
    aside: str = ""
    says: str = ""
    choices: tuple[str, ...] = ()
    of: type | None = None
    most: int = 0
    group: str = ""
    ranged: Stricter | None = None

    @property
    def shown(self) -> Dimension:
        return DIMENSIONS[self.dimension]


def meant(
    dimension: str,
    label: str,
    *,
    low: float | None = None,
    high: float | None = None,
    above: bool = False,
    first: Any = dataclasses.MISSING,
    optional: bool = False,
    aside: str = "",
    says: str = "",
    choices: tuple[str, ...] = (),
    of: type | None = None,
    most: int = 0,
    group: str = "",
    ranged: Stricter | None = None,
) -> Any:
    """Declare a field of a frozen dataclass; see `Field`. Without `first` it must always be given."""
    field = Field(
        dimension=dimension, label=label, low=low, high=high, above=above, optional=optional, aside=aside, says=says,
        choices=choices, of=of, most=most, group=group, ranged=ranged,
        first=None if first is dataclasses.MISSING else first,
    )  # fmt: skip
    return dataclasses.field(default=first, metadata={_KEY: field})


def fields_of(cls: type) -> tuple[Field, ...]:
    """The declared fields of a class, in order."""
    if cls not in _fields:
        members = dataclasses.fields(cls)
        _fields[cls] = tuple(dataclasses.replace(f.metadata[_KEY], name=f.name) for f in members if _KEY in f.metadata)
    return _fields[cls]


def ranged_part(name: str, base: type, whole: type) -> type:
    """A frozen dataclass beyond `base` with those fields of `whole` that a stretch may have of its own, each free."""
    own = [
        (f.name, float | None, dataclasses.field(default=None, metadata={_KEY: _free(f)}))
        for f in fields_of(whole)
        if f.ranged
    ]
    return dataclasses.make_dataclass(name, own, bases=(base,), frozen=True, kw_only=True)


def _free(f: Field) -> Field:
    return dataclasses.replace(f, first=None, optional=True, group="", says="")


def made_of(cls: type[T], row: Mapping[str, Any]) -> T:
    """An object of a class with declared fields from its plain fields, rows as mappings."""
    values = dict(row)
    for f in fields_of(cls):
        if f.of is not None:
            values[f.name] = tuple(made_of(f.of, r) for r in values[f.name])
    return cls(**values)


def check_fields(value: object) -> None:
    """Hold every declared field against its bounds, rows of tables included.

    Raises
    ------
    DesignInputError
        A number that is none or lies out of bounds, or a text too long; it names the field.
    """
    for f in fields_of(type(value)):
        v = getattr(value, f.name)
        if f.of is not None:
            for row in v:
                check_fields(row)
        elif v is None:
            if not f.optional:
                raise DesignInputError(f.name, f"{_capital(f.label)} is missing.")
        elif f.choices:
            if v not in f.choices:
                raise DesignInputError(f.name, f"{_capital(f.label)} is one of {', '.join(f.choices)}.")
        else:
            _check_kind(f, v)


def _check_kind(f: Field, v: Any) -> None:
    match f.shown.kind:
        case "text":
            if not f.shown.shortest <= len(v) <= f.shown.longest:
                span = f"{f.shown.shortest} to {f.shown.longest}"
                raise DesignInputError(f.name, f"{_capital(f.label)} has {span} letters.")
        case "number" | "whole":
            _check_number(f, v)
        case "flag":
            pass
        case never:
            assert_never(never)


def _check_number(f: Field, v: float) -> None:
    name = _capital(f.label)
    if not math.isfinite(v):
        raise DesignInputError(f.name, f"{name} is not a number.")
    spec = f.dimension
    if f.low is not None and (v < f.low or (f.above and v == f.low)):
        least = "more than" if f.above else "at least"
        raise DesignInputError(f.name, f"{name} is {least} {{low:{spec}}}, not {{v:{spec}}}.", low=f.low, v=v)
    if f.high is not None and v > f.high:
        raise DesignInputError(f.name, f"{name} is at most {{high:{spec}}}, not {{v:{spec}}}.", high=f.high, v=v)


def _capital(label: str) -> str:
    return label[:1].upper() + label[1:]
