"""Text columns: which delimiter, which header, which column is what; and rows with their errors."""

import re
import unicodedata
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Literal

from delgrun.core.errors import DesignInputError
from delgrun.core.units import System

DELIMITERS = {"comma": ",", "semicolon": ";", "tab": "\t", "bar": "|", "blanks": None}
_SAMPLE_LINES = 200
# What is longer than this is no line of a table; only its beginning is looked at.
_LINE_LOOKED_AT = 10_000
MOST_COLUMNS = 200
NUMBER = re.compile(r"[+-]?(\d+[.,]?\d*|[.,]\d+)([eE][+-]?\d+)?\Z")

# Words of headings by role, without accents, in the order in which roles claim columns and words are preferred.
# Common practice in English; words of the trade in German, French, Spanish, Portuguese, Italian, Dutch, the
# Scandinavian languages and Polish, from memory.
SURVEY_WORDS = {
    "easting": (
        "easting", "eastings", "east", "e", "x", "eing", "este", "est", "ost", "oost", "osten", "ostwert",
        "rechtswert", "rechts", "rw", "oest", "wschod",
    ),
    "northing": (
        "northing", "northings", "north", "n", "y", "ning", "norte", "nord", "noord", "norden", "nordwert",
        "hochwert", "hoch", "hw", "polnoc",
    ),
    "level": (
        "level", "levels", "elevation", "elev", "elv", "el", "height", "z", "rl", "h", "ht", "hgt", "altitude", "alt",
        "cota", "quota", "cote", "hoehe", "hohe", "hoogte", "hojd", "hoyde", "hojde", "kote", "altura", "elevacion",
        "elevacao", "elevazione", "wysokosc", "rzedna",
    ),
    "breakline": (
        "breakline", "string", "line", "str", "polyline", "linestring", "bruchkante", "bruchlinie", "linie", "linea",
        "ligne", "linha", "lijn", "linje",
    ),
    "code": (
        "code", "feature", "description", "desc", "descr", "type", "cd", "fcode", "featurecode", "remark", "remarks",
        "codigo", "codice", "kode", "kod", "beschreibung", "bezeichnung", "descripcion", "descricao", "descrizione",
        "libelle", "omschrijving", "anm", "anmerkung", "bemerkung",
        "kommentar", "comment", "comments", "note", "notes", "nota", "remarque",
    ),
    "number": (
        "number", "point", "pt", "no", "nr", "id", "name", "pnt", "num", "pointid", "pointno", "ptno", "ptid",
        "pointnumber", "punkt", "punktnummer", "pktnr", "pkt", "nummer", "punto", "numero", "ponto", "punt",
        "matricule",
    ),
}  # fmt: skip
CENTRELINE_WORDS = {
    "easting": SURVEY_WORDS["easting"],
    "northing": SURVEY_WORDS["northing"],
    "radius": ("radius", "r", "rad", "radio", "rayon", "raggio", "raio", "halbmesser"),
    "transition_in": (
        "transitionin", "transition", "in", "spiralin", "spiral", "clothoid", "entry", "ls", "lin", "klothoide",
        "clothoide", "clotoide", "transicion", "transizione",
    ),
    "transition_out": (
        "transitionout", "transition", "out", "spiralout", "spiral", "clothoid", "exit", "ls", "lout", "klothoide",
        "clothoide", "clotoide", "transicion", "transizione",
    ),
    "number": ("ip", *SURVEY_WORDS["number"]),
}  # fmt: skip
PROFILE_WORDS = {
    "chainage": (
        "chainage", "chainages", "station", "stations", "sta", "ch", "stationing", "distance", "dist", "pk", "km",
        "stationierung", "kilometrierung", "abscisse", "progressiva", "estaca", "dkm", "metrering", "kilometraz", "x",
    ),
    "level": ("design", "finished", *SURVEY_WORDS["level"], "gradiente", "y"),
    "curve": (
        "curve", "curvelength", "vc", "lvc", "length", "l", "verticalcurve", "ausrundung", "raccord", "raccordo",
    ),
    "number": ("ip", "pvi", "vpi", *SURVEY_WORDS["number"]),
}  # fmt: skip
LINE_WORDS = {role: SURVEY_WORDS[role] for role in ("number", "easting", "northing", "level")}
UTILITY_WORDS = {
    "easting": SURVEY_WORDS["easting"],
    "northing": SURVEY_WORDS["northing"],
    "level": ("top", "crown", "wire", *SURVEY_WORDS["level"]),
    "name": ("service", "utility", "pipe", "cable", *SURVEY_WORDS["breakline"], *SURVEY_WORDS["number"]),
}  # fmt: skip
# Words beside the one that tells: “Point X (m)”, “Grid Easting”, “Reduced level”.
_BESIDE = frozenset((
    "m", "metre", "metres", "meter", "meters", "ft", "feet", "foot", "usft", "us", "survey", "coord", "coords",
    "coordinate", "coordinates", "grid", "utm", "local", "ground", "reduced", "final", "value", "point", "pt", "gps",
    "mean", "length", "koordinate", "koordinaten", "coordenada", "coordonnee",
))  # fmt: skip
# Lengths a file's figures may be in [m]; the international foot is 0.3048 m, the survey foot 1200/3937 m: two
# millimetres in a kilometre apart (NIST, "US survey foot", 2022).
Unit = Literal["metre", "foot", "us_survey_foot"]
UNITS: dict[str, float] = {"metre": 1.0, "foot": 0.3048, "us_survey_foot": 1200 / 3937}
_SURVEY_FEET = re.compile(
    r"(^|[^a-z])(usft|sft|ftus|us[ _.-]*(survey)?[ _.-]*(ft|feet|foot)|survey[ _.-]*(ft|feet|foot))([^a-z]|$)"
)
_FEET = re.compile(r"(^|[^a-z])(ft|feet|foot)([^a-z]|$)")
_DEGREES = re.compile(r"(^|[^a-z])(lat|lon|long|lng|latitude|longitude|deg|degrees)([^a-z]|$)")


@dataclass(frozen=True)
class Layout:
    """How a file is read. `roles` has one entry a column; "ignore" skips it; `unit` is one of `UNITS`."""

    delimiter: str
    header: bool
    decimal_comma: bool
    roles: tuple[str, ...]
    unit: str = "metre"


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
    parts = line.split(mark, MOST_COLUMNS)[:MOST_COLUMNS]
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
    header = bool(rows) and not any(NUMBER.match(c) for c in rows[0] if c)
    titles = rows[0] if header else _commented_titles(lines, best, width)
    roles = _roles_by_words(titles, words)
    roles += ["ignore"] * (width - len(roles))
    if not {role for role in ("chainage", "easting", "northing", "level", "code") if role in words} <= set(roles):
        roles = _roles_by_values(rows[1:] if header else rows, roles, words)
    return Layout(best, header, comma, tuple(roles[:width]), unit_said(titles, tuple(roles)))


def _commented_titles(lines: Sequence[str], delimiter: str, width: int) -> list[str]:
    """Headings that stand in the last comment above the first row, if it has a word for each column."""
    above = ""
    for line in lines[:_SAMPLE_LINES]:
        if line.strip() and not line.lstrip().startswith("#"):
            break
        above = line.strip().lstrip("#") or above
    for mark in (delimiter, "blanks"):
        titles = cells(above.strip(), mark)
        if len(titles) == width and not any(NUMBER.match(t) for t in titles):
            return titles
    return []


# What figures are in where a file does not say: what whoever brings it reads in.
_read_in: ContextVar[System] = ContextVar("read_in", default="metric")
_UNSAID: dict[System, str] = {"metric": "metre", "us": "foot", "us_survey": "us_survey_foot"}


@contextmanager
def read_in(system: System) -> Iterator[None]:
    """In the block figures of files that name no unit are in this system's."""
    before = _read_in.set(system)
    try:
        yield
    finally:
        _read_in.reset(before)


def read_in_now() -> System:
    """What is read in here, for another process to read in."""
    return _read_in.get()


def unsaid_unit() -> str:
    """The unit of figures that name none, one of `UNITS`."""
    return _UNSAID[_read_in.get()]


def unit_said(titles: Sequence[str], roles: Sequence[str]) -> str:
    """The unit that the headings of coordinates name; where they name none, the one that is read in."""
    for title, role in zip(titles, roles, strict=False):
        if role in ("easting", "northing", "level"):
            if _SURVEY_FEET.search(title.lower()):
                return "us_survey_foot"
            if _FEET.search(title.lower()):
                return "foot"
    return unsaid_unit()


def says_degrees(titles: Sequence[str]) -> str:
    """The heading that names latitude or longitude; empty where none does."""
    return next((t for t in titles if _DEGREES.search(t.lower().replace("_", " "))), "")


def _roles_by_words(titles: list[str], words: dict[str, tuple[str, ...]]) -> list[str]:
    """The role each heading names; of several that name one role, the one with the plainest word."""
    plain = [_plain_words(t) for t in titles]
    roles = ["ignore"] * len(titles)
    for role, known in words.items():
        best = min(
            ((_telling(t, known), i) for i, t in enumerate(plain) if roles[i] == "ignore"),
            default=(len(known), 0),
        )
        if best[0] < len(known):
            roles[best[1]] = role
    return roles


def _plain_words(title: str) -> list[str]:
    """Lower-case words of a heading without accents; “pointX” and “POINT_X” are two words, “EASTING” is one."""
    flat = unicodedata.normalize("NFKD", title.replace("ø", "o").replace("ß", "ss"))
    flat = "".join(c for c in flat if not unicodedata.combining(c)).lstrip("\ufeff#%/ ")
    flat = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", flat).lower()
    flat = re.sub(r"(coordinates?|coords?|koordinaten?)", r" \1 ", flat)
    return re.findall(r"[a-z]+", flat)


def _telling(title: list[str], known: tuple[str, ...]) -> int:
    """Place of the word that makes a heading one of these; the number of words where none does."""
    together = "".join(title)
    if together in known:
        return known.index(together)
    # A heading of several words tells if nothing but words of this role, or beside it, are there.
    rest = [w for w in title if w in known] if all(w in known or w in _BESIDE for w in title) else []
    return min((known.index(w) for w in rest), default=len(known))


def _roles_by_values(rows: list[list[str]], known: list[str], words: dict[str, tuple[str, ...]]) -> list[str]:
    """Where the heading does not tell: numbers in the usual order, with a leading column of whole numbers as names.

    What the heading did tell stands. No column is taken for breaklines without its heading: a code read as one
    would join thousands of points criss-cross.
    """
    width, roles = len(known), list(known)
    numeric = [sum(bool(NUMBER.match(r[c])) for r in rows if c < len(r) and r[c]) for c in range(width)]
    columns = [c for c in range(width) if rows and numeric[c] >= 0.5 * len(rows) and roles[c] == "ignore"]
    whole = columns and all("." not in r[columns[0]] and "," not in r[columns[0]] for r in rows if columns[0] < len(r))
    usual = ("chainage", "easting", "northing", "level", "radius", "transition_in", "transition_out", "curve")
    wanted = [r for r in usual if r in words and r not in roles]
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
    plain = text.strip().replace(",", ".") if decimal_comma else text.strip()
    if not NUMBER.match(plain):
        # Python would take 1_0 for ten.
        raise ValueError(f"{text} is no number")
    value = float(plain)
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
