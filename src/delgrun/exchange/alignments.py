"""A centreline as a file gives it: one alignment of perhaps several."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.parts import deviation_m
from delgrun.core.errors import DesignInputError


@dataclass(frozen=True)
class Alignment:
    """IPs of one line, with its name and where its chainage starts; `deviation_m` is how far what is made of them lies
    from what the file says; `equations`: chainages and what is written on from there [m].
    """

    name: str
    start_chainage_m: float
    ips: tuple[CentrelineIp, ...]
    deviation_m: float = 0.0
    equations: tuple[tuple[float, float], ...] = ()


def checked(
    name: str, start_m: float, ips: Sequence[CentrelineIp], places: NDArray[np.float64] | None = None
) -> Alignment:
    """An alignment that a centreline can be made of; `places` (n, 2) is where the file says it goes through. [m]"""
    try:
        line = Centreline(list(ips), start_m)
    except DesignInputError as e:
        raise DesignInputError("file", f"“{name}” is no centreline: {e.message}") from e
    return Alignment(name, start_m, tuple(ips), 0.0 if places is None else deviation_m(line, places))
