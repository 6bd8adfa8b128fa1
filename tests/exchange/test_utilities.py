"""Utilities of files, written by other programs' libraries or by hand."""

import io
import json

import ezdxf
import numpy as np
import pytest

from delgrun.core.errors import DesignInputError
from delgrun.exchange.readers import reader_of


def read(name: str, data: bytes):
    return reader_of("utility", name, data).read(io.BytesIO(data), None)


def test_a_table_of_several_utilities_with_its_own_headings_and_feet():
    found = read(
        "pipes.csv", b"Pipe;Rechtswert;Hochwert;Top\nGas;100,5;200;9,5\nGas;150;230;9\nWater;0;0;1\nWater;5;0;1\n"
    )
    assert [line.name for line in found] == ["Gas", "Water"]
    assert found[0].xyz == pytest.approx(np.array([[100.5, 200, 9.5], [150, 230, 9]]))
    (feet,) = read("wire.txt", b"easting ft,northing ft,wire ft\n1000,2000,30\n1100,2000,32\n")
    assert feet.xyz[0] == pytest.approx([304.8, 609.6, 9.144])


def test_drawings_and_geojson_keep_their_levels():
    drawing = ezdxf.new()
    drawing.header["$INSUNITS"] = 6
    drawing.modelspace().add_polyline3d([(0, 0, 5), (10, 0, 6)], dxfattribs={"layer": "GAS"})
    drawing.modelspace().add_line((0, 9, 1), (9, 9, 1), dxfattribs={"layer": "GAS"})
    out = io.StringIO()
    drawing.write(out)
    found = read("utilities.dxf", out.getvalue().encode())
    assert [line.name for line in found] == ["GAS", "GAS (2)"] and found[0].xyz[1, 2] == 6
    feature = {
        "type": "Feature", "properties": {"name": "110 kV"},
        "geometry": {"type": "LineString", "coordinates": [[500000, 4200000, 31.5], [500050, 4200010, 30]]},
    }  # fmt: skip
    (wire,) = read("wires.geojson", json.dumps({"type": "FeatureCollection", "features": [feature]}).encode())
    assert wire.name == "110 kV" and wire.xyz[0].tolist() == [500000, 4200000, 31.5]
    feature["geometry"]["coordinates"] = [[500000, 4200000], [500050, 4200010]]
    with pytest.raises(DesignInputError, match="holds no utility"):
        read("wires.geojson", json.dumps(feature).encode())


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"utility,easting,northing,level\nGas,1,2,deep\nGas,1,3,1\n", "Line 2 holds a figure that is no number"),
        (b"utility,easting,northing,level\nGas,1,2,3\n", "at least two vertices"),
        (b"easting,northing\n1,2\n3,4\n", "has no easting, northing and level"),
        (b"\x89PNG\r\n", "This is a picture"),
    ],
)
def test_what_is_no_utility_is_refused_in_words(data, says):
    with pytest.raises(DesignInputError) as refused:
        read("x.csv", data)
    assert says in str(refused.value)
