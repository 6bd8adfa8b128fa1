"""A made-up aerial picture of the demo's country, for an imagery service that isn't there.

It answers as a Web Map Service does (OGC, WMS 1.1.1, GetMap): a picture of a box of plane coordinates. Meadows and
fields in patches, woods, the creek with its bushes and the two roads follow from the scenario's numbers, so that the
same place looks the same in every picture.
"""

import threading
import warnings
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from delgrun.demo import scenario

FloatArray = NDArray[np.float64]

LARGEST_PIXELS = 1024
_FIELD_M, _GRAIN_M = 130.0, 1.5
# Colours by land: red, green, blue.
_FIELDS = np.array([
    [132, 150, 92], [150, 160, 104], [118, 140, 84], [168, 160, 112], [140, 146, 96], [176, 168, 126], [124, 148, 96],
], dtype=np.float64)  # fmt: skip
_WOOD, _BUSH, _WATER, _ROAD, _HEDGE = ((70, 92, 62), (88, 108, 70), (84, 112, 118), (150, 148, 142), (96, 112, 74))


def _mixed(i: NDArray[np.int64], k: NDArray[np.int64], salt: int) -> FloatArray:
    """A number from 0 to 1 for each pair of whole numbers, as if by chance."""
    h = (i * 374_761_393 + k * 668_265_263 + salt * 2_147_483_647) & 0xFFFFFFFF
    h = ((h ^ (h >> 13)) * 1_274_126_177) & 0xFFFFFFFF
    out: FloatArray = ((h ^ (h >> 16)) & 0xFFFF) / 65_535
    return out


def _smooth(e: FloatArray, n: FloatArray, size: float, salt: int) -> FloatArray:
    """Chance that changes smoothly over so many metres."""
    u, v = e / size, n / size
    i, k = np.floor(u).astype(np.int64), np.floor(v).astype(np.int64)
    s, t = u - i, v - k
    s, t = s * s * (3 - 2 * s), t * t * (3 - 2 * t)
    low = _mixed(i, k, salt) * (1 - s) + _mixed(i + 1, k, salt) * s
    high = _mixed(i, k + 1, salt) * (1 - s) + _mixed(i + 1, k + 1, salt) * s
    return low * (1 - t) + high * t


# A picture takes half a second and eighty megabytes while it is made: no more are made at once, and that many of three
# megabytes at the most are at hand.
_AT_ONCE = threading.BoundedSemaphore(2)
_KEPT = 60


def picture(box_m: tuple[float, float, float, float], width: int, height: int) -> bytes:
    """A PNG of the country within a box (west, south, east, north), so many pixels wide and high."""
    with _AT_ONCE:
        return _picture(box_m, width, height)


@lru_cache(maxsize=_KEPT)
def _picture(box_m: tuple[float, float, float, float], width: int, height: int) -> bytes:
    west, south, east, north = box_m
    e = west + (np.arange(width) + 0.5) * (east - west) / width
    n = north - (np.arange(height) + 0.5) * (north - south) / height
    e, n = (v.ravel() for v in np.meshgrid(e, n))
    pixel = max((east - west) / width, (north - south) / height)
    colour = _land(e, n, pixel) * _light(e, n, (height, width), pixel)[:, None]
    grain = _mixed(np.floor(e / _GRAIN_M).astype(np.int64), np.floor(n / _GRAIN_M).astype(np.int64), 9)
    if pixel < 4 * _GRAIN_M:
        colour = colour * (0.94 + 0.12 * grain[:, None])
    return _png(colour.clip(0, 255).astype(np.uint8).reshape(height, width, 3))


def _land(e: FloatArray, n: FloatArray, pixel: float) -> FloatArray:
    """(k, 3) colour of what grows, flows or lies there."""
    # Fields with edges that are a little crooked.
    u = e * 0.94 + n * 0.34 + 40 * _smooth(e, n, 260, 1)
    v = n * 0.94 - e * 0.34 + 40 * _smooth(e, n, 260, 2)
    i, k = np.floor(u / _FIELD_M).astype(np.int64), np.floor(v / (1.6 * _FIELD_M)).astype(np.int64)
    out = _FIELDS[(_mixed(i, k, 3) * (len(_FIELDS) - 1e-9)).astype(np.int64)]
    edge = np.minimum(u / _FIELD_M - i, i + 1 - u / _FIELD_M) * _FIELD_M
    out = np.where((edge < max(2.0, pixel / 2))[:, None] & (_mixed(i, k, 4) > 0.45)[:, None], _HEDGE, out)
    wood = 0.7 * _smooth(e, n, 420, 5) + 0.3 * _smooth(e, n, 60, 6) > 0.62
    crowns = 0.8 + 0.4 * _smooth(e, n, 7, 7)
    out = np.where(wood[:, None], np.array(_WOOD) * crowns[:, None], out)
    creek = scenario.creek_distance(e, n)
    bushes = creek < 14 * (0.4 + _smooth(e, n, 22, 8))
    out = np.where(bushes[:, None], np.array(_BUSH) * crowns[:, None], out)
    out = np.where((creek < max(1.8, pixel / 2))[:, None], _WATER, out)
    for road in scenario.existing_roads():
        along, across = road.along_across(e, n)
        on = (across < max(scenario.ROAD_HALF_WIDTH_M, pixel / 2)) & (np.abs(along) < 200)
        out = np.where(on[:, None], _ROAD, out)
    return out


def _light(e: FloatArray, n: FloatArray, shape: tuple[int, int], pixel: float) -> FloatArray:
    """(k,) how much of the light from the north-west falls there."""
    z = scenario.level(e, n).reshape(shape)
    down, along = np.gradient(z, pixel)
    slope = 1.5 * (along + down)
    out: FloatArray = (1.0 + 0.5 * slope / np.sqrt(1 + along**2 + down**2)).clip(0.55, 1.35)
    return out.ravel()


def _png(colour: NDArray[np.uint8]) -> bytes:
    """A picture (height, width, 3) as a PNG."""
    # A second to import, and wanted for this alone.
    from rasterio.errors import NotGeoreferencedWarning
    from rasterio.io import MemoryFile

    height, width, _ = colour.shape
    # A picture for a screen needs no place on Earth. Said for good: what catches warnings is for one thread alone.
    warnings.simplefilter("ignore", NotGeoreferencedWarning)
    with MemoryFile() as memory:
        with memory.open(driver="PNG", width=width, height=height, count=3, dtype="uint8") as out:
            out.write(colour.transpose(2, 0, 1))
        return bytes(memory.read())
