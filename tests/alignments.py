"""A line from closed forms, as a file that our writer never saw."""

import numpy as np
from scipy.special import fresnel

START = np.array([482_000.0, 4_216_000.0])


def clothoid(length: float, radius: float) -> tuple[float, float, float]:
    """x, y and angle at the end of a clothoid, by Fresnel's integrals."""
    scale = np.sqrt(np.pi * radius * length)
    s, c = fresnel(length / scale)
    return scale * c, scale * s, length / (2 * radius)


def closed_form(digits: int, unit: float = 1.0) -> tuple[str, np.ndarray]:
    """A line, a bend to the left with unlike transitions (R 250, 60 in, 40 out, arc 120), a line; and places on it.

    North first; in a frame turned by 20 degrees. Everything here is plane geometry and Fresnel's integrals.
    """
    turn = np.radians(20)

    def put(x: float, y: float) -> np.ndarray:
        return START + [x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)]

    def text(p: np.ndarray) -> str:
        return f"{p[1] / unit:.{digits}f} {p[0] / unit:.{digits}f}"

    x1, y1, a1 = clothoid(60, 250)
    s, p1 = put(0, 0), put(300, 0)
    p2 = put(300 + x1, y1)
    centre = put(300 + x1 - 250 * np.sin(a1), y1 + 250 * np.cos(a1))
    a2 = a1 + 120 / 250
    p3 = put(300 + x1 - 250 * np.sin(a1) + 250 * np.sin(a2), y1 + 250 * np.cos(a1) - 250 * np.cos(a2))
    # The second clothoid runs backwards from its end: there its frame is mirrored.
    x2, y2, b = clothoid(40, 250)
    a3 = a2 + b
    back = np.array([-x2 * np.cos(a3) - y2 * np.sin(a3), -x2 * np.sin(a3) + y2 * np.cos(a3)])
    q3 = np.array([300 + x1 - 250 * np.sin(a1) + 250 * np.sin(a2), y1 + 250 * np.cos(a1) - 250 * np.cos(a2)])
    q4 = q3 - back
    p4, p5 = put(*q4), put(*(q4 + 200 * np.array([np.cos(a3), np.sin(a3)])))
    pi1, pi2 = (
        put(300 + x1 - y1 / np.tan(a1), 0),
        put(*(q4 - (x2 - y2 / np.tan(b)) * np.array([np.cos(a3), np.sin(a3)]))),
    )
    places = np.array([s, p1, p2, p3, p4, p5])
    n = {"r": 250 / unit, "l1": 60 / unit, "l2": 40 / unit, "s": 1000 / unit, "unit": "meter" if unit == 1 else "foot"}
    system = "Metric" if unit == 1 else "Imperial"
    return (
        f"""<?xml version="1.0"?>
<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2">
<Units><{system} linearUnit="{n["unit"]}" areaUnit="squareMeter"/></Units>
<Alignments><Alignment name="by hand" length="0" staStart="{n["s"]}"><CoordGeom>
<Line><Start>{text(s)}</Start><End>{text(p1)}</End></Line>
<Spiral length="{n["l1"]}" radiusStart="INF" radiusEnd="{n["r"]}" rot="ccw" spiType="clothoid">
<Start>{text(p1)}</Start><PI>{text(pi1)}</PI><End>{text(p2)}</End></Spiral>
<Curve rot="ccw" radius="{n["r"]}"><Start>{text(p2)}</Start><Center>{text(centre)}</Center><End>{text(p3)}</End></Curve>
<Spiral length="{n["l2"]}" radiusStart="{n["r"]}" radiusEnd="INF" rot="ccw" spiType="clothoid">
<Start>{text(p3)}</Start><PI>{text(pi2)}</PI><End>{text(p4)}</End></Spiral>
<Line><Start>{text(p4)}</Start><End>{text(p5)}</End></Line>
</CoordGeom></Alignment></Alignments></LandXML>""",
        places,
    )
