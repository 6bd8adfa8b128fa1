"""Several surveys as one: points beside points, and patches that take the place of older ground."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground.tin import build_tin
from delgrun.core.survey.points import Joins, Survey


@dataclass(frozen=True)
class Layer:
    """One survey among several, how it stands to those before it, and how its own ground is bounded [m]."""

    survey: Survey
    joins: Joins
    longest_edge_m: float


def joined(layers: Sequence[Layer]) -> Survey:
    """The points and breaklines of all, in the order in which they came.

    Of older surveys, points within the ground of a patch are left out, and a breakline that crosses it ends before
    it and goes on behind it.

    Raises
    ------
    DesignInputError
        A patch makes no ground of its own.
    """
    out = layers[0].survey
    for layer in layers[1:]:
        out = _beside(_outside(out, layer) if layer.joins == "replaces" else out, layer.survey)
    return out


def longest_edge_of(lengths_m: Sequence[float]) -> float:
    """The longest outer edge of several surveys together: the longest of theirs, and no bound where one has none."""
    return 0.0 if 0 in lengths_m else max(lengths_m)


def _texts(survey: Survey) -> tuple[NDArray[np.str_], NDArray[np.str_]]:
    none = np.zeros(len(survey.xyz), dtype="U1")
    return (survey.name if len(survey.name) else none), (survey.code if len(survey.code) else none)


def _beside(older: Survey, newer: Survey) -> Survey:
    (name, code), (more_names, more_codes) = _texts(older), _texts(newer)
    first = len(older.xyz)
    return Survey(
        np.concatenate([older.xyz, newer.xyz]),
        [*older.breaklines, *(line + first for line in newer.breaklines)],
        np.concatenate([name, more_names]),
        np.concatenate([code, more_codes]),
    )


def _outside(older: Survey, patch: Layer) -> Survey:
    """What of a survey lies beyond the ground of a patch."""
    own = build_tin(patch.survey.xyz, patch.survey.breaklines, patch.longest_edge_m)
    return older.only(np.isnan(own.level_at(older.xyz[:, 0], older.xyz[:, 1])))
