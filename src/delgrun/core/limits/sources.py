"""Where the value of a limit comes from, and why it was changed."""

from dataclasses import dataclass

from delgrun.core.fields import meant


@dataclass(frozen=True, kw_only=True)
class LimitSource:
    """A value that a standard gave for one of the limits, with its formula; and the reason for another one, if any.

    While the limit has this value the source holds; with another it was changed from it, for the `reason`.
    """

    name: str = meant("text", "limit")
    value: float | None = meant("factor", "value", low=-1e9, high=1e9, first=None, optional=True)
    formula: str = meant("line", "formula", first="")
    source: str = meant("line", "source", first="")
    edition: str = meant("line", "edition", first="")
    from_memory: bool = meant("flag", "from memory", first=False)
    reason: str = meant("line", "reason", first="")

    def gives(self, value: float | None) -> bool:
        """Whether the limit still has the value that this is the source of."""
        if value is None or self.value is None:
            return value is self.value
        return abs(value - self.value) <= 1e-9 * max(abs(value), 1.0)
