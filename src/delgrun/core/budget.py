"""What a project may want of the machine, told before any of it is begun."""

import numpy as np

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.errors import DesignInputError

# A search keeps about 10 kB of areas for each, and a move of all of them takes 3 us each.
MOST_SECTIONS = 10_000
# A ground model of so many points takes about two gigabytes while it is made.
MOST_POINTS = 4_000_000
# No grid of coordinates is larger; a larger number is a mistake. [m]
LARGEST_COORDINATE_M = 1e8


def check_sections(centreline: Centreline, interval_m: float, more: int = 0) -> None:
    """Hold the number of priced sections, with `more` that are asked for, against what the machine can keep.

    Raises
    ------
    DesignInputError
        There would be too many; it says how many, and what to change.
    """
    count = int(centreline.length_m / interval_m) + len(centreline.critical_chainages) + 2 + more
    if count <= MOST_SECTIONS:
        return
    legs = np.hypot(*np.diff([(ip.easting_m, ip.northing_m) for ip in centreline.ips], axis=0).T)
    longest = int(np.argmax(legs))
    rest = f"This centreline is {{long:distance}} long: {count} sections each {{interval:size}}, "
    rest += f"where {MOST_SECTIONS} are the most. "
    if legs[longest] > 0.5 * centreline.length_m:
        rest += f"From IP {longest + 1} to IP {longest + 2} it is {{leg:distance}}: a digit too many? "
    least = np.ceil(centreline.length_m / (MOST_SECTIONS - len(centreline.critical_chainages) - 2))
    raise DesignInputError(
        "interval_m",
        rest + ("Take sections each {least:size} or more." if least <= 100 else "Shorten it."),
        long=centreline.length_m,
        interval=interval_m,
        leg=legs[longest],
        least=least,
    )
