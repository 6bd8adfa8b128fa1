"""The values of tests/reference, by number."""

import json
from pathlib import Path
from typing import Any

_FILE = Path(__file__).parents[1] / "reference" / "values.json"
VALUES: dict[str, Any] = json.loads(_FILE.read_text())
