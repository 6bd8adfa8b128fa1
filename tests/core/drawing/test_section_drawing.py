"""What is drawn is what is counted: regions of a drawing against the engine's areas, and sheets against the line."""

import numpy as np
import pytest
from hypothesis import event, given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from delgrun.core.drawing.long_sheet import LongOnPaper, long_sheets
from delgrun.core.drawing.paper import Titles
from delgrun.core.drawing.section import section_drawing
from delgrun.core.drawing.section_sheet import section_sheets
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import GroundSections, LongSection
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.section import shown_section
from laws import examples, looked, looks

RURAL = RoadDesign.plain(
    lane_width_m=3.0, lane_crossfall=0.03, shoulder_width_m=1.0, shoulder_crossfall=0.04, pavement_thickness_m=0.45,
    topsoil_depth_m=0.15, cut_batter_h_over_v=1.5, fill_batter_h_over_v=2.0,
)  # fmt: skip
TITLES = Titles("A project", "a road", "revision 1")


def shown(bumps, cross_fall, depth):
    offset = np.linspace(-60, 60, len(bumps))
    z = 100 + np.array(bumps) + cross_fall * offset
    centre = float(np.interp(0.0, offset, z))
    across = GroundSections(np.array([0.0]), np.array([0, len(z)]), offset, z, np.array([centre]))
    line = GradeLine.of([Ip(chainage_m=-10, level_m=100 + depth), Ip(chainage_m=10, level_m=100 + depth)])
    return shown_section(across, 0.0, RURAL, line)


sections = st.builds(
    shown, st.lists(st.floats(-2.5, 2.5), min_size=9, max_size=17), st.floats(-0.6, 0.6), st.floats(-12, 12)
)


@settings(max_examples=examples(300))
@given(sections)
def test_regions_of_a_section_have_its_areas(section):
    """Cut, fill, both, a batter that never lands: what is hatched is what is counted, and no region crosses itself."""
    drawing = section_drawing(section)
    rings = {role: [Polygon(r.ring) for r in drawing.regions if r.role == role] for role in ("cut", "fill")}
    event(f"cut {len(rings['cut']) > 0}, fill {len(rings['fill']) > 0}")
    assert sum(p.area for p in rings["cut"]) == pytest.approx(section.cut_m2, abs=1e-6)
    assert sum(p.area for p in rings["fill"]) == pytest.approx(section.fill_m2, abs=1e-6)
    assert all(p.is_valid for p in (*rings["cut"], *rings["fill"]) if p.area > 1e-6)
    missed = [side for side in (section.left, section.right) if not side.caught]
    assert [m.shape for m in drawing.marks if m.role == "bad"] == ["cross"] * len(missed)


@looks()
@settings(max_examples=examples(60), deadline=None)
@given(
    st.lists(st.floats(-0.1, 0.1), min_size=2, max_size=9),
    st.floats(500, 5000),
    st.sampled_from([5.0, 10.0, 20.0]),
    st.sampled_from(["A4", "A3", "A1"]),
)
def test_pages_of_a_long_section_hold_the_whole_line_at_its_levels(grades, scale, exaggeration, paper):
    """Page after page, datum after datum: each drawn point of the line is a point of the line, and none is missing."""
    s = np.cumsum([100.0, *(300.0 + 40.0 * k for k in range(len(grades)))])
    levels = np.cumsum([250.0, *(np.array(grades) * np.diff(s))])
    curves = [0.0, *(120.0 for _ in s[1:-1]), 0.0]
    ips = [Ip(chainage_m=a, level_m=z, curve_length_m=c) for a, z, c in zip(s, levels, curves, strict=True)]
    line = GradeLine.of(ips)
    at = np.arange(s[0], s[-1], 20.0)
    ground = LongSection(s, levels + 1.0, np.zeros(len(s), dtype=bool))
    of = LongOnPaper(
        line=line, ground=ground, bends=[], at_m=at, ground_m=np.interp(at, s, levels + 1.0),
        critical=np.zeros(len(at), dtype=bool), interval_m=20.0, paper=paper, scale=scale, exaggeration=exaggeration,
    )  # fmt: skip
    try:
        pages = long_sheets(of, TITLES)
    except DesignInputError as refused:
        event("refused")
        assert refused.field == "exaggeration"
        return
    looked()
    event(f"{min(len(pages), 5)} pages")
    length = 0.0
    for page in pages:
        datums = [w for w in page.drawing.words if w.text.startswith("datum")]
        drawn = [stroke for stroke in page.drawing.strokes if stroke.role == "line" and stroke.width_mm == 0.6]
        assert len(datums) == len(drawn)
        for datum, stroke in zip(datums, drawn, strict=True):
            x, y = np.array(stroke.points).T
            first = s[0] + length * scale / 1000
            along = first + (x - x[0]) * scale / 1000
            bottom = datum.at[1] - 1.0
            shown_level = float(datum.text.split()[1]) + (y - bottom) * scale / 1000 / exaggeration
            assert shown_level == pytest.approx(line.levels(np.clip(along, s[0], s[-1])), abs=6e-4)
            assert y.min() >= bottom and y.max() <= page.height_mm - 10
            length += float(x[-1] - x[0])
    assert length * scale / 1000 == pytest.approx(s[-1] - s[0])


def test_a_section_that_no_page_holds_is_refused_with_its_chainage():
    with pytest.raises(DesignInputError, match="smaller scale") as refused:
        section_sheets([shown([0.0] * 9, 0.0, 11.0)], "A4", 100.0, TITLES)
    assert "0+000.00" in refused.value.message
