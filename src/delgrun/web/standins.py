"""Doors of the services that only pretend to be there; each speaks as a real one does."""

import math

from flask import Blueprint, Response, abort, request

from delgrun.standins import aerial

standins = Blueprint("standins", __name__, url_prefix="/standins")


@standins.get("/aerial")
def aerial_picture() -> Response:
    """GetMap of a Web Map Service: a picture of BBOX (west, south, east, north), WIDTH by HEIGHT pixels."""
    if request.headers.get("Sec-Fetch-Site") in ("cross-site", "same-site"):
        abort(403, "Requests from another site are refused.")
    asked = {name.upper(): value for name, value in request.args.items()}
    if asked.get("REQUEST", "").lower() != "getmap":
        abort(400, "Only GetMap is answered here.")
    try:
        west, south, east, north = (float(v) for v in asked["BBOX"].split(","))
        width, height = int(asked["WIDTH"]), int(asked["HEIGHT"])
    except (KeyError, ValueError):
        abort(400, "GetMap needs BBOX (west,south,east,north), WIDTH and HEIGHT.")
    largest = aerial.LARGEST_PIXELS
    if not (0 < width <= largest and 0 < height <= largest):
        abort(400, f"A picture has from 1 to {largest} pixels each way.")
    if not all(math.isfinite(v) and abs(v) < 1e8 for v in (west, south, east, north)) or west >= east or south >= north:
        abort(400, "BBOX is no box: west, south, east, north.")
    made = Response(aerial.picture((west, south, east, north), width, height), 200, mimetype="image/png")
    made.headers["Cache-Control"] = "max-age=3600"
    return made
