"""What all readers of LandXML share: plain names, units, and what a file that can't be read is told."""

import io
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from delgrun.core.errors import DesignInputError
from delgrun.exchange.text_columns import UNITS

NAMESPACE = "http://www.landxml.org/schema/LandXML-1.2"
STRAIGHT, ARC, SPIRAL = "Line", "Curve", "Spiral"
_SAY_EACH = 50_000
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


def elements(data: bytes, *tags: str, say: Callable[[float, int], None] = lambda *_: None) -> Iterator[tuple[str, Any]]:
    """Elements with these tags as they end, whatever their namespace, and what went wrong in words."""
    with in_words():
        source = io.BytesIO(data)
        for number, (_, node) in enumerate(ElementTree.iterparse(source, events=("end",))):
            if number % _SAY_EACH == 0:
                say(source.tell() / len(data), number)
            tag = plain_tag(node.tag)
            if tag in tags:
                yield tag, node


def in_metres(data: bytes, *tags: str) -> Iterator[tuple[str, Any, float]]:
    """The same with what a length is in the file [m]; each is emptied once it was looked at."""
    unit = 1.0
    for tag, node in elements(data, "Metric", "Imperial", *tags):
        if tag in tags:
            yield tag, node, unit
            node.clear()
        else:
            unit = unit_of(node)
