"""Elevation grids: ESRI's ASCII form and GeoTIFF; a point at the middle of each cell."""

import math
import re
from collections.abc import Iterator
from dataclasses import replace
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.exchange.crs import NOTHING, Said, said
from delgrun.exchange.survey_parts import Chosen, Found, Part, joined, look_at
from delgrun.exchange.survey_text import PLAIN, Reading, SurveyLook, SurveyText
from delgrun.exchange.text_columns import lines_of

_MOST_CELLS = 30_000_000
_CELLS_AT_ONCE = 1_000_000
_LINES = 100
# What a TIFF begins with, also one of more than 4 GB. Source: TIFF 6.0, section 2; BigTIFF has 43 for 42.
TIFF = re.compile(rb"II[*+]\0|MM\0[*+]")
_DEGREES = (
    "This grid is in degrees. A road is designed in metres on a grid, and degrees are no lengths: convert it to the "
    "projected grid the survey belongs to, and read that."
)


def _check_size(columns: float, rows: float) -> tuple[int, int]:
    """Columns and rows as whole numbers; raises DesignInputError where they are none, or too many cells."""
    if not (math.isfinite(columns) and math.isfinite(rows) and 0 < columns * rows <= _MOST_CELLS):
        raise DesignInputError(
            "file", f"The grid has {columns:g} x {rows:g} cells, and {_MOST_CELLS} at most can be read: cut it down."
        )
    return int(columns), int(rows)


def _ascii(data: bytes) -> NDArray[np.float64]:
    """(k, 3) points of the cells that hold a level.

    References
    ----------
    ESRI ASCII raster format: ncols, nrows, xllcorner or xllcenter, yllcorner or yllcenter, cellsize, NODATA_value, then
    rows from the north.
    """
    lines = lines_of(data)
    head: dict[str, float] = {}
    at = 0
    for at, line in enumerate(lines):
        parts = line.split()
        if len(parts) != 2 or not parts[0][0].isalpha():
            break
        try:
            head[parts[0].lower()] = float(parts[1].replace(",", "."))
        except ValueError as error:
            raise DesignInputError("file", f"Line {at + 1}: “{line.strip()[:60]}” is no head of a grid.") from error
    missing = [n for n in ("ncols", "nrows", "cellsize") if n not in head]
    if missing:
        raise DesignInputError("file", f"The head of the grid says no {missing[0]}.")
    columns, rows = _check_size(head["ncols"], head["nrows"])
    cell = head["cellsize"]
    corner = 0.0 if "xllcenter" in head else cell / 2
    west, south = (head.get(f"{a}llcenter", head.get(f"{a}llcorner")) for a in "xy")
    if west is None or south is None or not cell > 0:
        raise DesignInputError("file", "The head of the grid does not say where it lies (xllcorner, yllcorner).")
    level = np.concatenate([_numbers(lines, k) for k in range(at, len(lines), _LINES)])
    if len(level) != columns * rows:
        raise DesignInputError("file", f"The grid has {len(level)} levels where its head says {columns} x {rows}.")
    e = west + corner + np.arange(columns) * cell
    n = south + corner + (rows - 1 - np.arange(rows)) * cell
    there = level != head.get("nodata_value", -9999.0)
    points: NDArray[np.float64] = np.column_stack([np.tile(e, rows), np.repeat(n, columns), level])[there]
    return points


def _tiff(data: bytes) -> tuple[NDArray[np.float64], Said]:
    """(k, 3) points of the first band's cells that hold a level, and what the file says of its coordinates."""
    # A second to import, and wanted for this alone.
    from rasterio.errors import RasterioError
    from rasterio.io import MemoryFile

    try:
        # One driver, and only what is in memory: to this library many texts are a picture that lies elsewhere.
        with MemoryFile(data) as memory, memory.open(driver="GTiff") as grid:
            _check_size(grid.width, grid.height)
            of = said(grid.crs.to_wkt() if grid.crs is not None else None)
            if of.degrees:
                raise DesignInputError("file", _DEGREES)
            points = np.concatenate([_rows(grid, window) for window in _windows(grid.height, grid.width)])
    except RasterioError as error:
        raise DesignInputError(
            "file", "This is no GeoTIFF that can be read: it is damaged, or packed in a way that is not known here."
        ) from error
    return points, of


def _windows(height: int, width: int) -> Iterator[tuple[tuple[int, int], tuple[int, int]]]:
    """Rows and columns of the parts that a picture is read in."""
    step = max(_CELLS_AT_ONCE // width, 1)
    return (((k, min(k + step, height)), (0, width)) for k in range(0, height, step))


def _rows(grid: Any, window: tuple[tuple[int, int], tuple[int, int]]) -> NDArray[np.float64]:
    """(k, 3) points of some rows of a picture's first band."""
    band = grid.read(1, masked=True, window=window)
    row, column = np.nonzero(~np.ma.getmaskarray(band))
    e, n = grid.transform @ (column + 0.5, row + (window[0][0] + 0.5))
    return np.column_stack([e, n, band.data[row, column].astype(np.float64)])


def _numbers(lines: list[str], k: int) -> NDArray[np.float64]:
    """The levels of some lines from the k-th on."""
    try:
        return np.fromstring(" ".join(lines[k : k + _LINES]).replace(",", "."), sep=" ")
    except ValueError as error:
        raise DesignInputError("file", f"The grid cannot be read after line {k + 1}: {error}.") from error


def _found(data: bytes) -> tuple[list[Found], Said]:
    points, of = _tiff(data) if TIFF.match(data) else (_ascii(data), NOTHING)
    part = Part("grid", "cells with a level", len(points), "points", ("points", "ignore"))
    return [Found(part, [points])], of


def look(file: BinaryIO, chosen: Chosen | None) -> SurveyLook:
    """How a grid reads."""
    found, of = _found(file.read())
    return replace(look_at(found, chosen, of.unit), said=of)


def read(file: BinaryIO, chosen: Chosen | None, how: Reading = PLAIN) -> SurveyText:
    """The points of a grid."""
    found, of = _found(file.read())
    return replace(joined(found, chosen or Chosen({}, of.unit), how.most), said=of)
