"""Getting ready: compile every kernel once, and meet the terrain of the newest project before it is asked for."""

import logging
import time
from pathlib import Path

import numpy as np
from sqlalchemy.exc import SQLAlchemyError

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.earthworks.evaluator import CostModel, Earthworks, evaluate_line
from delgrun.core.earthworks.shifting import offset_price
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.piece_kernels import furthest
from delgrun.core.ground.along import ground_sections, long_section
from delgrun.core.ground.tiles import Place, extents, surface, tile
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.limits.limit_set import default_limits
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.search import search
from delgrun.core.section.section import build_depth_table, exact_section
from delgrun.core.section.typical_section import SectionSetting
from delgrun.core.sight.along import Lights, stopping_sight
from delgrun.core.sight.space import road_of, sight_in_space
from delgrun.core.sight.space_kernels import line_of_sight
from delgrun.core.stopping import Stopping
from delgrun.core.survey.points import Survey
from delgrun.core.survey.suspects import off_their_neighbours
from delgrun.core.survey.thinning import thin
from delgrun.core.trucks.trucks import Truck, run
from delgrun.exchange import apart
from delgrun.service.errors import NotReady
from delgrun.service.products import PRODUCTS
from delgrun.service.projects import Projects

_LOG = logging.getLogger(__name__)
# How often to ask for the database and its tables, and how long to wait in between. [s]
_PATIENCE, _PAUSE_S = 1200, 0.1
# By then a page that came with the start is open. [s]
_OPENING_S = 2.0


def compile_kernels() -> None:
    """Use every compiled kernel once on a small made-up road, so that their machine code is kept on disk."""
    tin, works, flat = _small_road()
    tile(tin, Place(0, 0, 0), 1.0)
    extents(tin)
    off_their_neighbours(tin.xyz)
    surface(build_tin(thin(Survey(tin.xyz), 0.5, 40.0).survey.xyz))
    start, end = flat.ips[0].level_m, flat.ips[-1].level_m
    search(SearchProblem(works, CostModel(), default_limits(50.0), start, end), lambda *_: None, lambda: False)


def _small_road() -> tuple[Tin, Earthworks, GradeLine]:
    """A small made-up road with all that is worked out of one while it is designed."""
    e, n = np.meshgrid(np.arange(-20.0, 640.0, 10.0), np.arange(-80.0, 200.0, 10.0))
    xyz = np.column_stack([e.ravel(), n.ravel(), 100 + 6 * np.sin(e.ravel() / 90) + n.ravel() / 50])
    tin = build_tin(xyz, [np.array([0, 1, 2])], 40.0)
    tin.level_at(np.array([1.0]), np.array([1.0]))
    corners = [(0.0, 0.0, 0.0), (300.0, 20.0, 200.0), (600.0, 100.0, 0.0)]
    line = Centreline(
        [CentrelineIp(easting_m=a, northing_m=b, radius_m=r, transition_in_m=r / 10) for a, b, r in corners]
    )
    line.line.nearest(np.array([1.0]), np.array([1.0]))
    line.line.feet(1.0, 1.0)
    long_section(tin, line)
    s = line.priced_chainages(10.0)
    across = ground_sections(tin, line, s, 60.0)
    typical = SectionSetting()
    works = Earthworks.of(across, build_depth_table(across, typical), typical)
    start, end = across.centre_level_m[[0, -1]]
    flat = GradeLine.of([Ip(chainage_m=0.0, level_m=start), Ip(chainage_m=line.end_chainage_m, level_m=end)])
    offset_price(works, evaluate_line(works, flat, CostModel()), CostModel(), line)
    exact_section(*across.one(0), typical, float(start))
    _look_along(flat, line, works)
    run(flat, Truck(), 70.0)
    return tin, works, flat


def _look_along(line: GradeLine, centreline: Centreline, works: Earthworks) -> None:
    """Every kind of sight, and room at a level control."""
    rules = Stopping(speed_kmh=70.0)
    along = stopping_sight(line, rules)
    stopping_sight(line, rules, lights=Lights(0.6, 0.0175))
    road = road_of(line, centreline, works, evaluate_line(works, line, CostModel()))
    sight_in_space(road, rules, along, 1.5)
    line_of_sight(road.places, road.rows, 0, 1, 1, 1.5, (rules.eye_m, rules.object_m))
    furthest(line.pieces, np.array([1.0, 2.0]), np.zeros(2), True)
    furthest(line.pieces, np.array([1.0]), np.zeros(1), False)


def get_ready(projects: Projects, mark_folder: Path) -> None:
    """What a server does ahead of time, beside whatever it is asked: see `keep_terrains_ready`.

    What a changed centreline needs has not been used where all came from the shelf: a second and more of loading, which
    waits until the page that is being opened has what it asks for.
    """
    keep_terrains_ready(projects, mark_folder)
    time.sleep(_OPENING_S)
    _small_road()
    apart.get_ready()


def keep_terrains_ready(projects: Projects, mark_folder: Path) -> None:
    """Meet the terrain of the project saved last, once the database answers.

    A file in `mark_folder` says so while it goes on.
    """
    for _ in range(_PATIENCE):
        try:
            listed = sorted(projects.listed(), key=lambda p: p["saved_at"])
            break
        except SQLAlchemyError:
            # At a start the server comes up beside the database, whose tables may not be there yet.
            time.sleep(_PAUSE_S)
    else:
        return
    if not listed:
        return
    newest = listed[-1]
    # Stands while the terrain is met: where that ended the server, the next start doesn't do it again.
    mark = mark_folder / "meeting"
    what = f"{newest['id']} {newest['revision']}"
    if mark.exists() and mark.read_text() == what:
        _LOG.warning("the terrain of project %s is not met ahead of time: the last time it ended the server", what)
        return
    mark.write_text(what)
    try:
        state = projects.states.newest(newest["id"])
        # What the page asks for first, so that it finds it made.
        case = projects.case_of_first_line(state)
        for product in PRODUCTS:
            if product.when != "AFTER" and not product.at:
                product.make(case)
    except NotReady:
        pass
    except Exception:
        # Only a head start: whoever opens the project gets the real error, with its reason.
        _LOG.info("the terrain could not be met ahead of time", exc_info=True)
    finally:
        mark.unlink()
