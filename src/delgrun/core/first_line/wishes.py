"""What may be wished of a first line; apart from what makes one, whose libraries take a while to import."""

from dataclasses import dataclass
from typing import Literal

# Over ground flatter than the flattest grade a line rises and falls by turns, or has one even grade.
Drains = Literal["roll", "even"]


@dataclass(frozen=True)
class Depths:
    """Greatest depths of cut and of fill at the centreline, kept where it can be; None leaves one free. [m]"""

    cut_m: float | None = None
    fill_m: float | None = None


@dataclass(frozen=True)
class Round:
    """To what grades [m/m], and chainages and lengths of curves [m], of a first line are rounded."""

    grade: float = 0.001
    length_m: float = 5.0
