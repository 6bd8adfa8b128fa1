"""Lines to be fitted to, of each format, as other programs write them; rubbish is a sentence."""

import io
import json

import ezdxf
import numpy as np
import pytest
import shapely

from delgrun.core.errors import DesignInputError
from delgrun.exchange.readers import reader_of

PLAN = np.array([[482_000.0, 4_216_000.0], [482_100.5, 4_216_010.25], [482_210.0, 4_215_990.0]])


def read(data: bytes, name: str):
    return reader_of("polyline", name, data[:4096]).read(io.BytesIO(data), None)


def test_each_format_gives_the_same_line():
    table = "E;N;Z\n" + "\n".join(f"{e:.3f};{n:.3f};12.5" for e, n in PLAN)
    feature = {
        "type": "Feature",
        "properties": {"name": "track"},
        "geometry": json.loads(shapely.to_geojson(shapely.LineString(PLAN))),
    }
    drawing = ezdxf.new()
    drawing.modelspace().add_lwpolyline(PLAN.tolist(), dxfattribs={"layer": "track"})
    sheet = io.StringIO()
    drawing.write(sheet)
    points = " ".join(f"{n} {e}" for e, n in PLAN)
    xml = (
        '<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><PlanFeatures><PlanFeature name="track"><CoordGeom>'
        f"<IrregularLine><PntList2D>{points}</PntList2D></IrregularLine></CoordGeom></PlanFeature></PlanFeatures></LandXML>"
    )
    for data, name in (
        (table, "a.csv"),
        (json.dumps(feature), "a.geojson"),
        (sheet.getvalue(), "a.dxf"),
        (xml, "a.xml"),
    ):
        (line,) = read(data.encode(), name)
        assert line.plan == pytest.approx(PLAN, abs=1e-6), name
        assert line.name == ("table" if name == "a.csv" else "track")


def test_lines_and_arcs_of_a_drawing_that_hang_together_are_one_and_bulges_are_arcs():
    drawing = ezdxf.new()
    space = drawing.modelspace()
    space.add_line((0, 0), (100, 0), dxfattribs={"layer": "axis"})
    space.add_line((100, 0), (180, 60), dxfattribs={"layer": "axis"})
    # A quarter of a circle of R 50 as a bulge.
    space.add_lwpolyline([(0, 500, np.tan(np.pi / 8)), (50, 550, 0)], format="xyb", dxfattribs={"layer": "bend"})
    sheet = io.StringIO()
    drawing.write(sheet)
    axis, bend = read(sheet.getvalue().encode(), "a.dxf")
    assert axis.plan == pytest.approx(np.array([[0, 0], [100, 0], [180, 60]], dtype=float))
    radius = np.hypot(bend.plan[:, 0] - 0, bend.plan[:, 1] - 550)
    assert bend.length_m == pytest.approx(50 * np.pi / 2, rel=1e-3) and radius == pytest.approx(50, abs=2e-3)


@pytest.mark.parametrize(
    ("data", "name", "says"),
    [
        ('{"type": "LineString", "coordinates": [[16.1, 48.2], [16.2, 48.3]]}', "a.json", "in degrees"),
        ('{"type": "Point", "coordinates": [1, 2]}', "a.json", "no line"),
        ('{"type": "LineString", "coordinates": [["a", 2], [3, 4]]}', "a.json", "no GeoJSON"),
        ('{"type": "LineString", "coordinates": [[500000, 1e300], [500001, 4]]}', "a.json", "no place on a grid"),
        ("[" * 100_000, "a.geojson", "no GeoJSON"),
        ("<LandXML><Alignments/></LandXML>", "a.xml", "no line"),
        ("E;N\n1;2", "a.csv", "no line"),
    ],
)
def test_what_is_no_line_is_a_sentence(data, name, says):
    with pytest.raises(DesignInputError, match=says):
        read(data.encode(), name)


def test_lines_in_space_bring_their_levels_from_every_format():
    """Written by other programs; a line whose levels are all alike has none."""
    xyz = [(10.0, 20.0, 5.0), (60.0, 25.0, 6.5), (90.0, 70.0, 6.0)]
    drawing = ezdxf.new()
    drawing.units = ezdxf.units.M
    drawing.modelspace().add_polyline3d(xyz, dxfattribs={"layer": "edge"})
    drawing.modelspace().add_lwpolyline([(0, 0), (5, 5)], dxfattribs={"layer": "flat"})
    dxf = io.StringIO()
    drawing.write(dxf)
    geojson = json.dumps({"type": "LineString", "coordinates": [[e + 5e5, n + 4e6, z] for e, n, z in xyz]})
    points = " ".join(f"{n} {e} {z}" for e, n, z in xyz)
    landxml = (
        '<LandXML><PlanFeatures><PlanFeature name="edge"><CoordGeom><IrregularLine><PntList3D>'
        f"{points}</PntList3D></IrregularLine></CoordGeom></PlanFeature></PlanFeatures></LandXML>"
    )
    text = "northing;easting;level\n" + "\n".join(f"{n};{e};{z}" for e, n, z in xyz)
    for name, data in (("a.dxf", dxf.getvalue()), ("a.json", geojson), ("a.xml", landxml), ("a.csv", text)):
        first, *others = read(data.encode(), name)
        assert first.level.tolist() == [5.0, 6.5, 6.0], name
        assert all(line.level is None for line in others)
    assert read(b"easting,northing\n0,0\n9,9\n", "b.csv")[0].level is None
