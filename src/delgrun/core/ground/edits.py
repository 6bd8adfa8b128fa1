"""What a designer changes about the ground by hand: each change is a row that can be taken back, the survey stays."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import groupby, pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.ground.mesh import Mesh
from delgrun.core.ground.noding import SAME_POINT_M
from delgrun.core.ground.tin import Tin
from delgrun.core.units import say

FloatArray = NDArray[np.float64]

What = Literal["exclude", "keep", "level", "edge", "breakline", "drop"]
# Each of these can be one change of hundreds; more are a survey of their own.
MOST_ROWS = 20_000


@dataclass(frozen=True, kw_only=True)
class GroundEdit:
    """One row of a change: a point of it.

    `exclude` takes the surveyed point there out of the ground, `keep` says that a suspect is ground, `level` gives
    it `new_level_m`; `edge` has two rows, the points that an edge is to join; `breakline` as many as it has points,
    each at a surveyed point or at a new one of level `level_m`; `drop` takes away the triangle there. A surveyed
    point is known by its place and level, so that a change follows it into the next survey.
    """

    what: Literal["exclude", "keep", "level", "edge", "breakline", "drop"] = meant(
        "word", "what", choices=("exclude", "keep", "level", "edge", "breakline", "drop")
    )
    easting_m: float = meant("plan", "easting", low=-1e8, high=1e8)
    northing_m: float = meant("plan", "northing", low=-1e8, high=1e8)
    level_m: float = meant("level", "level", low=-12_000, high=12_000)
    new_level_m: float | None = meant("level", "level instead", low=-12_000, high=12_000, optional=True, first=None)

    @property
    def plan(self) -> FloatArray:
        return np.array([self.easting_m, self.northing_m])


@dataclass(frozen=True, kw_only=True)
class GroundChange:
    """One change by hand, with who made it, when and why."""

    author: str = meant("line", "who", first="")
    made_at: str = meant("line", "when", first="")
    note: str = meant("line", "why", first="")
    rows: tuple[GroundEdit, ...] = meant("count", "points", of=GroundEdit, most=MOST_ROWS)

    @property
    def what(self) -> What:
        return self.rows[0].what

    @property
    def label(self) -> str:
        """What the history calls it."""
        count = len(self.rows)
        points = "point" if count == 1 else f"{count} points"
        return {
            "exclude": f"Take {points} out of the ground",
            "keep": f"Keep {points} as ground",
            "level": f"Give {points} another level",
            "edge": "Swap an edge",
            "breakline": "Draw a breakline",
            "drop": "Take a triangle away" if count == 1 else f"Take {count} triangles away",
        }[self.what]

    def check(self) -> None:
        """Raises DesignInputError where it is no change."""
        if not self.rows:
            raise DesignInputError("rows", "A change of the ground needs a point: pick one.")
        if len({row.what for row in self.rows}) > 1:
            raise DesignInputError("rows", "One change does one thing: make two of it.")
        need = {"edge": 2, "breakline": 2}.get(self.what, 1)
        if len(self.rows) < need or (self.what == "edge" and len(self.rows) > 2):
            raise DesignInputError("rows", f"“{self.what}” needs {need} points: there are {len(self.rows)}.")
        if self.what == "level" and any(row.new_level_m is None for row in self.rows):
            raise DesignInputError("rows", "A level instead of the surveyed one must be given.")


@dataclass(frozen=True)
class Edited:
    """A surface with changes made; `touched_m` (k, 4) boxes of each change's effect with `of` (k,) its number;
    `idle` says of the changes that could not be made (number, reason); `count` of all of them.
    """

    tin: Tin
    touched_m: FloatArray
    of: NDArray[np.int64]
    idle: list[tuple[int, str]]
    count: int


def edited(
    before: Edited, changes: Sequence[GroundChange], longest_edge_m: float, points: Callable[[], FloatArray]
) -> Edited:
    """A surface with further changes made, in their order.

    Parameters
    ----------
    longest_edge_m : float
        As the surface was built with. [m]
    points : function
        The survey's points (n, 3), asked for where one stands behind another one at the same place.
    """
    mesh = Mesh(before.tin, longest_edge_m)
    hand = _Hand(mesh, before.tin, points)
    boxes = list(before.touched_m)
    of: list[int] = before.of.tolist()
    idle = list(before.idle)
    for number, change in enumerate(changes, start=before.count):
        known = len(mesh.touched_m)
        reason = hand.make(change)
        if reason:
            idle.append((number, reason))
        more = mesh.touched_m[known:]
        boxes += list(more)
        of += [number] * len(more)
    count = before.count + len(changes)
    return Edited(mesh.tin(hand.doubles), np.array(boxes).reshape(-1, 4), np.array(of, dtype=np.int64), idle, count)


def as_built(tin: Tin) -> Edited:
    """A surface with no changes made."""
    return Edited(tin, np.zeros((0, 4)), np.zeros(0, dtype=np.int64), [], 0)


# More points than this are taken out by building the surface anew.
_BULK = 200


def is_bulk(change: GroundChange) -> bool:
    """Whether so many points go that building the surface anew is quicker than changing it in places."""
    return change.what == "exclude" and len(change.rows) > _BULK


def meant_by(xyz: FloatArray, changes: Sequence[GroundChange]) -> NDArray[np.bool_]:
    """(n,) whether each point is one that these changes name by its place and level."""

    def named(values: FloatArray) -> NDArray[np.void]:
        return np.ascontiguousarray(np.round(values * 1000).astype(np.int64)).view("i8,i8,i8").ravel()

    rows = np.array([(r.easting_m, r.northing_m, r.level_m) for c in changes for r in c.rows]).reshape(-1, 3)
    out: NDArray[np.bool_] = np.isin(named(xyz), named(rows))
    return out


class _Hand:
    """Makes changes on a mesh."""

    def __init__(self, mesh: Mesh, tin: Tin, points: Callable[[], FloatArray]) -> None:
        self._mesh, self._points = mesh, points
        self._behind: dict[int, list[int]] = {
            int(row): [int(d) for d, _ in group]
            for row, group in groupby(sorted(tin.doubles.tolist(), key=lambda p: p[1]), key=lambda p: p[1])
        }

    @property
    def doubles(self) -> NDArray[np.int64]:
        """(k, 2) points that still stand behind another one, and that other one."""
        pairs = [(behind, row) for row, all_of_it in self._behind.items() for behind in all_of_it]
        return np.array(sorted(pairs), dtype=np.int64).reshape(-1, 2)

    def make(self, change: GroundChange) -> str:
        """Make one change; the reason where it could not be made, or not all of it.

        What can't be made changes nothing: whatever was saved, its ground can be opened.
        """
        back = self._mesh.as_it_is()
        try:
            match change.what:
                case "keep":
                    return ""
                case "edge":
                    return self._edge(*change.rows)
                case "breakline":
                    return self._breakline(change.rows)
                case "drop" | "exclude" | "level":
                    missed = [row for row in change.rows if not self._one(row)]
        except DesignInputError as e:
            back()
            return e.message
        except (KeyError, IndexError, ValueError, RuntimeError):
            # Triangles that were cut about before in a way that nobody thought of.
            back()
            return "This can't be done there: the triangles about it leave no way."
        if not missed:
            return ""
        many = "" if len(missed) == 1 else f", nor {len(missed) - 1} more"
        thing = "triangle" if change.what == "drop" else "surveyed point of level {z:level}"
        first = missed[0]
        return say(
            f"There is no {thing} at E {{e:length}}, N {{n:length}}{many}.",
            z=first.level_m, e=first.easting_m, n=first.northing_m,
        )  # fmt: skip

    def _one(self, row: GroundEdit) -> bool:
        if row.what == "drop":
            t = self._mesh.triangle_at(row.plan)
            if t is not None:
                self._mesh.drop([t])
            return t is not None
        v = self._mesh.point_at(row.plan)
        if v is None:
            return False
        if abs(self._mesh.xyz[v, 2] - row.level_m) > SAME_POINT_M:
            return self._behind_it(v, row)
        if row.what == "level":
            assert row.new_level_m is not None
            self._mesh.set_level(v, row.new_level_m)
            return True
        standing = int(self._mesh.row[v])
        behind = self._behind.get(standing, [])
        if behind:
            # Another point at the same place stands there now.
            following = behind[0]
            self._behind[following] = self._behind.pop(standing)[1:]
            self._mesh.set_level(v, float(self._points()[following, 2]), following)
        else:
            self._mesh.remove_point(v)
        return True

    def _behind_it(self, v: int, row: GroundEdit) -> bool:
        """Whether the row means a point that stands behind the one of the surface."""
        behind = self._behind.get(int(self._mesh.row[v]), []) if row.what == "exclude" else []
        for point in behind:
            if abs(self._points()[point, 2] - row.level_m) <= SAME_POINT_M:
                self._behind[int(self._mesh.row[v])] = [p for p in behind if p != point]
                return True
        return False

    def _edge(self, a: GroundEdit, b: GroundEdit) -> str:
        p, q = self._mesh.point_at(a.plan), self._mesh.point_at(b.plan)
        if p is None or q is None:
            return "A point that the edge is to join is not in the ground any more."
        self._mesh.join(p, q)
        return ""

    def _breakline(self, rows: Iterable[GroundEdit]) -> str:
        points: list[int] = []
        for row in rows:
            v = self._mesh.point_at(row.plan)
            if v is None:
                v = self._mesh.add_point(row.plan, row.level_m)
            if not points or points[-1] != v:
                points.append(v)
        for p, q in pairwise(points):
            self._mesh.join(p, q)
        return ""
