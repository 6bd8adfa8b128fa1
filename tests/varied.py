"""Roads for tests of sections that vary: two typical sections, a bend with or without transitions, how it leans."""

from dataclasses import replace

import numpy as np

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.speeds import BendRules, bend_speeds
from delgrun.core.centreline.superelevation import Superelevation, diagram_of
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import Works
from delgrun.core.section.starting import STARTING
from delgrun.core.section.typical_section import Element, Layer, TypicalSection, mirrored

STRAIGHT = Centreline([CentrelineIp(easting_m=0.0, northing_m=0.0), CentrelineIp(easting_m=1000.0, northing_m=0.0)])
BARE = Works(topsoil_depth_m=0.0)


def section(*elements: Element, layers: tuple[Layer, ...] = (), name: str = "made") -> TypicalSection:
    plain = next(s.section for s in STARTING if s.id == "plain")
    own = tuple(b for b in plain.batters if b.side == "right")
    return mirrored(TypicalSection(name=name, elements=elements, layers=layers, batters=own), "left")


RURAL = section(
    Element(kind="lane", name="lane", width_m=3.0, fall=0.03),
    Element(kind="shoulder", name="shoulder", width_m=1.0, fall=0.05),
    layers=(Layer(name="base", thickness_m=0.2),),
    name="rural",
)
VILLAGE = section(
    Element(kind="lane", name="lane", width_m=3.5, fall=0.02),
    Element(kind="kerb", name="kerb", width_m=0.2, drop_m=-0.15),
    Element(kind="verge", name="path", width_m=1.5, fall=-0.02),
    layers=(Layer(name="base", thickness_m=0.3, last="lane"), Layer(name="asphalt", thickness_m=0.05, last="lane")),
    name="village",
)


def winding(turn: float = 60.0, transition: float = 40.0) -> Centreline:
    rad = np.radians(turn)
    bend = CentrelineIp(
        easting_m=300.0, northing_m=0.0, radius_m=150.0, transition_in_m=transition, transition_out_m=transition,
        superelevation=0.06,
    )  # fmt: skip
    end = CentrelineIp(easting_m=300 + 300 * np.cos(rad), northing_m=-300 * np.sin(rad))
    return Centreline([CentrelineIp(easting_m=0.0, northing_m=0.0), bend, end])


def leaning(line: Centreline, own: TypicalSection = RURAL, **wish: object) -> RoadDesign:
    straight = RoadDesign(own, BARE, centreline=line)
    widths = straight.widths(np.array([b.from_chainage_m for b in line.bends]))
    count = len(line.bends)
    rules = BendRules()
    speeds = bend_speeds(line.bends, line.ips, rules, [60.0] * count, widths)
    turned = diagram_of(line.bends, speeds, widths, rules, Superelevation(**wish), "centreline", 0.06)
    return replace(straight, diagram=turned)
