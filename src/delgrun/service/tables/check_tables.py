"""The table of checks, and the checker's workbook."""

from delgrun.exchange.tables import Column, Sheet, as_xlsx
from delgrun.service import summary
from delgrun.service.case import Case
from delgrun.service.tables.kind import Made, TableKind, TableWish, line_of


def _checks(case: Case, _wish: TableWish) -> Made:
    """Every check with its worst use and where what it goes by comes from."""
    line_of(case)
    heads = ("check", "verdict", "fails", "use %", "value", "limit", "where", "says", "source")
    columns = [Column(h, 1 if h == "use %" else 0 if h == "fails" else None) for h in heads]
    return columns, [
        [
            r.name, r.verdict, float(r.fails), None if r.use is None else 100 * r.use, r.value, r.limit, r.where,
            r.says, r.source,
        ]
        for r in summary.checks_of(case)
    ]  # fmt: skip


def _workbook(case: Case, wish: TableWish, sheet: Sheet) -> bytes:
    return as_xlsx([sheet, *(more.shown_in(wish.system) for more in summary.sheets(case))])


CHECKS = TableKind(name="checks", title="Checks", make=_checks, options=("line",), workbook=_workbook)
