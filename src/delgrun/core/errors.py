"""The one way in which the core refuses input."""

from typing import Any

from delgrun.core.units import say, worded


class DesignInputError(ValueError):
    """Input that no result can be computed from.

    Parameters
    ----------
    field : str
        Name of the input, as it stands on the wire.
    template : str
        What is wrong, where, and what to do, in a plain sentence; numbers stand in it by name and dimension.
    values
        The numbers, SI: `DesignInputError("ips", "overlap by {over:length}", over=1.25)`.
    """

    def __init__(self, field: str, template: str, **values: Any) -> None:
        super().__init__(template)
        self.field = field
        self.template = template
        self.values = values

    @property
    def message(self) -> str:
        """The sentence with its numbers, in the units that are spoken in."""
        return say(self.template, **self.values) if self.values else worded(self.template)

    def __str__(self) -> str:
        return self.message
