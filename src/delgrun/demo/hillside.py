"""A second, short piece of the made-up country: a level road across a steep slope, on a narrow strip of survey."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.inputs import LIMITS, SECTION
from delgrun.core.section.starting import STARTING
from delgrun.core.standards.families import limits_by
from delgrun.core.standards.standard import Wish
from delgrun.service import centrelines, lines, uploads
from delgrun.service.importing import ImportWish, bring_in
from delgrun.service.projects import Projects, Saving
from delgrun.service.results import of_road

FloatArray = NDArray[np.float64]

PROJECT_NAME = "Scar End traverse"
SURVEY_FILE, CENTRELINE_FILE = "scar-end-survey.csv", "scar-end-centreline.csv"
# Corners of the centreline: easting, northing, radius. [m]
CENTRELINE = ((5000.0, 9000.0, 0.0), (5200.0, 9024.0, 120.0), (5420.0, 8986.0, 140.0), (5640.0, 8998.0, 0.0))
# The strip that was surveyed goes so far up and down the slope. [m]
_UPHILL_M, _DOWNHILL_M = 34.0, 21.0
_SPACING_M, _SEED = 4.0, 815


def level(e: FloatArray, n: FloatArray) -> FloatArray:
    """The slope falls to the south by one in two, with gullies across it. [m]"""
    along = e - 5000.0
    gullies = 2.2 * np.sin(along / 31.0) + 0.9 * np.sin(along / 12.0 + 1.3)
    out: FloatArray = 320.0 + 0.5 * (n - 9000.0 - 14.0 * np.sin(along / 115.0)) + gullies + 0.012 * along
    return out


def write_files(folder: Path) -> None:
    """Survey and centreline as text; the same bytes on every machine."""
    folder.mkdir(parents=True, exist_ok=True)
    rows = ["ip,easting_m,northing_m,radius_m"]
    rows += [f"{i},{e:.3f},{n:.3f},{r:g}" for i, (e, n, r) in enumerate(CENTRELINE, start=1)]
    (folder / CENTRELINE_FILE).write_text("\n".join(rows) + "\n")
    rng = np.random.default_rng(_SEED)
    e, n = (v.ravel() for v in np.meshgrid(np.arange(4985, 5656, _SPACING_M), np.arange(8920, 9110, _SPACING_M)))
    e, n = e + rng.uniform(-1, 1, len(e)), n + rng.uniform(-1, 1, len(e))
    corners = np.array(CENTRELINE)[:, :2]
    middle = np.interp(e, corners[:, 0], corners[:, 1])
    keep = (n - middle < _UPHILL_M) & (middle - n < _DOWNHILL_M)
    z = level(e, n)
    rows = ["point,easting_m,northing_m,level_m,code"]
    rows += [f"{1 + i},{e[i]:.3f},{n[i]:.3f},{z[i]:.3f},GR" for i in np.flatnonzero(keep).tolist()]
    (folder / SURVEY_FILE).write_text("\n".join(rows) + "\n")


def load(projects: Projects, folder: Path, say: Callable[[str], None]) -> int:
    """Make the project from its files; returns its number."""
    write_files(folder)
    pid = projects.create(PROJECT_NAME)

    def on(base: int) -> Saving:
        return Saving(project_id=pid, base=base, author="demo")

    say("reading the survey of the second demo")
    upload_id = uploads.whole(projects, pid, SURVEY_FILE, (folder / SURVEY_FILE).read_bytes())
    seen = uploads.look(projects, pid, upload_id, None, None)
    bring_in(projects, pid, ImportWish(upload_id=upload_id, layout=seen["layout"], longest_edge_m=15.0), author="demo")
    (line,) = centrelines.from_file(projects, pid, CENTRELINE_FILE, (folder / CENTRELINE_FILE).read_bytes())
    centrelines.save(projects, on(2), {"start_chainage_m": 0.0, "ips": [vars(p) for p in line.ips]})
    section = next(start.section for start in STARTING if start.id == "side-slope")
    limits = limits_by("stopping", Wish(design_speed_kmh=50.0))
    projects.save(on(3), "Limits and section", {LIMITS.name: limits, SECTION.name: replace(section, name="Side slope")})
    road = of_road.centreline(projects.case(projects.states.newest(pid))).value
    # Through the middle of what the gullies leave, from the ground at one end to that at the other.
    s = np.array([0.0, 170.0, 330.0, 500.0, road.end_chainage_m])
    z = [_around(road, at, 0.0 if at in (s[0], s[-1]) else 80.0) for at in s.tolist()]
    ips = [
        {"chainage_m": at, "level_m": round(level_m, 3), "curve_length_m": 0.0 if at in (s[0], s[-1]) else 90.0,
         "held_k_m_per_pct": None}
        for at, level_m in zip(s.tolist(), z, strict=True)
    ]  # fmt: skip
    lines.adopt(projects, on(4), "along the slope", ips)
    return pid


def _around(road: Centreline, at_m: float, half_m: float) -> float:
    """Mean level of the ground along the centreline, so far to both sides of a chainage. [m]"""
    e, n, _ = road.locate(np.linspace(at_m - half_m, at_m + half_m, 33))
    return float(level(e, n).mean())
