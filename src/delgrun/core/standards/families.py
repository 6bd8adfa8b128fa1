"""The families that are offered: by stopping sight in metric and in US customary units, and by friction.

Values are those of `tests/reference/values.json` and of the standards' own tables as far as they are remembered.
"""

from dataclasses import replace
from typing import Any

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.limits.limit_set import LimitSet, ip_spacing_m, shortest_curve_m
from delgrun.core.limits.sources import LimitSource
from delgrun.core.sight.passing import us_passing_sight_ft
from delgrun.core.standards.standard import PRACTICE, Offered, Standard, Wish, steepest, steepest_us
from delgrun.core.stopping import (
    FORMS,
    FRICTION,
    METRIC,
    US_CUSTOMARY,
    Stopping,
    crest_k,
    design_stopping_sight_m,
    printed,
    sag_k,
)
from delgrun.core.units import FOOT_M, MILE_KM

_FOOT = FOOT_M["us"]
# What a new project in feet is designed for.
FIRST_SPEED_MPH = 45.0
_POLICY = "A Policy on Geometric Design of Highways and Streets"
_GUIDE = "Guide to Road Design, Part 3: Geometric Design"


def _grades(wish: Wish, source: str, most: float | None = None) -> list[Offered]:
    where = f"{wish.road_class} road in {wish.terrain} ground"
    most = steepest(wish) if most is None else most
    return [
        Offered(field="max_grade", value=most, formula=f"table by speed, {where}", source=source),
        Offered(field="min_grade", value=0.005, formula="0.5 %, to drain", source=PRACTICE),
    ]


def _lengths(shortest_m: float, formula: str, unit_m: float = 1.0) -> list[Offered]:
    spacing = ip_spacing_m(shortest_m, unit_m)
    ours = "ours: a third more than the shortest curve"
    return [
        Offered(field="min_curve_length_m", value=shortest_m, formula=formula, source=PRACTICE),
        Offered(field="min_ip_spacing_m", value=spacing, formula=ours, source="Delgrun", from_memory=False),
    ]


def _drivers(
    reaction_s: float,
    deceleration: float,
    eye_m: float,
    object_m: float,
    source: str,
    lamp: tuple[float, str],
    passing: tuple[float, str] = (120.0, "120 m"),
) -> list[Offered]:
    said = {
        "reaction_s": reaction_s, "deceleration_m_s2": deceleration, "eye_m": eye_m, "object_m": object_m,
    }  # fmt: skip
    lights = f"headlights {lamp[1]} up, their beam 1 degree upwards"
    return [
        *(
            Offered(field=name, value=value, formula="as it stands there", source=source)
            for name, value in said.items()
        ),
        Offered(field="headlight_m", value=lamp[0], formula=lights, source=source),
        Offered(field="headlight_deg", value=1.0, formula=lights, source=source),
        Offered(field="shortest_passing_m", value=passing[0], formula=passing[1], source=PRACTICE),
    ]


def _metric(wish: Wish) -> list[Offered]:
    v = wish.design_speed_kmh
    sight = design_stopping_sight_m(v)
    how = "0.278 V t + 0.039 V^2 / a, t 2.5 s, a 3.4 m/s2, up to 5 m"
    shortest = shortest_curve_m(v)
    return [
        *_grades(wish, _POLICY),
        Offered(field="min_crest_k_m_per_pct", value=crest_k(sight), formula=f"S^2 / 658, S = {how}", source=_POLICY),
        Offered(
            field="min_sag_k_m_per_pct", value=sag_k(sight), formula=f"S^2 / (120 + 3.5 S), S = {how}", source=_POLICY
        ),
        *_lengths(shortest, "0.6 m for each km/h, up to 5 m"),
        *_drivers(2.5, 3.4, 1.08, 0.60, _POLICY, (0.6, "0.6 m")),
    ]


def us_stopping_ft(mph: float) -> float:
    """Stopping sight on the level in feet, up to 5 ft as it is printed: 1.47 V t + 1.075 V^2 / a, a 11.2 ft/s2.

    >>> us_stopping_ft(60)
    570.0
    """
    stopping = Stopping(speed_kmh=mph * MILE_KM, deceleration_m_s2=11.2 * _FOOT, form=US_CUSTOMARY)
    return float(round(stopping.design_m / _FOOT))


def us_crest_k(sight_ft: float) -> float:
    """Least K of a crest in feet per percent, eye 3.5 ft, object 2.0 ft: S^2 / 2158, as printed."""
    return printed(sight_ft**2 / 2158)


def us_sag_k(sight_ft: float) -> float:
    """Least K of a sag in feet per percent by headlights: S^2 / (400 + 3.5 S), as printed."""
    return printed(sight_ft**2 / (400 + 3.5 * sight_ft))


def _customary(wish: Wish) -> list[Offered]:
    # A value that is printed in feet is so many of the feet that the road is measured in.
    foot, mph = wish.foot_m, wish.design_speed_kmh / MILE_KM
    sight = us_stopping_ft(mph)
    how = "1.47 V t + 1.075 V^2 / a in mph and feet, t 2.5 s, a 11.2 ft/s2, up to 5 ft"
    crest, sag = us_crest_k(sight) * foot, us_sag_k(sight) * foot
    shortest = float(5 * np.ceil(3 * mph / 5 - 1e-9)) * foot
    return [
        *_grades(wish, _POLICY, steepest_us(wish)),
        Offered(field="min_crest_k_m_per_pct", value=crest, formula=f"S^2 / 2158, S = {how}", source=_POLICY),
        Offered(field="min_sag_k_m_per_pct", value=sag, formula=f"S^2 / (400 + 3.5 S), S = {how}", source=_POLICY),
        *_lengths(shortest, "3 ft for each mph, up to 5 ft", foot),
        *_drivers(2.5, 11.2 * foot, 3.5 * foot, 2.0 * foot, _POLICY, (2.0 * foot, "2 ft"), (400 * foot, "400 ft")),
        Offered(
            field="passing_sight_m", value=us_passing_sight_ft(mph) * foot, formula="table by speed", source=_POLICY
        ),
    ]


def friction_sight_m(speed_kmh: float, reaction_s: float, friction: float) -> float:
    """Stopping sight on the level: R V / 3.6 + V^2 / (254 d). [m]

    >>> round(friction_sight_m(80, 2.0, 0.36), 2)
    114.44
    """
    return FORMS[FRICTION].level_m(speed_kmh, reaction_s, 9.81 * friction)


def _friction(wish: Wish) -> list[Offered]:
    v = wish.design_speed_kmh
    reaction, d = (2.0, 0.36) if wish.tier == "least" else (2.5, 0.26)
    sight = friction_sight_m(v, reaction, d)
    how = f"R V / 3.6 + V^2 / (254 d), R {reaction} s, d {d}"
    comfort, lit = v**2 / (1296 * 0.05 * 9.81), sight**2 / (150 + 3.5 * sight)
    sag, why = (
        (comfort, "comfort: V^2 / (1296 a), a 0.05 g")
        if wish.tier == "least"
        else max((comfort, "comfort: V^2 / (1296 a), a 0.05 g"), (lit, f"headlights: S^2 / (150 + 3.5 S), S = {how}"))
    )
    constant = 200 * (np.sqrt(1.1) + np.sqrt(0.2)) ** 2
    crest = float(sight**2 / constant)
    shortest = shortest_curve_m(v)
    return [
        *_grades(wish, f"as in {_POLICY}: the guide's own table is not remembered"),
        Offered(
            field="min_crest_k_m_per_pct", value=round(crest, 2), source=_GUIDE,
            formula=f"S^2 / 447.6, eye 1.1 m, object 0.2 m, S = {how}",
        ),
        Offered(field="min_sag_k_m_per_pct", value=round(float(sag), 2), formula=why, source=_GUIDE),
        *_lengths(shortest, "0.6 m for each km/h, up to 5 m"),
        *_drivers(reaction, d * 9.81, 1.1, 0.2, _GUIDE, (0.75, "0.75 m")),
    ]  # fmt: skip


STANDARDS: tuple[Standard, ...] = (
    Standard(
        id="stopping", name="Stopping sight, metric", source=_POLICY, edition="2011 and later", form=METRIC,
        offers=_metric,
    ),
    Standard(
        id="stopping_us", name="Stopping sight, US customary", source=_POLICY, edition="2011 and later",
        form=US_CUSTOMARY, offers=_customary,
    ),
    Standard(id="friction", name="Reaction and friction", source=_GUIDE, edition="2016 and later", form=FRICTION,
             offers=_friction),
)  # fmt: skip


def limits_by(id_: str, wish: Wish) -> LimitSet:
    """Limits that a standard offers with their sources, without tie-ins."""
    return taken(LimitSet(design_speed_kmh=wish.design_speed_kmh), standard(id_), wish)


def taken(limits: LimitSet, of: Standard, wish: Wish) -> LimitSet:
    """Limits with all that a standard offers for a road, and where each comes from; the rest stays as it was."""
    offered = of.offers(wish)
    values: dict[str, Any] = {o.field: o.value for o in offered}
    own = tuple(
        LimitSource(
            name=o.field, value=o.value, formula=o.formula, source=o.source,
            edition=o.edition or (of.edition if o.source == of.source else ""), from_memory=o.from_memory,
        )
        for o in offered
    )  # fmt: skip
    kept = tuple(row for row in limits.sources if row.name not in values)
    if of.form is not None:
        values["stopping_form"] = of.form
    return replace(limits, design_speed_kmh=wish.design_speed_kmh, **values, sources=own + kept)


def standard(id_: str) -> Standard:
    """One of the families; raises DesignInputError for another."""
    found = next((s for s in STANDARDS if s.id == id_), None)
    if found is None:
        raise DesignInputError("standard", f"There is no standard “{id_}” here.")
    return found
