"""Elevation grids: ESRI's ASCII form and GeoTIFF; a point at the middle of each cell."""

from dataclasses import replace
from typing import BinaryIO

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.exchange.crs import NOTHING, Said, said
from delgrun.exchange.survey_parts import Chosen, Found, Part, joined, look_at
from delgrun.exchange.survey_text import PLAIN, Reading, SurveyLook, SurveyText
from delgrun.exchange.text_columns import lines_of

_MOST_CELLS = 30_000_000
_DEGREES = (
    "This grid is in degrees. A road is designed in metres on a grid, and degrees are no lengths: convert it to the "
    "projected grid the survey belongs to, and read that."
)


def _check_size(columns: int, rows: int) -> None:
    if not 0 < columns * rows <= _MOST_CELLS:
        raise DesignInputError(
            "file", f"The grid has {columns} x {rows} cells, and {_MOST_CELLS} at most can be read: cut it down."
        )


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
    columns, rows, cell = int(head["ncols"]), int(head["nrows"]), head["cellsize"]
    _check_size(columns, rows)
    corner = 0.0 if "xllcenter" in head else cell / 2
    west, south = (head.get(f"{a}llcenter", head.get(f"{a}llcorner")) for a in "xy")
    if west is None or south is None or cell <= 0:
        raise DesignInputError("file", "The head of the grid does not say where it lies (xllcorner, yllcorner).")
    try:
        level = np.fromstring(" ".join(lines[at:]).replace(",", "."), sep=" ")
    except ValueError as error:
        raise DesignInputError("file", f"The grid cannot be read after line {at + 1}: {error}.") from error
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
        with MemoryFile(data) as memory, memory.open() as grid:
            _check_size(grid.width, grid.height)
            of = said(grid.crs.to_wkt() if grid.crs is not None else None)
            if of.degrees:
                raise DesignInputError("file", _DEGREES)
            band = grid.read(1, masked=True).astype(np.float64)
            rows, columns = np.meshgrid(np.arange(grid.height) + 0.5, np.arange(grid.width) + 0.5, indexing="ij")
            e, n = grid.transform @ (columns.ravel(), rows.ravel())
    except RasterioError as error:
        raise DesignInputError("file", f"This is no GeoTIFF that can be read: {error}.") from error
    there = ~np.ma.getmaskarray(band).ravel()
    return np.column_stack([e, n, band.filled(np.nan).ravel()])[there], of


def _found(data: bytes) -> tuple[list[Found], Said]:
    points, of = _tiff(data) if data[:2] in (b"II", b"MM") else (_ascii(data), NOTHING)
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
