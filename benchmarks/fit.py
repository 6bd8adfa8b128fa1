"""Lines fitted to points that scatter: how often the number of elements comes back, and radii within 2 %.

`PYTHONPATH=src:benchmarks .venv/bin/python benchmarks/fit.py [roads] [spacing] [noise]`
"""

import sys
import time

import numpy as np

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.fitting import fit_line
from roads import scattered, winding
from size import size


def main() -> None:
    count, step, noise = (float(v) for v in (*sys.argv[1:], *(size("100", "2"), "5", "0.1")[len(sys.argv) - 1 :]))
    kinds = radii = both = bends = good = 0
    seconds = []
    for seed in range(int(count)):
        line = winding(seed)
        points = scattered(line, step, noise, seed)
        began = time.perf_counter()
        made = Centreline(fit_line(points).ips)
        seconds.append(time.perf_counter() - began)
        same = [e.kind for e in made.elements] == [e.kind for e in line.elements]
        pairs = list(zip(made.bends, line.bends, strict=False)) if len(made.bends) == len(line.bends) else []
        near = [abs(a.radius_m / b.radius_m - 1) < 0.02 for a, b in pairs]
        bends, good = bends + len(line.bends), good + sum(near)
        kinds, radii, both = (
            kinds + same,
            radii + (bool(near) and all(near)),
            both + (same and bool(near) and all(near)),
        )
    print(
        f"| {step:g} m apart, {noise:g} m of noise | {int(count)} | {kinds} | {radii} | {both} | {good} of {bends} |",
        end="",
    )
    print(f" {np.mean(seconds):.1f} s, {max(seconds):.1f} at most |")


main()
