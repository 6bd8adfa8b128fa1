"""What the map of the program names is there: each path of the tables in docs/architecture.md."""

import re
from pathlib import Path

PROJECT = Path(__file__).parents[1]
# Where a path may begin.
ROOTS = [PROJECT / root for root in ("", "src/delgrun", "frontend/src")]
PATH = re.compile(r"`([\w./-]+(?:\.py|\.ts|\.svelte|\.md|/))`")


def lost(row: str) -> list[str]:
    """Paths of a table's row that are nowhere; a bare name after a path lies in the folder of that."""
    out, folders = [], ROOTS
    for path in PATH.findall(row):
        found = [root / path for root in ([*ROOTS, *folders] if "/" in path else folders) if (root / path).exists()]
        if not found:
            out.append(path)
        elif "/" in path:
            folders = [f if f.is_dir() else f.parent for f in found]
    return out


def test_paths_that_the_map_names_are_there():
    rows = [line for line in (PROJECT / "docs" / "architecture.md").read_text().splitlines() if line.startswith("| ")]
    assert sum(len(PATH.findall(row)) for row in rows) > 120
    assert {row: gone for row in rows if (gone := lost(row))} == {}
    # It can fail.
    assert lost("| a rule | `core/limits/check.py`, `nowhere.py`, `core/no/such.py` |") == [
        "nowhere.py",
        "core/no/such.py",
    ]
