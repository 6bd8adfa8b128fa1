"""Bodies and answers that follow from declared fields."""

from typing import Annotated, Any, assert_never, get_type_hints

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, create_model, model_validator

from delgrun.service import declared
from delgrun.service.declared import cleaned, fields_of, one_line

# On one line, whatever was pasted into it.
OneLine = BeforeValidator(lambda v: one_line(v) if isinstance(v, str) else v)


class In(BaseModel):
    """A body: nothing unknown, nothing converted, and no character in it that is none (`core.units.cleaned`)."""

    model_config = ConfigDict(extra="forbid", strict=True)

    @model_validator(mode="before")
    @classmethod
    def _texts(cls, value: Any) -> Any:
        if not isinstance(value, dict):
            return value
        return {k: cleaned(v) if isinstance(v, str) else v for k, v in value.items()}


_made: dict[tuple[type, str], type[In]] = {}


def body_of(cls: type, name: str | None = None) -> type[In]:
    """The model of a class with declared fields; a ClassVar `what` becomes the tag that tells edits apart."""
    key = (cls, name or cls.__name__)
    if key not in _made:
        members: dict[str, Any] = {}
        hints = get_type_hints(cls, include_extras=True)
        if "what" in hints and all(f.name != "what" for f in fields_of(cls)):
            (tag,) = hints["what"].__args__
            members["what"] = (tag, ...)
        for f in fields_of(cls):
            members[f.name] = (_type_of(f, hints[f.name]), ...)
        # Its own words, not those the dataclass decorator makes of the fields.
        doc = cls.__doc__ if cls.__doc__ and not cls.__doc__.startswith(f"{cls.__name__}(") else None
        _made[key] = create_model(key[1], __base__=In, __doc__=doc, **members)
    return _made[key]


def _type_of(f: declared.Field, hint: Any) -> Any:
    if f.of is not None:
        return Annotated[list[body_of(f.of)], Field(max_length=f.most)]  # type: ignore[misc]
    if f.choices:
        return hint
    kind: Any
    match f.shown.kind:
        case "flag":
            return bool
        case "text":
            kind = Annotated[
                str,
                OneLine,
                Field(min_length=f.shown.shortest, max_length=f.shown.longest, pattern=f.shown.pattern or None),
            ]
        case "whole":
            kind = Annotated[int, Field(**_bounds(f))]
        case "number":
            kind = Annotated[float, Field(allow_inf_nan=False, **_bounds(f))]
        case never:
            assert_never(never)
    return kind | None if f.optional else kind


def _bounds(f: declared.Field) -> dict[str, Any]:
    out: dict[str, Any] = {}
    if f.low is not None:
        out["gt" if f.above else "ge"] = f.low
    if f.high is not None:
        out["le"] = f.high
    return out
