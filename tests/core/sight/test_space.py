"""Sight in space: against a straight line held against a made road whose batters are written down, and closed forms."""

import numpy as np
import pytest

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_line
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import ground_sections
from delgrun.core.ground.tin import build_tin
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.sight.along import stopping_sight
from delgrun.core.sight.space import STEP_M, Road, road_of, sight_in_space, worst_line
from delgrun.core.stopping import Stopping

R, DEPTH = 180.0, 6.0
# A flat road without pavement: its batters of 1 : 1 begin at the edge, four metres out.
ROAD = RoadDesign.plain(
    lane_width_m=3.0, lane_crossfall=0.0, shoulder_width_m=1.0, shoulder_crossfall=0.0, pavement_thickness_m=0.0,
    topsoil_depth_m=0.0, cut_batter_h_over_v=1.0,
)  # fmt: skip
RULES = Stopping(speed_kmh=60)


def bend(ground_m: float, line: GradeLine | None = None) -> tuple[Road, GradeLine, Centreline]:
    """A road that turns right by 90 degrees on an arc of R, in ground at one level over the line at 100."""
    corners = [(0.0, 0.0, 0.0), (400.0, 0.0, R), (400.0, -400.0, 0.0)]
    centreline = Centreline([CentrelineIp(easting_m=a, northing_m=b, radius_m=r) for a, b, r in corners])
    e, n = np.meshgrid(np.arange(-100.0, 560.0, 20.0), np.arange(-520.0, 120.0, 20.0))
    tin = build_tin(np.column_stack([e.ravel(), n.ravel(), np.full(e.size, ground_m)]), [], 60.0)
    s = centreline.priced_chainages(10.0)
    ground = ground_sections(tin, centreline, s, 60.0)
    works = Earthworks.of(ground, ROAD)
    end = centreline.end_chainage_m
    own = line or GradeLine.of([Ip(chainage_m=0, level_m=100), Ip(chainage_m=end, level_m=100)])
    return road_of(own, centreline, works, evaluate_line(works, own, CostModel())), own, centreline


def by_ray(centreline: Centreline, eye_s: float, lane, surface, way: int = 1, step: float = 0.25) -> float:
    """How far is seen by a straight line each quarter of a metre of object, each of it cut into 400 pieces."""

    def place(s: float) -> np.ndarray:
        e, n, d = (float(v[0]) for v in centreline.locate(np.array([s])))
        return np.array([e + lane(s) * np.sin(d), n - lane(s) * np.cos(d)])

    eye = place(eye_s)
    for far in np.arange(step, 200.0, step):
        target = place(eye_s + way * far)
        t = np.linspace(0, 1, 402)[1:-1]
        xy = eye + t[:, None] * (target - eye)
        at = centreline.line.nearest(xy[:, 0], xy[:, 1])
        ray = 100 + RULES.eye_m + t * (RULES.object_m - RULES.eye_m)
        if (surface(at.offset_m, at.chainage_m) > ray + 1e-6).any():
            return float(far)
    return np.inf


def batters(offset: np.ndarray, _s: np.ndarray) -> np.ndarray:
    return np.where(np.abs(offset) <= 4.0, 100.0, np.minimum(100 + np.abs(offset) - 4.0, 100 + DEPTH))


@pytest.mark.parametrize(
    ("back", "start", "widens"), [(False, 1.5, 0.0), (True, -1.5, 0.0), (False, -1.5, 0.0), (False, 1.0, 0.005)]
)
def test_a_batter_on_the_inside_of_a_bend_hides_what_a_straight_line_finds(back, start, widens):
    """Also from a lane that is wider with each metre."""
    road, line, centreline = bend(100 + DEPTH)

    def lane(s):
        return start + widens * s

    sight = sight_in_space(road, RULES, stopping_sight(line, RULES, back=back), lane(road.places[:, 0]), back=back)
    way = -1 if back else 1
    for eye in (150.0, 250.0, 320.0, 400.0):
        k = int(np.argmin(np.abs(sight.at_m - eye)))
        rays = by_ray(centreline, float(sight.at_m[k]), lane, batters, way)
        # What is seen further than 1.3 times what is needed is not looked for, by places.
        most = 1.3 * sight.needed_m[k]
        want = np.inf if rays > most else rays if rays < most - STEP_M else float(sight.seen_m[k])
        assert sight.seen_m[k] == pytest.approx(want, abs=0.5), eye


def test_along_the_whole_arc_it_is_the_chord_past_the_batter():
    """Reference 7.5 the other way round: offset m = R (1 - cos(S / 2R)) clear of the driver's path hides beyond S.

    In the middle of the chord the ray is 0.84 m over the road, and a batter of 1 : 1 that high 0.84 m past its edge.
    """
    road, line, _ = bend(100 + DEPTH)
    lane = 1.5
    path = np.full(len(road.places), lane)
    sight = sight_in_space(road, RULES, stopping_sight(line, RULES), path)
    own = R - lane
    # The ray falls on the way, so that it touches a little behind the middle: a decimetre of chord.
    clear = 4.0 + (RULES.eye_m + RULES.object_m) / 2 - lane
    chord = 2 * own * np.arccos(1 - clear / own)
    middle = (sight.at_m > 270) & (sight.at_m < 330)
    seen = sight.seen_m[middle] * own / R
    assert seen == pytest.approx(np.full(len(seen), chord), abs=1.0)
    (lack,) = sight.lacks
    worst = worst_line(road, RULES, sight, path, back=False)
    assert worst is not None and lack.from_m <= worst.eye_m <= lack.to_m
    assert worst.hidden_offset_m > 4.0 and (worst.surface_m - worst.ray_m).max() > 0


def test_on_a_bank_nothing_but_the_line_itself_hides_and_a_crest_does():
    road, line, _ = bend(97.0)
    open_to_all = sight_in_space(road, RULES, stopping_sight(line, RULES), np.full(len(road.places), 1.5))
    assert np.isinf(open_to_all.seen_m).all() and open_to_all.lacks == ()
    ips = [(0, 100, 0), (340, 117, 60), (702.74, 99, 0)]
    crest = GradeLine.of([Ip(chainage_m=s, level_m=z, curve_length_m=length) for s, z, length in ips])
    road, line, _ = bend(95.0, crest)
    along = stopping_sight(line, RULES)
    space = sight_in_space(road, RULES, along, np.full(len(road.places), 1.5))
    flat = np.interp(space.at_m, along.at_m, np.where(np.isfinite(along.seen_m), along.seen_m, 1e6))
    lacking = flat < space.needed_m
    assert lacking.any() and space.seen_m[lacking] == pytest.approx(flat[lacking], abs=2.5)
