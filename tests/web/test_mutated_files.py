"""Files of every reader, each changed as a bad line, a bad disk or a bad person changes it: through the API no one of
them answers with a defect, takes over ten seconds, or half a gigabyte of the server.

A few of each reader in the normal run; `./delgrun test --only fuzz` sends a thousand.
"""

import io
import json
import os
import re
import resource
import time
from pathlib import Path

import ezdxf
import laspy
import numpy as np
import openpyxl
import pytest
import rasterio
from rasterio.io import MemoryFile

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.exchange.landxml_out import Written
from delgrun.exchange.landxml_out import alignments as write
from delgrun.exchange.readers import READERS
from delgrun.jobs.client import Jobs
from delgrun.service import uploads
from delgrun.service.jobs import Keeper
from delgrun.web.app import create_app

EACH = int(os.environ.get("DELGRUN_MUTATED_FILES", "12"))
# Where other tests run beside it, the clock says little.
LONGEST_S, MOST_KB = 10.0 if EACH > 100 else 60.0, 500_000
ODD = [
    b"nan", b"inf", b"-inf", b"1e308", b"-1e308", b"1e999", b"0", b"-1", b"4294967295", b"1_0", b"9" * 400, b"", b"0x1",
    b"1e-320", b"\xef\xb7\x901e308|station\xef\xb7\x91", b"\x00", b"\r", b"'", b"&#2;", "½".encode(), b"[" * 3000,
]  # fmt: skip


def drawing(fmt: str = "asc") -> bytes:
    doc = ezdxf.new("R2010", units=6)
    space = doc.modelspace()
    for k in range(6):
        space.add_point((500000 + 10 * k, 4200000 + k * k, 100 + k), dxfattribs={"layer": "SPOT"})
    space.add_polyline3d([(0, 0, 9), (20, 6, 9.5), (90, 5, 9)], dxfattribs={"layer": "CREEK"})
    space.add_lwpolyline([(0, 0, 0, 0, 0.4), (50, 40), (90, 40)], dxfattribs={"layer": "ROAD"})
    space.add_arc((0, 0), 200, 10, 80, dxfattribs={"layer": "ARC"})
    space.add_3dface([(60, 0, 5), (70, 0, 6), (70, 9, 7), (60, 9, 5)], dxfattribs={"layer": "OLD"})
    if fmt == "bin":
        out = io.BytesIO()
        doc.write(out, fmt="bin")
        return out.getvalue()
    text = io.StringIO()
    doc.write(text)
    return text.getvalue().encode()


def cloud(suffix: str) -> bytes:
    rng = np.random.default_rng(0)
    made = laspy.LasData(laspy.LasHeader(point_format=6, version="1.4"))
    made.x, made.y, made.z = rng.uniform(0, 100, (3, 300))
    made.classification = np.full(300, 2, dtype=np.uint8)
    out = io.BytesIO()
    made.write(out, do_compress=suffix == "laz")
    return out.getvalue()


def tiff() -> bytes:
    kind = {"driver": "GTiff", "width": 40, "height": 30, "count": 1, "dtype": "float32", "crs": "EPSG:32632"}
    with MemoryFile() as memory:
        with memory.open(**kind, compress="deflate", transform=rasterio.Affine(5, 0, 500000, 0, -5, 4200000)) as out:
            out.write(np.random.default_rng(1).uniform(90, 99, (30, 40)).astype(np.float32), 1)
        return memory.read()


def photo(driver: str, **how) -> bytes:
    lies = {"transform": rasterio.Affine(0.5, 0, 500000, 0, -0.5, 4200000)} if driver == "GTiff" else {}
    with MemoryFile() as memory:
        with memory.open(driver=driver, width=300, height=200, count=3, dtype="uint8", **lies, **how) as out:
            out.write(np.random.default_rng(2).integers(0, 255, (3, 200, 300)).astype(np.uint8))
        return memory.read()


def landxml() -> bytes:
    ips = [(0, 0, 0), (300, 20, 200), (600, 200, 150), (900, 200, 0)]
    line = Centreline([CentrelineIp(easting_m=e, northing_m=n, radius_m=r, transition_in_m=r / 5) for e, n, r in ips])
    grade = GradeLine.of([Ip(chainage_m=0, level_m=5), Ip(chainage_m=400, level_m=9, curve_length_m=80),
                          Ip(chainage_m=line.end_chainage_m, level_m=4)])  # fmt: skip
    surface = (
        b'<CgPoints><CgPoint name="A">1 2 3</CgPoint></CgPoints><Surfaces>'
        b'<Surface name="EG"><Definition surfType="TIN">'
        b'<Pnts><P id="1">0 0 5</P><P id="2">0 40 6</P><P id="3">30 20 9</P></Pnts><Faces><F>1 2 3</F></Faces>'
        b'</Definition></Surface></Surfaces><PlanFeatures><PlanFeature name="edge"><CoordGeom><IrregularLine>'
        b"<PntList3D>0 0 1 10 5 2 30 9 3</PntList3D></IrregularLine></CoordGeom></PlanFeature></PlanFeatures>"
    )
    return write([Written("Mill road", line, (("first", grade),))]).replace(b"</LandXML>", surface + b"</LandXML>")


# A straight, an arc of 300 m, and the straight it ends in.
ARC = [(300 * np.sin(a), 300 * (1 - np.cos(a))) for a in np.arange(0, 0.81, 0.05)]
WAY = [(-200 + 20.0 * k, 0.0) for k in range(10)] + ARC + [
    (ARC[-1][0] + 20 * k * np.cos(0.8), ARC[-1][1] + 20 * k * np.sin(0.8)) for k in range(1, 9)
]  # fmt: skip
GEOJSON = json.dumps(
    {"type": "FeatureCollection", "features": [{"type": "Feature", "properties": {"name": "main"}, "geometry": {
        "type": "LineString", "coordinates": [[round(500000 + x, 3), round(4200000 + y, 3), 99.5] for x, y in WAY]}}]}
).encode()  # fmt: skip
LEVELS = b"chainage,level,curve\n0,100,\n1+50,108.5,60\n400,101,\n"
TRACK = b"easting,northing\n" + b"\n".join(b"%.3f,%.3f" % at for at in WAY)
PLAN = b"easting,northing,radius\n0,0,\n300,20,200\n600,200,150\n900,200,\n"
SURVEY = b"easting,northing,level,code\n" + b"\n".join(b"%d,%d,%d,GR" % (k % 9, k // 9, 90 + k % 5) for k in range(80))
GRID = b"ncols 8\nnrows 6\nxllcorner 1000\nyllcorner 2000\ncellsize 10\n" + b"\n".join([b"9 8 7 6.5 5 4 3 2.25"] * 6)
UTILITIES = b"utility,easting,northing,level\nmain,0,0,98.5\nmain,50,10,98\n"
TABLES = {
    "text columns": SURVEY, "centreline as a text table": PLAN, "line as a text table": TRACK,
    "utilities as a text table": UTILITIES, "profile as a text table": LEVELS,
}  # fmt: skip


def sheet(text: bytes) -> bytes:
    """A table in a workbook, numbers as numbers."""
    book = openpyxl.Workbook()
    for line in text.decode().splitlines():
        cells = [c.strip() for c in re.split(r"[,;\t ]", line)]
        book.active.append([float(c) if _NUMBER.fullmatch(c.encode()) else c for c in cells])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


_NUMBER = re.compile(rb"(?<![\w.])-?\d+(?:\.\d+)?")
SAMPLES: dict[str, list[bytes]] = {
    "text columns": [SURVEY],
    "ESRI ASCII grid": [GRID],
    "GeoTIFF": [tiff()],
    "point cloud (LAS, LAZ)": [cloud("las"), cloud("laz")],
    "DXF": [drawing(), drawing("bin")],
    "LandXML": [landxml()],
    "centreline as a text table": [PLAN],
    "alignments of LandXML": [landxml()],
    "line as a text table": [TRACK],
    "line of GeoJSON": [GEOJSON],
    "line of DXF": [drawing(), drawing("bin")],
    "line of LandXML": [landxml()],
    "utilities as a text table": [UTILITIES],
    "utilities of GeoJSON": [GEOJSON],
    "utilities of DXF": [drawing()],
    "profile as a text table": [LEVELS],
    "profile of DXF": [drawing()],
    "profile of LandXML": [landxml()],
    "picture from the air": [
        photo("GTiff", compress="deflate"),
        photo("GTiff", tiled=True, compress="jpeg"),
        photo("JPEG"),
        photo("PNG"),
    ],
    **{f"{name}, in a workbook": [sheet(text)] for name, text in TABLES.items()},
}
LIMITS = b"limit,value,speed,source\nmax_grade,8,60,our own\nmin_crest_k_m_per_pct,12,60,our own\n"


def mutated(data: bytes, rng: np.random.Generator) -> bytes:
    """A file with one to four things wrong with it."""
    out = bytearray(data)
    for _ in range(int(rng.integers(1, 5))):
        at = int(rng.integers(0, max(len(out), 1)))
        match int(rng.integers(0, 8)):
            case 0:
                out[at : at + 1] = bytes([int(rng.integers(256))])
            case 1:
                del out[at : at + int(rng.integers(1, 40))]
            case 2:
                out[at:at] = out[at : at + int(rng.integers(1, 200))] * int(rng.integers(1, 60))
            case 3:
                out = out[: max(at, 8)]
            case 4:
                out[at : at + 4] = int(rng.choice([0, 1, 2**31 - 1, 2**31, 2**32 - 1])).to_bytes(4, "little")
            case _:
                found = list(_NUMBER.finditer(out))
                if found:
                    one = found[int(rng.integers(len(found)))]
                    out[one.start() : one.end()] = ODD[int(rng.integers(len(ODD)))]
    return bytes(out)


@pytest.fixture(scope="module")
def sender(projects, demo):
    client = create_app(projects, Keeper(projects, Jobs(Path())), None).test_client()
    url = f"/api/projects/{demo}"
    head = client.get(url).json["revision"]
    pid = projects.create("mutated")

    def send(makes: str, suffix: str, data: bytes):
        form = {"file": (io.BytesIO(data), f"a{suffix}")}
        match makes:
            case "survey":
                upload = uploads.whole(projects, pid, f"a{suffix}", data)
                return client.post(f"/api/projects/{pid}/uploads/{upload}/look", json={})
            case "picture":
                upload = uploads.whole(projects, pid, f"a{suffix}", data)
                lies = {"upload_id": upload, "world": "0.5\n0\n0\n-0.5\n500000\n4200000"}
                base = client.get(f"/api/projects/{pid}").json["revision"]
                return client.post(f"/api/projects/{pid}/land/picture", json={"base": base, "token": None, **lies})
            case "limits":
                return client.post("/api/standards", json={"name": "fuzzed", "text": data.decode("latin-1")})
            case "centreline":
                return client.post(f"{url}/centreline/read", data=form)
            case "polyline":
                return client.post(f"{url}/centreline/fit", data=form | {"which": "0"})
            case "utility":
                return client.post(f"{url}/centreline/utilities", data=form)
            case _:
                return client.post(
                    f"{url}/lines/read", data=form | {"revision": str(head), "which": "1" if suffix == ".dxf" else "0"}
                )

    return send


@pytest.mark.parametrize("reader", READERS, ids=lambda r: r.name)
def test_no_mutated_file_is_a_defect_or_dear(reader, sender):
    samples = SAMPLES[reader.name]
    rng = np.random.default_rng(len(reader.name))
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    for sample in samples:
        good = sender(reader.makes, reader.suffixes[0], sample)
        assert good.status_code == 200, good.json
    read = 0
    for k in range(EACH):
        data = mutated(samples[k % len(samples)], rng)
        if not data:
            continue
        began = time.monotonic()
        answer = sender(reader.makes, reader.suffixes[0], data)
        took = time.monotonic() - began
        assert answer.status_code in (200, 409, 422), (k, answer.status_code, data[:2000])
        assert took < LONGEST_S, (k, took, data[:2000])
        read += answer.status_code == 200
    # Both happen: some are still read, some are refused.
    assert EACH < 100 or 0 < read < EACH
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < MOST_KB


def test_no_mutated_table_of_limits_is_a_defect(sender):
    rng = np.random.default_rng(5)
    assert sender("limits", ".csv", LIMITS).status_code == 200
    for _ in range(EACH):
        assert sender("limits", ".csv", mutated(LIMITS, rng) or b"-").status_code in (200, 422)
