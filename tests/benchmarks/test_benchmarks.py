"""Every benchmark that the documents name runs to its end, on the smallest input, and prints figures."""

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
RUNS = [(name, part) for name in sorted(NAMED - {"against", "family"}) for part in PARTS.get(name, [""])]


def test_the_parts_are_all_that_there_are():
    text = (PROJECT / "benchmarks" / "run.py").read_text()
    table = text[text.index("PARTS = {") : text.index("}  # fmt", text.index("PARTS = {"))]
    assert set(re.findall(r'"([a-z]+)":', table)) == set(PARTS["run"])


@pytest.mark.parametrize(("name", "part"), RUNS, ids=lambda v: str(v))
def test_a_benchmark_runs_to_its_end(name, part, tmp_path):
    folders = [PROJECT / p for p in ("src", ".", "benchmarks", "tests/e2e", "tests")]
    small = {
        **os.environ, "DELGRUN_BENCHMARK": "small", "TMPDIR": str(tmp_path),
        "PYTHONPATH": os.pathsep.join(map(str, folders)),
    }  # fmt: skip
    for parent in [tmp_path, *tmp_path.parents[:2]]:
        # As root the database runs as another user, who must be able to reach its data.
        parent.chmod(parent.stat().st_mode | 0o055)
    command = [sys.executable, str(Path("benchmarks") / f"{name}.py"), *([part] if part else [])]
    run = subprocess.run(command, cwd=PROJECT, env=small, capture_output=True, text=True, check=False, timeout=400)
    assert run.returncode == 0, run.stderr[-3000:]
    assert re.search(r"\d(?:[.,]\d+)? (?:s|ms|%)|\| ", run.stdout), run.stdout
