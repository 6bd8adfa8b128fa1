"""A cloud of ten million points along a band of ten kilometres: read as LAS, thinned within 0.10 m, built, and held
against all its points by another look-up.

`PYTHONPATH=src .venv/bin/python benchmarks/cloud.py [millions of points]`
"""

import resource
import sys
import tempfile
import time
from pathlib import Path

import laspy
import numpy as np

from delgrun.core.ground.tin import build_tin
from delgrun.core.survey.points import Survey
from delgrun.core.survey.thinning import thin
from delgrun.exchange.readers import reader_of
from delgrun.exchange.survey_parts import Chosen
from delgrun.exchange.survey_text import Reading
from size import size

SIGMA_M, TOLERANCE_M, LONGEST_M = 0.02, 0.10, 10.0
_AT_ONCE = size(1_000_000, 20_000)


def write(path: Path, millions: int) -> None:
    """A valley road's band, 200 m wide, with banks, noise and a twentieth of vegetation."""
    rng = np.random.default_rng(7)
    header = laspy.LasHeader(point_format=6, version="1.4")
    header.scales, header.offsets = np.full(3, 0.001), np.array([500_000.0, 4_200_000.0, 0.0])
    with laspy.open(path, "w", header=header) as out:
        for _ in range(millions):
            along, across = rng.uniform(0, 10_000, _AT_ONCE), rng.uniform(-100, 100, _AT_ONCE)
            level = 200 + 25 * np.sin(along / 210) + 8 * np.sin((along + 2 * across) / 37) + 0.05 * across
            level = np.where(np.abs(across) < 15, level.round(0), level) + rng.normal(0, SIGMA_M, _AT_ONCE)
            kind = np.where(rng.random(_AT_ONCE) < 0.05, 5, 2)
            record = laspy.ScaleAwarePointRecord.zeros(_AT_ONCE, header=header)
            record.x, record.y = along + 500_000, 400 * np.sin(along / 900) + across + 4_200_000
            record.z, record.classification = level + np.where(kind == 5, 4, 0), kind
            out.write_points(record)


def main() -> None:
    millions = int(sys.argv[1]) if len(sys.argv) > 1 else size(10, 1)
    warm = np.random.default_rng(0).uniform(0, 99, (4000, 3))
    thin(Survey(warm), 0.5, 20.0)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "cloud.las"
        write(path, millions)
        print(f"file: {path.stat().st_size / 1e6:.0f} MB")
        began = time.perf_counter()
        with path.open("rb") as file:
            reader = reader_of("survey", path.name, file.read(4096))
            file.seek(0)
            how = Reading(most=30_000_000)
            survey = reader.read(file, Chosen({"2 ground": "points", "5 high vegetation": "ignore"}), how).survey
        read = time.perf_counter()
        print(f"read {len(survey.xyz)} ground points: {read - began:.1f} s", flush=True)
        found = thin(survey, TOLERANCE_M, LONGEST_M)
        thinned = time.perf_counter()
        print(f"thinned to {len(found.kept)} ({len(found.kept) / len(survey.xyz):.2%}): {thinned - read:.1f} s")
        tin = build_tin(found.survey.xyz, found.survey.breaklines, LONGEST_M)
        done = time.perf_counter()
        print(f"built: {done - thinned:.1f} s; all together {done - began:.1f} s")
    print(f"most memory: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 2**20:.2f} GB")
    left = np.ones(len(survey.xyz), dtype=bool)
    left[found.kept] = False
    off = np.abs(tin.level_at(survey.xyz[left, 0], survey.xyz[left, 1]) - survey.xyz[left, 2])
    print(f"worst of those left out: {off.max():.4f} m, outside the surface: {int(np.isnan(off).sum())}")


if __name__ == "__main__":
    main()
