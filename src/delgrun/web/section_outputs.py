"""Answers about typical sections."""

from typing import Any

from delgrun.service.declared import SECTION
from delgrun.service.sections import DrawnSection, What
from delgrun.web.models import body_of
from delgrun.web.outputs import Out

_Typical: Any = body_of(SECTION.cls)


class StartingSectionOut(Out):
    """A section to begin with."""

    id: str
    says: str
    section: _Typical


class KeptSectionOut(Out):
    """A section, or elements as a piece, that is kept for all projects."""

    id: int
    name: str
    what: What
    section: _Typical


class SectionsOut(Out):
    starting: list[StartingSectionOut]
    kept: list[KeptSectionOut]


class EntryOut(Out):
    """What is kept, by its number."""

    id: int


class DrawnSectionOut(Out):
    drawn: DrawnSection
