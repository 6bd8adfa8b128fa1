"""Bringing in a survey: a background job that reads a file, builds the ground with it, and saves both."""

import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import asdict, dataclass, replace
from typing import TYPE_CHECKING, Protocol

import numpy as np
import orjson
from numpy.typing import NDArray

from delgrun.core.budget import MOST_POINTS
from delgrun.core.coordinates import Coordinates
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.outline import Outline, OutlineCorner, cut_out
from delgrun.core.ground.tiles import surface
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.inputs import CENTRELINE, COORDINATES, OUTLINE
from delgrun.core.survey.doubts import doubts, suggested_longest_edge_m
from delgrun.core.survey.joining import Layer, joined, longest_edge_of
from delgrun.core.survey.points import Joins, Survey
from delgrun.core.survey.strip import Strip, along
from delgrun.core.survey.thinning import thin
from delgrun.exchange import apart
from delgrun.exchange.survey_text import Reading, SurveyText
from delgrun.exchange.text_columns import UNITS
from delgrun.service import coordinates, imports, surveys, uploads
from delgrun.service.errors import NotReady, Stopped
from delgrun.service.projects import Projects, Saving
from delgrun.service.results import of_ground
from delgrun.service.state import ProjectState
from delgrun.service.wire import Json
from delgrun.store.inputs import SurveyInput
from delgrun.store.revisions import RevisionConflict
from delgrun.store.uploads import UploadedFile, UploadRow, buffered

if TYPE_CHECKING:
    from delgrun.service.jobs import Running
    from delgrun.store.jobs import Status

# Shares of the whole at which its parts begin.
_THIN, _BUILD, _STORE = 0.25, 0.45, 0.9
# So many points can be read where they are thinned: they take about three gigabytes meanwhile.
_MOST_THINNED = 30_000_000
_TRIES = 20


@dataclass(frozen=True, kw_only=True)
class ImportWish:
    """How an uploaded file is to become ground: how it is read, what of it, and how it joins what is there.

    `longest_edge_m` None: as the points suggest. `instead`: the slot of the survey whose place it takes.
    """

    upload_id: int
    layout: Json | None = None
    parts: Json | None = None
    longest_edge_m: float | None = None
    joins: Joins = "alone"
    within_m: float | None = None
    thin_m: float | None = None
    on_grid: bool = False
    instead: str | None = None


class Told(Protocol):
    """Who is told how far an import is; it raises Stopped where nothing more is wanted."""

    def __call__(self, stage: str, share: float, read: int, points: int) -> None: ...


def nobody(stage: str, share: float, read: int, points: int) -> None:
    """Progress that nobody asked for."""


def check(projects: Projects, project_id: int, revision: int, slot: str, asked: str | None) -> None:
    """Refuse at once what cannot be begun."""
    wish = ImportWish(**orjson.loads(asked or ""))
    row = uploads.find(projects, project_id, wish.upload_id)
    if not row.whole:
        raise NotReady("survey", "The file is still on its way: try again when all of it is here.")
    state = projects.states.at(project_id, revision)
    if wish.within_m is not None and state.centreline is None:
        raise NotReady(CENTRELINE.name, "There is no centreline yet to keep near to: read all of the file.")


def run(running: "Running") -> tuple["Status", Json]:
    """Read, build and save; the result says what was read, and the revision it is in."""
    row = running.row
    wish = ImportWish(**orjson.loads(row.asked or ""))
    size = uploads.find(running.projects, row.project_id, wish.upload_id).size

    def tell(stage: str, share: float, read: int, points: int) -> None:
        if running.stop_asked():
            raise Stopped("Stopped: nothing of the file was taken in.")
        far = {"read": read, "size": size, "points": points, "revision": None, "summary": None}
        running.say(stage=stage, share=share, result=orjson.dumps(far).decode())

    token = f"import-{row.id}"
    # A worker that was killed after it had saved is not to save again.
    found = surveys.saved_as(running.projects, row.project_id, token)
    revision, summary = found or bring_in(running.projects, row.project_id, wish, tell, token=token)
    told = {"read": size, "size": size, "points": summary["points"], "revision": revision, "summary": summary}
    return "done", told


def bring_in(
    projects: Projects,
    project_id: int,
    wish: ImportWish,
    tell: Told = nobody,
    *,
    author: str = "",
    token: str | None = None,
) -> tuple[int, Json]:
    """Bring a survey in; returns the revision it is saved in and what is said of it.

    It is saved on top of whatever was saved meanwhile.

    Raises
    ------
    DesignInputError
        The file can't be read so, or no surface can be made of its points. Nothing is saved.
    Stopped
        `tell` said that nothing more is wanted.
    """
    began = time.monotonic()
    upload = uploads.find(projects, project_id, wish.upload_id)
    projects.need_room(upload.size)
    text, head, summary = _read(projects, project_id, upload, wish, tell)
    with ThreadPoolExecutor(1) as beside:
        # What is doubted is looked for while the ground is built.
        found = beside.submit(doubts, text.survey.xyz, text.line, text.survey.breaklines, text.counted)
        for _ in range(_TRIES):
            state = projects.states.newest(project_id)
            tell("building the ground", _BUILD, upload.size, len(text.survey.xyz))
            clash = coordinates.clash(state.coordinates, text.said)
            if clash:
                raise DesignInputError("file", clash)
            outline = _outlined(state, head, text)
            slot = wish.instead or surveys.free_slot(state)
            tin = _built(projects, state, slot, head)
            if outline is not None:
                # Refused before it is saved where nothing of the ground would be left.
                cut_out(tin, outline.rings)
            # What else the file says goes with it.
            grid = coordinates.taken_on(state.coordinates, text.said)
            brings = {k: v for k, v in ((OUTLINE.name, outline), (COORDINATES.name, grid)) if v is not None}
            tell("saving", _STORE, upload.size, len(text.survey.xyz))
            area = surface(tin).plan_area_m2
            said = summary | {
                "doubts": found.result(),
                "plan_area_m2": area,
                "points_per_m2": len(tin.xyz) / max(area, 1e-9),
                "seconds": round(time.monotonic() - began, 1),
            }
            value = replace(head, summary=orjson.dumps(said))
            # Where somebody changed the ground meanwhile, it is built anew with that.
            with suppress(RevisionConflict):
                to = Saving(project_id=project_id, base=state.revision, author=author, token=token)
                return surveys.save(projects, to, {slot: value, **brings}, tin), said
    raise DesignInputError("file", "The ground was changed again and again meanwhile: try again.")


@dataclass(frozen=True)
class _Near:
    """Tells which points of a file, in its unit, lie in a strip; for another process to ask."""

    strip: Strip
    unit: float

    def __call__(self, xyz: NDArray[np.float64]) -> NDArray[np.bool_]:
        return self.strip.holds(xyz * self.unit)


def _read(
    projects: Projects, project_id: int, upload: UploadRow, wish: ImportWish, tell: Told
) -> tuple[SurveyText, SurveyInput, Json]:
    """The points of a file as wished, as a survey to store, and what is said of them."""
    strip = _strip(projects, project_id, wish)
    source = UploadedFile(projects.database, upload)
    with buffered(source) as file:
        reader = imports.survey_reader(upload.file_name, file)
        options = imports.options_of(reader, wish.layout, wish.parts)
        unit = UNITS[wish.parts["unit"]] if wish.parts else 1.0
        tell("reading the file", 0.0, 0, 0)

        def far(share: float, points: int) -> None:
            read = _BUILD if wish.thin_m is None else _THIN
            tell("reading the file", read * share, int(share * upload.size), points)

        most = MOST_POINTS if wish.thin_m is None else _MOST_THINNED
        how = Reading(far, None if strip is None or wish.on_grid else _Near(strip, unit), most)
        text: SurveyText = apart.read(reader, file, options, how)
        read_as = imports.read_as(reader, file, wish.layout, wish.parts) if wish.layout or wish.parts else ""
        digest = source.sha256()
    read = len(text.survey.xyz)
    if wish.on_grid:
        text = _on_ground(text, projects.states.newest(project_id).coordinates)
    if strip is not None:
        text = cut_to(text, strip)
    longest = wish.longest_edge_m if wish.longest_edge_m is not None else suggested_longest_edge_m(text.survey.xyz)
    off = None
    if wish.thin_m is not None:

        def thinned(share: float) -> None:
            tell("thinning", _THIN + (_BUILD - _THIN) * share, upload.size, read)

        # Held against the surface as it will be bounded.
        said = projects.states.newest(project_id).outline.longest_edge_m
        found = thin(text.survey, wish.thin_m, longest if said is None else said, thinned)
        text, off = replace(text, survey=found.survey, line=text.line[found.kept]), found.off_m
    survey = text.survey
    head = SurveyInput(
        survey=survey,
        summary=b"",
        file_name=upload.file_name,
        file_sha256=digest,
        point_count=len(survey.xyz),
        breakline_count=len(survey.breaklines),
        left_out=text.error_count,
        longest_edge_m=longest,
        read_as=read_as if len(read_as) <= 4000 else "",
        joins=wish.joins,
        upload_id=upload.id,
        within_m=wish.within_m,
        thinned_m=wish.thin_m,
        on_grid=wish.on_grid,
        of_points=read,
    )
    summary = {
        "reader": reader.name,
        "points": len(survey.xyz),
        "of_points": read,
        "breaklines": len(survey.breaklines),
        "error_count": text.error_count,
        "errors": [asdict(e) for e in text.errors[: imports.ERRORS_SHOWN]],
        "codes": imports.codes_of(text),
        "box": np.concatenate([survey.xyz.min(axis=0), survey.xyz.max(axis=0)]).tolist() if len(survey.xyz) else None,
        "longest_edge_m": longest,
        "thinned_m": wish.thin_m,
        "off_m": off,
    }
    return text, head, summary


def _on_ground(text: SurveyText, grid: Coordinates) -> SurveyText:
    """What a file gives on the grid, brought to the ground."""
    survey = replace(text.survey, xyz=grid.on_ground(text.survey.xyz))
    return replace(text, survey=survey, rings=[(kind, grid.on_ground(plan)) for kind, plan in text.rings])


def cut_to(text: SurveyText, strip: Strip) -> SurveyText:
    """What of a file lies near the centreline; raises DesignInputError where next to nothing does."""
    kept = strip.holds(text.survey.xyz)
    if kept.sum() < 3:
        raise DesignInputError(
            "within_m",
            f"Only {int(kept.sum())} of the file's {len(kept)} points lie so near the centreline: the file belongs "
            "to another place, or the strip is too narrow.",
        )
    return replace(text, survey=text.survey.only(kept), line=text.line[kept])


def _strip(projects: Projects, project_id: int, wish: ImportWish) -> Strip | None:
    if wish.within_m is None:
        return None
    centreline = projects.states.newest(project_id).centreline
    if centreline is None:
        raise NotReady(CENTRELINE.name, "There is no centreline any more to keep near to: read all of the file.")
    return Strip(along(centreline.made()), wish.within_m)


def _outlined(state: ProjectState, new: SurveyInput, text: SurveyText) -> Outline | None:
    """The boundary of the ground with those that a file brings; None where it brings none."""
    if not text.rings:
        return None
    before = Outline(longest_edge_m=state.outline.longest_edge_m) if new.joins == "alone" else state.outline
    first = max((row.ring for row in before.rows), default=0) + 1
    rows = [
        OutlineCorner(ring=first + k, what=what, easting_m=e, northing_m=n)
        for k, (what, plan) in enumerate(text.rings)
        for e, n in plan.tolist()
    ]
    out = replace(before, rows=(*before.rows, *rows))
    out.check()
    return out


def _built(projects: Projects, state: ProjectState, slot: str, new: SurveyInput) -> Tin:
    """The surface of a new survey, in its slot, with those that are there already."""
    layers = of_ground.layers(projects.case(state)) if state.surveys and new.joins != "alone" else {}
    # One that is read once more stays where it stands among them.
    layers[slot] = Layer(new.survey, new.joins, new.longest_edge_m)
    survey: Survey = joined(list(layers.values()))
    if len(survey.xyz) > MOST_POINTS:
        raise DesignInputError(
            "joins", f"Together that makes {len(survey.xyz)} points, and {MOST_POINTS} at most can be one ground model."
        )
    said = state.outline.longest_edge_m
    longest = longest_edge_of([x.longest_edge_m for x in layers.values()]) if said is None else said
    tin = build_tin(survey.xyz, survey.breaklines, longest)
    if not len(tin.triangles):
        raise DesignInputError("longest_edge_m", "With this longest edge no triangle is left: use a larger one, or 0.")
    return tin
