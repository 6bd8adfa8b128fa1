"""What a road takes, as data: one column for each thing that is measured at its sections, with its price."""

from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.fields import meant
from delgrun.core.section.area_kernels import BATTER, DUG, FILLED, WALLED
from delgrun.core.section.carriageway import LayerKind
from delgrun.core.section.roadside import Material

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class CostModel:
    """Unit costs: cut per bank m3; fill, haul, borrow and spoil per compacted m3; walls per m2 of face."""

    currency: str = meant("currency", "currency", first="EUR", says="code of three letters")
    cut_per_m3: float = meant("price_m3", "cut", low=0, high=1e9, first=6.0, says="of soil, per bank m³")
    fill_per_m3: float = meant("price_m3", "fill", low=0, high=1e9, first=4.0, says="per compacted m³")
    haul_per_m3_m: float = meant("price_haul", "haul", low=0, high=1e9, first=0.0012, says="per compacted m³ and m")
    borrow_per_m3: float = meant("price_m3", "borrow", low=0, high=1e9, first=6.0, says="per compacted m³")
    spoil_per_m3: float = meant("price_m3", "spoil", low=0, high=1e9, first=3.0, says="per compacted m³")
    compacted_per_bank: float = meant(
        "factor", "compaction", low=0.1, above=True, high=3, first=0.9, aside="m³ per bank m³", says="of soil"
    )
    wall_per_m2: float = meant("price_m2", "walls", low=0, high=1e9, first=250.0, says="per m² of face")


@dataclass(frozen=True)
class Amount:
    """How much is taken of a column: m3 ("volume") or m2 ("area"), or as much for each metre of road."""

    id: str
    name: str
    unit: Literal["volume", "area"]
    amount: float


@dataclass(frozen=True)
class Column:
    """One thing that sections take.

    `weigh` (c,): how much of it is in each column of `area_kernels.side_at`; `price` for each unit; `usable`: what a
    unit gives to fills, compacted, and what it takes from cuts below 0; `spoiled`: what of it is always spoiled. A unit
    is a cubic metre, or a square metre, for each metre of road at (n,) sections' square metres, or metres.
    """

    id: str
    name: str
    unit: Literal["volume", "area"]
    weigh: tuple[float, ...]
    price: float = 0.0
    usable: float = 0.0
    spoiled: float = 0.0


@dataclass(frozen=True)
class Columns:
    """All that a road takes, at the prices of a cost model."""

    all: tuple[Column, ...]
    spoil_per_m3: float

    @cached_property
    def weigh(self) -> FloatArray:
        """(columns, c) of `area_kernels.side_at`."""
        return np.array([c.weigh for c in self.all])

    @cached_property
    def paid(self) -> FloatArray:
        """(c,) what is paid whatever the haul, but for fill; what is always spoiled is paid here."""
        prices = np.array([c.price + c.spoiled * self.spoil_per_m3 if c.id != "fill" else 0.0 for c in self.all])
        return prices @ self.weigh  # type: ignore[no-any-return]

    @cached_property
    def spoiled(self) -> FloatArray:
        """(c,) compacted m3 that are always spoiled."""
        return np.array([c.spoiled for c in self.all]) @ self.weigh  # type: ignore[no-any-return]

    @cached_property
    def usable(self) -> FloatArray:
        """(c,) compacted m3 of cuts that can be fill."""
        return np.array([max(c.usable, 0.0) for c in self.all]) @ self.weigh  # type: ignore[no-any-return]

    @cached_property
    def net(self) -> FloatArray:
        """(c,) the same less fill."""
        return np.array([c.usable for c in self.all]) @ self.weigh  # type: ignore[no-any-return]

    @cached_property
    def sums(self) -> FloatArray:
        """(3, c) what a search weighs: paid whatever the haul, usable cut, fill."""
        fill = np.zeros(len(self.paid))
        fill[FILLED] = 1.0
        return np.vstack([self.paid, self.usable, fill])

    @property
    def cheapest_cut(self) -> float:
        """What a compacted m3 of usable cut costs at the least, infinity where nothing can be used."""
        return min((c.price / c.usable for c in self.all if c.usable > 0), default=np.inf)


@lru_cache(maxsize=64)
def columns_of(
    cost: CostModel,
    materials: tuple[Material, ...],
    layers: tuple[LayerKind, ...],
    *,
    top_may_be_fill: bool = True,
    topsoil_back_m: float = 0.0,
) -> Columns:
    """Columns of a road over soil and these materials, with these layers."""
    count = DUG + 1 + len(materials) + len(layers)

    def weigh(*parts: tuple[int, float]) -> tuple[float, ...]:
        out = np.zeros(count)
        for at, share in parts:
            out[at] = share
        return tuple(out.tolist())

    def cut(k: int, name: str, price: float, factor: float, fits: bool) -> Column:
        # Below each top lies what lies below the next one, too.
        below = ((DUG + k + 1, -1.0),) if k < len(materials) else ()
        return Column(
            f"cut-{k}", name, "volume", weigh((DUG + k, 1.0), *below), price, factor if fits else 0.0,
            0.0 if fits else factor,
        )  # fmt: skip

    out = [cut(0, "soil", cost.cut_per_m3, cost.compacted_per_bank, top_may_be_fill)]
    out += [cut(k + 1, m.name, m.cut_per_m3, m.compacted_per_bank, m.may_be_fill) for k, m in enumerate(materials)]
    out.append(Column("fill", "fill", "volume", weigh((FILLED, 1.0)), cost.fill_per_m3, -1.0))
    for k, layer in enumerate(layers):
        own = weigh((DUG + 1 + len(materials) + k, 1.0))
        out.append(Column(f"layer-{k}", layer.name, "volume", own, layer.price_per_m3))
    out.append(Column("walls", "walls", "area", weigh((WALLED, 1.0)), cost.wall_per_m2))
    out.append(Column("batters", "batters", "area", weigh((BATTER, 1.0))))
    if topsoil_back_m > 0:
        out.append(Column("topsoil-back", "topsoil back", "volume", weigh((BATTER, topsoil_back_m))))
    return Columns(tuple(out), cost.spoil_per_m3)
