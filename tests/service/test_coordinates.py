"""Which grid a project is in: taken on from files, held against others, and the scale between grid and ground."""

import io

import laspy
import numpy as np
import pytest
from pyproj import CRS

from delgrun.core.coordinates import Coordinates
from delgrun.core.errors import DesignInputError
from delgrun.core.inputs import COORDINATES
from delgrun.exchange import crs
from delgrun.service import centrelines
from delgrun.service.projects import Saving
from surveys import brought_in, looked_at

ROW = {"crs": "", "vertical": "", "scale_factor": 1.0, "about_easting_m": 0.0, "about_northing_m": 0.0}


def las(of: str | None) -> bytes:
    rng = np.random.default_rng(1)
    header = laspy.LasHeader(point_format=6, version="1.4")
    header.scales, header.offsets = np.full(3, 0.001), np.array([500_000.0, 5_200_000.0, 0.0])
    if of:
        header.add_crs(CRS.from_user_input(of))
    cloud = laspy.LasData(header)
    cloud.x, cloud.y, cloud.z = rng.uniform(0, 90, (3, 400)).round(3) + [[500_000], [5_200_000], [100]]
    out = io.BytesIO()
    cloud.write(out)
    return out.getvalue()


def put(projects, pid: int, base: int, **row) -> int:
    return projects.put(Saving(project_id=pid, base=base), COORDINATES, {**ROW, **row})


def test_a_project_takes_on_the_grid_of_its_first_file_and_refuses_another(projects):
    pid = projects.create("grids")
    seen = looked_at(projects, pid, las("EPSG:25832+7837"), name="a.las")
    assert (seen["crs"], seen["vertical"]) == ("EPSG:25832", "DHHN2016 height") and seen["problem"] is None
    brought_in(projects, pid, las("EPSG:25832+7837"), name="a.las", longest_edge_m=0.0)
    kept = projects.opened(pid)["coordinates"]
    assert (kept["crs"], kept["vertical"]) == ("EPSG:25832", "DHHN2016 height")
    other = looked_at(projects, pid, las("EPSG:25833"), name="b.las")
    assert "is in ETRS89 / UTM zone 33N (EPSG:25833), and the project is in ETRS89 / UTM zone 32N" in other["problem"]
    with pytest.raises(DesignInputError, match="lie beside each other"):
        brought_in(projects, pid, las("EPSG:25833"), name="b.las", joins="adds")
    higher = looked_at(projects, pid, las("EPSG:25832+3855"), name="c.las")
    assert "above EGM2008 height, and the project's above DHHN2016 height" in higher["problem"]
    # A file that says nothing, and one that says the same, come beside it.
    for name, of in (("d.las", None), ("e.las", "EPSG:25832")):
        brought_in(projects, pid, las(of), name=name, joins="adds", longest_edge_m=0.0)
    assert len(projects.opened(pid)["surveys"]) == 3
    with pytest.raises(DesignInputError, match="in degrees"):
        looked_at(projects, pid, las("EPSG:4326"), name="f.las")


def test_feet_of_a_grid_in_feet_are_read_as_such(projects):
    """EPSG 2263 is in US survey feet: 1200/3937 m each."""
    pid = projects.create("feet")
    header = laspy.LasHeader(point_format=6, version="1.4")
    header.add_crs(CRS.from_epsg(2263))
    header.scales = np.full(3, 0.001)
    cloud = laspy.LasData(header)
    cloud.x, cloud.y, cloud.z = [3937.0, 7874, 3937, 7874], [0.0, 0, 3937, 3937], [39.37, 39.37, 39.37, 78.74]
    out = io.BytesIO()
    cloud.write(out)
    seen = looked_at(projects, pid, out.getvalue(), name="a.las")
    assert seen["unit"] == "us_survey_foot"
    assert seen["box"] == pytest.approx([1200, 0, 12, 2400, 1200, 24], abs=1e-6)


def test_a_landxml_file_says_its_grid_and_its_levels(projects):
    pid = projects.create("landxml grid")
    points = "".join(f"<CgPoint>{n} {e} 7</CgPoint>" for e, n in ((0, 0), (90, 0), (0, 90), (90, 90)))

    def file(said: str) -> bytes:
        units = '<Units><Metric linearUnit="meter"/></Units>'
        return f"<LandXML>{units}<CoordinateSystem {said}/><CgPoints>{points}</CgPoints></LandXML>".encode()

    seen = looked_at(projects, pid, file('epsgCode="25832" verticalDatum="Hollin datum"'), name="a.xml")
    assert (seen["crs"], seen["vertical"], seen["points"]) == ("EPSG:25832", "Hollin datum", 4)
    assert looked_at(projects, pid, file('name="nobody knows"'), name="b.xml")["crs"] == ""
    with pytest.raises(DesignInputError, match="in degrees"):
        looked_at(projects, pid, file('epsgCode="4326"'), name="c.xml")


def test_a_grid_is_known_by_its_code_and_found_by_words(projects):
    pid = projects.create("known")
    base = put(projects, pid, 1, crs="epsg:2056")
    assert projects.opened(pid)["coordinates"]["crs"] == "EPSG:2056"
    for wrong, why in (("EPSG:1", "no coordinate system"), ("Tuesday", "no coordinate"), ("EPSG:4258", "in degrees")):
        with pytest.raises(DesignInputError, match=why):
            put(projects, pid, base, crs=wrong)
    assert ("EPSG:25832", "ETRS89 / UTM zone 32N") in crs.known("etrs89 utm 32n")
    assert ("EPSG:7837", "DHHN2016 height") in crs.known("dhhn2016", vertical=True)
    assert crs.known("no such grid anywhere") == []
    assert crs.said("EPSG:2263").unit == "us_survey_foot"


def test_a_scale_factor_brings_the_grid_to_the_ground_about_its_fixed_place(projects):
    """400 parts in a million, as in the middle of a zone of 0.9996: a kilometre on the grid is 1000.400 m."""
    own = Coordinates(scale_factor=0.9996, about_easting_m=500_000.0, about_northing_m=4_200_000.0)
    grid = np.array([[500_000.0, 4_200_000, 7], [501_000, 4_200_000, 8], [500_000, 4_198_000, 9]])
    ground = own.on_ground(grid)
    assert ground[:, :2] == pytest.approx(
        np.array([[500_000, 4_200_000], [501_000.40016, 4_200_000], [500_000, 4_197_999.19968]]), abs=1e-5
    )
    assert (ground[:, 2] == grid[:, 2]).all()
    pid = projects.create("scaled")
    put(projects, pid, 1, scale_factor=0.9996, about_easting_m=500_000.0, about_northing_m=4_200_000.0)
    rows = "\n".join(f"{e},{n},{z}" for e, n, z in grid.tolist()).encode()
    _, said = brought_in(projects, pid, rows, longest_edge_m=0.0, on_grid=True)
    assert said["box"][3] == pytest.approx(501_000.40016, abs=1e-4)
    assert projects.opened(pid)["surveys"][0]["on_grid"]
    # The area grows by the square of it.
    assert said["plan_area_m2"] == pytest.approx(1e6 / 0.9996**2, rel=1e-9)
    # A centreline of the same grid lies on the same ground; its radii and length grow as well.
    (line,) = centrelines.from_file(
        projects, pid, "a.csv", b"500000,4200000,0\n501000,4200000,250\n501000,4199000,0", True
    )
    assert [(p.easting_m, p.northing_m) for p in line.ips[:2]] == [
        (500_000, 4_200_000), (pytest.approx(501_000.40016, abs=1e-5), 4_200_000),
    ]  # fmt: skip
    assert line.ips[1].radius_m == pytest.approx(250 / 0.9996, rel=1e-12)
    with pytest.raises(DesignInputError, match="a start and an end"):
        centrelines.from_file(projects, pid, "a.csv", b"", True)
