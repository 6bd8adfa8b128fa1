"""What the codes of a survey mean, as the designer says."""

from dataclasses import dataclass
from typing import Literal

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant


@dataclass(frozen=True, kw_only=True)
class CodeMeaning:
    """One code of the survey: whether its points are ground."""

    code: str = meant("name", "code")
    means: Literal["ground", "string", "not_ground"] = meant(
        "word", "means", choices=("ground", "string", "not_ground"), first="ground"
    )


@dataclass(frozen=True, kw_only=True)
class Codes:
    """What a project's codes mean; a code that is not here is judged by its words."""

    rows: tuple[CodeMeaning, ...] = meant("count", "codes", of=CodeMeaning, most=500, first=())

    def check(self) -> None:
        """Raises DesignInputError where one code has two meanings."""
        codes = [row.code for row in self.rows]
        twice = next((c for c in codes if codes.count(c) > 1), None)
        if twice is not None:
            raise DesignInputError("rows", f"The code “{twice}” stands twice: say once what it means.")
