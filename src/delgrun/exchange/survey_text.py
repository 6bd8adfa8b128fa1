"""Survey points from text columns."""

import re
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from itertools import islice
from typing import TYPE_CHECKING, Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from delgrun.core.budget import LARGEST_COORDINATE_M, MOST_POINTS
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.outline import RingKind
from delgrun.core.survey.doubts import HIGHEST_LEVEL_M, LOWEST_LEVEL_M, NO_DATA, unlikely
from delgrun.core.survey.points import Survey
from delgrun.exchange.crs import NOTHING, Said
from delgrun.exchange.text_columns import (
    DELIMITERS,
    SURVEY_WORDS,
    UNITS,
    Layout,
    LineError,
    data_rows,
    detect,
    lines_of,
    parse_number,
    says_degrees,
)

if TYPE_CHECKING:
    from delgrun.exchange.survey_parts import Part

# Told which share of a file has been read, and how many points that brought.
Say = Callable[[float, int], None]

NEEDED = ("easting", "northing", "level")
_ERRORS_KEPT = 200
_ROWS_SHOWN = 12
# Numbers and codes are kept as far as this; whatever is longer was no code.
_LONGEST_TEXT = 60
_CHUNK_LINES = 20_000
_LONGEST_EVEN_LINE = 1000
# So many points within less than this, as numbers up to 180, are degrees.
_DEGREES_FROM, _DEGREES_SPAN = 10, 2.0


def nothing_said(share: float, points: int) -> None:
    """Progress that nobody asked for."""


@dataclass(frozen=True)
class Reading:
    """How a file is read: who is told how far it is (and may raise to end it), which of (n, 3) points are wanted
    where not all are, and how many of them at most.
    """

    say: Say = nothing_said
    wanted: Callable[[NDArray[np.float64]], NDArray[np.bool_]] | None = None
    most: int = MOST_POINTS


PLAIN = Reading()


@dataclass(frozen=True)
class SurveyText:
    """What a file holds under one layout: the points that could be read, and every line that could not."""

    survey: Survey
    errors: list[LineError]
    error_count: int
    codes: list[tuple[str, int]]
    #: (n,) line of the file of each point
    line: NDArray[np.int64]
    texts_cut: int = 0
    #: what `line` counts
    counted: str = "Line"
    #: boundaries of the ground, each with what it bounds and its (k, 2) corners
    rings: list[tuple[RingKind, NDArray[np.float64]]] = field(default_factory=list)
    #: what the file says of its coordinates
    said: Said = NOTHING


@dataclass(frozen=True)
class SurveyLook:
    """How a file reads: the layout used, its heading and first rows, or its parts; and the points or the problem.

    `share` of the file was looked at; counts of parts are of the whole.
    """

    layout: Layout | None
    titles: list[str]
    rows: list[tuple[int, list[str]]]
    line_count: int
    text: SurveyText | None
    problem: str | None
    parts: list["Part"] = field(default_factory=list)
    unit: str = "metre"
    doubts: list[str] = field(default_factory=list)
    share: float = 1.0
    said: Said = NOTHING


# So much of a large file's beginning and of its end is looked at before it is read. [bytes]
_HEAD_BYTES, _TAIL_BYTES = 1_500_000, 100_000
_ROWS_OF_TAIL = 3


def look(file: BinaryIO, layout: Layout | None) -> SurveyLook:
    """Read a file under a layout; what the layout leaves open is detected.

    Of a large file only the first and the last lines are read.
    """
    head, tail, size = _ends(file)
    seen = _look(head, layout)
    if not tail or seen.text is None or seen.layout is None:
        return seen
    try:
        last = lines_of(tail)[1:]
        behind = read_survey(last, replace(seen.layout, header=False))
    except DesignInputError as e:
        return replace(seen, text=None, problem=f"The end of the file does not read as its beginning: {e.message}")
    rows = [(0, cells) for _, cells in list(data_rows(last, replace(seen.layout, header=False)))[-_ROWS_OF_TAIL:]]
    doubts = []
    if not len(behind.survey.xyz):
        doubts.append("None of the last lines holds a point: is the file cut off, or of two kinds?")
    xyz = np.concatenate([seen.text.survey.xyz, behind.survey.xyz])
    text = replace(seen.text, survey=replace(seen.text.survey, xyz=xyz, name=_NO_TEXT, code=_NO_TEXT),
                   line=np.concatenate([seen.text.line, np.zeros(len(behind.line), dtype=np.int64)]))  # fmt: skip
    share = (len(head) + len(tail)) / size
    return replace(seen, text=text, rows=[*seen.rows, *rows], doubts=[*seen.doubts, *doubts], share=share)


_NO_TEXT = np.zeros(0, dtype="U1")


def _ends(file: BinaryIO) -> tuple[bytes, bytes, int]:
    """The beginning of a file, up to a whole line, the end of it (empty if the beginning is all of it), its size."""
    size = file.seek(0, 2)
    file.seek(0)
    if size <= 2 * _HEAD_BYTES:
        return file.read(), b"", size
    head = file.read(_HEAD_BYTES)
    # As an even number of bytes, since a character may have two.
    file.seek(size - _TAIL_BYTES - size % 2)
    cut = head.rfind(b"\n") + 1 or len(head)
    return head[: cut + cut % 2], file.read(), size


def _look(data: bytes, layout: Layout | None) -> SurveyLook:
    lines = lines_of(data)
    if not any(ln.strip() for ln in lines):
        raise DesignInputError("file", "The file is empty: choose the survey's text file.")
    if layout is None or not layout.roles:
        # Another delimiter makes other columns: what they hold is to be found again.
        layout = detect(lines, SURVEY_WORDS, layout.delimiter if layout else None)
    rows = list(islice(data_rows(lines, layout), _ROWS_SHOWN))
    plain = replace(layout, header=False)
    titles = next((row for _, row in data_rows(lines, plain)), []) if layout.header else []
    width = max([len(cells) for _, cells in rows] + [len(layout.roles), len(titles)])
    layout = replace(layout, roles=(*layout.roles, *["ignore"] * (width - len(layout.roles))))
    try:
        text, problem = read_survey(lines, layout), None
    except DesignInputError as e:
        text, problem = None, e.message
    return SurveyLook(layout, titles, rows, len(lines), text, problem, unit=layout.unit)


def read(file: BinaryIO, layout: Layout | None, how: Reading = PLAIN) -> SurveyText:
    """Points, breaklines and errors of a whole file; see `read_survey`."""
    lines = lines_of(file.read())
    return read_survey(lines, detect(lines, SURVEY_WORDS) if layout is None else layout, how.say)


def read_survey(lines: Sequence[str], layout: Layout, say: Say = nothing_said) -> SurveyText:
    """Points, breaklines and errors; a bad line never loses the rest.

    Points with the same non-empty entry in the breakline column are joined in the order of the file. `say` is told
    after each some thousand lines which share of the file has been read, and how many points.

    Raises
    ------
    DesignInputError
        The layout names no column for easting, northing or level, or one of them twice, or the figures are degrees.
    """
    for role in NEEDED:
        if layout.roles.count(role) != 1:
            times = "no column" if role not in layout.roles else f"{layout.roles.count(role)} columns"
            raise DesignInputError("roles", f"There is {times} for {role}: give it exactly one.")
    reading = _Reading(layout)
    start = 0
    if layout.header:
        start, titles = next(data_rows(lines, replace(layout, header=False)), (0, []))
        _refuse_degrees(titles)
    for k in range(start, len(lines), _CHUNK_LINES):
        chunk = lines[k : k + _CHUNK_LINES]
        if not reading.even(chunk, k):
            reading.each(chunk, k)
        say((k + len(chunk)) / len(lines), reading.count)
    return reading.done()


class _Reading:
    """What has been read so far, a chunk of lines at a time."""

    def __init__(self, layout: Layout) -> None:
        self._layout = replace(layout, header=False)
        self._unit = UNITS[layout.unit]
        at = {role: layout.roles.index(role) for role in layout.roles if role != "ignore"}
        self._wanted = [(role, at[role]) for role in NEEDED]
        self._texts = [at.get(role, -1) for role in ("number", "code", "breakline")]
        self._xyz: list[NDArray[np.float64]] = []
        self._names: list[NDArray[np.str_]] = []
        self._codes: list[NDArray[np.str_]] = []
        self._strings: dict[str, list[int]] = {}
        self._line: list[NDArray[np.int64]] = []
        self._errors: list[LineError] = []
        self._error_count = self._cut = 0
        self.count = 0

    def even(self, lines: Sequence[str], before: int) -> bool:
        """Read lines that are all alike and fault-free at once; False, with nothing read, where they are not."""
        text = "\n".join(lines)
        commented = "#" in text and any(line.lstrip()[:1] == "#" for line in lines)
        if commented or max(map(len, lines)) > _LONGEST_EVEN_LINE:
            return False
        rows = text.replace(",", ".").split("\n") if self._layout.decimal_comma else lines
        kinds: Any = {
            "delimiter": DELIMITERS[self._layout.delimiter],
            "comments": None,
            "quotechar": '"' if '"' in text else None,
            "ndmin": 2,
        }
        wanted = [c for c in self._texts if c >= 0]
        try:
            xyz = np.loadtxt(rows, usecols=[c for _, c in self._wanted], **kinds) * self._unit
            texts = np.loadtxt(lines, usecols=wanted, dtype=f"U{_LONGEST_TEXT + 1}", **kinds) if wanted else None
        except ValueError:
            return False
        if len(xyz) != len(lines) or not _likely(xyz, self._unit):
            return False
        told = iter(() if texts is None else np.strings.strip(texts).T)
        none = np.zeros(len(xyz), dtype="U1")
        name, code, string = (next(told) if c >= 0 else none for c in self._texts)
        for i, key in enumerate(string.tolist() if self._texts[2] >= 0 else ()):
            if key:
                self._strings.setdefault(key, []).append(self.count + i)
        self._take(xyz, name, code, np.arange(before + 1, before + 1 + len(xyz)))
        return True

    def each(self, lines: Sequence[str], before: int) -> None:
        """Read lines one by one, with what is wrong in each."""
        xyz: list[list[float]] = []
        names, codes, at_line = [], [], []
        name_at, code_at, string_at = self._texts
        for number, row in data_rows(lines, self._layout):
            point = self._point(before + number, row)
            if point is None:
                continue
            if 0 <= string_at < len(row) and row[string_at]:
                # As far as it is told apart where lines are read at once.
                key = row[string_at][: _LONGEST_TEXT + 1]
                self._strings.setdefault(key, []).append(self.count + len(xyz))
            xyz.append(point)
            names.append(row[name_at] if 0 <= name_at < len(row) else "")
            codes.append(row[code_at] if 0 <= code_at < len(row) else "")
            at_line.append(before + number)
        values = np.array(xyz, dtype=np.float64).reshape(-1, 3) * self._unit
        name, code = (np.array([t[: _LONGEST_TEXT + 1] for t in of], dtype=np.str_) for of in (names, codes))
        self._take(values, name, code, np.array(at_line, dtype=np.int64))

    def _point(self, number: int, row: list[str]) -> list[float] | None:
        values = []
        for role, column in self._wanted:
            text = row[column] if column < len(row) else ""
            try:
                values.append(value := parse_number(text, self._layout.decimal_comma))
                why = unlikely(role, value, self._unit)
            except ValueError:
                why = f"“{text[:_LONGEST_TEXT]}” is not a number" if text else "is missing"
                if _DEGREE_SIGN.search(text):
                    raise DesignInputError("roles", _DEGREES_SAY.format(f"Line {number}: “{text[:40]}”")) from None
            if why:
                self._error_count += 1
                if len(self._errors) < _ERRORS_KEPT:
                    short = text[:_LONGEST_TEXT]
                    self._errors.append(LineError(number, role, short, f"Line {number}: {role} {why}."))
                return None
        return values

    def _take(
        self, xyz: NDArray[np.float64], name: NDArray[np.str_], code: NDArray[np.str_], line: NDArray[np.int64]
    ) -> None:
        for texts, kept in ((name, self._names), (code, self._codes)):
            length = np.strings.str_len(texts)
            self._cut += int((length > _LONGEST_TEXT).sum())
            # No wider than it must be: a million texts of sixty characters would be a quarter of a gigabyte.
            kept.append(texts.astype(f"U{min(max(int(length.max(initial=1)), 1), _LONGEST_TEXT)}"))
        self._xyz.append(xyz)
        self._line.append(line)
        self.count += len(xyz)

    def done(self) -> SurveyText:
        xyz = np.concatenate([np.zeros((0, 3)), *self._xyz])
        _refuse_degree_values(xyz)
        survey = Survey(
            xyz,
            [np.array(s, dtype=np.int64) for s in self._strings.values() if len(s) > 1],
            np.concatenate([_NO_TEXT, *self._names]),
            np.concatenate([_NO_TEXT, *self._codes]),
        )
        usual = Counter(survey.code[survey.code != ""].tolist()).most_common(50)
        line = np.concatenate([np.zeros(0, dtype=np.int64), *self._line])
        return SurveyText(survey, self._errors, self._error_count, usual, line, self._cut)


def _likely(xyz: NDArray[np.float64], unit_m: float) -> bool:
    """Whether all of these can be points; see `unlikely`, which says it of one."""
    level = xyz[:, 2]
    return bool(
        np.isfinite(xyz).all()
        and (np.abs(xyz) <= LARGEST_COORDINATE_M).all()
        and ((level >= LOWEST_LEVEL_M) & (level <= HIGHEST_LEVEL_M)).all()
        and not np.isin(level / unit_m, NO_DATA).any()
    )


_DEGREE_SIGN = re.compile(r"\d\s*[°º]|^\d{1,3}:\d{1,2}:\d")
_DEGREES_SAY = (
    "{} is in degrees. A road is designed in metres on a grid, and degrees are no lengths: convert the file to the "
    "projected grid the survey belongs to (its name is in the survey's report), and read that."
)


def _refuse_degrees(titles: Sequence[str]) -> None:
    """Raise where a heading names latitude or longitude."""
    said = says_degrees(titles)
    if said:
        raise DesignInputError("roles", _DEGREES_SAY.format(f"The column “{said[:_LONGEST_TEXT]}”"))


def _refuse_degree_values(xyz: NDArray[np.float64]) -> None:
    """Raise where plan coordinates are degrees by their values: a whole survey within less than two metres is none."""
    if len(xyz) < _DEGREES_FROM:
        return
    plan = xyz[:, :2]
    if np.abs(plan).max() <= 180 and np.ptp(plan, axis=0).max() < _DEGREES_SPAN and np.ptp(xyz[:, 2]) < 9000:
        where = f"All points lie within {np.ptp(plan, axis=0).max():.4f} of each other: this"
        raise DesignInputError("roles", _DEGREES_SAY.format(where))
