"""Pictures from the air that say where they lie, as tiles of the map: GeoTIFF, or an image with a world file."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.tiles import HIGHEST_ZOOM, LOWEST_ZOOM, TILE_PIXELS, Place
from delgrun.exchange.crs import NOTHING, Said, said
from delgrun.exchange.text_columns import UNITS, unsaid_unit

Pixels = NDArray[np.uint8]

# One driver for each beginning, and no other: to the library many texts are a picture that lies elsewhere.
_DRIVERS = ((b"II*\0", "GTiff"), (b"MM\0*", "GTiff"), (b"II+\0", "GTiff"), (b"MM\0+", "GTiff"),
            (b"\xff\xd8\xff", "JPEG"), (b"\x89PNG", "PNG"))  # fmt: skip
# Those that are packed from their first row on are read whole, up to so many pixels; the others part by part.
_MOST_WHOLE = 120_000_000
_MOST_PIXELS = 8_000_000_000
# A finest level of more tiles gives way to the next coarser one.
_MOST_TILES = 6_000
_QUALITY = 85
_SIX = "A world file has six lines, a number each: pixel size, two turns, pixel size below zero, place of the first."


@dataclass(frozen=True)
class PictureTile:
    """A tile of the map's grid, as a JPEG, or as a PNG where a part of it shows nothing."""

    zoom: int
    column: int
    row: int
    data: bytes


@dataclass(frozen=True)
class Picture:
    """A picture cut in tiles, down to the `finest` zoom; `box_m` west, south, east, north; `pixel_m` as it came."""

    box_m: tuple[float, float, float, float]
    pixel_m: float
    finest: int
    tiles: list[PictureTile]
    said: Said


@dataclass(frozen=True)
class _Lies:
    """Where a picture lies: its corner in the north-west and the size of its pixels. [m]"""

    west: float
    north: float
    pixel_e: float
    pixel_n: float


def read(file: BinaryIO, world: str | None = None, _how: object = None) -> Picture:
    """The tiles of a whole picture; `world` is the text of its world file, if it has one.

    Raises
    ------
    DesignInputError
        No picture that can be read, one that doesn't say where it lies, is turned, in degrees or too large.
    """
    from rasterio.errors import RasterioError
    from rasterio.io import MemoryFile

    data = file.read()
    driver = next((name for begins, name in _DRIVERS if data.startswith(begins)), None)
    if driver is None:
        raise DesignInputError("file", "This is no picture that can be read here: take a GeoTIFF, JPEG or PNG.")
    try:
        with MemoryFile(data) as memory, memory.open(driver=driver) as picture:
            of = said(picture.crs.to_wkt()) if picture.crs is not None else NOTHING
            if of.degrees:
                raise DesignInputError(
                    "file", "This picture is in degrees: convert it to the projected grid of the survey, and take that."
                )
            lies = _lies(picture, world, of)
            return _tiles(_Source(picture, driver), lies, of)
    except RasterioError as error:
        raise DesignInputError(
            "file", "This picture can't be read: it is damaged, or packed in a way that is not known here."
        ) from error


def _lies(picture: Any, world: str | None, of: Said) -> _Lies:
    """By its own words, else by the world file's.

    References
    ----------
    World file: six lines A, D, B, E, C, F, of x = A column + B row + C, y = D column + E row + F at the middles of
    pixels. Common practice, no standard.
    """
    unit = UNITS[of.unit if of.crs else unsaid_unit()]
    t = picture.transform
    if not t.is_identity:
        a, b, c, d, e, f = (t.a, t.b, t.c, t.d, t.e, t.f)
    elif world:
        try:
            a, d, b, e, c, f = (float(v.replace(",", ".")) for v in world.split())
        except ValueError as error:
            raise DesignInputError("world", _SIX) from error
        c, f = c - a / 2, f - e / 2
    else:
        raise DesignInputError(
            "world", "This picture does not say where it lies: choose its world file (.jgw, .pgw, .tfw) with it."
        )
    if not all(map(math.isfinite, (a, b, c, d, e, f))) or a <= 0 or e >= 0 or max(abs(c), abs(f)) * unit > 1e8:
        raise DesignInputError("file", "What this picture says of its place is not possible: " + _SIX)
    if max(abs(b), abs(d)) * max(picture.width, picture.height) > min(a, -e):
        raise DesignInputError("file", "This picture is turned against the grid: take one that is written north up.")
    return _Lies(c * unit, f * unit, a * unit, -e * unit)


class _Source:
    """The pixels of a picture by parts, red, green, blue and whether anything is shown, of a byte each."""

    def __init__(self, picture: Any, driver: str) -> None:
        self.width, self.height = picture.width, picture.height
        if not 0 < self.width * self.height <= _MOST_PIXELS:
            raise DesignInputError("file", "This picture is too large: cut it down to the strip of the road.")
        if any(kind != "uint8" for kind in picture.dtypes) or picture.count == 0:
            raise DesignInputError("file", "The colours of this picture are no bytes: write it with 8 bits a band.")
        self._picture = picture
        bands = picture.count
        self._bands = [1, 2, 3] if bands >= 3 else [1, 1, 1]
        # A palette is the one of its only band.
        self._palette = None
        if bands < 3:
            try:
                found = picture.colormap(1)
                self._palette = np.array([found.get(k, (0, 0, 0, 255)) for k in range(256)], dtype=np.uint8)
            except ValueError:
                self._palette = None
        self._whole: Pixels | None = None
        if driver != "GTiff":
            if self.width * self.height > _MOST_WHOLE:
                raise DesignInputError(
                    "file", "This picture is too large for a JPEG or PNG: write it as a tiled GeoTIFF, or cut it down."
                )
            self._whole = self._read(0, 0, self.width, self.height, 1)

    def part(self, column: int, row: int, width: int, height: int, step: int) -> Pixels:
        """(4, h, w) pixels of a part, each the mean of `step` by `step`."""
        if self._whole is None:
            return self._read(column, row, width, height, step)
        part = self._whole[:, row : row + height, column : column + width]
        if step == 1:
            return part
        h, w = height // step * step or height, width // step * step or width
        s, u = min(step, h), min(step, w)
        mean: Pixels = part[:, :h, :w].reshape(4, h // s, s, w // u, u).mean(axis=(2, 4)).astype(np.uint8)
        return mean

    def _read(self, column: int, row: int, width: int, height: int, step: int) -> Pixels:
        from rasterio.enums import Resampling
        from rasterio.windows import Window

        how = {
            "window": Window(column, row, width, height),
            "out_shape": (max(height // step, 1), max(width // step, 1)),
        }
        smooth = Resampling.average if step > 1 and self._palette is None else Resampling.nearest
        shown = self._picture.dataset_mask(**how)
        if self._palette is not None:
            coloured = self._palette[self._picture.read(1, resampling=smooth, **how)].transpose(2, 0, 1)
            return np.concatenate([coloured[:3], np.minimum(coloured[3:], shown[None])])
        how["out_shape"] = (3, *how["out_shape"])
        colours = self._picture.read(self._bands, resampling=smooth, **how)
        return np.concatenate([colours, shown[None]])


def _tiles(source: _Source, lies: _Lies, of: Said) -> Picture:
    pixel = min(lies.pixel_e, lies.pixel_n)
    east, south = lies.west + source.width * lies.pixel_e, lies.north - source.height * lies.pixel_n
    box = (lies.west, south, east, lies.north)
    # As fine as the picture, or up to half as fine again.
    finest = int(np.clip(math.ceil(-math.log2(pixel) - 0.5), LOWEST_ZOOM, HIGHEST_ZOOM))
    while finest > LOWEST_ZOOM and _count(box, finest) > _MOST_TILES:
        finest -= 1
    coarsest = finest
    while coarsest > LOWEST_ZOOM and _count(box, coarsest) > 1:
        coarsest -= 1
    found: list[PictureTile] = []
    for column, row in _covering(box, coarsest):
        _cut(source, lies, Place(coarsest, column, row), finest, found)
    if not found:
        raise DesignInputError("file", "This picture shows nothing: all of it is left out.")
    return Picture(box, pixel, finest, found, of)


def _covering(box: tuple[float, float, float, float], zoom: int) -> Iterator[tuple[int, int]]:
    side = Place(zoom, 0, 0).box_m[2]
    west, south, east, north = (math.floor(v / side) for v in box)
    return ((c, r) for c in range(west, east + 1) for r in range(south, north + 1))


def _count(box: tuple[float, float, float, float], zoom: int) -> int:
    side = Place(zoom, 0, 0).box_m[2]
    west, south, east, north = (math.floor(v / side) for v in box)
    return (east - west + 1) * (north - south + 1)


def _cut(source: _Source, lies: _Lies, at: Place, finest: int, found: list[PictureTile]) -> Pixels | None:
    """The tile and those within it, finer ones first: what is coarser is made of them. None where nothing shows."""
    if at.zoom == finest:
        made = _finest(source, lies, at)
    else:
        made = np.zeros((4, TILE_PIXELS, TILE_PIXELS), dtype=np.uint8)
        half = TILE_PIXELS // 2
        for k in range(4):
            up, right = divmod(k, 2)
            inner = Place(at.zoom + 1, 2 * at.column + right, 2 * at.row + up)
            part = _cut(source, lies, inner, finest, found)
            if part is None:
                continue
            small = part.reshape(4, half, 2, half, 2).mean(axis=(2, 4)).astype(np.uint8)
            rows = slice(0, half) if up else slice(half, TILE_PIXELS)
            made[:, rows, right * half : (right + 1) * half] = small
    if made is None or not made[3].any():
        return None
    found.append(PictureTile(at.zoom, at.column, at.row, _packed(made)))
    return made


def _finest(source: _Source, lies: _Lies, at: Place) -> Pixels | None:
    """Pixels of a tile, each that of the picture at its middle."""
    west, _, _, north = at.box_m
    middle = (np.arange(TILE_PIXELS) + 0.5) * at.pixel_m
    column = np.floor((west + middle - lies.west) / lies.pixel_e).astype(np.int64)
    row = np.floor((lies.north - north + middle) / lies.pixel_n).astype(np.int64)
    across, down = (column >= 0) & (column < source.width), (row >= 0) & (row < source.height)
    if not across.any() or not down.any():
        return None
    c0, c1, r0, r1 = (int(v) for v in (*column[across][[0, -1]], *row[down][[0, -1]]))
    step = max(int(at.pixel_m / max(lies.pixel_e, lies.pixel_n)), 1)
    part = source.part(c0, r0, c1 - c0 + 1, r1 - r0 + 1, step)
    out = np.zeros((4, TILE_PIXELS, TILE_PIXELS), dtype=np.uint8)
    i = np.minimum((row[down] - r0) // step, part.shape[1] - 1)
    k = np.minimum((column[across] - c0) // step, part.shape[2] - 1)
    out[np.ix_(np.arange(4), np.flatnonzero(down), np.flatnonzero(across))] = part[:, i][:, :, k]
    return out


def _packed(pixels: Pixels) -> bytes:
    """A tile as a file: JPEG where all of it shows."""
    from rasterio.io import MemoryFile

    whole = bool((pixels[3] == 255).all())
    kind = {"driver": "JPEG", "count": 3, "quality": _QUALITY} if whole else {"driver": "PNG", "count": 4}
    with MemoryFile() as memory:
        with memory.open(width=TILE_PIXELS, height=TILE_PIXELS, dtype="uint8", **kind) as out:
            out.write(pixels[: kind["count"]])
        return bytes(memory.read())
