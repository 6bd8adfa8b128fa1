"""What goes out about limits: families of limits and what they offer, the checker's summary."""

from delgrun.service.declared import CheckRow, Clash, Offered, ValueRow
from delgrun.web.outputs import Out
from delgrun.web.plan_outputs import TableOut


class StandardOut(Out):
    """A family of limits; `own`: the office's; `form`: of stopping, where it has its own."""

    id: str
    name: str
    source: str
    edition: str
    own: bool
    form: str | None


class StandardsOut(Out):
    standards: list[StandardOut]


class StandardAdded(Out):
    id: str


class ControlRow(Out):
    """A level control in the summary: what it is and why, and how much room the line has there. [m]"""

    what: str
    reason: str
    slack_m: float | None
    at_m: float | None
    level_m: float | None
    limit_m: float | None


class ChecksSummary(Out):
    """What a checker signs."""

    checks: list[CheckRow]
    values: list[ValueRow]
    controls: list[ControlRow]
    clashes: list[Clash]
    tables: list[TableOut]


class Done(Out):
    done: bool


class OfferedOut(Out):
    """Limits that a standard offers."""

    values: list[Offered]
