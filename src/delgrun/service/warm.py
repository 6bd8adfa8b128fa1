"""Getting ready: compile every kernel once, and meet the terrain of the newest project before it is asked for.

`python -m delgrun.service.warm page` and `rest` compile one part each, side by side.
"""

import logging
import sys
import time
from collections.abc import Callable
from importlib import import_module
from pathlib import Path

import numba
import numpy as np
from numpy.typing import NDArray
from sqlalchemy.exc import SQLAlchemyError

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_line
from delgrun.core.earthworks.raising import level_price
from delgrun.core.earthworks.shifting import offset_price
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.piece_kernels import furthest
from delgrun.core.ground.along import ground_sections, long_section
from delgrun.core.ground.tiles import Place, extents, surface, tile
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.limits.limit_set import default_limits
from delgrun.core.search import interior_point
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.search import search
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.section import section_of
from delgrun.core.sight.along import Lights, stopping_sight
from delgrun.core.sight.space import road_of, sight_in_space
from delgrun.core.sight.space_kernels import line_of_sight
from delgrun.core.stopping import Stopping
from delgrun.core.survey.points import Survey
from delgrun.core.survey.suspects import off_their_neighbours
from delgrun.core.survey.thinning import thin
from delgrun.core.trucks.trucks import Truck, run
from delgrun.exchange import apart
from delgrun.ops import surroundings
from delgrun.service.errors import NotReady
from delgrun.service.products import PRODUCTS
from delgrun.service.projects import Projects

FloatArray = NDArray[np.float64]

_LOG = logging.getLogger(__name__)
# How often to ask for the database and its tables, and how long to wait in between. [s]
_PATIENCE, _PAUSE_S = 1200, 0.1
# By then a page that came with the start is open. [s]
_OPENING_S = 2.0


def compile_page() -> None:
    """Use every kernel that a page asks for once, on a small made-up road, so that its machine code is kept on disk."""
    tin, _, _ = _small_road()
    tile(tin, Place(0, 0, 0), 1.0)
    extents(tin)
    surface(tin)


def compile_rest(others: Callable[[], object] = lambda: None) -> None:
    """The same of what is only asked for by itself: suspects, thinning, the search.

    Most of it stands on kernels of the page. `others` waits until those are on disk: compiled beside each other, they
    would be compiled twice. What needs none of them goes first.
    """
    off_their_neighbours(_small_ground())
    _compile_interior_point()
    others()
    surface(build_tin(thin(Survey(_small_ground()), 0.5, 40.0).survey.xyz))
    _, works, flat = _small_road()
    start, end = flat.ips[0].level_m, flat.ips[-1].level_m
    search(SearchProblem(works, CostModel(), default_limits(50.0), start, end), lambda *_: None, lambda: False)


def _compile_interior_point() -> None:
    """A fifth of all compiling is this one kernel: by its types, as it is called, without a road."""
    number, whole, one = 0.0, 1, np.zeros(1)
    rows, columns = np.zeros((1, 1)), np.zeros((1, 1), dtype=np.int64)
    called = (
        np.zeros((1, 1, 2)), one, number, number, one, one, one, one, columns, rows, columns, rows, one, one, one, one,
        number, number, whole,
    )  # fmt: skip
    interior_point.minimise.compile(tuple(map(numba.typeof, called)))


def _small_ground() -> FloatArray:
    e, n = np.meshgrid(np.arange(-20.0, 640.0, 10.0), np.arange(-80.0, 200.0, 10.0))
    return np.column_stack([e.ravel(), n.ravel(), 100 + 6 * np.sin(e.ravel() / 90) + n.ravel() / 50])


def _small_road() -> tuple[Tin, Earthworks, GradeLine]:
    """A small made-up road with all that is worked out of one while it is designed."""
    tin = build_tin(_small_ground(), [np.array([0, 1, 2])], 40.0)
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
    typical = RoadDesign.plain()
    works = Earthworks.of(across, typical)
    start, end = across.centre_level_m[[0, -1]]
    flat = GradeLine.of([Ip(chainage_m=0.0, level_m=start), Ip(chainage_m=line.end_chainage_m, level_m=end)])
    offset_price(works, evaluate_line(works, flat, CostModel()), CostModel(), line)
    level_price(works, evaluate_line(works, flat, CostModel()), CostModel())
    section_of(typical, *across.one(0), float(start))
    _look_along(flat, line, works)
    run(flat, Truck(), 70.0)
    return tin, works, flat


def _look_along(line: GradeLine, centreline: Centreline, works: Earthworks) -> None:
    """Every kind of sight, and room at a level control."""
    rules = Stopping(speed_kmh=70.0)
    along = stopping_sight(line, rules)
    stopping_sight(line, rules, lights=Lights(0.6, 0.0175))
    road = road_of(line, centreline, works, evaluate_line(works, line, CostModel()))
    lane = np.full(len(road.places), 1.5)
    sight_in_space(road, rules, along, lane)
    line_of_sight(road.places, road.rows, 0, 1, 1, lane, (rules.eye_m, rules.object_m))
    furthest(line.pieces, np.array([1.0, 2.0]), np.zeros(2), True)
    furthest(line.pieces, np.array([1.0]), np.zeros(1), False)


def get_ready(projects: Projects, mark_folder: Path) -> None:
    """What a server does ahead of time, beside whatever it is asked: see `keep_terrains_ready`.

    What a changed centreline needs has not been used where all came from the shelf: a second and more of loading, which
    waits until the page that is being opened has what it asks for.
    """
    # Kernels want it when they are loaded; until the database is up there is nothing else to do.
    import_module("scipy.linalg")
    keep_terrains_ready(projects, mark_folder)
    time.sleep(_OPENING_S)
    # The first curve that keeps a sight distance, in mid-drag say, must not wait for it.
    import_module("scipy.optimize")
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


if __name__ == "__main__":
    if sys.argv[1] == "page":
        compile_page()
    else:
        compile_rest(lambda: surroundings.wait_for("page"))
