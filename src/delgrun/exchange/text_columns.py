"""Text columns: which delimiter, which header, which column is what; and rows with their errors."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from delgrun.core.errors import DesignInputError

DELIMITERS = {"comma": ",", "semicolon": ";", "tab": "\t", "bar": "|", "blanks": None}
_SAMPLE_LINES = 200
# What is longer than this is no line of a table; only its beginning is looked at.
_LINE_LOOKED_AT = 10_000
_MOST_COLUMNS = 200
_NUMBER = re.compile(r"[+-]?(\d+[.,]?\d*|[.,]\d+)([eE][+-]?\d+)?$")

# Header words by role, in the order in which roles claim columns.
SURVEY_WORDS = {
    "easting": ("easting", "east", "e", "x"),
    "northing": ("northing", "north", "n", "y"),
    "level": ("level", "elevation", "elev", "height", "z", "rl", "h"),
    "breakline": ("breakline", "string", "line", "str"),
    "code": ("code", "feature", "description", "desc", "type"),
    "number": ("number", "point", "pt", "no", "nr", "id", "name"),
}
CENTRELINE_WORDS = {
    "easting": SURVEY_WORDS["easting"],
    "northing": SURVEY_WORDS["northing"],
    "radius": ("radius", "r", "rad"),
    "number": ("ip", *SURVEY_WORDS["number"]),
}


@dataclass(frozen=True)
class Layout:
    """How a file is read. `roles` has one entry a column; "ignore" skips it."""

    delimiter: str
    header: bool
    decimal_comma: bool
    roles: tuple[str, ...]


@dataclass(frozen=True)
class LineError:
    """One line that could not be used: its number in the file, the field, the text there and why."""

    line: int
    field: str
    text: str
    message: str


def lines_of(data: bytes) -> list[str]:
    """Text lines of a file; UTF-8, UTF-16 where its mark or its zeros say so, else Latin-1.

    Raises
    ------
    DesignInputError
        The file is no text.
    """
    text = data.decode(_encoding(data), errors="replace")
    at = text.find("\0")
    if at >= 0:
        line = text.count("\n", 0, at) + 1
        raise DesignInputError(
            "file", f"This is no text file: line {line} holds a zero character. Nothing was read; save it as text."
        )
    return text.splitlines()


def _encoding(data: bytes) -> str:
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return "utf-16"
    # UTF-16 without its mark: every other byte of a table of figures is zero.
    head = data[:1000]
    for first, name in ((1, "utf-16-le"), (0, "utf-16-be")):
        if len(head) >= 8 and head[first::2].count(0) > 0.9 * len(head[first::2]):
            return name
    try:
        data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return "latin-1"
    return "utf-8-sig"


def cells(line: str, delimiter: str) -> list[str]:
    """Fields of one line, without surrounding blanks and quotes; what follows the 200th is left out."""
    mark = DELIMITERS[delimiter]
    parts = line.split(mark, _MOST_COLUMNS)[:_MOST_COLUMNS]
    return [p.strip().strip('"') for p in parts]


def detect(lines: Sequence[str], words: dict[str, tuple[str, ...]], delimiter: str | None = None) -> Layout:
    """Delimiter (unless it is given), header and columns as the file suggests them."""
    sample = [ln[:_LINE_LOOKED_AT] for ln in lines[:_SAMPLE_LINES] if ln.strip() and not ln.lstrip().startswith("#")]
    best, score = delimiter or "comma", (-1.0, 0)
    for name in [delimiter] if delimiter else DELIMITERS:
        counts = [len(cells(ln, name)) for ln in sample]
        if not counts:
            continue
        usual = max(set(counts), key=counts.count)
        agreement = counts.count(usual) / len(counts) if usual >= 2 else 0.0
        # Blanks come last and commas may be decimal: a tie goes to the more telling delimiter.
        if (agreement, min(usual, 3)) > score:
            best, score = name, (agreement, min(usual, 3))
    rows = [cells(ln, best) for ln in sample]
    width = max((len(r) for r in rows), default=0)
    comma = best != "comma" and any(re.fullmatch(r"[+-]?\d+,\d+", c) for r in rows for c in r)
    header = bool(rows) and not any(_NUMBER.match(c) for c in rows[0] if c)
    roles = _roles_by_words(rows[0], words) if header else []
    roles += ["ignore"] * (width - len(roles))
    if not {"easting", "northing"} <= set(roles):
        roles = _roles_by_values(rows[1:] if header else rows, roles, words)
    return Layout(best, header, comma, tuple(roles[:width]))


def _roles_by_words(titles: list[str], words: dict[str, tuple[str, ...]]) -> list[str]:
    plain = [re.sub(r"[^a-z]", "", t.lower().split("(")[0].split("[")[0].removesuffix("_m")) for t in titles]
    roles = ["ignore"] * len(titles)
    for role, known in words.items():
        for word in known:
            if word in plain and roles[plain.index(word)] == "ignore":
                roles[plain.index(word)] = role
                break
    return roles


def _roles_by_values(rows: list[list[str]], known: list[str], words: dict[str, tuple[str, ...]]) -> list[str]:
    """Where the heading does not tell: numbers in the usual order, with a leading column of whole numbers as names.

    What the heading did tell stands. No column is taken for breaklines without its heading: a code read as one
    would join thousands of points criss-cross.
    """
    width, roles = len(known), list(known)
    numeric = [sum(bool(_NUMBER.match(r[c])) for r in rows if c < len(r) and r[c]) for c in range(width)]
    columns = [c for c in range(width) if rows and numeric[c] >= 0.5 * len(rows) and roles[c] == "ignore"]
    whole = columns and all("." not in r[columns[0]] and "," not in r[columns[0]] for r in rows if columns[0] < len(r))
    wanted = [r for r in ("easting", "northing", "level", "radius") if r in words and r not in roles]
    if whole and len(columns) > len(wanted):
        roles[columns[0]] = "number"
        columns = columns[1:]
    for c, role in zip(columns, wanted, strict=False):
        roles[c] = role
    rest = [r for r in ("code",) if r in words and r not in roles]
    for c in range(width):
        if roles[c] == "ignore" and c not in columns and rest and numeric[c] < 0.5 * max(len(rows), 1):
            roles[c] = rest.pop(0)
    return roles


def parse_number(text: str, decimal_comma: bool) -> float:
    """A finite number, or ValueError."""
    value = float(text.replace(",", ".") if decimal_comma else text)
    if value != value or value in (float("inf"), float("-inf")):
        raise ValueError(text)
    return value


def data_rows(lines: Sequence[str], layout: Layout) -> Iterator[tuple[int, list[str]]]:
    """(line number, fields) of every line that holds data; comments (#) and empty lines are passed over."""
    waiting = layout.header
    for number, line in enumerate(lines, start=1):
        bare = line.strip()
        if not bare or bare.startswith("#"):
            continue
        if waiting:
            waiting = False
            continue
        yield number, cells(line, layout.delimiter)
