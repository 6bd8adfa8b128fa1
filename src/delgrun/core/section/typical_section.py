"""The typical section as it is typed: elements from the centreline outwards, layers, and batters, each side its own."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import groupby, pairwise
from typing import Literal, get_args

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant

Side = Literal["left", "right"]
# What an element is. A piece is whatever else is wanted: a width, and its fall or its drop.
ElementKind = Literal["lane", "shoulder", "verge", "kerb", "drain", "berm", "wall", "piece"]
Built = Literal["always", "in cut", "in fill"]
Ends = Literal["own edge", "drain front", "batter"]
SIDES: tuple[Side, ...] = get_args(Side)


@dataclass(frozen=True, kw_only=True)
class Element:
    """One element of a side, from the outer point of the one before to a point of its own.

    A kerb or a wall that rises (a drop below 0) does so at its inner edge, one that falls at its outer edge. A drain
    goes down by its front slope to a bottom of its width, and up again by its back slope as high as it began; without a
    back slope the batter begins at its bottom.
    """

    side: Side = meant("word", "side", choices=SIDES, first="right")
    kind: ElementKind = meant("word", "element", choices=get_args(ElementKind), first="lane")
    name: str = meant("name", "outer point")
    width_m: float = meant("size", "width", low=0, high=200, first=1.0, says="level width; of a drain, of its bottom")
    fall: float = meant("fall", "fall", low=-5, high=5, first=0.0, says="down and outwards; rising below 0")
    drop_m: float | None = meant(
        "size", "drop", low=-100, high=100, first=None, optional=True, says="for a fall; height of a kerb or wall"
    )
    front_h_over_v: float = meant("batter", "front slope", low=0, high=100, first=3.0, says="of a drain, 1 :")
    back_h_over_v: float | None = meant(
        "batter", "back slope", low=0, high=100, first=None, optional=True,
        says="of a drain, 1 : ; free, the batter begins at its bottom",
    )  # fmt: skip
    depth_m: float = meant("size", "depth", low=0, high=50, first=0.5, says="of a drain below its inner edge")
    built: Built = meant("word", "built", choices=get_args(Built), first="always")
    exceeds_m: float = meant("size", "deeper than", low=0, high=100, first=0.0, says="cut or fill beside the road")
    written: bool = meant("flag", "written", first=True, says="its level and name in the section")


@dataclass(frozen=True, kw_only=True)
class Layer:
    """A layer under some elements of a side, from the top down in the order of their rows.

    It may go on beyond them: by a width of its own under whatever is there, or to the drain's front slope, or to the
    line of the fill batter. One that goes down to the ground fills whatever is under its least thickness.
    """

    side: Side = meant("word", "side", choices=SIDES, first="right")
    name: str = meant("name", "material")
    thickness_m: float = meant("size", "thickness", low=0, above=True, high=10, first=0.2)
    first: str = meant("line", "from behind", first="", says="an outer point; free, from the centreline")
    last: str = meant("line", "as far as", first="", says="an outer point; free, the last before a drain")
    ends: Ends = meant("word", "ends at", choices=get_args(Ends), first="own edge")
    extend_m: float = meant("size", "extends", low=0, high=50, first=0.0, says="beyond its elements")
    extend_fall: float | None = meant(
        "fall", "at a fall of", low=-1, high=1, first=None, optional=True, says="free, as the last element falls"
    )
    to_ground: bool = meant("flag", "down to the ground", first=False, says="its thickness is the least")
    price_per_m3: float = meant("price_m3", "price", low=0, high=1e9, first=0.0)


@dataclass(frozen=True, kw_only=True)
class Batter:
    """A band of a batter, from the road outwards; rows with the same greatest total height are one batter.

    Of several the first that reaches the ground within its height is built. The last band goes on; behind each of its
    heights comes its bench, again and again, if it has one.
    """

    side: Side = meant("word", "side", choices=SIDES, first="right")
    kind: Literal["cut", "fill"] = meant("word", "batter in", choices=("cut", "fill"), first="cut")
    up_to_m: float | None = meant(
        "size", "up to in all", low=0, above=True, high=1000, first=None, optional=True,
        says="the whole slope holds up to this height; free, to any",
    )  # fmt: skip
    h_over_v: float = meant("batter", "slope", low=0.05, high=20, first=1.5, says="1 :")
    height_m: float | None = meant(
        "size", "band's height", low=0, above=True, high=1000, first=None, optional=True, says="free, to the ground"
    )
    bench_m: float = meant("size", "bench behind", low=0, high=100, first=0.0)
    bench_fall: float = meant("fall", "bench's fall", low=-0.5, high=0.5, first=0.0, says="outwards")


@dataclass(frozen=True, kw_only=True)
class TypicalSection:
    """A named typical section. Levels are against the grade line, which is the finished surface at the centreline."""

    name: str = meant("name", "section", first="Typical section")
    elements: tuple[Element, ...] = meant("count", "elements", of=Element, most=80, first=())
    layers: tuple[Layer, ...] = meant("count", "layers", of=Layer, most=40, first=())
    batters: tuple[Batter, ...] = meant("count", "batters", of=Batter, most=80, first=())

    def on(self, side: str) -> tuple[Element, ...]:
        """The elements of a side, outwards."""
        return tuple(e for e in self.elements if e.side == side)

    def layers_on(self, side: str) -> tuple[Layer, ...]:
        """The layers of a side, downwards."""
        return tuple(row for row in self.layers if row.side == side)

    def rules(self, side: str, of: str) -> list[tuple[float | None, tuple[Batter, ...]]]:
        """The batters of a side in cut or fill: greatest total height, and bands from the road outwards."""
        own = [b for b in self.batters if b.side == side and b.kind == of]
        return [(up_to, tuple(rows)) for up_to, rows in groupby(own, key=lambda b: b.up_to_m)]

    def lane(self, side: str = "right") -> tuple[float, float]:
        """Width of the lanes of a side, and the fall of the first. [m, m/m]"""
        lanes = [e for e in self.on(side) if e.kind == "lane"]
        return sum(e.width_m for e in lanes), lanes[0].fall if lanes else 0.0

    def check(self) -> None:
        """Raises DesignInputError where rows say what can't be built."""
        for side in SIDES:
            own = self.on(side)
            _check_elements(side, own)
            _check_layers(side, own, self.layers_on(side))
            for of in ("cut", "fill"):
                _check_batters(side, of, self.rules(side, of))
        prices = {row.name: row.price_per_m3 for row in self.layers}
        for row in self.layers:
            if row.price_per_m3 != prices[row.name]:
                raise DesignInputError(
                    "price_per_m3", "“{name}” has two prices: give it one, or two names.", name=row.name
                )


def _check_elements(side: str, own: tuple[Element, ...]) -> None:
    if not own or own[0].built != "always" or own[0].kind == "drain" or own[0].width_m <= 0:
        raise DesignInputError(
            "elements", f"The {side} side begins with what is always built and has a width: put a lane there."
        )
    for name in _twice(e.name for e in own):
        raise DesignInputError("elements", "Two points on the {side} are called “{name}”.", side=side, name=name)
    for e in own:
        if e.kind in ("kerb", "wall") and not e.drop_m:
            raise DesignInputError("drop_m", "“{name}” on the {side} needs a height.", name=e.name, side=side)
        if e.kind not in ("kerb", "wall", "drain") and not e.width_m and e.drop_m:
            raise DesignInputError("width_m", "“{name}” on the {side} drops without a width.", name=e.name, side=side)


def _check_layers(side: str, own: tuple[Element, ...], layers: tuple[Layer, ...]) -> None:
    names = [e.name for e in own]
    for row in layers:
        for name in (row.first, row.last):
            if name and name not in names:
                raise DesignInputError(
                    "layers", "“{layer}” on the {side} names the point “{name}”, which is not there.",
                    layer=row.name, side=side, name=name,
                )  # fmt: skip
        if row.first and row.last and names.index(row.first) >= names.index(row.last):
            raise DesignInputError(
                "layers", "“{layer}” on the {side} ends before it begins.", layer=row.name, side=side
            )
    if any(row.to_ground for row in layers[:-1]):
        raise DesignInputError("to_ground", f"Only the lowest layer on the {side} can go down to the ground.")


def _check_batters(side: str, of: str, rules: list[tuple[float | None, tuple[Batter, ...]]]) -> None:
    if not rules:
        raise DesignInputError("batters", f"The {side} side has no batter in {of}.")
    heights = [up_to for up_to, _ in rules]
    if heights[-1] is not None or None in heights[:-1]:
        raise DesignInputError("up_to_m", f"On the {side} the last batter in {of}, and no other, goes to any height.")
    if any(a >= b for a, b in pairwise(heights[:-1])):  # type: ignore[operator]
        raise DesignInputError("up_to_m", f"On the {side} the heights of batters in {of} must rise.")
    for _, bands in rules:
        if any(b.height_m is None for b in bands[:-1]):
            raise DesignInputError("height_m", f"On the {side} only the last band of a batter in {of} goes on.")


def _twice(names: Iterator[str]) -> list[str]:
    seen: set[str] = set()
    return [n for n in names if n in seen or seen.add(n)]  # type: ignore[func-returns-value]


def mirrored(section: TypicalSection, onto: Side) -> TypicalSection:
    """The same with one side as the other is."""
    source = "right" if onto == "left" else "left"

    def both(rows: tuple) -> tuple:  # type: ignore[type-arg]
        own = [r for r in rows if r.side == source]
        other = [replace(r, side=onto) for r in own]
        return tuple(other + own if onto == "left" else own + other)

    return replace(section, elements=both(section.elements), layers=both(section.layers), batters=both(section.batters))


def plain_section(
    *,
    lane_width_m: float = 3.0,
    lane_crossfall: float = 0.03,
    shoulder_width_m: float = 1.0,
    shoulder_crossfall: float = 0.04,
    verge_width_m: float = 0.0,
    pavement_thickness_m: float = 0.45,
    cut_batter_h_over_v: float = 1.5,
    fill_batter_h_over_v: float = 2.0,
    name: str = "Two lanes",
) -> TypicalSection:
    """The same on both sides: a lane, a shoulder, maybe a verge at its fall, one pavement, one batter each in cut and
    fill. The first values are common practice for a rural road; batters are horizontal over vertical. [m, m/m]
    """
    widths: tuple[tuple[ElementKind, float, float], ...] = (
        ("lane", lane_width_m, lane_crossfall),
        ("shoulder", shoulder_width_m, shoulder_crossfall),
        ("verge", verge_width_m, shoulder_crossfall),
    )
    own = [Element(kind=kind, name=kind, width_m=w, fall=fall) for kind, w, fall in widths if w > 0]
    layers = [Layer(name="pavement", thickness_m=pavement_thickness_m)] if pavement_thickness_m > 0 else []
    batters = [Batter(kind="cut", h_over_v=cut_batter_h_over_v), Batter(kind="fill", h_over_v=fill_batter_h_over_v)]
    right = TypicalSection(name=name, elements=tuple(own), layers=tuple(layers), batters=tuple(batters))
    return mirrored(right, "left")
