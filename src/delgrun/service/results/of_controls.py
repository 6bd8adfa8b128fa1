"""What the level controls of a road ask of its line, with the ground and the old roads they are measured from."""

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.controls.bands import Band, Sources, bands_of
from delgrun.core.controls.controls import LevelControls
from delgrun.core.controls.utilities import Utilities, utility_bands
from delgrun.core.gradeline.grade_line import LineDesign
from delgrun.core.ground.along import LongSection, level_along
from delgrun.core.ground.tin import Tin
from delgrun.core.inputs import CONTROLS, UTILITIES
from delgrun.core.section.road_design import RoadDesign
from delgrun.service.case import Case
from delgrun.service.made import Kept
from delgrun.service.results import of_design, of_ground, of_road


def bands(case: Case) -> Kept[tuple[Band, ...]] | None:
    """What the level controls and the utilities of a case's road ask; None where there are none."""
    asked = [found for found in (_controls_of(case), _utilities_of(case)) if found is not None]
    return None if not asked else case.made(_together, *asked)


def _together(*asked: tuple[Band, ...]) -> tuple[Band, ...]:
    return tuple(band for bands in asked for band in bands)


def _controls_of(case: Case) -> Kept[tuple[Band, ...]] | None:
    controls: Kept[LevelControls] | None = case.state.slots.get(CONTROLS.name)
    own = () if controls is None else controls.value.of(case.road)
    if controls is None or not own:
        return None
    slots = tuple(sorted({c.old_line or "" for _, c in own if c.measured_from == "line"} & case.state.lines.keys()))
    old = [case.state.slots[slot] for slot in slots]
    # The ground is met only for what is measured from it.
    if any(c.measured_from == "ground" for _, c in own) and case.state.surveys and case.road in case.state.roads:
        along = of_ground.tin(case), of_road.centreline(case), of_road.long(case)
        return case.made(_over_ground, controls, case.road, of_design.design(case), *along, slots, *old)
    return case.made(_bands, controls, case.road, of_design.design(case), slots, *old)


def _utilities_of(case: Case) -> Kept[tuple[Band, ...]] | None:
    utilities: Kept[Utilities] | None = case.state.slots.get(UTILITIES.name)
    if utilities is None or not utilities.value.rows or case.road not in case.state.roads:
        return None
    if case.state.surveys:
        return case.made(
            utility_bands, utilities, of_road.centreline(case), of_design.design(case), of_ground.tin(case)
        )
    return case.made(utility_bands, utilities, of_road.centreline(case), of_design.design(case), None)


def _bands(
    controls: LevelControls, road: str, design: RoadDesign, slots: tuple[str, ...], *old: LineDesign
) -> tuple[Band, ...]:
    lines = {slot: design.line for slot, design in zip(slots, old, strict=True)}
    return bands_of(controls.of(road), Sources(design, None, lines))


def _over_ground(
    controls: LevelControls,
    road: str,
    design: RoadDesign,
    tin: Tin,
    centreline: Centreline,
    rows: LongSection,
    slots: tuple[str, ...],
    *old: LineDesign,
) -> tuple[Band, ...]:
    lines = {slot: design.line for slot, design in zip(slots, old, strict=True)}
    ground = lambda offset, a, b: level_along(tin, centreline, rows, offset, a, b)  # noqa: E731
    return bands_of(controls.of(road), Sources(design, ground, lines))
