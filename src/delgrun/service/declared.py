"""What is declared in the core, for whoever makes bodies, forms and documents of it."""

from collections.abc import Mapping

from delgrun.core.centreline.bends import Bend
from delgrun.core.centreline.carry import Keeps
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.speeds import BendSpeed
from delgrun.core.drawing.paper import PAPERS, Paper
from delgrun.core.fields import Field, fields_of, made_of
from delgrun.core.first_line.wishes import Depths, Drains
from delgrun.core.gradeline.edit_kinds import EDITS, Edit
from delgrun.core.gradeline.grade_line import COLOURS, Status
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.difference import Difference
from delgrun.core.ground.edits import MOST_ROWS as MOST_GROUND_ROWS
from delgrun.core.ground.edits import GroundEdit
from delgrun.core.ground.spot import TriangleAt
from delgrun.core.ground.tiles import HIGHEST_ZOOM, LOWEST_ZOOM
from delgrun.core.inputs import CENTRELINE, KINDS, SECTION, SURVEY, InputKind
from delgrun.core.limits.checks import CHECKS
from delgrun.core.limits.clashes import Clash
from delgrun.core.limits.summary import CheckRow, ValueRow
from delgrun.core.search.gap import Why
from delgrun.core.standards.standard import Offered, RoadClass, Terrain, Tier, Wish
from delgrun.core.survey.points import Joins
from delgrun.core.survey.suspects import Suspect
from delgrun.core.survey.suspects import Why as SuspectWhy
from delgrun.core.units import (
    DIMENSIONS,
    FOOT_M,
    SYSTEMS,
    WORDS_IN_FEET,
    System,
    Written,
    cleaned,
    has_marks,
    one_line,
    plain_chainage,
    said,
    spoken,
)
from delgrun.exchange.alignments import Alignment
from delgrun.exchange.drawing_forms import DrawingForm
from delgrun.exchange.readers import READERS
from delgrun.exchange.survey_parts import PartRole
from delgrun.exchange.tables import Format
from delgrun.exchange.text_columns import Unit, read_in
from delgrun.service.check_figures import Finding
from delgrun.service.files import WRITERS, WriterName
from delgrun.service.products import PRODUCTS
from delgrun.service.sheets import SHEETS, SheetName
from delgrun.service.tables import TABLES, TableName

__all__ = [
    "CENTRELINE",
    "CHECKS",
    "COLOURS",
    "DIMENSIONS",
    "EDITS",
    "FOOT_M",
    "HIGHEST_ZOOM",
    "KINDS",
    "LOWEST_ZOOM",
    "MOST_GROUND_ROWS",
    "PAPERS",
    "PRODUCTS",
    "READERS",
    "SECTION",
    "SHEETS",
    "SURVEY",
    "SYSTEMS",
    "TABLES",
    "WORDS_IN_FEET",
    "WRITERS",
    "Alignment",
    "Bend",
    "BendSpeed",
    "CentrelineIp",
    "CheckRow",
    "Clash",
    "Depths",
    "Difference",
    "Drains",
    "DrawingForm",
    "Edit",
    "Field",
    "Finding",
    "Format",
    "GroundEdit",
    "InputKind",
    "Ip",
    "Joins",
    "Keeps",
    "Offered",
    "Paper",
    "PartRole",
    "RoadClass",
    "SheetName",
    "Status",
    "Suspect",
    "SuspectWhy",
    "System",
    "TableName",
    "Terrain",
    "Tier",
    "TriangleAt",
    "Unit",
    "ValueRow",
    "Why",
    "Wish",
    "WriterName",
    "Written",
    "cleaned",
    "fields_of",
    "has_marks",
    "one_line",
    "plain_chainage",
    "read_in",
    "said",
    "spoken",
]  # fmt: skip


def edit_of(row: Mapping[str, object]) -> Edit:
    """An edit from its plain fields; `what` says which."""
    return made_of(EDITS[str(row["what"])], {name: value for name, value in row.items() if name != "what"})
