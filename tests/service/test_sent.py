"""What an answer leaves out because whoever asks has it: told upon another, it is the answer anew."""

from dataclasses import dataclass
from typing import Any

import orjson
from hypothesis import given
from hypothesis import strategies as st

from delgrun.core.gradeline.edit_kinds import MoveIp, SetIps
from delgrun.service import wire
from delgrun.service.sent import Sent


@dataclass(frozen=True)
class Row:
    at: float


@dataclass(frozen=True)
class Figures:
    rows: list[Row]
    count: int


ROWS = st.lists(st.sampled_from([Row(v) for v in (0.0, -0.0, 1.0, 2.0, 3.0)] + [Row(float("nan"))]), max_size=12)


def header(packed: bytes) -> Any:
    return orjson.loads(packed[4 : 4 + int.from_bytes(packed[:4], "little")])


def whole(told: Any, before: Any) -> Any:
    """An answer that is told by another, as the page puts it together."""
    if isinstance(told, dict) and set(told) == {"runs", "rows"}:
        rows = iter(told["rows"])
        return [
            x for at, n in told["runs"] for x in ([next(rows) for _ in range(n)] if at < 0 else before[at : at + n])
        ]
    if isinstance(told, dict) and isinstance(before, dict):
        return {name: whole(value, before.get(name)) for name, value in told.items()}
    return told


@given(st.lists(ROWS, min_size=2, max_size=6), st.booleans())
def test_whatever_list_follows_whatever_list_it_comes_out_whole_and_to_the_sign_of_zero(lists, copied):
    sent, token, before = Sent(), "", {}
    for rows in lists:
        now = {"of": Figures([Row(r.at) if copied else r for r in rows], len(rows)), "bare": rows, "none": None}
        token, told = sent.beside(token, "same", now)
        before = whole(orjson.loads(orjson.dumps(told)), before)
        assert orjson.dumps(before) == orjson.dumps(now)


def test_nothing_is_left_out_for_other_readers_or_of_an_answer_that_is_not_known():
    sent, now = Sent(), {"bare": [Row(1.0)]}
    token, first = sent.beside("", "metric", now)
    assert sent.beside(token, "us", now)[1] == sent.beside("a0", "metric", now)[1] == first == now
    assert sent.beside(token, "metric", now)[1] == {"bare": {"runs": [[0, 1]], "rows": []}}


def test_answers_of_a_drag_are_told_by_the_one_before_and_a_fraction_of_it(projects, demo):
    """With an IP less, and of the line at rest, too."""
    want, base = ["line", "ledger", "uses", "controls"], projects.states.newest(demo).revision
    ips = projects.states.newest(demo).line("line-1").line.ips
    ip, fewer = ips[5], (*ips[:8], *ips[9:])
    moves = [
        [MoveIp(ip=5, chainage_m=ip.chainage_m + dx, level_m=ip.level_m + dz, slide=True)]
        for dx, dz in ((1.0, 0.1), (3.0, -0.4), (2.0, 0.2))
    ]
    token, before, sizes = "", {}, []
    for edits in (*moves, [SetIps(ips=fewer)], []):
        told = projects.figures(demo, base, want, slot="line-1", edits=edits, upon=token)
        anew = wire.as_json(projects.figures(demo, base, want, slot="line-1", edits=edits))
        token, before = header(told)["token"], whole(header(told)["products"], before)
        assert orjson.dumps(before) == orjson.dumps(anew["products"])
        sizes.append(len(orjson.dumps(header(told)["products"])))
    assert max(sizes[1:3]) < 0.7 * sizes[0]
