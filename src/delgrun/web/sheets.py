"""Sheets of paper: what pages there are, a look at one, and all of them as a file."""

from flask import Response

from delgrun.service import sheets
from delgrun.service.sheets import SheetWish
from delgrun.web import bodies, plan_outputs
from delgrun.web.answers import answer, blueprint, file_answer, use_cases

api = blueprint("sheets", "/api/projects/<int:project_id>/sheets/<sheet>")


def _wish(query: bodies.SheetQuery) -> SheetWish:
    return SheetWish(
        slot=query.slot,
        from_m=query.from_m,
        to_m=query.to_m,
        interval_m=query.interval_m,
        paper=query.paper,
        scale=query.scale,
        exaggeration=query.exaggeration,
        system=query.units,
    )


@api.get("", responses={200: plan_outputs.SheetOut})
def pages(path: bodies.SheetPath, query: bodies.SheetQuery) -> Response:
    """What each page shows."""
    return answer({"pages": sheets.told(use_cases(), path.project_id, query.revision, path.sheet, _wish(query))})


@api.get("/page")
def page(path: bodies.SheetPath, query: bodies.SheetPageQuery) -> Response:
    """One page to look at, as SVG."""
    drawn = sheets.page(use_cases(), path.project_id, query.revision, path.sheet, _wish(query), query.page)
    return Response(drawn, 200, mimetype="image/svg+xml")


@api.get("/file")
def sheet_file(path: bodies.SheetPath, query: bodies.SheetFileQuery) -> Response:
    """All pages as PDF, SVG (several as a ZIP) or DXF."""
    made = sheets.file(use_cases(), path.project_id, query.revision, path.sheet, _wish(query), query.form)
    return file_answer(*made)
