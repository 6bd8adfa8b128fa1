"""The typical section: lanes, shoulders, one pavement thickness, topsoil strip and batters."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.fields import meant
from delgrun.core.section.carriageway import BatterBand, BatterRule, Carriageway, Profile, Variant

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class TypicalSection:
    """The same on both sides and along the whole line.

    Crossfalls are falls away from the centreline over run [m/m]; batters are horizontal over
    vertical. Earthworks go to the formation: the finished surface less the pavement, right out to the
    edge of shoulder or verge, where the batter begins. The first values are common practice for a rural road.
    """

    lane_width_m: float = meant("size", "lane width", low=0, above=True, high=50, first=3.0, aside="each")
    lane_crossfall: float = meant("fall", "lane fall", low=-0.2, high=0.2, first=0.03, aside="outward")
    shoulder_width_m: float = meant("size", "shoulder", low=0, above=True, high=20, first=1.0, aside="each")
    shoulder_crossfall: float = meant("fall", "shoulder fall", low=-0.2, high=0.2, first=0.04, aside="outward")
    verge_width_m: float = meant("size", "verge", low=0, high=20, first=0.0, aside="each", says="beyond the shoulder")
    pavement_thickness_m: float = meant("size", "pavement", low=0, high=3, first=0.45, aside="thick")
    topsoil_depth_m: float = meant("size", "topsoil strip", low=0, high=2, first=0.15, aside="deep")
    cut_batter_h_over_v: float = meant("batter", "cut batter 1 :", low=0.05, high=20, first=1.5)
    fill_batter_h_over_v: float = meant("batter", "fill batter 1 :", low=0.05, high=20, first=2.0)

    @property
    def sides(self) -> tuple[Profile, Profile]:
        """What is built left and right, the same. The verge goes on at the shoulder's fall."""
        corners = [(0.0, 0.0)]
        for width, fall in (
            (self.lane_width_m, self.lane_crossfall),
            (self.shoulder_width_m, self.shoulder_crossfall),
            (self.verge_width_m, self.shoulder_crossfall),
        ):
            if width > 0:
                offset, level = corners[-1]
                corners.append((offset + width, level - width * fall))
        surface = np.array(corners)
        formation = surface - [0.0, self.pavement_thickness_m]
        side = Profile(
            (Variant.rigid(surface, formation),),
            (float(formation[-1, 0]), float(formation[-1, 1])),
            (BatterRule((BatterBand((self.cut_batter_h_over_v,)),)),),
            (BatterRule((BatterBand((self.fill_batter_h_over_v,)),)),),
            self.topsoil_depth_m,
        )
        return side, side

    def resolve(self, chainage_m: FloatArray) -> Carriageway:
        """What is built at these chainages: the same at all."""
        return Carriageway(chainage_m, self.sides[:1], np.zeros((len(chainage_m), 2), dtype=np.int64))


@dataclass(frozen=True, kw_only=True)
class SectionSetting(TypicalSection):
    """The typical section, and how far apart the priced sections lie."""

    interval_m: float = meant("size", "sections each", low=1, high=100, first=10.0)
