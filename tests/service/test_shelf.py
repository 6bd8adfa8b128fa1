"""Dear results on disk: the same bits back, never of another database or version, and a damaged file is none."""

import time
from dataclasses import fields

import numpy as np
import pytest

from delgrun.core.ground.tin import Tin, build_tin
from delgrun.service.made import Key, Made
from delgrun.service.shelf import Shelf

XYZ = np.array([[0.0, 0, 1], [10, 0, 2], [0, 10, 3], [10, 10, 4.25]])
_asked: list[int] = []


def ground(_: int) -> Tin:
    _asked.append(1)
    return build_tin(XYZ)


def waiting_for(shelf: Shelf, key: Key) -> Tin:
    until = time.monotonic() + 10
    while (found := shelf.take(key, Tin)) is None:
        assert time.monotonic() < until
        time.sleep(0.01)
    return found


def test_a_result_is_taken_from_the_shelf_after_a_restart(tmp_path):
    shelf = Shelf(tmp_path / "shelf", "database, version")
    kept = Made(shelf=shelf)(ground, 1, on_shelf=Tin)
    again = waiting_for(shelf, kept.key)
    for f in fields(Tin):
        assert np.array_equal(getattr(again, f.name), getattr(kept.value, f.name))
    before = len(_asked)
    assert Made(shelf=shelf)(ground, 1, on_shelf=Tin).value.doubles.shape == (0, 2) and len(_asked) == before
    # Another database, or another version of the computation, has none of it.
    assert Shelf(tmp_path / "shelf", "another").take(kept.key, Tin) is None
    assert (tmp_path / "shelf").stat().st_mode & 0o077 == 0


@pytest.mark.parametrize("damage", [b"", b"PK\x03\x04 no archive", None])
def test_a_damaged_file_is_made_anew(tmp_path, damage):
    shelf = Shelf(tmp_path / "shelf", "d")
    kept = Made(shelf=shelf)(ground, 1, on_shelf=Tin)
    waiting_for(shelf, kept.key)
    (path,) = (tmp_path / "shelf").glob("*.npz")
    data = path.read_bytes()
    path.write_bytes(data[: len(data) // 2] if damage is None else damage)
    assert shelf.take(kept.key, Tin) is None
    assert len(Made(shelf=shelf)(ground, 1, on_shelf=Tin).value.triangles) == 2


def test_only_the_newest_few_are_kept(tmp_path):
    shelf = Shelf(tmp_path / "shelf", "d")
    for k in range(12):
        key = Key("k", k)
        shelf.put(key, build_tin(XYZ))
        waiting_for(shelf, key)
    until = time.monotonic() + 10
    while len(list((tmp_path / "shelf").glob("*.npz"))) > 9:
        assert time.monotonic() < until
        time.sleep(0.01)
