"""Grade lines of all shapes, drawn at random."""

from hypothesis import strategies as st

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip

IPS = st.lists(
    st.tuples(
        st.floats(40, 160), st.floats(-0.09, 0.09), st.floats(0, 0.98), st.sampled_from(["parabola", "two", "circle"]),
        st.floats(0.15, 0.85),
    ),
    min_size=2, max_size=6,
)  # fmt: skip


def random_line(rows, tilt: float = 0.0) -> GradeLine:
    """Stretches with a grade each; a curve at each end of one takes up to half of it."""
    s, z, out = 0.0, 100.0, []
    for k, (length, grade, share, shape, side) in enumerate(rows):
        if k:
            room = 2 * min(rows[k - 1][0] / 2, length / 2) * min(side, 1 - side)
            two = side if shape == "two" else None
            kind = "circle" if shape == "circle" else "parabola"
            curve = share * room * 0.99
            out.append(Ip(chainage_m=s, level_m=z, curve_length_m=curve, shape=kind, in_share=two))
        else:
            out.append(Ip(chainage_m=s, level_m=z))
        s, z = s + length, z + (grade + tilt) * length
    return GradeLine.of([*out, Ip(chainage_m=s, level_m=z)])
