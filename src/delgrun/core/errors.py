"""The one way in which the core refuses input."""


class DesignInputError(ValueError):
    """Input that no result can be computed from.

    Parameters
    ----------
    field : str
        Name of the input, as it stands on the wire.
    message : str
        What is wrong, where, and what to do, in a plain sentence.
    """

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field
        self.message = message
