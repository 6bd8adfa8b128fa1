"""A centreline of 50 km with 400 bends with transitions: made, a million places on it and beside it.

`PYTHONPATH=src .venv/bin/python benchmarks/plan.py`
"""

import time

import numpy as np
from shapely import STRtree, linestrings, points

from delgrun.core.centreline.centreline import CentrelineDesign
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.line import Line
from size import size

COUNT, BENDS = size(1_000_000, 2_000), size(400, 40)


def winding() -> CentrelineDesign:
    """Bends of 10 to 300 m, left and right by chance."""
    rng = np.random.default_rng(1)
    turn = rng.uniform(0.1, 1.1, BENDS) * rng.choice([-1, 1], BENDS)
    leg = rng.uniform(115, 135, BENDS + 1)
    way = np.concatenate([[0.0], np.cumsum(turn - turn.mean())])
    xy = np.concatenate([[[0.0, 0.0]], np.cumsum(np.column_stack([leg * np.cos(way), leg * np.sin(way)]), axis=0)])
    bend = np.abs((np.diff(way) + np.pi) % (2 * np.pi) - np.pi)
    room = 0.42 * np.minimum(leg[:-1], leg[1:])
    radius = np.clip(0.55 * room / np.tan(bend / 2), 10, 300)
    transition = 0.35 * np.minimum(room, 2 * radius * bend)
    ips = [CentrelineIp(easting_m=e, northing_m=n) for e, n in xy.tolist()]
    for i, (r, t) in enumerate(zip(radius.tolist(), transition.tolist(), strict=True), start=1):
        e, n = xy[i].tolist()
        ips[i] = CentrelineIp(easting_m=e, northing_m=n, radius_m=r, transition_in_m=t, transition_out_m=t)
    return CentrelineDesign(ips=tuple(ips))


def took(what: str, work) -> object:
    began = time.perf_counter()
    out = work()
    print(f"| {what} | {time.perf_counter() - began:.2f} s |", flush=True)
    return out


def by_chords(line: Line, xy: np.ndarray) -> np.ndarray:
    """Instead: the nearest of chords of half a metre, by a tree; as far off as a chord is from its arc."""
    s = np.arange(line.elements[0].from_chainage_m, line.elements[-1].to_chainage_m, 0.5)
    at = line.at(s)
    way = np.column_stack([at.easting_m, at.northing_m])
    tree = STRtree(linestrings(np.stack([way[:-1], way[1:]], axis=1)))
    return tree.nearest(points(xy))


def main() -> None:
    design = winding()
    design.made().line.nearest(np.zeros(1), np.zeros(1))
    centreline = took(f"{BENDS} bends made of their IPs", design.made)
    line = centreline.line
    rng = np.random.default_rng(2)
    s = rng.uniform(0, centreline.length_m, COUNT)
    at = took(
        f"{centreline.length_m / 1000:.0f} km: place, bearing and curvature of {COUNT:,} chainages", lambda: line.at(s)
    )
    offset = rng.uniform(-100, 100, COUNT)
    xy = np.column_stack([at.easting_m + offset * np.sin(at.direction), at.northing_m - offset * np.cos(at.direction)])
    beside = took(f"chainage and offset of {COUNT:,} places within 100 m", lambda: line.nearest(*xy.T))
    assert (np.abs(beside.offset_m) <= np.abs(offset) + 1e-6).all()
    took("instead: the nearest of chords of half a metre, by a tree", lambda: by_chords(line, xy))
    took("every foot of 1,000 places", lambda: [line.feet(e, n) for e, n in xy[:1000].tolist()])


if __name__ == "__main__":
    main()
