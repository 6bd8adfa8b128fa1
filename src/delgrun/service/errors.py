"""What a use case may refuse with; the web turns each into one answer."""

from delgrun.core.errors import DesignInputError
from delgrun.store.revisions import RevisionConflict, UnknownProject

__all__ = ["DesignInputError", "NotReady", "RevisionConflict", "UnknownProject"]


class NotReady(Exception):
    """A result needs an input that the project does not have yet; `step` names the one to do next."""

    def __init__(self, step: str, message: str) -> None:
        super().__init__(message)
        self.step = step
        self.message = message
