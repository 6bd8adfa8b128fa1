"""Volumes between sections by average end area, and the mass ordinate."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError

FloatArray = NDArray[np.float64]


def end_area_volumes(area_m2: FloatArray, chainage_m: FloatArray) -> FloatArray:
    """(n - 1,) volume of each interval, (A1 + A2) / 2 times its length. [m3]

    Parameters
    ----------
    area_m2, chainage_m : (n,) float arrays
        No sections give no volumes.

    Raises
    ------
    DesignInputError
        Different lengths, or chainages that do not rise.

    References
    ----------
    Average end area: common practice; reference values 4.6.

    Examples
    --------
    >>> end_area_volumes(np.array([28.0, 72.0]), np.array([0.0, 25.0]))
    array([1250.])
    """
    if len(area_m2) != len(chainage_m):
        raise DesignInputError("area_m2", f"{len(area_m2)} areas do not fit {len(chainage_m)} chainages.")
    run = np.diff(chainage_m)
    if (run <= 0).any():
        raise DesignInputError("chainage_m", "Chainages of sections must rise.")
    return (area_m2[:-1] + area_m2[1:]) / 2 * run if len(area_m2) else np.zeros(0)


def section_weights(chainage_m: FloatArray) -> FloatArray:
    """(n,) length of road each section stands for, so that weights @ areas is the end-area volume. [m]"""
    run = np.diff(chainage_m)
    out = np.zeros(len(chainage_m))
    out[:-1] += run / 2
    out[1:] += run / 2
    return out


def mass_ordinate(net_m3: FloatArray) -> FloatArray:
    """(n + 1,) running sum of usable cut less fill over n intervals, in compacted volume. [m3]

    References
    ----------
    Mass diagram: common practice; reference value 5.1.
    """
    return np.concatenate([[0.0], np.cumsum(net_m3)])
