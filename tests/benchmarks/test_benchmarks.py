"""Every benchmark that the documents name runs to its end, on the smallest input, and prints figures.

Those in a browser, and the starts, by `./delgrun test --only benchmarks`: they take as long as the browser tests.
"""

import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from delgrun.ops import surroundings

PROJECT = surroundings.PROJECT
NAMED = {
    name for doc in (PROJECT / "docs").glob("*.md") for name in re.findall(r"benchmarks/([a-z_]+)\.py", doc.read_text())
}
# What is imported by others, or measures another revision, for which a folder must be a clone.
PARTS = {"run": ["live", "case", "history", "terrain", "million", "search", "grounds", "family", "drag", "start"]}
LONG = {("ground", ""), ("line_page", ""), ("plan_page", ""), ("suspects", ""), ("run", "drag"), ("run", "start")}
ALL = [(name, part) for name in sorted(NAMED - {"against", "family"}) for part in PARTS.get(name, [""])]
RUNS = [run for run in ALL if run not in LONG or "DELGRUN_ALL_BENCHMARKS" in os.environ]


def test_the_parts_are_all_that_there_are():
    text = (PROJECT / "benchmarks" / "run.py").read_text()
    table = text[text.index("PARTS = {") : text.index("}  # fmt", text.index("PARTS = {"))]
    assert set(re.findall(r'"([a-z]+)":', table)) == set(PARTS["run"])


@pytest.mark.parametrize(("name", "part"), RUNS, ids=lambda v: str(v))
def test_a_benchmark_runs_to_its_end(name, part):
    folders = [PROJECT / p for p in ("src", ".", "benchmarks", "tests/e2e", "tests")]
    small = {
        **os.environ, "DELGRUN_BENCHMARK": "small",
        "PYTHONPATH": os.pathsep.join(map(str, folders)),
    }  # fmt: skip
    command = [sys.executable, str(Path("benchmarks") / f"{name}.py"), *([part] if part else [])]
    run = subprocess.run(command, cwd=PROJECT, env=small, capture_output=True, text=True, check=False, timeout=400)
    assert run.returncode == 0, run.stderr[-3000:]
    assert re.search(r"\d(?:[.,]\d+)? (?:s|ms|%)|\| ", run.stdout), run.stdout
