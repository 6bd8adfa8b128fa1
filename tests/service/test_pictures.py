"""Pictures of one's own, written by GDAL: each tile shows what lies there, at every zoom."""

import io

import numpy as np
import pytest
import rasterio
from rasterio.io import MemoryFile

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.tiles import Place
from delgrun.exchange import apart
from delgrun.exchange.pictures import Picture
from delgrun.exchange.readers import reader_of
from delgrun.service import pictures, uploads
from delgrun.service.projects import Saving

WEST, NORTH = 499_871.3, 4_200_090.7


def colours(e: np.ndarray, n: np.ndarray) -> np.ndarray:
    """(3, ...) what is shown at a place: it changes slowly, so that a pixel more or less is no matter."""
    return np.array([128 + 90 * np.sin(e / 40), 128 + 90 * np.cos(n / 50), 120 + 80 * np.sin((e + n) / 60)])


def photo(driver: str, pixel: float, width: int = 700, height: int = 500, mask: bool = False, **how) -> bytes:
    e = WEST + (np.arange(width) + 0.5) * pixel
    n = NORTH - (np.arange(height) + 0.5) * pixel
    bands = colours(*np.meshgrid(e, n)).astype(np.uint8)
    if mask:
        shown = np.where(np.arange(width) < width // 2, 0, 255).astype(np.uint8)
        bands = np.concatenate([bands, np.broadcast_to(shown, (1, height, width))])
    lies = {"transform": rasterio.Affine(pixel, 0, WEST, 0, -pixel, NORTH)} if driver == "GTiff" else {}
    with MemoryFile() as memory:
        kind = {"driver": driver, "width": width, "height": height, "count": len(bands), "dtype": "uint8"}
        with memory.open(**kind, **({"photometric": "RGB"} if mask else {}), **(lies | how)) as out:
            out.write(bands)
        return memory.read()


def read(data: bytes, world: str | None = None) -> Picture:
    return apart.read(reader_of("picture", "a.bin", data[:4096]), io.BytesIO(data), world)


def shown(tile) -> np.ndarray:
    with MemoryFile(tile.data) as memory, memory.open() as picture:
        return picture.read().astype(float)


WORLD = "\n".join(str(v) for v in (0.2, 0, 0, -0.2, WEST + 0.1, NORTH - 0.1))


@pytest.mark.parametrize(
    ("data", "world", "pixel"),
    [
        (photo("GTiff", 0.2, tiled=True, compress="deflate", blockxsize=256, blockysize=256), None, 0.2),
        (photo("GTiff", 1.7, crs="EPSG:25832"), None, 1.7),
        (photo("PNG", 0.2), WORLD, 0.2),
        (photo("JPEG", 0.2, quality=95), WORLD, 0.2),
    ],
)
def test_every_tile_shows_what_lies_there(data, world, pixel):
    found = read(data, world)
    assert found.box_m == pytest.approx((WEST, NORTH - 500 * pixel, WEST + 700 * pixel, NORTH))
    assert pixel / 1.5 < 2.0**-found.finest <= 1.42 * pixel
    assert {t.zoom for t in found.tiles} == set(range(min(t.zoom for t in found.tiles), found.finest + 1))
    looked = 0
    for tile in found.tiles:
        at = Place(tile.zoom, tile.column, tile.row)
        west, _, _, north = at.box_m
        middle = (np.arange(256) + 0.5) * at.pixel_m
        e, n = np.meshgrid(west + middle, north - middle)
        # A pixel from the edge: there a mean has less to be made of.
        edge = 3 * max(at.pixel_m, pixel)
        w, s, x, y = found.box_m
        inside = (e > w + edge) & (e < x - edge) & (n > s + edge) & (n < y - edge)
        if inside.any() and at.pixel_m < 8:
            off = np.abs(shown(tile)[:3] - colours(e, n))[:, inside]
            assert np.quantile(off, 0.99) < 12 and off.mean() < 4, (tile.zoom, off.mean())
            looked += 1
    assert looked > 5


def test_what_is_left_out_shows_what_lies_under_it():
    found = read(photo("GTiff", 0.5, mask=True))
    finest = [t for t in found.tiles if t.zoom == found.finest]
    west = min(t.column for t in finest)
    left = [t for t in finest if t.column == west]
    assert all(t.data.startswith(b"\x89PNG") for t in left) and not any(shown(t)[3].all() for t in left)


def test_what_can_not_lie_under_the_map_says_why():
    turned = rasterio.Affine(0.2, 0.05, WEST, 0.05, -0.2, NORTH)
    for data, world, why in (
        (photo("PNG", 0.2), None, "does not say where it lies"),
        (photo("PNG", 0.2), "1 2 3", "six lines"),
        (photo("PNG", 0.2), "0.2\n0\n0\n0.2\n1\n2", "not possible"),
        (photo("GTiff", 0.2, transform=turned), None, "turned against the grid"),
        (photo("GTiff", 0.2, crs="EPSG:4326"), None, "in degrees"),
        (b"GIF89a and so on", None, "no picture that can be read"),
        (photo("JPEG", 0.2)[:3000], WORLD, "damaged"),
    ):
        with pytest.raises(DesignInputError, match=why):
            read(data, world)


def test_it_lies_under_the_map_until_it_is_undone(projects):
    pid = projects.create("with a picture")
    data = photo("GTiff", 0.5)
    upload = uploads.whole(projects, pid, "ortho.tif", data)
    base, said = pictures.take(projects, Saving(project_id=pid, base=1), upload, "")
    laid = projects.opened(pid)["backdrop"]
    assert laid["picture_name"] == "ortho.tif" and said == []
    place = Place(laid["finest"], 0, 0)
    side = place.box_m[2]
    at = (laid["finest"], int(WEST // side) + 1, int(NORTH // side) - 1)
    assert pictures.tile(projects, pid, laid["picture"], *at).startswith(b"\xff\xd8\xff")
    assert pictures.tile(projects, pid, laid["picture"], laid["finest"], 0, 0) is None
    other = projects.create("another")
    assert pictures.tile(projects, other, laid["picture"], *at) is None
    projects.turn(Saving(project_id=pid, base=base), "undo")
    assert projects.opened(pid)["backdrop"] is None
