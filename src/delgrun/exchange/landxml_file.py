"""What all readers of LandXML share: plain names, units, and what a file that can't be read is told."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from delgrun.core.errors import DesignInputError
from delgrun.exchange.text_columns import UNITS

NAMESPACE = "http://www.landxml.org/schema/LandXML-1.2"
STRAIGHT, ARC, SPIRAL = "Line", "Curve", "Spiral"
# linearUnit of the LandXML 1.2 schema.
LINEAR_UNITS = {"meter": "metre", "foot": "foot", "USSurveyFoot": "us_survey_foot"}


def unit_of(node: Any) -> float:
    """What the element Metric or Imperial says a length in the file is. [m]

    Raises
    ------
    DesignInputError
        A unit that is not known: read as another one, all would lie in the wrong place.
    """
    said = node.get("linearUnit", "meter")
    if said not in LINEAR_UNITS:
        raise DesignInputError("file", f"The file's unit “{said}” is not known here: export it in metres or feet.")
    return UNITS[LINEAR_UNITS[said]]


def plain_tag(tag: str) -> str:
    """A tag without its namespace."""
    return tag.rsplit("}", 1)[-1]


@contextmanager
def in_words() -> Iterator[None]:
    """Whatever goes wrong with a file's XML or figures is a DesignInputError; those that are one stay as they are."""
    try:
        yield
    except DesignInputError:
        raise
    except DefusedXmlException as e:
        raise DesignInputError(
            "file", "The file defines entities of its own, which is not allowed: it was not read."
        ) from e
    except (ElementTree.ParseError, ValueError, TypeError, IndexError, KeyError, ZeroDivisionError) as e:
        raise DesignInputError("file", f"This is no LandXML that can be read: {e}.") from e
