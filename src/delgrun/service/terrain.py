"""Terrain of a project through the cache: each result is kept under the versions it was made from."""

from collections.abc import Sequence
from dataclasses import dataclass

import contourpy
import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline, CentrelineIp
from delgrun.core.earthworks.evaluator import Earthworks
from delgrun.core.ground import tin_kernels
from delgrun.core.ground.along import GroundSections, LongSection, ground_sections, long_section
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.section.section import build_depth_table
from delgrun.service.errors import NotReady
from delgrun.service.state import CENTRELINE, SECTION, SURVEY, Cache, ProjectState
from delgrun.store import inputs
from delgrun.store.database import Database

FloatArray = NDArray[np.float64]

# Ground is cut this far to both sides of the line; the strip map shows less. [m]
SECTION_REACH_M = 60.0
STRIP_REACH_M = 40.0
_STRIP_OFFSETS = np.linspace(-STRIP_REACH_M, STRIP_REACH_M, 41)


@dataclass(frozen=True)
class Terrain:
    """What the centreline meets: ground along it, sections across it and their depth tables."""

    centreline: Centreline
    long_section: LongSection
    sections: GroundSections
    works: Earthworks


def points_along(corners: Sequence[tuple[float, float, float]], step_m: float) -> FloatArray:
    """(k, 2) points this far apart along a centreline given by (easting, northing, radius). [m]"""
    line = Centreline([CentrelineIp(easting_m=e, northing_m=n, radius_m=r) for e, n, r in corners])
    e, n, _ = line.locate(np.append(np.arange(0.0, line.length_m, step_m), line.length_m))
    return np.column_stack([e, n])


class Terrains:
    """Ground models and terrains, newest kept."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._tins = Cache(4)
        self._terrains = Cache(8)
        self._drawings = Cache(8)

    def tin(self, state: ProjectState) -> Tin:
        if state.survey is None:
            raise NotReady("survey", "There is no survey yet: import one.")
        survey, vid = state.survey, state.versions[SURVEY]

        def make() -> Tin:
            with self._database.session() as session:
                points = inputs.read_survey(session, vid)
            return build_tin(points.xyz, points.breaklines, survey.longest_edge_m)

        return self._tins.get(vid, make)

    def terrain(self, state: ProjectState) -> Terrain:
        """Raises NotReady naming the first input that is missing."""
        tin = self.tin(state)
        if state.centreline is None:
            raise NotReady("centreline", "There is no centreline yet: enter or import its IPs.")
        if state.section is None:
            raise NotReady("section", "There is no typical section yet.")
        line, section = state.centreline, state.section
        key = tuple(state.versions[k] for k in (SURVEY, CENTRELINE, SECTION))

        def make() -> Terrain:
            centreline = Centreline(list(line.ips), line.start_chainage_m)
            priced = centreline.priced_chainages(section.interval_m)
            across = ground_sections(tin, centreline, priced, SECTION_REACH_M)
            works = Earthworks.of(priced, build_depth_table(across, section.typical), section.typical.topsoil_depth_m)
            return Terrain(centreline, long_section(tin, centreline), across, works)

        return self._terrains.get(key, make)

    def plan_contours(self, state: ProjectState, interval_m: float) -> FloatArray:
        """(k, 5) contour segments of the ground in plan."""
        tin = self.tin(state)

        def make() -> FloatArray:
            out: FloatArray = tin_kernels.contour_segments(tin.xyz, tin.triangles, interval_m)
            return out

        return self._drawings.get((state.versions[SURVEY], interval_m), make)

    def strip_contours(self, state: ProjectState, interval_m: float) -> list[tuple[float, FloatArray]]:
        """Contours of the ground unrolled left and right of the centreline, as (level, (n, 2) chainage, offset)."""
        terrain = self.terrain(state)
        key = ("strip", interval_m, *(state.versions[k] for k in (SURVEY, CENTRELINE, SECTION)))
        return self._drawings.get(key, lambda: _strip(terrain.sections, interval_m))


def _strip(across: GroundSections, interval_m: float) -> list[tuple[float, FloatArray]]:
    grid = np.full((len(_STRIP_OFFSETS), len(across.chainage_m)), np.nan)
    for i in range(len(across.chainage_m)):
        offset, level = across.one(i)
        if len(offset) > 1:
            grid[:, i] = np.interp(_STRIP_OFFSETS, offset, level, left=np.nan, right=np.nan)
    if np.isnan(grid).all():
        return []
    lines = contourpy.contour_generator(across.chainage_m, _STRIP_OFFSETS, np.ma.masked_invalid(grid))
    first, last = np.nanmin(grid), np.nanmax(grid)
    return [
        (float(level), np.asarray(part))
        for level in np.arange(np.ceil(first / interval_m), np.floor(last / interval_m) + 1) * interval_m
        for part in lines.lines(level)
    ]
