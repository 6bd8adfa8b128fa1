"""Files that leave the program, beside tables. A new one is a function that makes it, and a line in `WRITERS`."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from delgrun.core.inputs import CENTRELINE
from delgrun.exchange import landxml_out
from delgrun.service.errors import NotReady
from delgrun.service.named import named_file
from delgrun.service.projects import Projects
from delgrun.service.results import of_ground, of_road
from delgrun.service.state import ProjectState

_XML = "application/xml"


@dataclass(frozen=True, kw_only=True)
class Writer:
    """One kind of file.

    Parameters
    ----------
    name : what it is called in addresses, and in the file's name
    title : its name for people
    says : what it holds, for people
    suffix : of its name
    mime : its kind, as the web has it
    make : its bytes, of a project as of a revision
    """

    name: str
    title: str
    says: str
    suffix: str
    mime: str
    make: Callable[[Projects, ProjectState], bytes]


def _centrelines(projects: Projects, state: ProjectState) -> bytes:
    roads = [
        landxml_out.Written(
            kept.value.name,
            of_road.centreline(projects.case(state, road=road)).value,
            tuple((v.name, v.line) for v in state.lines_of(road).values()),
            of_road.stations(projects.case(state, road=road)),
        )
        for road, kept in state.roads.items()
    ]
    if not roads:
        raise NotReady(CENTRELINE.name, "There is no centreline yet: draw it, or enter or import its IPs.")
    return landxml_out.alignments(roads)


def _ground(projects: Projects, state: ProjectState) -> bytes:
    return landxml_out.surface("ground", of_ground.tin(projects.case(state)).value)


WRITERS: tuple[Writer, ...] = (
    Writer(
        name="centrelines",
        title="Centrelines and grade lines (LandXML)",
        says="All centrelines with their elements and chainage equations, their grade lines as profiles.",
        suffix=".xml",
        mime=_XML,
        make=_centrelines,
    ),
    Writer(
        name="ground",
        title="Ground (LandXML)",
        says="The ground as it is worked with, with changes by hand and boundaries: points and triangles.",
        suffix=".xml",
        mime=_XML,
        make=_ground,
    ),
)
_BY_NAME = {w.name: w for w in WRITERS}
if TYPE_CHECKING:
    WriterName = str
else:
    WriterName = Literal[tuple(w.name for w in WRITERS)]


def file(projects: Projects, project_id: int, revision: int, name: str) -> tuple[str, str, bytes]:
    """A file of a project as of a revision: its name, its kind, its bytes."""
    writer, state = _BY_NAME[name], projects.states.at(project_id, revision)
    return f"{named_file(projects, state, name)}{writer.suffix}", writer.mime, writer.make(projects, state)
