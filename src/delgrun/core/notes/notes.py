"""Notes and labels at chainages: what a designer wants to be reminded of, or to have written, along the road."""

from dataclasses import dataclass
from typing import Literal

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant


@dataclass(frozen=True, kw_only=True)
class Note:
    """A few words at one chainage, drawn in the long section; or a label of the line or the ground there.

    A label stands at its point with its chainage and the level there now, behind the words if there are any.
    """

    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    words: str = meant("line", "words")
    label: Literal["words", "line", "ground"] = meant(
        "word", "label", choices=("words", "line", "ground"), first="words",
        says="words only, or chainage and level of the line or of the ground",
    )  # fmt: skip
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class Notes:
    """All notes of a project, in the order in which they were made."""

    rows: tuple[Note, ...] = meant("count", "notes", of=Note, most=500, first=())

    def check(self) -> None:
        """Raises DesignInputError where a note says nothing."""
        for row in self.rows:
            if row.label == "words" and not row.words.strip():
                raise DesignInputError("words", "The note at {s:chainage} has no words.", s=row.chainage_m)
