"""The ground of a case: its surveys, the surface of their points, and that with its boundary and changes by hand."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground.edits import Edited, GroundChange, as_built, edited, is_bulk, meant_by
from delgrun.core.ground.outline import Outline, cut_out
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.inputs import OUTLINE, SURVEY
from delgrun.core.survey.joining import Layer, joined, longest_edge_of
from delgrun.core.survey.points import Survey, SurveyHead
from delgrun.service.case import Case, once
from delgrun.service.errors import NotReady
from delgrun.service.made import Kept, Key

FloatArray = NDArray[np.float64]
Surveys = tuple[Kept[SurveyHead], ...]


def _surface_of(ground: Edited) -> Tin:
    return ground.tin


def _within(tin: Tin, outline: Outline) -> Tin:
    return cut_out(tin, outline.rings)


@once
def surveys(case: Case) -> Kept[Surveys]:
    """All surveys, in the order in which they came."""
    found = tuple(case.state.surveys.values())
    if not found:
        raise NotReady(SURVEY.name, "There is no survey yet: import one.")
    return Kept(found, Key(*(s.key for s in found)))


def longest_edge_m(case: Case) -> float:
    """How long an outer edge of the ground may be: as the outline says, else as the surveys do. [m]"""
    said = case.state.outline.longest_edge_m
    return longest_edge_of([s.value.longest_edge_m for s in surveys(case).value]) if said is None else said


def layers(case: Case) -> dict[str, Layer]:
    """The surveys with their points, by slot."""
    return dict(zip(case.state.surveys, _layers(case, surveys(case).value), strict=True))


@once
def points(case: Case) -> Kept[Survey]:
    """The points of all surveys as they were accepted."""

    def all_points(surveys: Surveys) -> Survey:
        return joined(_layers(case, surveys))

    return case.made(all_points, surveys(case))


def _layers(case: Case, surveys: Surveys) -> list[Layer]:
    return [Layer(case.points_of(s.key), s.value.joins, s.value.longest_edge_m) for s in surveys]


@once
def tin(case: Case) -> Kept[Tin]:
    """The ground: the survey's triangles with all changes by hand."""
    return case.made(_surface_of, ground(case))


@once
def ground(case: Case) -> Kept[Edited]:
    """The ground with what its changes by hand have touched."""
    few = [c for c in case.state.changes.values() if not is_bulk(c.value)]
    return _edited(case, outlined(case), few)


@once
def outlined(case: Case) -> Kept[Tin]:
    """The same within its boundary."""
    outline = case.state.slots.get(OUTLINE.name)
    return case.made(_within, built(case), outline) if outline is not None and outline.value.rows else built(case)


@once
def built(case: Case) -> Kept[Tin]:
    """The survey's triangles, without the points that are taken out by the hundred."""
    many = [c for c in case.state.changes.values() if is_bulk(c.value)]
    built = case.made(_model_for(case), surveys(case), longest_edge_m(case), *many, on_shelf=Tin)
    # Part of what it weighs, and wanted by whatever asks it for a level.
    _ = built.value.cells
    return built


def _edited(case: Case, built: Kept[Tin], changes: list[Kept[GroundChange]]) -> Kept[Edited]:
    longest = longest_edge_m(case)

    def places() -> FloatArray:
        return points(case).value.xyz

    def from_start(tin: Tin, *all_of_them: GroundChange) -> Edited:
        return edited(as_built(tin), all_of_them, longest, places)

    # With one more change it is the surface before with that one made, if that surface is at hand.
    before = case.made.has(from_start, built, *changes[:-1]) if changes else None

    def one_more() -> Edited:
        assert before is not None
        return edited(before.value, [changes[-1].value], longest, places)

    return case.made(from_start, built, *changes, quicker=one_more if before else None)


def take_built(case: Case, tin: Tin) -> None:
    """Keep the surface of surveys that was just built, so that it isn't built again."""
    if not any(is_bulk(c.value) for c in case.state.changes.values()):
        case.made(_model_for(case), surveys(case), longest_edge_m(case), on_shelf=Tin, quicker=lambda: tin)


def _model_for(case: Case) -> Callable[..., Tin]:
    def ground_model(surveys: Surveys, longest: float, *without: GroundChange) -> Tin:
        points = joined(_layers(case, surveys))
        if not without:
            return build_tin(points.xyz, points.breaklines, longest)
        kept = np.flatnonzero(~meant_by(points.xyz, without))
        number = np.full(len(points.xyz), -1)
        number[kept] = np.arange(len(kept))
        lines = [number[line][number[line] >= 0] for line in points.breaklines]
        tin = build_tin(points.xyz[kept], lines, longest)
        # Rows are those of the whole survey.
        row = np.where(tin.row >= 0, kept[tin.row], -1)
        return replace(tin, row=row, doubles=kept[tin.doubles])

    return ground_model
