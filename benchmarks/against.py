"""Another revision beside this one, measured in turns in one run.

`.venv/bin/python benchmarks/against.py REV [part ...]`; parts: live, checks, page, drag, search; without any, the first
three. The machine's speed moves by a factor of two within an hour, so a figure of yesterday says nothing: each part
runs here, there, here, there, three times (`--rounds`), and the table has the median of each side with the
least and most.
"""

import argparse
import os
import re
import statistics
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

HERE = Path(__file__).parents[1]
# What each part runs, from the folder of its revision; what it prints is a table of two columns.
PARTS = {
    "live": ["benchmarks/run.py", "live"],
    "checks": ["benchmarks/checks.py"],
    "page": ["benchmarks/line_page.py"],
    "drag": ["benchmarks/run.py", "drag"],
    "search": ["benchmarks/run.py", "search"],
}
USUAL = ("live", "checks", "page")
# "| what | 3.3 ms median, 4.2 p95 |": the first figure of a row is the one that is compared.
_ROW = re.compile(r"^\| (?P<what>[^|]+) \| (?P<figure>-?\d+(?:[.,]\d+)?)(?P<rest>[^|]*) \|")
_UNIT = re.compile(r"\s*[%a-z/]*")


@contextmanager
def checked_out(revision: str) -> Iterator[Path]:
    """The project as of another revision, in a folder of its own; it may share the front end's packages."""
    with tempfile.TemporaryDirectory(prefix="against-") as folder:
        there = Path(folder) / "there"
        git = ["git", "-C", str(HERE), "worktree"]
        subprocess.run([*git, "add", "--detach", "--quiet", str(there), revision], check=True)
        try:
            here, other = HERE / "frontend", there / "frontend"
            # Where packages differ it installs its own: through a link that would take away those of this revision.
            if (here / "package-lock.json").read_bytes() == (other / "package-lock.json").read_bytes():
                (other / "node_modules").symlink_to(here / "node_modules")
            yield there
        finally:
            subprocess.run([*git, "remove", "--force", str(there)], check=True)


def figures(part: str, folder: Path, data: Path | None) -> dict[str, tuple[float, str]]:
    """What a part says in a folder: the first figure of each row, and its unit. No `data`: where it usually is."""
    paths = [folder / p for p in ("src", ".", "benchmarks", "tests/e2e", "tests")]
    surroundings = os.environ | {"PYTHONPATH": os.pathsep.join(map(str, paths))}
    if data is not None:
        surroundings["DELGRUN_DATA"] = str(data)
    run = subprocess.run(
        [sys.executable, *PARTS[part]], cwd=folder, env=surroundings, capture_output=True, text=True, check=False
    )
    if run.returncode:
        raise SystemExit(f"{part} ended in {folder}:\n{run.stdout[-2000:]}{run.stderr[-2000:]}")
    found = (_ROW.match(line) for line in run.stdout.splitlines())
    return {
        f"{part}: {m['what'].strip()}": (float(m["figure"].replace(",", ".")), (_UNIT.match(m["rest"]) or [""])[0])
        for m in found
        if m
    }


def spread(values: list[float], unit: str) -> str:
    return f"{statistics.median(values):g}{unit} ({min(values):g} to {max(values):g})"


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("revision")
    parser.add_argument("parts", nargs="*", default=USUAL, choices=[*PARTS, USUAL])
    parser.add_argument("--rounds", type=int, default=3)
    wish = parser.parse_args()
    rows: dict[str, tuple[list[float], list[float]]] = {}
    units: dict[str, str] = {}
    with checked_out(wish.revision) as there, tempfile.TemporaryDirectory(prefix="against-data-") as data:
        sides: tuple[tuple[Path, Path | None], ...] = ((HERE, None), (there, Path(data)))
        for part in wish.parts:
            # Kernels are compiled, and files read, before anything is counted.
            for folder, own in sides:
                figures(part, folder, own)
            for _ in range(wish.rounds):
                for k, (folder, own) in enumerate(sides):
                    for what, (value, unit) in figures(part, folder, own).items():
                        rows.setdefault(what, ([], []))[k].append(value)
                        units[what] = unit
    print(f"| what | now | {wish.revision} | share |\n| --- | --- | --- | --- |")
    for what, sides_of in rows.items():
        now, then = (spread(values, units[what]) if values else "" for values in sides_of)
        base = statistics.median(sides_of[1]) if sides_of[1] else 0.0
        share = f"{statistics.median(sides_of[0]) / base:.2f}" if base and sides_of[0] else ""
        print(f"| {what} | {now} | {then} | {share} |")


if __name__ == "__main__":
    main()
