"""One parabolic vertical curve: levels, K, turning point, and the lengths that rules ask for."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError

FloatArray = NDArray[np.float64]


def curve_level(
    x_m: FloatArray | float, start_level_m: float, grade_in: float, grade_out: float, length_m: float
) -> FloatArray:
    """Design level along one parabolic vertical curve.

    Parameters
    ----------
    x_m : float or (n,) float array
        Distance past the start of the curve; outside 0..length_m gives NaN. [m]
    start_level_m : float
        Level at the start of the curve. [m]
    grade_in, grade_out : float
        Tangent grades, positive uphill with chainage. [m/m]

    Returns
    -------
    (n,) float array, or a 0-d one for a float
        Level. [m]

    Raises
    ------
    DesignInputError
        length_m is not > 0 (NaN included).

    References
    ----------
    docs/formulas.md#parabola: derived there from a constant change of grade.

    Examples
    --------
    >>> round(float(curve_level(60.0, 110.5, 0.03, -0.02, 100.0)), 3)
    111.4
    """
    if not length_m > 0:
        raise DesignInputError("curve_length_m", f"A vertical curve needs a length above 0, this one has {length_m}.")
    x = np.asarray(x_m, dtype=np.float64)
    z = start_level_m + grade_in * x + (grade_out - grade_in) * x**2 / (2 * length_m)
    return np.where((x >= 0) & (x <= length_m), z, np.nan)


def k_value(length_m: float, grade_in: float, grade_out: float) -> float:
    """Curve length per 1 % change of grade [m/%]; infinite where the grade does not change.

    >>> round(k_value(100.0, 0.03, -0.02), 6)
    20.0
    """
    change = abs(grade_out - grade_in)
    return length_m / (100 * change) if change > 0 else np.inf


def turning_point(grade_in: float, grade_out: float, length_m: float) -> float | None:
    """Distance from the curve's start to its high or low point [m]; None where it has none.

    The grade g1 + (g2 - g1) x / L is zero there (docs/formulas.md#parabola).
    """
    if length_m <= 0 or grade_in * grade_out >= 0:
        return None
    return length_m * grade_in / (grade_in - grade_out)
