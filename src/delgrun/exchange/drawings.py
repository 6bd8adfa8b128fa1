"""Drawings on paper as files: PDF with its letters in it, SVG, DXF."""

import io
import zipfile
from collections.abc import Sequence
from functools import lru_cache
from typing import Any
from xml.etree import ElementTree as ET

import ttf_opensans
from ezdxf import colors, units
from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from delgrun.core.drawing.scene import Drawing, Mark, Page, Point, Region, Role

# Colour of each role on paper, red, green and blue of 255.
INKS: dict[Role, tuple[int, int, int]] = {
    "ground": (122, 84, 36),
    "line": (18, 80, 92),
    "road": (18, 80, 92),
    "works": (18, 80, 92),
    "axis": (120, 120, 120),
    "cut": (176, 74, 40),
    "fill": (52, 110, 60),
    "frame": (60, 60, 60),
    "grid": (175, 175, 175),
    "text": (20, 20, 20),
    "faint": (105, 105, 105),
    "bad": (180, 20, 40),
    "utility": (95, 60, 140),
    "layer": (70, 78, 84),
    "stratum": (120, 96, 40),
    "reserve": (60, 60, 60),
}
# What is cut is hatched, what is filled is dotted, layers lie between level lines; so far apart. [mm]
_HATCH_MM = 1.6
_DOT_MM = 0.22
_LAYER_MM = 0.5
_FONT = "Open Sans"
# Pages of a DXF lie side by side in its model, so far apart. [mm]
_BETWEEN_MM = 40.0


def pdf(pages: Sequence[Page], title: str) -> bytes:
    """A page of paper for each; letters are Open Sans, embedded.

    References
    ----------
    ISO 32000-1:2008, 8 (graphics), 9.9 (embedded fonts); written by reportlab.
    """
    _font()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(1, 1), pageCompression=1, invariant=1)
    canvas.setTitle(title)
    canvas.setCreator("Delgrun")
    for page in pages:
        canvas.setPageSize((page.width_mm * mm, page.height_mm * mm))
        canvas.scale(mm, mm)
        canvas.setLineJoin(1)
        _on_canvas(canvas, page.drawing)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


@lru_cache(maxsize=1)
def _font() -> None:
    pdfmetrics.registerFont(TTFont(_FONT, str(ttf_opensans.OPENSANS_REGULAR.path)))


def _on_canvas(canvas: Canvas, drawing: Drawing) -> None:
    for region in drawing.regions:
        canvas.saveState()
        canvas.clipPath(_path(canvas, region.ring, closed=True), stroke=0, fill=0)
        ink = _ink(region.role)
        canvas.setStrokeColorRGB(*ink)
        canvas.setFillColorRGB(*ink)
        canvas.setLineWidth(0.13)
        if region.role == "cut":
            canvas.lines([(*a, *b) for a, b in _hatch(region)])
        elif region.role == "layer":
            canvas.lines([(*a, *b) for a, b in _level_lines(region)])
        else:
            for x, y in _dots(region):
                canvas.circle(x, y, _DOT_MM, stroke=0, fill=1)
        canvas.restoreState()
        if region.edge_mm:
            canvas.setStrokeColorRGB(*ink)
            canvas.setLineWidth(region.edge_mm)
            canvas.drawPath(_path(canvas, region.ring, closed=True), stroke=1, fill=0)
    for stroke in drawing.strokes:
        canvas.setStrokeColorRGB(*_ink(stroke.role))
        canvas.setLineWidth(stroke.width_mm)
        canvas.setDash(list(stroke.dash_mm))
        canvas.drawPath(_path(canvas, stroke.points), stroke=1, fill=0)
    canvas.setDash([])
    for mark in drawing.marks:
        canvas.setStrokeColorRGB(*_ink(mark.role))
        canvas.setFillColorRGB(*_ink(mark.role))
        canvas.setLineWidth(0.3)
        x, y = mark.at
        if mark.shape in ("dot", "pipe"):
            canvas.circle(x, y, mark.size_mm / 2, stroke=1, fill=int(mark.shape == "dot"))
        for line in _bars(mark):
            canvas.drawPath(_path(canvas, line), stroke=1, fill=0)
    for words in drawing.words:
        canvas.setFillColorRGB(*_ink(words.role))
        canvas.saveState()
        canvas.translate(*words.at)
        canvas.rotate(words.turn_deg)
        canvas.setFont(_FONT, words.height_mm / _CAPITAL)
        draw = {"start": canvas.drawString, "middle": canvas.drawCentredString, "end": canvas.drawRightString}
        draw[words.anchor](0, 0, words.text)
        canvas.restoreState()


# Height of a capital by the size of the font. Source: the font's own OS/2 table, sCapHeight 1462 of 2048.
_CAPITAL = 1462 / 2048


def _path(canvas: Canvas, points: Sequence[Point], *, closed: bool = False):  # type: ignore[no-untyped-def]
    path = canvas.beginPath()
    path.moveTo(*points[0])
    for p in points[1:]:
        path.lineTo(*p)
    if closed:
        path.close()
    return path


def _ink(role: Role) -> tuple[float, float, float]:
    r, g, b = INKS[role]
    return (r / 255, g / 255, b / 255)


def _box(region: Region) -> tuple[float, float, float, float]:
    xs, ys = [p[0] for p in region.ring], [p[1] for p in region.ring]
    return min(xs), min(ys), max(xs), max(ys)


def _hatch(region: Region) -> list[tuple[Point, Point]]:
    """Lines at 45 degrees over a region's box, on one grid for all regions of a page."""
    x0, y0, x1, y1 = _box(region)
    first, last = int((x0 - y1) / _HATCH_MM) - 1, int((x1 - y0) / _HATCH_MM) + 1
    return [((k * _HATCH_MM + y0, y0), (k * _HATCH_MM + y1, y1)) for k in range(first, last + 1)]


def _level_lines(region: Region) -> list[tuple[Point, Point]]:
    x0, y0, x1, y1 = _box(region)
    rows = range(int(y0 / _LAYER_MM) - 1, int(y1 / _LAYER_MM) + 2)
    return [((x0, k * _LAYER_MM), (x1, k * _LAYER_MM)) for k in rows]


def _dots(region: Region) -> list[Point]:
    """Points over a region's box, on one grid for all regions of a page."""
    x0, y0, x1, y1 = _box(region)
    rows = range(int(y0 / _HATCH_MM) - 1, int(y1 / _HATCH_MM) + 2)
    columns = range(int(x0 / _HATCH_MM) - 1, int(x1 / _HATCH_MM) + 2)
    return [((i + (j % 2) / 2) * _HATCH_MM, j * _HATCH_MM) for j in rows for i in columns]


def _bars(mark: Mark) -> list[tuple[Point, ...]]:
    """The straight lines of a mark."""
    (x, y), r = mark.at, mark.size_mm / 2
    if mark.shape == "cross":
        return [((x - r, y - r), (x + r, y + r)), ((x - r, y + r), (x + r, y - r))]
    if mark.shape == "wire":
        feet = [((x + k * 2 * r, y - r), (x + k * 2 * r, y + r)) for k in (-1, 1)]
        return [((x - 2 * r, y), (x + 2 * r, y)), *feet]
    return []


_SVG = "http://www.w3.org/2000/svg"


def svg(page: Page) -> bytes:
    """One page. Source: Scalable Vector Graphics (SVG) 1.1, second edition; its y runs down."""
    ET.register_namespace("", _SVG)
    root = ET.Element(
        f"{{{_SVG}}}svg",
        {
            "width": f"{page.width_mm:g}mm",
            "height": f"{page.height_mm:g}mm",
            "viewBox": f"0 0 {page.width_mm:g} {page.height_mm:g}",
        },
    )

    def put(parent: ET.Element, tag: str, **given: Any) -> ET.Element:
        return ET.SubElement(parent, f"{{{_SVG}}}{tag}", {k.replace("_", "-"): str(v) for k, v in given.items()})

    defs, n = put(root, "defs"), f"{_HATCH_MM:g}"
    turns: tuple[tuple[Role, str], ...] = (("cut", "rotate(45)"), ("fill", ""), ("layer", "rotate(90)"))
    for role, turn in turns:
        wide = n if role != "layer" else f"{_LAYER_MM:g}"
        hatch = put(
            defs, "pattern", id=role, width=wide, height=n, patternUnits="userSpaceOnUse", patternTransform=turn
        )
        if role != "fill":
            put(hatch, "path", d=f"M0,0V{n}", stroke=_hex(role), stroke_width=0.26 if role == "cut" else 0.1)
        else:
            put(hatch, "circle", cx=0.8, cy=0.8, r=_DOT_MM, fill=_hex("fill"))
    put(root, "rect", width=f"{page.width_mm:g}", height=f"{page.height_mm:g}", fill="#fff")

    def path(points: Sequence[Point]) -> str:
        return "M" + "L".join(f"{x:.3f},{page.height_mm - y:.3f}" for x, y in points)

    for r in page.drawing.regions:
        edge = {"stroke": _hex(r.role), "stroke_width": f"{r.edge_mm:g}"} if r.edge_mm else {}
        put(root, "path", d=path(r.ring) + "Z", fill=f"url(#{r.role})", **edge)
    for s in page.drawing.strokes:
        dash = {"stroke_dasharray": " ".join(f"{d:g}" for d in s.dash_mm)} if s.dash_mm else {}
        put(root, "path", d=path(s.points), fill="none", stroke=_hex(s.role), stroke_width=f"{s.width_mm:g}", **dash)
    for m in page.drawing.marks:
        if m.shape in ("dot", "pipe"):
            cx, cy = f"{m.at[0]:.3f}", f"{page.height_mm - m.at[1]:.3f}"
            fill = _hex(m.role) if m.shape == "dot" else "none"
            put(root, "circle", cx=cx, cy=cy, r=m.size_mm / 2, fill=fill, stroke=_hex(m.role), stroke_width=0.3)
        for line in _bars(m):
            put(root, "path", d=path(line), fill="none", stroke=_hex(m.role), stroke_width=0.3)
    for w in page.drawing.words:
        x, y = f"{w.at[0]:.3f}", f"{page.height_mm - w.at[1]:.3f}"
        turned = {"transform": f"rotate({-w.turn_deg:g} {x} {y})"} if w.turn_deg else {}
        text = put(
            root, "text", x=x, y=y, fill=_hex(w.role), font_size=f"{w.height_mm / _CAPITAL:.3f}", text_anchor=w.anchor,
            font_family=f"'{_FONT}', sans-serif", **turned,
        )  # fmt: skip
        text.text = w.text
    out: bytes = ET.tostring(root, encoding="utf-8", xml_declaration=True)
    return out


def _hex(role: Role) -> str:
    return "#{:02x}{:02x}{:02x}".format(*INKS[role])


def svgs(pages: Sequence[Page]) -> bytes:
    """All pages, as a ZIP of SVG files."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for k, page in enumerate(pages, 1):
            archive.writestr(zipfile.ZipInfo(f"page-{k:03d}.svg"), svg(page), zipfile.ZIP_DEFLATED)
    return out.getvalue()


# Patterns that every reader of DXF knows. Source: the acad.pat that the format's reference names.
_PATTERNS: dict[Role, tuple[str, float]] = {"cut": ("ANSI31", 0.5), "fill": ("DOTS", 1.2), "layer": ("LINE", 0.15)}
_ALIGNED = {
    "start": TextEntityAlignment.LEFT,
    "middle": TextEntityAlignment.CENTER,
    "end": TextEntityAlignment.RIGHT,
}


def dxf(pages: Sequence[Page]) -> bytes:
    """All pages side by side in millimetres, a layer for each role; written by ezdxf as R2010."""
    doc = new("R2010", setup=["linetypes"])
    doc.units = units.MM
    doc.styles.add("sheet", font="OpenSans-Regular.ttf")
    for role, ink in INKS.items():
        doc.layers.add(role, true_color=colors.rgb2int(ink))
    space = doc.modelspace()
    x = 0.0
    for page in pages:
        drawing = page.drawing.placed((x, 0.0), (0.0, 0.0), 1.0, 1.0)
        for r in drawing.regions:
            pattern, size = _PATTERNS.get(r.role, ("ANSI31", 0.5))
            hatch = space.add_hatch(dxfattribs={"layer": r.role})
            hatch.set_pattern_fill(pattern, scale=size)
            hatch.paths.add_polyline_path(r.ring, is_closed=True)
            if r.edge_mm:
                edge = {"layer": r.role, "lineweight": _weight(r.edge_mm)}
                space.add_lwpolyline(r.ring, close=True, dxfattribs=edge)
        for s in drawing.strokes:
            attributes: dict[str, Any] = {"layer": s.role, "lineweight": _weight(s.width_mm)}
            if s.dash_mm:
                attributes |= {"linetype": "DASHED", "ltscale": s.dash_mm[0] / 12.0}
            space.add_lwpolyline(s.points, dxfattribs=attributes)
        for m in drawing.marks:
            if m.shape in ("dot", "pipe"):
                space.add_circle(m.at, m.size_mm / 2, dxfattribs={"layer": m.role})
            for bar in _bars(m):
                space.add_lwpolyline(bar, dxfattribs={"layer": m.role})
        for w in drawing.words:
            look = {"layer": w.role, "style": "sheet", "rotation": w.turn_deg}
            placed = space.add_text(w.text.replace("%%", "% %"), height=w.height_mm, dxfattribs=look)
            placed.set_placement(w.at, align=_ALIGNED[w.anchor])
        x += page.width_mm + _BETWEEN_MM
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


# Widths of lines that the format knows. [mm / 100]
_WEIGHTS = (13, 18, 25, 35, 50, 60, 70)


def _weight(width_mm: float) -> int:
    return min(_WEIGHTS, key=lambda w: abs(w - 100 * width_mm))
