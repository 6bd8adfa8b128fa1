"""The surveyed ground as it is looked at: a tile of the map, a spot under the pointer, a cut through picked points."""

from dataclasses import asdict
from typing import Any

import numpy as np

from delgrun.core.ground.bird import birds_eye
from delgrun.core.ground.difference import difference, difference_tile
from delgrun.core.ground.profile import profile
from delgrun.core.ground.spot import spot, triangle_at
from delgrun.core.ground.tiles import Place, tile
from delgrun.service import wire
from delgrun.service.case import Case
from delgrun.service.results import of_ground
from delgrun.service.wire import Json


def tile_answer(case: Case, zoom: int, column: int, row: int, interval_m: float) -> bytes:
    """One tile of the map; coordinates are less its south-west corner. Its parts are those of `tiles.Tile`."""
    return wire.pack(*_tile(case, Place(zoom, column, row), interval_m))


def tiles_answer(case: Case, zoom: int, at: list[tuple[int, int]], interval_m: float) -> bytes:
    """Tiles at these columns and rows; the arrays of the first are named `0.level` and so on."""
    parts = [_tile(case, Place(zoom, column, row), interval_m) for column, row in at]
    arrays = {f"{i}.{name}": values for i, (_, own) in enumerate(parts) for name, values in own.items()}
    return wire.pack({"tiles": [head for head, _ in parts]}, arrays)


def _tile(case: Case, place: Place, interval_m: float) -> tuple[Json, dict[str, Any]]:
    """What a tile says of itself, and its arrays."""
    made = case.made(tile, of_ground.tin(case), place, interval_m).value
    west, south, _, _ = place.box_m
    corner = np.array([west, south])
    tin = of_ground.tin(case).value
    return {"corner": [west, south], "cells": made.level.shape[0]}, {
        "level": made.level,
        "line_start": made.lines.start,
        "line_level": made.lines.level,
        "line": made.lines.plan - corner,
        "edge": made.edges - np.array([west, south, west, south]),
        "side": made.sides - np.array([west, south, west, south]),
        "point": tin.xyz[made.point] - np.array([west, south, 0.0]),
        "point_row": tin.row[made.point],
    }


def difference_answer(first: Case, second: Case) -> Json:
    """What lies between two grounds; see `core.ground.difference`."""
    return {"difference": asdict(second.made(difference, of_ground.tin(first), of_ground.tin(second)).value)}


def difference_tile_answer(first: Case, second: Case, zoom: int, column: int, row: int) -> bytes:
    """By how much the second ground is above the first, pixel by pixel of a tile, from the south."""
    place = Place(zoom, column, row)
    made = second.made(difference_tile, of_ground.tin(first), of_ground.tin(second), place).value
    west, south, _, _ = place.box_m
    return wire.pack({"corner": [west, south], "cells": made.shape[0]}, {"level": made})


def spot_answer(case: Case, easting_m: float, northing_m: float) -> Json:
    """What the ground is at one place; see `core.ground.spot`."""
    found = vars(spot(of_ground.tin(case).value, easting_m, northing_m))
    row, points = found["point_row"], of_ground.points(case).value
    named = row is not None and row < len(points.code)
    return {
        **found,
        "point_name": str(points.name[row]) if named else "",
        "point_code": str(points.code[row]) if named else "",
    }


def triangle_answer(case: Case, easting_m: float, northing_m: float) -> Json:
    """The triangle at one place and the edge nearest to it; see `core.ground.spot`."""
    return {
        "triangle": asdict(found) if (found := triangle_at(of_ground.tin(case).value, easting_m, northing_m)) else None
    }


def birds_eye_answer(case: Case, box_m: tuple[float, float, float, float]) -> bytes:
    """The ground within a box as triangles to be looked at from the air; coordinates are less its middle."""
    found = birds_eye(of_ground.tin(case).value, box_m)
    middle = [(box_m[0] + box_m[2]) / 2, (box_m[1] + box_m[3]) / 2]
    arrays = {"xyz": found.xyz - np.array([*middle, 0.0]), "triangle": found.triangles}
    return wire.pack({"middle": middle, "whole": found.whole}, arrays)


def cut_answer(case: Case, line: list[list[float]]) -> bytes:
    """Ground along straight legs between picked points."""
    cut, corners = profile(of_ground.tin(case).value, np.array(line, dtype=np.float64))
    arrays = {"distance": cut.chainage_m, "level": cut.level_m, "gap": cut.after_gap}
    return wire.pack({"corners": corners.tolist()}, arrays)
