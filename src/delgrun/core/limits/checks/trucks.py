"""Trucks that fall too far behind on a grade, in both directions: where a climbing lane would lie."""

from collections.abc import Iterator

import numpy as np

from delgrun.core.limits.check import Check, Checked, LimitUse
from delgrun.core.units import say


def _uses(c: Checked) -> Iterator[LimitUse]:
    truck = c.truck
    if truck is None:
        return
    fastest = truck.fastest(c.limits.design_speed_kmh)
    least = fastest - truck.most_slower_kmh
    for found, way in ((c.truck_ahead, "ahead"), (c.truck_back, "coming back")):
        for slow in found.slow:
            ip = int(np.argmin(np.abs(c.line.chainage_m - slow.grade_from_m)))
            about = say(
                f"{way}, after {{length:about}} of grade from {{s:chainage}}",
                length=slow.critical_m, s=slow.grade_from_m,
            )  # fmt: skip
            use = (fastest - slow.slowest_kmh) / truck.most_slower_kmh
            low, high = sorted((slow.from_m, slow.to_m))
            yield LimitUse("slow_truck", low, high, slow.slowest_kmh, least, use, ip, about)


SLOW_TRUCK = Check(
    id="slow_truck",
    name="Slow truck",
    measure="about_speed",
    source="the chosen truck; 15 km/h slower than others, A Policy on Geometric Design, from memory",
    place="stretch",
    advice=True,
    uses=_uses,
    say=lambda u: say(
        "A truck falls to {v:about_speed}, below {least:about_speed} {about}: a climbing lane would lie here",
        v=u.value, least=u.limit, about=u.about,
    ),
)  # fmt: skip
