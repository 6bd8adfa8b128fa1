"""Sections to begin with, for usual rural roads. Widths, falls and slopes are common practice, no source."""

from dataclasses import dataclass, replace

from delgrun.core.section.typical_section import Batter, Element, Layer, TypicalSection, mirrored, plain_section


@dataclass(frozen=True)
class StartingSection:
    """A section to begin with, and for what it is meant."""

    id: str
    says: str
    section: TypicalSection


_BATTERS = (Batter(kind="cut", h_over_v=1.5), Batter(kind="fill", h_over_v=2.0))
_DRAIN = Element(
    kind="drain", name="drain", width_m=0.5, depth_m=0.5, front_h_over_v=3.0, back_h_over_v=None, built="in cut"
)


def _both(name: str, elements: tuple[Element, ...], layers: tuple[Layer, ...]) -> TypicalSection:
    return mirrored(TypicalSection(name=name, elements=elements, layers=layers, batters=_BATTERS), "left")


def _road(lane: float, lane_fall: float, shoulder: float, fall: float, *, drained: bool) -> tuple[Element, ...]:
    own = (
        Element(kind="lane", name="lane", width_m=lane, fall=lane_fall),
        Element(kind="shoulder", name="shoulder", width_m=shoulder, fall=fall),
    )
    return (*own, _DRAIN) if drained else own


_GRAVEL = (Layer(name="gravel", thickness_m=0.15, ends="batter"),)
_SEALED = (
    Layer(name="surface course", thickness_m=0.03),
    Layer(name="base course", thickness_m=0.10, extend_m=0.1),
    Layer(name="subbase", thickness_m=0.20, ends="drain front"),
)


def _on_a_side_slope() -> TypicalSection:
    """Uphill a drain and a steeper cut, downhill a berm that carries a fence and a flatter fill."""
    right = _both("", _road(3.0, 0.04, 0.5, 0.05, drained=False), _GRAVEL)
    downhill = Element(side="right", kind="berm", name="berm", width_m=1.0, fall=0.05, built="in fill", exceeds_m=1.0)
    uphill = replace(_DRAIN, side="left")
    batters = (
        Batter(side="left", kind="cut", h_over_v=1.0, height_m=6.0, bench_m=3.0, bench_fall=0.05),
        Batter(side="left", kind="fill", h_over_v=2.0),
        Batter(side="right", kind="cut", h_over_v=1.0),
        Batter(side="right", kind="fill", h_over_v=1.5, up_to_m=3.0),
        Batter(side="right", kind="fill", h_over_v=2.0),
    )
    return replace(
        right, name="Two lanes on a side slope", elements=(*right.elements, uphill, downhill), batters=batters
    )


STARTING: tuple[StartingSection, ...] = (
    StartingSection("plain", "Lane, shoulder and one pavement on both sides, without drains.", plain_section()),
    StartingSection(
        "one-lane",
        "One lane between shoulders, unsealed; vehicles meet at passing places.",
        _both("One lane with passing places", _road(1.75, 0.04, 0.75, 0.05, drained=True), _GRAVEL),
    ),
    StartingSection(
        "unsealed",
        "Two lanes of gravel, drains in cut.",
        _both("Two lanes, unsealed", _road(3.0, 0.04, 0.5, 0.05, drained=True), _GRAVEL),
    ),
    StartingSection(
        "sealed",
        "Two sealed lanes on three layers, drains in cut.",
        _both("Two lanes, sealed", _road(3.0, 0.03, 1.0, 0.05, drained=True), _SEALED),
    ),
    StartingSection(
        "sealed-undrained",
        "The same on three layers, without drains.",
        _both("Two lanes, sealed, no drains", _road(3.0, 0.03, 1.0, 0.05, drained=False), _SEALED[:2] + (
            Layer(name="subbase", thickness_m=0.20, ends="batter"),
        )),
    ),
    StartingSection(
        "side-slope",
        "Uphill (left) a drain and benched cut, downhill a berm and a fill by its height; mirror it where the hill is "
        "on the right.",
        _on_a_side_slope(),
    ),
)  # fmt: skip
