"""Utilities and boundaries of files. Nothing is stored: the page saves those that are wanted."""

import io

from delgrun.core.errors import DesignInputError
from delgrun.core.section.roadside import MOST_CORNERS
from delgrun.exchange import apart
from delgrun.exchange.polylines import Polyline
from delgrun.exchange.readers import reader_of
from delgrun.exchange.utilities import UtilityLine
from delgrun.service.projects import Projects
from delgrun.service.wire import Json


def read(projects: Projects, project_id: int, file_name: str, data: bytes, on_grid: bool) -> list[Json]:
    """Utilities of a file, those on the grid brought to the ground: each its name and its vertices. [m]"""
    found: list[UtilityLine] = apart.read(reader_of("utility", file_name, data[:4096]), io.BytesIO(data))
    coordinates = projects.states.newest(project_id).coordinates
    out = []
    for line in found:
        xyz = line.xyz.copy()
        if on_grid:
            xyz[:, :2] = coordinates.on_ground(xyz[:, :2])
        out.append({"name": line.name, "xyz": xyz.round(4).tolist()})
    return out


def boundaries(projects: Projects, project_id: int, file_name: str, data: bytes, on_grid: bool) -> list[Json]:
    """Lines of a file in plan, those on the grid brought to the ground: each its name and its vertices. [m]"""
    found: list[Polyline] = apart.read(reader_of("polyline", file_name, data[:4096]), io.BytesIO(data))
    count = sum(len(line.plan) for line in found)
    if count > MOST_CORNERS:
        raise DesignInputError(
            "file",
            f"“{file_name}” has {count} corners, more than {MOST_CORNERS}: keep the boundary's line alone in it.",
        )
    coordinates = projects.states.newest(project_id).coordinates
    return [
        {"name": line.name[:50], "xy": (coordinates.on_ground(line.plan) if on_grid else line.plan).round(4).tolist()}
        for line in found
    ]
