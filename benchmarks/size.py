"""How large a benchmark is: as the documents have it, or as small as shows that it runs to its end."""

import os
from typing import TypeVar

T = TypeVar("T")
SMALL = os.environ.get("DELGRUN_BENCHMARK") == "small"


def size(usual: T, small: T) -> T:
    """A number, or a list, of what is usual; or a small one."""
    return small if SMALL else usual
