"""Surveys in other forms, written by other libraries: grids, clouds, drawings, LandXML; and files that mean no good."""

import io
from xml.etree import ElementTree

import ezdxf
import laspy
import numpy as np
import pytest
from rasterio.io import MemoryFile
from rasterio.transform import from_origin

from delgrun.core.errors import DesignInputError
from delgrun.core.ground.tin import build_tin
from delgrun.exchange import landxml_out
from delgrun.exchange.readers import reader_of
from delgrun.exchange.survey_parts import Chosen
from delgrun.exchange.survey_text import SurveyLook, SurveyText
from delgrun.service import imports


def look(name: str, data: bytes, chosen: Chosen | None = None) -> SurveyLook:
    return reader_of("survey", name, data[:4096]).look(io.BytesIO(data), chosen)


def read(name: str, data: bytes, chosen: Chosen | None = None) -> SurveyText:
    return reader_of("survey", name, data[:4096]).read(io.BytesIO(data), chosen)


def las(version: str = "1.4", suffix: str = "las", count: int = 600) -> tuple[bytes, np.ndarray, np.ndarray]:
    rng = np.random.default_rng(1)
    xyz = np.column_stack(
        [rng.uniform(500_000, 500_100, count), rng.uniform(4_200_000, 4_200_050, count), rng.uniform(9, 20, count)]
    )
    xyz = xyz.round(3)
    header = laspy.LasHeader(point_format=6 if version == "1.4" else 1, version=version)
    header.scales, header.offsets = np.full(3, 0.001), np.floor(xyz.min(axis=0))
    cloud = laspy.LasData(header)
    cloud.x, cloud.y, cloud.z = xyz.T
    kind = np.where(np.arange(count) % 3 == 0, 5, 2)
    cloud.classification = kind
    out = io.BytesIO()
    cloud.write(out, do_compress=suffix == "laz")
    return out.getvalue(), xyz, kind


@pytest.mark.parametrize(("version", "suffix"), [("1.2", "las"), ("1.4", "las"), ("1.4", "laz")])
def test_a_cloud_gives_its_ground_unless_more_is_chosen(version, suffix):
    data, xyz, kind = las(version, suffix)
    seen = look(f"a.{suffix}", data)
    assert [(p.name, p.count, p.role) for p in seen.parts] == [
        ("2 ground", 400, "points"), ("5 high vegetation", 200, "ignore"),
    ]  # fmt: skip
    assert seen.text is not None and seen.text.survey.xyz == pytest.approx(xyz[kind == 2], abs=1e-6)
    both = read(f"a.{suffix}", data, Chosen({"2 ground": "points", "5 high vegetation": "points"}))
    assert len(both.survey.xyz) == 600 and dict(both.codes) == {"2 ground": 400, "5 high vegetation": 200}
    # Whatever it is called.
    assert len(read("points.txt", data).survey.xyz) == 400


GRID = np.arange(12.0).reshape(3, 4) + 100


def test_an_ascii_grid_has_its_points_in_the_middles_of_its_cells():
    head = "ncols 4\nnrows 3\nxllcorner 1000\nyllcorner 2000\ncellsize 10\nNODATA_value -9999\n"
    body = "\n".join(" ".join(f"{v:g}" for v in row) for row in GRID).replace("105", "-9999")
    found = read("hill.asc", (head + body).encode()).survey.xyz
    assert len(found) == 11 and found[0].tolist() == [1005, 2025, 100] and found[-1].tolist() == [1035, 2005, 111]
    centred = head.replace("corner", "center")
    assert read("hill.asc", (centred + body).encode()).survey.xyz[0].tolist() == [1000, 2020, 100]
    with pytest.raises(DesignInputError, match="11 levels where its head says 4 x 3"):
        read("hill.asc", (head + body.rsplit(" ", 1)[0]).encode())


def tiff(crs: str | None, **over) -> bytes:
    with MemoryFile() as memory:
        kind = {"driver": "GTiff", "width": 4, "height": 3, "count": 1, "dtype": "float64", "nodata": -9999, "crs": crs}
        with memory.open(**{**kind, "transform": from_origin(1000, 2030, 10, 10), **over}) as out:
            out.write(np.where(GRID == 105, -9999, GRID), 1)
        return memory.read()


def test_a_geotiff_is_read_as_its_ascii_twin_and_degrees_are_refused():
    found = read("hill.tif", tiff("EPSG:32632")).survey.xyz
    assert len(found) == 11 and found[0].tolist() == [1005, 2025, 100]
    # EPSG:2227 is in US survey feet.
    feet = look("hill.tif", tiff("EPSG:2227"))
    assert feet.unit == "us_survey_foot" and feet.text is not None
    assert feet.text.survey.xyz[0] == pytest.approx(np.array([1005, 2025, 100]) * 1200 / 3937)
    with pytest.raises(DesignInputError, match="is in degrees"):
        look("hill.tif", tiff("EPSG:4326"))


def test_a_drawing_is_read_layer_by_layer():
    drawing = ezdxf.new("R2010", units=6)
    space = drawing.modelspace()
    for e, n, z in [(0, 0, 10), (50, 0, 11), (50, 40, 12), (0, 40, 13)]:
        space.add_point((e, n, z), dxfattribs={"layer": "SPOT"})
    space.add_polyline3d([(10, 5, 9), (20, 6, 9.5), (30, 5, 9)], dxfattribs={"layer": "CREEK"})
    space.add_line((5, 30, 12), (45, 31, 12.5), dxfattribs={"layer": "CREST"})
    space.add_lwpolyline([(0, 0), (50, 40)], dxfattribs={"layer": "FRAME"})
    space.add_lwpolyline([(12, 20), (22, 20), (22, 26)], close=True, dxfattribs={"layer": "LEVEL", "elevation": 11.5})
    space.add_3dface([(60, 0, 5), (70, 0, 6), (70, 9, 7), (60, 9, 5)], dxfattribs={"layer": "OLD"})
    text = io.StringIO()
    drawing.write(text)
    seen = look("site.dxf", text.getvalue().encode())
    assert {p.name: (p.holds, p.count, p.role) for p in seen.parts} == {
        "SPOT (points)": ("points", 4, "points"),
        "CREEK (lines)": ("lines and polylines", 1, "breaklines"),
        "CREST (lines)": ("lines and polylines", 1, "breaklines"),
        "FRAME (lines)": ("lines and polylines", 1, "ignore"),
        "LEVEL (lines)": ("lines and polylines", 1, "breaklines"),
        "OLD (faces)": ("3D faces", 2, "surface"),
    }
    assert any("1 lines lie at level 0" in d for d in seen.doubts) and seen.unit == "metre"
    roles = {p.name: p.role for p in seen.parts}
    survey = read("site.dxf", text.getvalue().encode(), Chosen(roles)).survey
    assert len(survey.xyz) == 4 + 3 + 2 + 4 + 4
    tin = build_tin(survey.xyz, survey.breaklines)
    on = tin.level_at(np.array([15.0, 25.0, 17.0]), np.array([5.5, 30.5, 20.0]))
    assert on == pytest.approx([9.25, 12.25, 11.5], abs=1e-6)
    binary = io.BytesIO()
    drawing.write(binary, fmt="bin")
    assert read("site.dxf", binary.getvalue(), Chosen(roles)).survey.xyz == pytest.approx(survey.xyz)


LANDXML = """<?xml version="1.0"?>
<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Metric linearUnit="{unit}"/></Units>
<CgPoints><CgPoint name="A1">2000.5 1000.25 99.125</CgPoint><CgPoint name="B">2010 1010</CgPoint></CgPoints>
<Surfaces><Surface name="EG"><SourceData><Breaklines><Breakline>
<PntList3D>2000 1000 5 2000 1040 6</PntList3D></Breakline>
</Breaklines></SourceData><Definition surfType="TIN"><Pnts><P id="1">2000 1000 5</P><P id="2">2000 1040 6</P>
<P id="3">2030 1020 9</P><P id="4">1970 1020 1</P></Pnts><Faces><F>1 2 3</F><F>1 4 2</F><F i="1">2 3 4</F></Faces>
</Definition></Surface></Surfaces></LandXML>"""


def test_landxml_gives_points_and_surfaces_with_northing_first():
    data = LANDXML.format(unit="meter").encode()
    seen = look("site.xml", data)
    assert [(p.name, p.count, p.role) for p in seen.parts] == [
        ("points", 1, "points"), ("EG (surface)", 2, "surface"), ("EG (breaklines)", 1, "ignore"),
    ]  # fmt: skip
    assert "1 points without a level are left out." in seen.doubts
    survey = read("site.xml", data).survey
    assert survey.xyz[0].tolist() == [1000.25, 2000.5, 99.125] and survey.name[0] == "A1"
    only = read("site.xml", data, Chosen({"points": "ignore"})).survey
    # Of its five edges one is another than points alone would have: it is asked for, and no other.
    assert len(only.xyz) == 4 and len(only.breaklines) <= 1
    tin = build_tin(only.xyz, only.breaklines)
    assert tin.level_at(np.array([1020.0]), np.array([2000.1]))[0] == pytest.approx(5.5, abs=0.05)
    assert look("site.xml", LANDXML.format(unit="USSurveyFoot").encode()).unit == "us_survey_foot"


def test_the_ground_goes_out_as_a_surface_and_its_triangles_come_back():
    """Read by the standard's own words (P: northing, easting, elevation by id; F: three ids), and by our reader."""
    rng = np.random.default_rng(4)
    xyz = np.column_stack([500_000 + rng.uniform(0, 90, 60), 4_200_000 + rng.uniform(0, 90, 60), rng.uniform(4, 9, 60)])
    tin = build_tin(xyz)
    data = landxml_out.surface("ground & more", tin)
    root = ElementTree.fromstring(data)
    at = {"x": root.tag.split("}")[0][1:]}
    (surface,) = root.findall("x:Surfaces/x:Surface", at)
    assert surface.get("name") == "ground & more"
    found = {p.get("id"): [float(v) for v in p.text.split()] for p in surface.iterfind("x:Definition/x:Pnts/x:P", at)}
    faces = [f.text.split() for f in surface.iterfind("x:Definition/x:Faces/x:F", at)]
    assert len(found) == len(tin.xyz) and len(faces) == len(tin.triangles)
    back = np.array([[[found[i][1], found[i][0], found[i][2]] for i in face] for face in faces])
    assert np.abs(back - tin.xyz[tin.triangles]).max() <= 5.001e-5
    survey = read("out.xml", data).survey
    same = build_tin(survey.xyz, survey.breaklines)
    places = 500_045 + rng.uniform(-25, 25, 40), 4_200_045 + rng.uniform(-25, 25, 40)
    assert np.abs(same.level_at(*places) - tin.level_at(*places)).max() < 1e-3


BOMB = b"""<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;">]>
<LandXML><CgPoints><CgPoint>&b;</CgPoint></CgPoints></LandXML>"""


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("a.las", las()[0][:300], "no LAS or LAZ file that can be read"),
        ("a.laz", las(suffix="laz")[0][:900], "no LAS or LAZ file that can be read"),
        ("a.tif", tiff(None)[:60], "no GeoTIFF that can be read"),
        ("a.dxf", b"0\nSECTION\n2\nENTITIES\n0\nPOINT\n8\n", "no DXF file that can be read|holds no points"),
        ("a.xml", b"<LandXML><CgPoints>", "no LandXML that can be read"),
        ("a.xml", b"<LandXML></LandXML>", "holds no points with levels"),
        ("a.xml", BOMB, "entities of its own"),
        ("a.asc", b"ncols 100000\nnrows 100000\ncellsize 1\nxllcorner 0\nyllcorner 0\n1", "100000 x 100000 cells"),
        ("a.csv", b"PK\x03\x04 and so on", "no workbook"),
        ("a.csv", b"%PDF-1.7", "This is a PDF"),
    ],
)
def test_what_cannot_be_read_says_so(name, data, says):
    with pytest.raises(DesignInputError, match=says):
        look(name, data)


def test_columns_of_a_cloud_or_parts_of_a_text_are_refused_with_the_reason():
    with pytest.raises(DesignInputError, match="read as text columns: choose its columns"):
        imports.preview("a.csv", io.BytesIO(b"1,2,3"), None, parts={"unit": "metre", "roles": []})
    layout = {"delimiter": "comma", "header": False, "decimal_comma": False, "roles": ["easting"], "unit": "metre"}
    with pytest.raises(DesignInputError, match="choose its parts"):
        imports.preview("a.las", io.BytesIO(las()[0]), layout)


def test_rubbish_of_any_form_is_a_sentence_and_never_a_defect():
    rng = np.random.default_rng(2)
    whole = {"a.las": las()[0], "a.tif": tiff(None), "a.xml": LANDXML.format(unit="meter").encode()}
    for name, data in whole.items():
        for _ in range(60):
            broken = bytearray(data)
            for at in rng.integers(0, len(data), 8):
                broken[at] = int(rng.integers(256))
            try:
                seen = imports.preview(name, io.BytesIO(broken[: int(rng.integers(40, len(data)))]), None)
            except DesignInputError:
                continue
            assert seen["problem"] or np.isfinite(seen["box"]).all()
