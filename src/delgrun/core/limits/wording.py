"""Sentences for findings: one place for page and report."""

from delgrun.core.limits.checks import LimitUse
from delgrun.core.units import chainage_text

_NAMES = {
    "steepest_grade": "Steepest grade",
    "flattest_grade": "Flattest grade",
    "crest_k": "Crest K",
    "sag_k": "Sag K",
    "curve_length": "Shortest curve",
    "ip_spacing": "Spacing of IPs",
    "tie_in_level": "Tie-in level",
    "tie_in_grade": "Tie-in grade",
    "no_ground": "No ground",
    "no_catch_left": "No ground left",
    "no_catch_right": "No ground right",
}


def check_name(check: str) -> str:
    """Name of a check as it stands on screen and in reports."""
    return _NAMES[check]


def where(u: LimitUse) -> str:
    """The stretch or the spot, in a designer's notation."""
    at, to = chainage_text(u.from_chainage_m), chainage_text(u.to_chainage_m)
    return f"from {at} to {to}" if u.to_chainage_m - u.from_chainage_m > 0.01 else f"at {at}"


def sentence(u: LimitUse) -> str:
    """What is wrong, by how much and where."""
    return f"{brief(u)} {where(u)}"


def brief(u: LimitUse) -> str:
    """What is wrong and by how much, for where the place is plain to see."""
    if u.check == "steepest_grade":
        over = abs(u.value) - u.limit
        return f"Grade {100 * u.value:+.2f} %, at most {100 * u.limit:.2f} %, too steep by {100 * over:.2f} %"
    if u.check == "flattest_grade":
        short = u.limit - abs(u.value)
        return f"Grade {100 * u.value:+.2f} %, needs {100 * u.limit:.2f} % to drain, short by {100 * short:.2f} %"
    if u.check in ("crest_k", "sag_k"):
        return f"K {_k(u.value, u.limit)}, needs {u.limit:g}, short by {_k(u.limit - u.value, 0)}"
    if u.check == "curve_length":
        return f"Curve {u.value:.2f} m, needs {u.limit:g} m, short by {u.limit - u.value:.2f} m"
    if u.check == "ip_spacing":
        return f"IPs {u.value:.2f} m apart, needs {u.limit:g} m, short by {u.limit - u.value:.2f} m"
    if u.check == "tie_in_level":
        return f"Level {u.value:.3f} m, the road there is at {u.limit:.3f} m, off by {u.value - u.limit:+.3f} m"
    if u.check == "tie_in_grade":
        off = 100 * (u.value - u.limit)
        return f"Grade {100 * u.value:+.3f} %, the road there has {100 * u.limit:+.3f} %, off by {off:+.3f} %"
    if u.check == "no_ground":
        return "The survey has no ground at the centreline"
    side = "left" if u.check == "no_catch_left" else "right"
    return f"The batter on the {side} finds no ground within the survey"


def _k(value: float, limit: float) -> str:
    # Two decimals where one would hide the shortfall.
    return f"{value:.1f}" if abs(value - limit) >= 0.05 else f"{value:.2f}"
