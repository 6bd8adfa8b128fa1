"""What comes in about limits: families of limits, an office's own, the checker's summary."""

from typing import Annotated

from pydantic import BaseModel, Field

from delgrun.service.declared import FOOT_M, RoadClass, System, Terrain, Tier, Wish
from delgrun.web.bodies import Count, Name
from delgrun.web.models import In


class SummaryQuery(BaseModel):
    revision: Count
    units: System = "metric"


class StandardPath(BaseModel):
    standard: Annotated[str, Field(min_length=1, max_length=20)]


class OwnStandardIn(In):
    """A table of limits, as text; see docs/own-limits.md."""

    name: Name
    text: Annotated[str, Field(min_length=1, max_length=5_000_000)]


class OfferQuery(BaseModel):
    """For what road limits of a standard are wanted; what is printed in feet is so many of these units' feet."""

    design_speed_kmh: Annotated[float, Field(ge=20, le=130)]
    road_class: RoadClass = "collector"
    terrain: Terrain = "rolling"
    tier: Tier = "least"
    units: System = "metric"

    @property
    def wish(self) -> Wish:
        return Wish(
            design_speed_kmh=self.design_speed_kmh,
            road_class=self.road_class,
            terrain=self.terrain,
            tier=self.tier,
            foot_m=FOOT_M.get(self.units, FOOT_M["us"]),
        )
