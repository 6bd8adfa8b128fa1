"""The demo's files, written in open formats, and loaded through the same import a user has."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from delgrun.core.ground.backdrop import STANDIN, Backdrop
from delgrun.core.ground.drawn import points_along
from delgrun.core.inputs import ALONG, BACKDROP, LIMITS, SECTION, STRATA, WORKS
from delgrun.core.standards.families import limits_by
from delgrun.core.standards.standard import Wish
from delgrun.demo import scenario
from delgrun.service import centrelines, lines, uploads
from delgrun.service.importing import ImportWish, bring_in
from delgrun.service.projects import Projects, Saving
from delgrun.service.results import of_road

SURVEY_FILE, CENTRELINE_FILE, LINE_FILE = "hollin-brow-survey.csv", "hollin-brow-centreline.csv", "hollin-brow-line.csv"
LINE_NAME = "by hand"
# The grade line as a designer drew it in an afternoon: chainage, level, curve length; the last
# chainage is the end's, and the level beside it follows from the tie-in's grade.
BY_HAND = (
    (110.0, 174.455, 180.0),
    (560.0, 192.4, 120.0),
    (700.0, 194.4, 156.0),
    (930.0, 212.0, 110.0),
    (1230.0, 224.2, 120.0),
    (1510.0, 234.8, 170.0),
    (1750.0, 226.0, 120.0),
    (1960.0, 228.2, 150.0),
    (2220.0, 217.2, 120.0),
    (2790.0, 172.2, 370.0),
    (3440.0, 224.2, 80.0),
    (3710.0, 234.0, 144.0),
    (3886.0, 224.457, 190.0),
)


def write_files(folder: Path) -> None:
    """Survey, centreline and hand-made grade line as text; the same bytes on every machine."""
    folder.mkdir(parents=True, exist_ok=True)
    rows = ["ip,easting_m,northing_m,radius_m"]
    rows += [f"{i},{e:.3f},{n:.3f},{r:g}" for i, (e, n, r) in enumerate(scenario.CENTRELINE, start=1)]
    (folder / CENTRELINE_FILE).write_text("\n".join(rows) + "\n")
    points = scenario.survey_points(points_along(scenario.CENTRELINE, 4.0))
    rows = ["point,easting_m,northing_m,level_m,code,string"]
    rows += [
        f"{1000 + i},{p.easting_m:.3f},{p.northing_m:.3f},{p.level_m:.3f},{p.code},{p.string}"
        for i, p in enumerate(points)
    ]
    (folder / SURVEY_FILE).write_text("\n".join(rows) + "\n")
    rows = ["ip,chainage_m,level_m,curve_length_m"]
    rows += [f"{i},{s:.3f},{z:.3f},{length:.3f}" for i, (s, z, length) in enumerate(BY_HAND, start=1)]
    (folder / LINE_FILE).write_text("\n".join(rows) + "\n")


def load(projects: Projects, folder: Path, say: Callable[[str], None]) -> int:
    """Make the demo project from its files; returns its number."""
    write_files(folder)
    author = "demo"
    pid = projects.create(scenario.PROJECT_NAME)

    def on(base: int) -> Saving:
        return Saving(project_id=pid, base=base, author=author)

    say("reading the demo survey")
    data = (folder / SURVEY_FILE).read_bytes()
    upload_id = uploads.whole(projects, pid, SURVEY_FILE, data)
    seen = uploads.look(projects, pid, upload_id, None, None)
    wish = ImportWish(upload_id=upload_id, layout=seen["layout"], longest_edge_m=seen["suggested_longest_edge_m"])
    bring_in(projects, pid, wish, author=author)
    (line,) = centrelines.from_file(projects, pid, CENTRELINE_FILE, (folder / CENTRELINE_FILE).read_bytes())
    row = {"start_chainage_m": line.start_chainage_m, "ips": [vars(p) for p in line.ips]}
    centrelines.save(projects, on(2), row)
    z0, g0, z1, g1 = scenario.tie_ins()
    ties: dict[str, Any] = {"start_level_m": z0, "start_grade": g0, "end_level_m": z1, "end_grade": g1}
    limits = replace(limits_by("stopping", Wish(design_speed_kmh=70.0)), **ties)
    given = {
        LIMITS.name: limits,
        BACKDROP.name: Backdrop(address=STANDIN),
        SECTION.name: scenario.typical_section(),
        "section-2": scenario.village_section(),
        ALONG.name: scenario.sections_along(),
        STRATA.name: scenario.strata(),
        WORKS.name: scenario.works(),
    }
    projects.save(on(3), "Limits, sections and strata", given)
    say("meeting the ground along the centreline")
    end = of_road.centreline(projects.case(projects.states.newest(pid))).value.end_chainage_m
    typed = np.loadtxt(folder / LINE_FILE, delimiter=",", skiprows=1)[:, 1:].tolist()
    rows = [[0.0, z0, 0.0], *typed, [end, z1, 0.0]]
    ips = [{"chainage_m": s, "level_m": z, "curve_length_m": length, "held_k_m_per_pct": None} for s, z, length in rows]
    lines.adopt(projects, on(4), LINE_NAME, ips)
    return pid
