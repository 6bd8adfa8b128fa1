"""In what a file's figures are: what it says; where it says nothing, what its reader reads in."""

import io
import json

import ezdxf
import numpy as np
import pytest

from delgrun.exchange import centreline_text, dxf, geojson, polylines, profiles
from delgrun.exchange.text_columns import SURVEY_WORDS, detect, read_in

FOOT, SURVEY_FOOT = 0.3048, 1200 / 3937


@pytest.mark.parametrize(("system", "unit"), [("metric", "metre"), ("us", "foot"), ("us_survey", "us_survey_foot")])
def test_a_table_that_names_no_unit_is_in_its_readers(system, unit):
    with read_in(system):
        assert detect(["e,n,z", "1,2,3"], SURVEY_WORDS).unit == unit
        # What it does name holds, whoever reads it.
        assert detect(["easting (ft),northing (ft),z", "1,2,3"], SURVEY_WORDS).unit == "foot"


@pytest.mark.parametrize(
    ("system", "head", "scale"),
    [
        ("metric", "e,n,radius", 1.0), ("metric", "easting (ft),northing (ft),radius", FOOT),
        ("us_survey", "e,n,radius", SURVEY_FOOT), ("us", "easting (US ft),northing (US ft),radius", SURVEY_FOOT),
    ],
)  # fmt: skip
def test_a_table_of_a_centreline_in_feet(system, head, scale):
    with read_in(system):
        (found,) = centreline_text.read(io.BytesIO(f"{head}\n0,0,0\n1000,0,300\n2000,500,0".encode()), None)
    got = np.array([(ip.easting_m, ip.northing_m, ip.radius_m) for ip in found.ips])
    assert np.abs(got - scale * np.array([(0, 0, 0), (1000, 0, 300), (2000, 500, 0)])).max() < 1e-9


def test_a_profile_in_stations_of_a_hundred_is_in_feet_also_for_one_who_reads_metres():
    rows = b"Station,Elevation,Curve length\n0+00.00,1378,0\n15+00.00,1425,400\n93+00.00,1380,0\n"
    for system, scale in (("metric", FOOT), ("us", FOOT), ("us_survey", SURVEY_FOOT)):
        with read_in(system):
            (found,) = profiles.text(io.BytesIO(rows))
        got = np.array([(ip.chainage_m, ip.level_m, ip.curve_length_m) for ip in found.ips])
        assert np.abs(got - scale * np.array([(0, 1378, 0), (1500, 1425, 400), (9300, 1380, 0)])).max() < 1e-9
    (metric,) = profiles.text(io.BytesIO(b"chainage,level\n0+000,10\n1+500,20\n"))
    assert metric.points is not None and metric.points.tolist() == [[0, 10], [1500, 20]]


def test_drawings_and_geojson_without_a_unit():
    drawing = ezdxf.new()
    drawing.header["$INSUNITS"] = 0
    drawing.modelspace().add_lwpolyline([(0, 0), (100, 0), (200, 50)])
    out = io.StringIO()
    drawing.write(out)
    line = {"type": "LineString", "coordinates": [[0, 0], [1000, 0], [2000, 500]]}
    for system, scale in (("metric", 1.0), ("us", FOOT)):
        with read_in(system):
            (drawn,) = polylines.of(dxf.contents(io.BytesIO(out.getvalue().encode())))
            (found,) = polylines.of(geojson.contents(io.BytesIO(json.dumps(line).encode())))
        assert np.abs(drawn.plan[-1] - np.array([200, 50]) * scale).max() < 1e-9
        assert np.abs(found.plan[-1] - np.array([2000, 500]) * scale).max() < 1e-9
