"""What files call things, without characters that are none."""

from collections.abc import Mapping, Sequence
from dataclasses import fields, is_dataclass
from typing import Any

import numpy as np

from delgrun.core.units import one_line


def plain(value: Any, marks: Mapping[int, str] | None = None) -> Any:
    """What was found, in which no text has a character that is none; `marks`: characters that stand for ours."""
    if isinstance(value, str):
        text = one_line(value)
        return text.translate(marks) if marks else text
    if isinstance(value, np.ndarray):
        return _plain_texts(value) if value.dtype.kind == "U" else value
    if isinstance(value, dict):
        return {plain(k, marks): plain(v, marks) for k, v in value.items()}
    if isinstance(value, list | tuple):
        if not value or not _may_hold_text(value[0]):
            return value
        return type(value)(plain(v, marks) for v in value)
    if is_dataclass(value) and not isinstance(value, type):
        for f in fields(value):
            before = getattr(value, f.name)
            after = plain(before, marks)
            if after is not before:
                object.__setattr__(value, f.name, after)
    return value


def _may_hold_text(first: Any) -> bool:
    """Whether things like this one may: a million arrays of numbers are not gone through."""
    return not isinstance(first, int | float) and not (isinstance(first, np.ndarray) and first.dtype.kind != "U")


def _plain_texts(texts: np.ndarray) -> np.ndarray:  # type: ignore[type-arg]
    """(n,) texts, gone through one by one only where some letter among them is odd."""
    letters = np.ascontiguousarray(texts).view(np.uint32)
    odd = (
        ((letters < 32) & (letters > 0))
        | ((letters >= 0x7F) & (letters < 0xA0))
        | ((letters >= 0xD800) & (letters < 0xE000))
        | ((letters >= 0xFDD0) & (letters < 0xFDF0))
        | ((letters & 0xFFFE) == 0xFFFE)
        | ((letters == 0x2028) | (letters == 0x2029))
    )
    if not odd.any():
        return texts
    cleaned: Sequence[str] = [one_line(t) for t in texts.tolist()]
    return np.array(cleaned, dtype=np.str_).reshape(texts.shape)
