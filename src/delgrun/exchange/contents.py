"""What a file holds, kind by kind: its format says it once, and whoever wants something of it chooses."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from delgrun.exchange.crs import NOTHING, Said

if TYPE_CHECKING:
    from delgrun.exchange.alignments import Alignment
    from delgrun.exchange.profiles import Profile
    from delgrun.exchange.survey_parts import Found
    from delgrun.exchange.survey_text import Reading

FloatArray = NDArray[np.float64]

# Ends of lines closer than this are one. [m]
_JOINED_M = 0.001


@dataclass(frozen=True)
class SurveyParts:
    """Points, lines by layer and surfaces, in the file's own `unit`; what is doubted, and the grid that it names."""

    found: Sequence["Found"]
    unit: str
    doubts: Sequence[str] = ()
    said: Said = NOTHING


@dataclass(frozen=True)
class Drawn:
    """A line, or a piece of one: the name to choose it by, its layer's or its own; (n, 2) vertices in plan, those on
    its arcs among them; (m, 3) vertices with levels, where it has any. [m]
    """

    name: str
    plan: FloatArray
    xyz: FloatArray | None = None

    @property
    def level(self) -> FloatArray | None:
        """(n,) levels of the vertices in plan; None where not each has one. [m]"""
        if self.xyz is None or len(self.xyz) != len(self.plan):
            return None
        out: FloatArray = self.xyz[:, 2]
        return out


def _none() -> Iterable[Drawn]:
    return ()


@dataclass(frozen=True, kw_only=True)
class Contents:
    """What a file holds. Each kind is worked out when it is asked for: what is amiss with one hinders no other."""

    survey: Callable[["Reading"], SurveyParts] | None = None
    lines: Callable[[], Iterable[Drawn]] = field(default=_none)
    alignments: Callable[[], "list[Alignment]"] = field(default=list)
    profiles: Callable[[], "list[Profile]"] = field(default=list)


def in_plan(lines: Iterable[Drawn]) -> list[Drawn]:
    """Lines of two places or more; those of one name that hang together, one behind the other, as one.

    Levels stay as far as they hang together too.
    """
    out: list[Drawn] = []
    for line in lines:
        if len(line.plan) < 2:
            continue
        last = out[-1] if out else None
        if last is None or last.name != line.name or np.hypot(*(last.plan[-1] - line.plan[0])) >= _JOINED_M:
            out.append(line)
            continue
        xyz = None
        if last.xyz is not None and line.xyz is not None and abs(last.xyz[-1, 2] - line.xyz[0, 2]) < _JOINED_M:
            xyz = np.concatenate([last.xyz, line.xyz[1:]])
        out[-1] = Drawn(line.name, np.concatenate([last.plan, line.plan[1:]]), xyz)
    return out


def in_space(lines: Iterable[Drawn]) -> list[tuple[str, FloatArray]]:
    """Lines with levels by name, (n, 3) vertices each; those that hang together, one behind the other, as one. [m]"""
    out: list[tuple[str, FloatArray]] = []
    for line in lines:
        if line.xyz is None or not len(line.xyz):
            continue
        if out and out[-1][0] == line.name and np.abs(out[-1][1][-1] - line.xyz[0]).max() < _JOINED_M:
            out[-1] = (line.name, np.concatenate([out[-1][1], line.xyz[1:]]))
        else:
            out.append((line.name, line.xyz))
    return out
