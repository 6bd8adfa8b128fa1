"""Levels of a grade line as a workbook whose formulas work them out: change an IP there, and the levels follow."""

import io
import math
from collections.abc import Iterable, Iterator, Sequence

import numpy as np
from numpy.typing import NDArray
from xlsxwriter import Workbook
from xlsxwriter.workbook import Worksheet

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.units import DIMENSIONS, System
from delgrun.exchange.tables import Cell, Column, converted, in_units, number_format

FloatArray = NDArray[np.float64]

# Columns of the sheet of IPs: heading, dimension, digits, and the formula of row r (p before it, n behind it); none:
# typed in. The formulas are those of core/gradeline/vertical_curve.py, in the words of a spreadsheet.
_GRADE = "(C{n}-C{r})/(B{n}-B{r})"
_IPS: tuple[tuple[str, str, int | None, str], ...] = (
    ("point", "", None, ""),
    ("chainage", "plan", 3, ""),
    ("level", "plan", 3, ""),
    ("curve length", "plan", 3, ""),
    ("shape", "", None, ""),
    ("share before", "", 4, ""),
    ("grade in", "", 6, "H{p}"),
    ("grade out", "", 6, _GRADE),
    (
        "share used",
        "",
        6,
        'IF(E{r}="circle",(1/SQRT(1+G{r}^2))/(1/SQRT(1+G{r}^2)+1/SQRT(1+H{r}^2)),IF(F{r}="",0.5,F{r}))',
    ),
    ("curve starts", "plan", 3, "B{r}-D{r}*I{r}"),
    ("curve ends", "plan", 3, "B{r}+D{r}*(1-I{r})"),
    ("level at start", "plan", 4, "C{r}-G{r}*D{r}*I{r}"),
    ("level at end", "plan", 4, "C{r}+H{r}*D{r}*(1-I{r})"),
    ("c before", "bend", 9, "IF(D{r}>0,(H{r}-G{r})*(1-I{r})/(I{r}*D{r}),0)"),
    ("c behind", "bend", 9, "IF(D{r}>0,(H{r}-G{r})*I{r}/((1-I{r})*D{r}),0)"),
    ("side", "", 0, "SIGN(H{r}-G{r})"),
    (
        "radius",
        "plan",
        3,
        'IF(AND(E{r}="circle",D{r}>0,P{r}<>0),D{r}/ABS(H{r}/SQRT(1+H{r}^2)-G{r}/SQRT(1+G{r}^2)),0)',
    ),
    ("centre", "plan", 3, "J{r}-P{r}*Q{r}*G{r}/SQRT(1+G{r}^2)"),
    ("centre level", "plan", 3, "L{r}+P{r}*Q{r}/SQRT(1+G{r}^2)"),
)
# Level, grade in percent, and the row of the IP whose curve, or tangent behind it, a chainage lies on.
_LEVEL = (
    "IF(B{r}>INDEX(IPs!K{all},H{r}),"
    "INDEX(IPs!C{all},H{r})+INDEX(IPs!H{all},H{r})*(B{r}-INDEX(IPs!B{all},H{r})),"
    "IF(INDEX(IPs!Q{all},H{r})>0,"
    "INDEX(IPs!S{all},H{r})-INDEX(IPs!P{all},H{r})*SQRT(INDEX(IPs!Q{all},H{r})^2-(B{r}-INDEX(IPs!R{all},H{r}))^2),"
    "IF(B{r}<=INDEX(IPs!B{all},H{r}),"
    "INDEX(IPs!L{all},H{r})+INDEX(IPs!G{all},H{r})*(B{r}-INDEX(IPs!J{all},H{r}))"
    "+INDEX(IPs!N{all},H{r})/2*(B{r}-INDEX(IPs!J{all},H{r}))^2,"
    "INDEX(IPs!M{all},H{r})-INDEX(IPs!H{all},H{r})*(INDEX(IPs!K{all},H{r})-B{r})"
    "+INDEX(IPs!O{all},H{r})/2*(INDEX(IPs!K{all},H{r})-B{r})^2)))"
)
_SLOPE = (
    "100*IF(B{r}>INDEX(IPs!K{all},H{r}),INDEX(IPs!H{all},H{r}),"
    "IF(INDEX(IPs!Q{all},H{r})>0,"
    "INDEX(IPs!P{all},H{r})*(B{r}-INDEX(IPs!R{all},H{r}))"
    "/SQRT(INDEX(IPs!Q{all},H{r})^2-(B{r}-INDEX(IPs!R{all},H{r}))^2),"
    "IF(B{r}<=INDEX(IPs!B{all},H{r}),"
    "INDEX(IPs!G{all},H{r})+INDEX(IPs!N{all},H{r})*(B{r}-INDEX(IPs!J{all},H{r})),"
    "INDEX(IPs!H{all},H{r})-INDEX(IPs!O{all},H{r})*(INDEX(IPs!K{all},H{r})-B{r}))))"
)
_ROW = "MATCH(B{r},IPs!J{all},1)"


def level_workbook(
    line: GradeLine, columns: Sequence[Column], rows: Iterable[Sequence[Cell]], system: System = "metric"
) -> bytes:
    """A sheet of IPs, a sheet of levels, as the table of levels has them, worked out from the first by formulas, and a
    chart of these.

    `columns` and `rows`: point, station, chainage, level, grade in percent, ground, level less ground; numbers are
    kept beside the formulas, for programs that work nothing out. They are in the units of `system`; the line is SI.
    """
    out = io.BytesIO()
    with Workbook(out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}) as book:
        head = book.add_format({"bold": True, "bottom": 1})
        typed = book.add_format({"num_format": number_format(3), "bg_color": "#FFF6DC"})
        shown = {d: book.add_format({"num_format": number_format(d)}) for d in (0, 2, 3, 4, 6, 9)}
        levels, ips = book.add_worksheet("Levels"), book.add_worksheet("IPs")
        _sheet_of_ips(ips, line, system, head, typed, shown)
        # The station is text and stands last but one, so that formulas find the chainage in B.
        order = (0, 2, 3, 4, 5, 6, 1)
        every = f"$2:${len(line.ips) + 1}"
        headings = [columns[k].heading for k in order]
        for k, heading in enumerate([*headings, "row of IP"]):
            levels.write_string(0, k, heading, head)
            levels.set_column(k, k, max(len(heading), 12) + 2)
        levels.freeze_panes(1, 0)
        rows = list(rows)
        _chart(book, levels, headings, len(rows))
        shown_in = DIMENSIONS["plan"].factor(system)
        starts = line.chainage_m * shown_in - line.curve_length_m * shown_in * line.before
        for r, row in enumerate(rows, 2):
            _row_of_levels(levels, r, row, every, shown, starts)
    return out.getvalue()


def _chart(book: Workbook, levels: Worksheet, headings: Sequence[str], count: int) -> None:
    """A sheet with the ground and the line over the chainage, drawn from the cells."""
    chart = book.add_chart({"type": "scatter", "subtype": "straight"})
    for column, colour, width in ((4, "#7A5230", 1.25), (2, "#14505C", 2.25)):
        cells = {k: [levels.get_name(), 1, c, count, c] for k, c in (("categories", 1), ("values", column))}
        chart.add_series({"name": [levels.get_name(), 0, column], **cells, "line": {"color": colour, "width": width}})
    chart.set_x_axis({"name": headings[1], "major_gridlines": {"visible": True}, "label_position": "low"})
    chart.set_y_axis({"name": headings[2], "major_gridlines": {"visible": True}})
    chart.set_legend({"position": "bottom"})
    chart.show_na_as_empty_cell()
    sheet = book.add_chartsheet("Long section")
    sheet.set_chart(chart)


def _filled(formula: str, every: str, r: int) -> str:
    """A formula of row r; `X{all}` is the whole column X of the IPs."""
    first, last = every.split(":")
    for letter in "BCGHJKLMNOPQRS":
        formula = formula.replace(f"!{letter}{{all}}", f"!${letter}{first}:${letter}{last}")
    return "=" + formula.replace("{r}", str(r))


def _row_of_levels(
    sheet: Worksheet, r: int, row: Sequence[Cell], every: str, shown: dict[int, object], starts: FloatArray
) -> None:
    point, station, chainage, level, grade, ground, depth = row
    sheet.write_string(r - 1, 0, str(point))
    sheet.write_number(r - 1, 1, float(chainage or 0.0), shown[3])
    sheet.write_formula(r - 1, 2, _filled(_LEVEL, every, r), shown[4], level)
    sheet.write_formula(r - 1, 3, _filled(_SLOPE, every, r), shown[4], grade)
    if isinstance(ground, float) and math.isfinite(ground):
        sheet.write_number(r - 1, 4, ground, shown[3])
        sheet.write_formula(r - 1, 5, f"=C{r}-E{r}", shown[3], depth)
    sheet.write_string(r - 1, 6, str(station))
    sheet.write_formula(
        r - 1, 7, _filled(_ROW, every, r), shown[0], int(np.searchsorted(starts, float(chainage or 0.0), "right"))
    )


def _follows(line: GradeLine) -> Iterator[list[Cell]]:
    """What the formulas of each IP's row give, in their order and SI: for programs that work nothing out."""
    grades = line.grade.tolist()
    for i, ip in enumerate(line.ips):
        g, h = grades[max(i - 1, 0)], grades[min(i, len(grades) - 1)]
        length, before = ip.curve_length_m, float(line.before[i])
        start, end = float(line.curve_start_m[i]), float(line.curve_end_m[i])
        low, high = ip.level_m - g * length * before, ip.level_m + h * length * (1 - before)
        bends = [0.0, 0.0]
        if length:
            bends = [(h - g) * (1 - before) / (before * length), (h - g) * before / ((1 - before) * length)]
        side = float(np.sign(h - g))
        slope = 1 / np.hypot(1.0, g)
        # Of a circle only: without one its centre is the curve's start.
        radius = length / abs(h / np.hypot(1.0, h) - g * slope) if ip.shape == "circle" and length and side else 0.0
        centre = [start - side * radius * g * slope, low + side * radius * slope]
        yield [g, h, before, start, end, low, high, *bends, side, radius, *centre]


def _sheet_of_ips(
    sheet: Worksheet, line: GradeLine, system: System, head: object, typed: object, shown: dict[int, object]
) -> None:
    last = len(line.ips) + 1
    own = [Column(heading, digits, dimension) for heading, dimension, digits, _ in _IPS]
    for k, column in enumerate(in_units(own, system)):
        sheet.write_string(0, k, column.heading, head)
        sheet.set_column(k, k, max(len(column.heading), 10) + 2)
    sheet.freeze_panes(1, 1)
    for i, (ip, follows) in enumerate(zip(line.ips, _follows(line), strict=True)):
        r = i + 2
        si: list[Cell] = [line.name(i), ip.chainage_m, ip.level_m, ip.curve_length_m, ip.shape, ip.in_share]
        (given,) = converted(own[: len(si)], [si], system)
        (worked,) = converted(own[len(si) :], [follows], system)
        for k, value in enumerate(given):
            if isinstance(value, str):
                sheet.write_string(i + 1, k, value)
            elif value is not None:
                sheet.write_number(i + 1, k, value, typed)
        for k, (_, _, digits, formula) in enumerate(_IPS[len(given) :], len(given)):
            # An end has one grade, and no bend.
            if k == 6 and r == 2:
                formula = "H2"
            elif k == 7 and r == last:
                formula = f"G{r}"
            filled = "=" + formula.format(r=r, p=r - 1, n=r + 1)
            sheet.write_formula(i + 1, k, filled, shown[digits or 0], worked[k - len(given)])
