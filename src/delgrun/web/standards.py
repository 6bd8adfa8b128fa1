"""Families of limits: what they offer, and an office's own as tables."""

from flask import Response

from delgrun.service import standards
from delgrun.web import limit_bodies, limit_outputs
from delgrun.web.answers import answer, blueprint, file_answer, use_cases

api = blueprint("standards", "/api/standards")


@api.get("", responses={200: limit_outputs.StandardsOut})
def list_standards() -> Response:
    return answer({"standards": standards.all_of_them(use_cases().database)})


@api.post("", responses={200: limit_outputs.StandardAdded})
def add_standard(body: limit_bodies.OwnStandardIn) -> Response:
    """Keep a table of limits as a set of the office's own, for all projects."""
    return answer({"id": standards.add(use_cases().database, body.name.strip(), body.text)})


@api.delete("/<standard>", responses={200: limit_outputs.Done})
def remove_standard(path: limit_bodies.StandardPath) -> Response:
    """Take a set of the office's own away; limits that were taken from it stay what they are."""
    standards.remove(use_cases().database, path.standard)
    return answer({"done": True})


@api.get("/<standard>/offered", responses={200: limit_outputs.OfferedOut})
def offered_limits(path: limit_bodies.StandardPath, query: limit_bodies.OfferQuery) -> Response:
    """What a family offers for a road: each value with its formula and source."""
    return answer({"values": standards.offered(use_cases().database, path.standard, query.wish)})


@api.get("/<standard>/file")
def standard_file(path: limit_bodies.StandardPath) -> Response:
    """A family as a table of limits, to make one's own from."""
    name, text = standards.as_file(use_cases().database, path.standard)
    return file_answer(name, "text/csv; charset=utf-8", text.encode())
