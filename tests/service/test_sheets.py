"""Sheets as files, read back with other libraries than those that write them."""

import io
import re
import zipfile
from xml.etree import ElementTree as ET

import ezdxf
import numpy as np
import pdfplumber
import pytest
from ezdxf import recover

from delgrun.core.errors import DesignInputError
from delgrun.service import sheets
from delgrun.service.results import of_design, of_road
from delgrun.service.sheets import SheetWish

SVG = "{http://www.w3.org/2000/svg}"


def texts_of_pdf(data: bytes) -> list[list[str]]:
    """Words of each page, those that stand upright too."""
    out = []
    with pdfplumber.open(io.BytesIO(data)) as pdf:
        for page in pdf.pages:
            flat = page.extract_words(use_text_flow=True, keep_blank_chars=True)
            out.append(["".join(w["text"]) for w in flat])
            assert {re.sub(r"^[A-Z]+\+", "", c["fontname"]) for c in page.chars} == {"OpenSans-Regular"}
    return out


def test_a_long_section_is_read_back_from_each_format(projects, demo, demo_case):
    wish = SheetWish(slot="line-1", paper="A3", scale=2000.0)
    revision = demo_case.state.revision
    name, mime, data = sheets.file(projects, demo, revision, "long-section", wish, "pdf")
    assert name.endswith(".pdf") and mime == "application/pdf"
    pages = texts_of_pdf(data)
    assert [f"{k} of {len(pages)}" in " ".join(page) for k, page in enumerate(pages, 1)] == [True] * len(pages)
    assert all(f"revision {revision}" in " ".join(page) for page in pages)
    with pdfplumber.open(io.BytesIO(data)) as pdf:
        # ISO 216 A3, in points of 1/72 inch.
        assert (pdf.pages[0].width, pdf.pages[0].height) == pytest.approx((420 / 25.4 * 72, 297 / 25.4 * 72))

    _, mime, data = sheets.file(projects, demo, revision, "long-section", wish, "svg")
    assert mime == "application/zip"
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        trees = [ET.fromstring(archive.read(n)) for n in sorted(archive.namelist())]
    in_svg = [t.text for tree in trees for t in tree.iter(f"{SVG}text")]
    assert len(trees) == len(pages)

    _, _, data = sheets.file(projects, demo, revision, "long-section", wish, "dxf")
    doc, audit = recover.read(io.BytesIO(data))
    assert not audit.has_errors and not doc.audit().has_errors
    in_dxf = [e.dxf.text for e in doc.modelspace().query("TEXT")]
    assert sorted(in_dxf) == sorted(in_svg)
    # Each IP, curve and bend of the line is told, and levels are those of the line.
    line = demo_case.line
    written = "\n".join(in_dxf)
    for i in range(1, len(line.ips) - 1):
        assert f"IP {i}  {line.ips[i].level_m:.3f}" in in_dxf
    assert written.count("R ") >= len(of_road.centreline(demo_case).value.bends)
    assert f"{line.grade[3] * 100:+.2f} %" in in_dxf
    at = float(np.round(of_design.chainages(demo_case).value[57] / 20) * 20)
    assert f"{line.levels(np.array([at]))[0]:.3f}" in in_dxf


def test_sections_of_a_stretch_in_feet(projects, demo, demo_case):
    wish = SheetWish(slot="line-1", from_m=100.0, to_m=300.0, scale=240.0, interval_m=15.24, system="us")
    revision = demo_case.state.revision
    _, _, data = sheets.file(projects, demo, revision, "sections", wish, "dxf")
    doc = ezdxf.read(io.StringIO(data.decode()))
    assert not doc.audit().has_errors
    texts = [e.dxf.text for e in doc.modelspace().query("TEXT")]
    areas = [t for t in texts if t.startswith("cut ")]
    heads = sheets.told(projects, demo, revision, "sections", wish)
    assert "elevation" in texts and "level" not in texts
    # Every fifty feet, and both ends.
    assert len(areas) == 200 // 15.24 + 2 and all("ft²" in t for t in areas) and heads[0].startswith("3+28.08")
    assert len(doc.modelspace().query("HATCH")) >= len(areas)
    _, _, pdf = sheets.file(projects, demo, revision, "sections", wish, "pdf")
    assert len(texts_of_pdf(pdf)) == len(heads)


def test_what_cannot_be_drawn_is_told(projects, demo, demo_case):
    revision = demo_case.state.revision
    for name, wish, field in (
        ("long-section", SheetWish(slot="line-1", from_m=9e6), "to_m"),
        ("long-section", SheetWish(slot="line-1", paper="A4", scale=500.0, exaggeration=200.0), "exaggeration"),
        ("sections", SheetWish(slot="line-1", scale=20.0, paper="A4"), "scale"),
        ("sections", SheetWish(slot="line-1", interval_m=1.0), "interval_m"),
    ):
        with pytest.raises(DesignInputError) as refused:
            sheets.told(projects, demo, revision, name, wish)
        assert refused.value.field == field
