"""Which practice a project follows: what its numbers are shown in, and what things are called."""

from dataclasses import dataclass

from delgrun.core.fields import meant
from delgrun.core.units import SYSTEMS


@dataclass(frozen=True, kw_only=True)
class Practice:
    """Metres, or feet with the words that go with them; nothing that is kept depends on it."""

    system: str = meant(
        "word", "units", choices=SYSTEMS, first="metric",
        says="metric; us: feet of 0.3048 m; us_survey: feet of 1200/3937 m",
    )  # fmt: skip
