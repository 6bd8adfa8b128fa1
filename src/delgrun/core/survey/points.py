"""Surveyed points and the breaklines that join some of them."""

from dataclasses import dataclass, field
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from delgrun.core.fields import meant


@dataclass(frozen=True)
class Survey:
    """`xyz` (n, 3) easting, northing, level [m]; `breaklines` point numbers (rows of xyz) in order.

    `name`, `code` (n,) strings as surveyed; empty where the file has none.
    """

    xyz: NDArray[np.float64]
    breaklines: list[NDArray[np.int64]] = field(default_factory=list)
    name: NDArray[np.str_] = field(default_factory=lambda: np.zeros(0, dtype="U1"))
    code: NDArray[np.str_] = field(default_factory=lambda: np.zeros(0, dtype="U1"))

    def only(self, kept: NDArray[np.bool_]) -> "Survey":
        """The survey with the points that are `kept` (n,); a breakline ends before one that goes."""
        number = np.where(kept, np.cumsum(kept) - 1, -1)
        return Survey(
            np.ascontiguousarray(self.xyz[kept]),
            [piece for line in self.breaklines for piece in _runs(number[line])],
            self.name[kept] if len(self.name) else self.name,
            self.code[kept] if len(self.code) else self.code,
        )


def _runs(line: NDArray[np.int64]) -> list[NDArray[np.int64]]:
    """Pieces of a line of point numbers between those that are gone (-1)."""
    pieces = np.split(line, np.flatnonzero(line < 0))
    return [p for p in (q[q >= 0] for q in pieces) if len(p) > 1]


# How a survey stands to those before it: it is the ground alone, its points come beside theirs, or take their place
# where it has ground of its own.
Joins = Literal["alone", "adds", "replaces"]
JOINS: tuple[Joins, ...] = get_args(Joins)


@dataclass(frozen=True, kw_only=True)
class SurveyHead:
    """What is said of a survey without its points: where it came from, and how its ground is bounded."""

    file_name: str = meant("text", "file")
    file_sha256: str = meant("digest", "checksum of the file")
    point_count: int = meant("count", "points", low=0)
    breakline_count: int = meant("count", "breaklines", low=0)
    left_out: int = meant("count", "lines left out", low=0)
    longest_edge_m: float = meant("size", "longest outer edge", low=0, high=10_000, first=0.0)
    read_as: str = meant("record", "read as", first="", says="how its columns or parts were read, for the next file")
    joins: Literal["alone", "adds", "replaces"] = meant(
        "word", "joins", choices=JOINS, first="alone", says="how it stands to the surveys before it"
    )
    upload_id: int | None = meant("count", "upload", optional=True, first=None, says="the file as it came")
    within_m: float | None = meant(
        "size", "within", low=0, above=True, high=100_000, optional=True, first=None,
        says="only what lay this far from the centreline at most was read",
    )  # fmt: skip
    thinned_m: float | None = meant(
        "size", "thinned within", low=0, above=True, high=100, optional=True, first=None,
        says="points whose level the surface of the others gives this well were left out",
    )  # fmt: skip
    on_grid: bool = meant(
        "flag", "grid, not ground", first=False, says="its coordinates were brought from the grid to the ground"
    )
    of_points: int = meant("count", "points in the file", low=0, first=0)
