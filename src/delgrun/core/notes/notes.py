"""Notes at chainages: what a designer wants to be reminded of along the road."""

from dataclasses import dataclass

from delgrun.core.fields import meant


@dataclass(frozen=True, kw_only=True)
class Note:
    """A few words at one chainage, drawn in the long section."""

    chainage_m: float = meant("chainage", "chainage", low=-1e8, high=1e8)
    words: str = meant("text", "words")
    road: str = meant("word", "centreline", first="centreline")


@dataclass(frozen=True, kw_only=True)
class Notes:
    """All notes of a project, in the order in which they were made."""

    rows: tuple[Note, ...] = meant("count", "notes", of=Note, most=500, first=())
