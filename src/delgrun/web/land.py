"""The surveyed ground, piece by piece: tiles of the map, spots, cuts."""

from flask import Response

from delgrun.service import jobs, land, pictures, surveys
from delgrun.service.case import Case
from delgrun.web import bodies, outputs
from delgrun.web.answers import answer, blueprint, keeper, packed, saved, saving, use_cases

api = blueprint("land", "/api/projects/<int:project_id>/land")


def _case(path: bodies.ProjectPath, revision: int) -> Case:
    projects = use_cases()
    return projects.case(projects.states.at(path.project_id, revision))


@api.get("/tile", responses={200: outputs.TileOut})
def tile(path: bodies.ProjectPath, query: bodies.TileQuery) -> Response:
    """One tile of the map."""
    q = query
    return packed(land.tile_answer(_case(path, q.revision), q.zoom, q.column, q.row, q.interval_m))


@api.get("/tiles", responses={200: outputs.TilesOut})
def tiles(path: bodies.ProjectPath, query: bodies.TilesQuery) -> Response:
    """Some tiles of the map at once: those that a change has touched."""
    return packed(land.tiles_answer(_case(path, query.revision), query.zoom, query.at, query.interval_m))


@api.post("/picture", responses={200: outputs.Saved})
def take_picture(path: bodies.ProjectPath, body: bodies.PictureIn) -> Response:
    """Lay an uploaded picture under the map; `said` is what there is to know of it."""
    revision, said = pictures.take(use_cases(), saving(path, body), body.upload_id, body.world)
    return saved(path, revision, said=said)


@api.get("/picture")
def picture_tile(path: bodies.ProjectPath, query: bodies.PictureQuery) -> Response:
    """A tile of a picture of one's own; nothing where it shows nothing."""
    q = query
    data = pictures.tile(use_cases(), path.project_id, q.picture, q.zoom, q.column, q.row)
    if data is None:
        return Response(status=204)
    made = Response(data, 200, mimetype="image/png" if data.startswith(b"\x89PNG") else "image/jpeg")
    # A picture never changes: another one has another number.
    made.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return made


def _both(path: bodies.ProjectPath, query: bodies.AgainstQuery) -> tuple[Case, Case]:
    """The ground that another one is held against, and that one."""
    projects = use_cases()
    before = projects.states.at(path.project_id, query.against_revision)
    return projects.case(surveys.alone(before, query.against_slot)), _case(path, query.revision)


@api.get("/difference", responses={200: outputs.DifferenceOut})
def difference(path: bodies.ProjectPath, query: bodies.AgainstQuery) -> Response:
    """What lies between the ground and another: one of its surveys alone, or the ground as of another revision."""
    return answer(land.difference_answer(*_both(path, query)))


@api.get("/difference/tile", responses={200: outputs.DifferenceTileOut})
def difference_tile(path: bodies.ProjectPath, query: bodies.DifferenceTileQuery) -> Response:
    """By how much the ground is above another one, pixel by pixel of a tile."""
    return packed(land.difference_tile_answer(*_both(path, query), query.zoom, query.column, query.row))


@api.get("/spot", responses={200: outputs.SpotOut})
def spot(path: bodies.ProjectPath, query: bodies.SpotQuery) -> Response:
    """Level, slope and nearest surveyed point at one place; null where there is no ground."""
    return answer(land.spot_answer(_case(path, query.revision), query.easting_m, query.northing_m))


@api.get("/triangle", responses={200: outputs.TriangleOut})
def triangle(path: bodies.ProjectPath, query: bodies.SpotQuery) -> Response:
    """The triangle at one place, and the edge of it that is nearest; null without ground."""
    return answer(land.triangle_answer(_case(path, query.revision), query.easting_m, query.northing_m))


@api.get("/birds-eye", responses={200: outputs.BirdsEyeOut})
def birds_eye(path: bodies.ProjectPath, query: bodies.BoxQuery) -> Response:
    """The ground within a box as triangles to be looked at from the air."""
    q = query
    return packed(land.birds_eye_answer(_case(path, q.revision), (q.west_m, q.south_m, q.east_m, q.north_m)))


@api.post("/suspects", responses={200: outputs.JobStarted})
def find_suspects(path: bodies.ProjectPath, body: bodies.JobIn) -> Response:
    """Look for points that may be no ground: a job in the background."""
    number = jobs.start(use_cases(), path.project_id, "suspects", body.revision, "survey")
    keeper().wake()
    return answer({"id": number})


@api.get("/suspects/newest", responses={200: outputs.NewestSuspects})
def newest_suspects(path: bodies.ProjectPath) -> Response:
    return answer({"job": jobs.status(use_cases(), path.project_id, "suspects")})


@api.post("/cut", responses={200: outputs.CutOut})
def cut(path: bodies.ProjectPath, body: bodies.CutIn) -> Response:
    """The ground along straight legs between picked points."""
    return packed(land.cut_answer(_case(path, body.revision), body.line))


@api.post("/changes", responses={200: outputs.Saved})
def change(path: bodies.ProjectPath, body: bodies.GroundIn) -> Response:
    """Change the ground by hand: take points out, swap an edge, draw a breakline, take triangles away."""
    revision, slot = use_cases().change_ground(saving(path, body), [r.model_dump() for r in body.rows], body.note)
    return saved(path, revision, slot)


@api.post("/changes/<slot>/back", responses={200: outputs.Saved})
def take_back(path: bodies.GroundPath, body: bodies.Base) -> Response:
    """Take one change of the ground back; all others stay."""
    return saved(path, use_cases().take_back_change(saving(path, body), path.slot))
