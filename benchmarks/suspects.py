"""Precision and recall of the suspect finder on made lands with planted errors: the figures of docs/suspects.md.

`PYTHONPATH=src .venv/bin/python benchmarks/suspects.py [--tune] [thousands of points a land]`. With `--tune` the seeds
used for choosing the limit; without, seeds that were never looked at while choosing.
"""

import sys
import time
from collections.abc import Callable

import numpy as np
from matplotlib.cbook import get_sample_data

from delgrun.core.survey.suspects import off_their_neighbours
from size import size as usual_or

Height = Callable[[np.ndarray, np.ndarray], np.ndarray]
KINDS = ("spike", "pit", "pair", "digit")


def hills(e: np.ndarray, n: np.ndarray) -> np.ndarray:
    return 12 * np.sin(e / 140) * np.cos(n / 110) + 4 * np.sin(e / 47 + n / 63)


def flat(e: np.ndarray, n: np.ndarray) -> np.ndarray:
    return 0.004 * e - 0.007 * n


def banks(e: np.ndarray, n: np.ndarray) -> np.ndarray:
    """An embankment with a flat top of 9 m and banks of 1 : 1.5, every 80 m."""
    across = np.abs((n % 80) - 40)
    return 0.3 * hills(e, n) + np.clip((16.5 - across) / 1.5, 0, 8)


def creek(e: np.ndarray, n: np.ndarray) -> np.ndarray:
    """Creeks with banks of 1 : 1.5 and a bed of 1 m, every 70 m."""
    across = np.abs(((n + 8 * np.sin(e / 60)) % 70) - 35)
    return 0.4 * hills(e, n) - np.clip((5 - across) / 1.5, 0, 3)


def terraces(e: np.ndarray, n: np.ndarray) -> np.ndarray:
    """Steps of 1.5 m over 1 m, every 14 m."""
    return 1.5 * (np.floor(n / 14) + np.clip((n % 14) - 13, 0, 1))


def crests(e: np.ndarray, n: np.ndarray) -> np.ndarray:
    return 6 * np.abs(((e + n) % 120) / 60 - 1)


LANDS: dict[str, tuple[Height, float, str]] = {
    "hills, noise 0.03": (hills, 0.03, "spread"),
    "flat, noise 0.01": (flat, 0.01, "spread"),
    "flat, noise 0.10": (flat, 0.10, "spread"),
    "crests, noise 0.03": (crests, 0.03, "spread"),
    "banks 1:1.5, noise 0.03": (banks, 0.03, "spread"),
    "banks 1:1.5 with strings": (banks, 0.03, "banks"),
    "creeks, noise 0.03": (creek, 0.03, "spread"),
    "creeks with strings": (creek, 0.03, "creek"),
    "terraces, noise 0.03": (terraces, 0.03, "spread"),
    "jittered grid, hills": (hills, 0.03, "grid"),
    "bank in a strip of 30 m": (banks, 0.03, "strip"),
    "creek in a strip of 30 m": (creek, 0.03, "strip"),
}


# How far apart banks and creeks are, and where across them their edges and feet lie. [m]
STRINGS = {"banks": (80.0, (-16.5, -4.5, 4.5, 16.5)), "creek": (70.0, (-5.0, -0.5, 0.5, 5.0))}


def places(rng: np.random.Generator, count: int, how: str) -> np.ndarray:
    """Points about 3 m apart."""
    side = np.sqrt(count) * 3.0
    if how == "grid":
        k = int(np.sqrt(count))
        e, n = np.meshgrid(np.arange(k) * 3.0, np.arange(k) * 3.0)
        return np.column_stack([e.ravel(), n.ravel()]) + rng.uniform(-0.6, 0.6, (k * k, 2))
    plan = rng.uniform(0, side, (count, 2))
    if how == "strip":
        plan = rng.uniform([0, 22], [count * 9 / 30, 52], (count, 2))
    elif how != "spread":
        # Where a surveyor walks: along the breaks, a point each 4 m.
        along = np.arange(0, side, 4.0)
        for middle in np.arange(STRINGS[how][0] / 2, side, STRINGS[how][0]):
            for off in STRINGS[how][1]:
                e = along + rng.uniform(-0.5, 0.5, len(along))
                bend = 8 * np.sin(e / 60) if how == "creek" else 0.0
                plan = np.vstack([plan, np.column_stack([e, middle + off - bend + 0 * e])])
    order = np.lexsort((plan[:, 1], plan[:, 0]))
    plan = plan[order]
    keep = np.r_[True, np.hypot(*np.diff(plan, axis=0).T) > 0.02]
    return plan[keep]


def plant(
    rng: np.random.Generator, plan: np.ndarray, z: np.ndarray, sigma: float, share: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Levels with errors, their size [m] and kind (-1: a good point); sizes 5 to 150 sigma, evenly by logarithm."""
    n = len(z)
    out, size, kind = z.copy(), np.zeros(n), np.full(n, -1)
    for p in rng.permutation(n)[: int(share * n)]:
        if kind[p] >= 0:
            continue
        k = int(rng.integers(len(KINDS)))
        amount = sigma * 5.0 * 30.0 ** rng.uniform()
        group = [p]
        if KINDS[k] == "digit":
            amount = float(rng.choice([1.0, 10.0, 9.0, 0.9])) * rng.choice([-1, 1])
        elif KINDS[k] == "pit":
            amount = -amount
        elif KINDS[k] == "pair":
            near = np.hypot(*(plan[max(p - 400, 0) : p + 400] - plan[p]).T)
            near[p - max(p - 400, 0)] = np.inf
            group.append(max(p - 400, 0) + int(np.argmin(near)))
            amount *= rng.choice([-1, 1])
        for q in group:
            if kind[q] < 0:
                out[q] += amount
                size[q], kind[q] = amount, k
    return out, size, kind


def judge(name: str, xyz: np.ndarray, size: np.ndarray, kind: np.ndarray, sigma: float) -> tuple[int, int, int, int]:
    began = time.perf_counter()
    found = off_their_neighbours(xyz)
    seconds = time.perf_counter() - began
    hit = np.zeros(len(xyz), dtype=bool)
    hit[found.row] = True
    bad = np.abs(size) >= 5 * sigma
    parts = []
    for low, high in ((5, 8), (8, 15), (15, 1e9)):
        some = bad & (np.abs(size) >= low * sigma) & (np.abs(size) < high * sigma)
        parts.append(f"{100 * hit[some].mean():.1f}" if some.any() else "")
    pairs = bad & (kind == KINDS.index("pair"))
    false = int((hit & (kind < 0)).sum())
    good = int((kind < 0).sum())
    print(
        f"| {name} | {good} | {int(bad.sum())} | {100 * hit[bad].mean():.1f} | {' | '.join(parts)} "
        f"| {100 * hit[pairs].mean():.1f} | {false} | {1e6 * false / good:.0f} | {1e6 * seconds / len(xyz):.1f} |",
        flush=True,
    )
    return int(hit[bad].sum()), int(bad.sum()), false, good


def real() -> tuple[np.ndarray, float]:
    """A real elevation set that a plotting library ships, (344, 403) at about 30 m, in whole metres."""
    data = get_sample_data("jacksboro_fault_dem.npz")
    z = data["elevation"].astype(float)
    n, e = np.meshgrid(np.arange(z.shape[0]) * 27.0, np.arange(z.shape[1]) * 30.0, indexing="ij")
    # Its own scatter: what is left of each level less the mean of its four neighbours.
    inner = z[1:-1, 1:-1] - (z[:-2, 1:-1] + z[2:, 1:-1] + z[1:-1, :-2] + z[1:-1, 2:]) / 4
    return np.column_stack([e.ravel(), n.ravel(), z.ravel()]), float(
        1.4826 * np.median(np.abs(inner - np.median(inner)))
    )


def main() -> None:
    seeds = range(2) if "--tune" in sys.argv else range(100, 103)
    count = 1000 * int(next((a for a in sys.argv[1:] if a.isdigit()), usual_or("100", "1")))
    print(
        "| land | good points | errors over 5 sigma | found, % | 5 to 8 | 8 to 15 | over 15 | pairs "
        "| false | a million | us a point |"
    )
    print("| --- " * 11 + "|")
    total = np.zeros(4, dtype=int)
    for name, (height, sigma, how) in list(LANDS.items())[: usual_or(99, 1)]:
        rows = []
        for seed in seeds:
            rng = np.random.default_rng([seed, len(name)])
            plan = places(rng, count, how)
            z = height(plan[:, 0], plan[:, 1]) + rng.normal(0, sigma, len(plan))
            z, size, kind = plant(rng, plan, z, sigma, 0.002)
            # One long land of all seeds, far enough apart to have nothing to do with each other.
            rows.append((np.column_stack([plan + [seed * 1e5, 0], z]), size, kind))
        for xyz, size, kind in rows if "--each" in sys.argv else []:
            judge(name, xyz, size, kind, sigma)
        parts = [np.array(judge(name, *row, sigma)) for row in rows]
        total += sum(parts)
    share, rate = 100 * total[0] / total[1], 1e6 * total[2] / total[3]
    print(f"| all | {total[3]} | {total[1]} | {share:.1f} | | | | | {total[2]} | {rate:.0f} | |")
    xyz, sigma = real()
    xyz = xyz[: usual_or(len(xyz), 3000)]
    rng = np.random.default_rng(7)
    z, size, kind = plant(rng, xyz[:, :2], xyz[:, 2], sigma, 0.002)
    judge(f"a real elevation set, scatter {sigma:.2f} m", np.column_stack([xyz[:, :2], z]), size, kind, sigma)


main()
