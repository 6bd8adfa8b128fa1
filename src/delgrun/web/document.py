"""Documents made from what is declared: `python -m delgrun.web.document` writes them; a test holds them to it."""

from dataclasses import asdict
from pathlib import Path
from typing import Any

import orjson

from delgrun.jobs.client import Jobs
from delgrun.service.declared import (
    CHECKS,
    DIMENSIONS,
    FOOT_M,
    KINDS,
    PAPERS,
    PRODUCTS,
    READERS,
    SHEETS,
    SYSTEMS,
    TABLES,
    WORDS_IN_FEET,
    WRITERS,
    Field,
)
from delgrun.service.jobs import Keeper
from delgrun.service.projects import Projects
from delgrun.web.app import create_app, openapi_json

_PROJECT = Path(__file__).parents[3]


def openapi() -> bytes:
    """The API's document; nothing is connected to for it."""
    projects = Projects.at("mysql+pymysql://nobody@127.0.0.1/none")
    return openapi_json(create_app(projects, Keeper(projects, Jobs(Path())), None))


def _field(f: Field) -> dict[str, Any]:
    named = ("name", "dimension", "label", "aside", "says", "optional", "low", "high", "choices", "group")
    return {name: getattr(f, name) for name in named}


def fields_ts() -> bytes:
    """Fields, dimensions, checks and products as the front end needs them."""

    def const(name: str, value: Any, kind: str) -> str:
        return f"export const {name} = {orjson.dumps(value, option=orjson.OPT_INDENT_2).decode()} as const{kind};\n"

    dimensions = {
        name: {
            "unit": d.unit, "scale": d.scale, "digits": d.digits, "signed": d.signed, "typed": d.typed,
            "us": asdict(d.us) if d.us else None,
        }
        for name, d in DIMENSIONS.items()
    }  # fmt: skip
    # The first list of a kind goes by its name, a further one by its own behind that.
    rows = {
        k.name if i == 0 else f"{k.name}.{of.name}": {
            "kind": k.name,
            "name": of.name,
            "fields": list(map(_field, of.fields)),
        }
        for k in KINDS
        for i, of in enumerate(k.lists)
    }
    checks = [
        {"id": c.id, "name": c.name, "row": c.row, "place": c.place, "advice": c.advice, "group": c.group}
        for c in CHECKS
    ]
    readers = [{"name": r.name, "makes": r.makes, "suffixes": r.suffixes, "says": r.says} for r in READERS]
    tables = [{"name": t.name, "title": t.title, "options": t.options} for t in TABLES]
    writers = [{"name": w.name, "title": w.title, "says": w.says} for w in WRITERS]
    sheets = [{"name": s.name, "title": s.title, "scale": s.scale, "exaggerated": s.exaggerated} for s in SHEETS]
    products = [{"name": p.name, "when": p.when, "at": p.at} for p in PRODUCTS]
    return "\n".join(
        [
            "// Made by `python -m delgrun.web.document` from what the core declares; do not edit.\n",
            const("DIMENSIONS", dimensions, ""),
            const("FOOT_M", FOOT_M, ""),
            const("WORDS_IN_FEET", WORDS_IN_FEET, ""),
            const("INPUTS", {k.name: [_field(f) for f in k.fields] for k in KINDS}, ""),
            const("ROWS", rows, ""),
            const("CHECKS", checks, ""),
            const("PRODUCTS", products, ""),
            const("READERS", readers, ""),
            const("PAPERS", list(PAPERS), ""),
            const("SHEETS", sheets, ""),
            const("TABLES", tables, ""),
            const("WRITERS", writers, ""),
            "export type DimensionName = keyof typeof DIMENSIONS;",
            f"export type System = {' | '.join(repr(s) for s in SYSTEMS)};",
            "export type CheckId = (typeof CHECKS)[number]['id'];",
            "export type SheetName = (typeof SHEETS)[number]['name'];",
            "export type TableName = (typeof TABLES)[number]['name'];",
            "export type WriterName = (typeof WRITERS)[number]['name'];",
            "export type ProductName = (typeof PRODUCTS)[number]['name'];\n",
        ]
    ).encode()


def inputs_md() -> bytes:
    """Every field of every input, for people."""
    out = [
        "# Inputs",
        "",
        "Made by `python -m delgrun.web.document` from the declared fields; do not edit. Grades are ratios inside and",
        "percentages on screen. *First* is what a new input has.",
    ]
    for kind in KINDS:
        each = (
            (f"{kind.label}, each row" + (f" of {of.name}" if i else ""), of.fields) for i, of in enumerate(kind.lists)
        )
        for title, fields in ((kind.label, kind.fields), *each):
            if not fields:
                continue
            out += ["", f"## {title}", "", "| field | label | unit | from | to | first | |", "| --- " * 7 + "|"]
            for f in fields:
                low = "" if f.low is None else f"{'over ' if f.above else ''}{f.low:g}"
                high = "" if f.high is None else f"{f.high:g}"
                first = "" if f.first is None else str(f.first)
                words = ", ".join(w for w in (f.aside, f.says, "may be left free" if f.optional else "") if w)
                out.append(f"| `{f.name}` | {f.label} | {f.shown.unit} | {low} | {high} | {first} | {words} |")
    return ("\n".join(out) + "\n").encode()


def formats_md() -> bytes:
    """What can be read and written, for people."""
    out = [
        "# Formats",
        "",
        "Made by `python -m delgrun.web.document` from the registers; do not edit.",
        "",
        "## Read",
        "",
        "| what | brings | file names end in | holds |",
        "| --- | --- | --- | --- |",
        *(f"| {r.name} | {r.makes} | {', '.join(r.suffixes)} | {r.says} |" for r in READERS),
        "",
        "## Written",
        "",
        "| what | file names end in | holds |",
        "| --- | --- | --- |",
        *(f"| {w.title} | {w.suffix} | {w.says} |" for w in WRITERS),
        *(f"| sheets: {s.title} | .pdf, .dxf, .svg | on any paper, to any scale, of any stretch |" for s in SHEETS),
        *(f"| table: {t.title} | .csv, .xlsx; clipboard | heeds {', '.join(t.options) or 'nothing'} |" for t in TABLES),
    ]
    return ("\n".join(out) + "\n").encode()


DOCUMENTS = {
    _PROJECT / "docs" / "openapi.json": openapi,
    _PROJECT / "docs" / "inputs.md": inputs_md,
    _PROJECT / "docs" / "formats.md": formats_md,
    _PROJECT / "frontend" / "src" / "api" / "fields.ts": fields_ts,
}

if __name__ == "__main__":
    for path, made in DOCUMENTS.items():
        path.write_bytes(made())
