"""How every compiled kernel of the core is declared."""

from collections.abc import Callable
from typing import Any

import numba

# nogil lets the web server's other threads run while a kernel works; parallel=True is left out on
# purpose, since its threads do not survive a fork.
kernel: Callable[[Callable[..., Any]], Any] = numba.njit(cache=True, nogil=True, error_model="numpy")
fast_kernel: Callable[[Callable[..., Any]], Any] = numba.njit(
    cache=True, nogil=True, error_model="numpy", fastmath={"contract", "reassoc", "arcp", "nsz"}
)
