"""Answers that were sent: whoever has one is told of the next only what is new in its lists.

A drag changes one stretch. Rows of IPs and of checks elsewhere are the same as in the answer before, and are not put
into words, sent, read and drawn again.
"""

import secrets
from collections.abc import Hashable
from dataclasses import fields, is_dataclass
from typing import Any

import orjson

from delgrun.service.recent import Recent
from delgrun.service.wire import Json

# So many answers are known: more than there are pages in which something is dragged at once.
_MOST = 64


class Sent:
    """The lists of answers by the token they were sent with; after a restart, or long after, none is known."""

    def __init__(self) -> None:
        self._answers: Recent[str, tuple[Hashable, Json]] = Recent(_MOST)

    def beside(self, token: str, of: Hashable, products: Json) -> tuple[str, Json]:
        """The token of an answer with these products, and the products as whoever has the answer `token` is told them.

        A list is told as `{"runs": [[from, count], ...], "rows": [...]}`: stretches of the list that was sent, and,
        where `from` is -1, so many of the new rows. `of`: what the words of both depend on beside the products.
        """
        known = self._answers.get(token)
        before = known[1] if known is not None and known[0] == of else {}
        plain = {name: _parts(product) for name, product in products.items()}
        mine = secrets.token_hex(9)
        self._answers.put(mine, (of, plain))
        return mine, {name: _told(before.get(name), product) for name, product in plain.items()}


def _parts(product: object) -> object:
    """A product that has parts as its parts by name."""
    if is_dataclass(product):
        return {f.name: getattr(product, f.name) for f in fields(product)}
    return product


def _told(before: Any, now: Any) -> Any:
    """A product, or a part of one, by what it was; a list in a list is told whole."""
    if isinstance(before, list) and isinstance(now, list):
        return _list(before, now)
    if isinstance(before, dict) and isinstance(now, dict):
        return {name: _told(before.get(name), value) for name, value in now.items()}
    return now


def _list(before: list[Any], now: list[Any]) -> Json:
    places = {id(row): i for i, row in enumerate(before)}
    runs: list[list[int]] = []
    rows: list[Any] = []
    # Where in the list before the next row should stand; -1 while new rows come.
    expected, ahead, many = -2, 0, len(before)
    for row in now:
        at = places.get(id(row), -1)
        # The very same, or written the same: -0.0 is not 0.0.
        if at < 0 and ahead < many and orjson.dumps(before[ahead]) == orjson.dumps(row):
            at = ahead
        if at == expected:
            runs[-1][1] += 1
        else:
            runs.append([at, 1])
        if at < 0:
            rows.append(row)
            expected, ahead = -1, ahead + 1
        else:
            expected = ahead = at + 1
    return {"runs": runs, "rows": rows}
