"""Bends that find no room between their IPs: made to fit, and what else would mend each overlap."""

import heapq
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from delgrun.core.centreline.bends import Corner
from delgrun.core.centreline.legs import LEAST_RADIUS_M, STRAIGHT_ANGLE, CentrelineIp, Legs, turns_of
from delgrun.core.errors import DesignInputError
from delgrun.core.units import say

# Lengths of bends are whole decimetres, radii whole metres from here on. [m]
_STEP_M = 0.1
_WHOLE_FROM_M = 20.0
# A moved IP is found to so much, and is moved by no more than this share of its legs. [m]
_MOVE_STEP_M = 0.1
_MOST_MOVED = 2.0


@dataclass(frozen=True)
class Misfit:
    """A bend that was made smaller than it was wished, and why."""

    ip: int
    wished: CentrelineIp
    made: CentrelineIp
    reason: str


@dataclass(frozen=True)
class PlanRemedy:
    """IPs that take the place of others, by number, so that two bends overlap no longer; `label` is its button."""

    label: str
    changes: dict[int, CentrelineIp]


def made_to_fit(ips: list[CentrelineIp]) -> tuple[list[CentrelineIp], list[Misfit]]:
    """IPs whose bends fit, each as large as it is wished or as its neighbours leave room for.

    All bends grow together from nothing, in the proportions of their lengths; where two meet, both stay as they are
    (the largest shares in the order of the smallest: max-min fair). A corner without a radius is left as it is.

    Raises
    ------
    DesignInputError
        IPs on one spot, corners without radius or that turn back on themselves.
    """
    turn = turns_of(ips)
    wished = [_turned(ip, float(turn[i - 1])) if 0 < i < len(ips) - 1 else ip for i, ip in enumerate(ips)]
    legs = Legs.of(wished)
    share, leg_of = _shares(legs)
    made = list(wished)
    for i in legs.corners:
        if share[i] < 1.0:
            made[i] = _smaller(wished[i], share[i])
    misfits = []
    for i, corner in legs.corners.items():
        if made[i] == ips[i]:
            continue
        if made[i] == wished[i]:
            reason = f"its transitions turn by more than its {np.degrees(abs(corner.turn)):.1f}°"
        else:
            leg = leg_of[i]
            reason = say(
                f"between IPs {leg + 1} and {leg + 2} there are {{there:length}} for bends that need {{need:length}}",
                there=float(legs.length_m[leg]),
                need=float(legs.at_start_m[leg] + legs.at_end_m[leg]),
            )
        misfits.append(Misfit(i, ips[i], made[i], reason))
    return made, misfits


def squeezed(ips: list[CentrelineIp], most_m: float) -> list[CentrelineIp]:
    """IPs whose bends overlap by no more than that made smaller by as much: what rounding does to bends that touch."""
    try:
        legs = Legs.of(ips)
    except DesignInputError:
        return ips
    if not legs.over or legs.straight_m.min() < -most_m:
        return ips
    share, _ = _shares(legs)
    out = list(ips)
    for i, q in share.items():
        if q < 1.0:
            less, ip = q * (1 - 1e-12), ips[i]
            out[i] = replace(
                ip,
                radius_m=ip.radius_m * less,
                transition_in_m=ip.transition_in_m * less,
                transition_out_m=ip.transition_out_m * less,
            )
    return out


def _turned(ip: CentrelineIp, turn: float) -> CentrelineIp:
    """An IP whose transitions leave an arc, however short."""
    whole = ip.transition_in_m + ip.transition_out_m
    most = 2 * abs(turn) * ip.radius_m
    if whole <= most or whole == 0.0:
        return ip
    return replace(
        ip,
        transition_in_m=_floored(ip.transition_in_m * most / whole, _STEP_M),
        transition_out_m=_floored(ip.transition_out_m * most / whole, _STEP_M),
    )


def _shares(legs: Legs) -> tuple[dict[int, float], dict[int, int]]:
    """How much of each bend there is room for, and the leg that says so, where one does."""
    share = dict.fromkeys(legs.corners, 1.0)
    leg_of: dict[int, int] = {}

    def full_at(leg: int) -> float:
        """The share of its growing bends at which a leg is full; one that has none left is never."""
        ends = ((leg, float(legs.at_start_m[leg])), (leg + 1, float(legs.at_end_m[leg])))
        taken = sum(share[i] * length for i, length in ends if i in leg_of)
        rate = sum(length for i, length in ends if i not in leg_of)
        return max((float(legs.length_m[leg]) - taken) / rate, 0.0) if rate > 0 else np.inf

    queue = [(full_at(leg), leg) for leg in legs.over]
    heapq.heapify(queue)
    while queue:
        was, leg = heapq.heappop(queue)
        now = full_at(leg)
        # Bends that have stopped leave more to their neighbours, never less.
        if now > was:
            if now < 1.0:
                heapq.heappush(queue, (now, leg))
            continue
        for i in (leg, leg + 1):
            if i in share and i not in leg_of:
                share[i], leg_of[i] = now, leg
    return share, leg_of


def _floored(value: float, step: float) -> float:
    """A length down to whole steps, whatever rounding did to it."""
    return float(np.floor(value / step + 1e-6) * step) if value > step else 0.0


def _smaller(ip: CentrelineIp, share: float) -> CentrelineIp:
    """A bend made smaller in all its lengths, at least as much as that."""
    radius = max(ip.radius_m * share, LEAST_RADIUS_M)
    if radius > 1.0:
        # A bend that fits to rounding fits.
        radius = _whole(radius + 1e-7)
    less = radius / ip.radius_m
    return replace(
        ip,
        radius_m=radius,
        transition_in_m=round(_floored(ip.transition_in_m * less - 1e-6, _STEP_M), 3),
        transition_out_m=round(_floored(ip.transition_out_m * less - 1e-6, _STEP_M), 3),
    )


def plan_remedies(ips: list[CentrelineIp]) -> list[PlanRemedy]:
    """What would mend the first two bends that overlap, or transitions that turn too far; each is tried before."""
    try:
        legs = Legs.of(ips)
    except DesignInputError:
        return _fit_alone(ips)
    if not legs.over:
        return []
    leg = legs.over[0]
    return [r for r in _of_leg(legs, leg) if _mends(ips, legs, leg, r)]


def _fit_alone(ips: list[CentrelineIp]) -> list[PlanRemedy]:
    """Where the transitions of a bend turn by more than it: as long as there is room for, or a larger radius."""
    try:
        turn = turns_of(ips)
    except DesignInputError:
        return []
    for i, angle in enumerate(turn.tolist(), 1):
        ip = ips[i]
        whole = ip.transition_in_m + ip.transition_out_m
        # What does not turn has no bend that could be mended.
        if ip.radius_m < LEAST_RADIUS_M or abs(angle) < STRAIGHT_ANGLE or whole <= 2 * abs(angle) * ip.radius_m:
            continue
        shorter = _turned(ip, angle)
        larger = replace(ip, radius_m=float(np.ceil(whole / (2 * abs(angle)))))
        return [
            PlanRemedy(
                say(
                    f"IP {i + 1}: transitions of {{a:length}} and {{b:length}}",
                    a=shorter.transition_in_m,
                    b=shorter.transition_out_m,
                ),
                {i: shorter},
            ),
            PlanRemedy(say(f"IP {i + 1}: a radius of {{r:length}}", r=larger.radius_m), {i: larger}),
        ]
    return []


def _of_leg(legs: Legs, leg: int) -> Iterator[PlanRemedy]:
    ips = list(legs.ips)
    for at in (leg, leg + 1):
        if at not in legs.corners:
            continue
        corner, room, ip = legs.corners[at], legs.room(at), ips[at]
        radius = _down(corner, room)
        if radius > 0:
            yield PlanRemedy(
                say(f"IP {at + 1}: a radius of {{r:length}}", r=radius), {at: replace(ip, radius_m=radius)}
            )
        share = corner.largest_share(*room) if corner.first_m or corner.second_m else 0.0
        if share > 0:
            first, second = _floored(share * corner.first_m, _STEP_M), _floored(share * corner.second_m, _STEP_M)
            yield PlanRemedy(
                say(f"IP {at + 1}: transitions of {{a:length}} and {{b:length}}", a=first, b=second),
                {at: replace(ip, transition_in_m=round(first, 3), transition_out_m=round(second, 3))},
            )
    both = [at for at in (leg, leg + 1) if at in legs.corners]
    share = float(legs.length_m[leg] / (legs.at_start_m[leg] + legs.at_end_m[leg]))
    smaller = {at: _smaller(ips[at], share) for at in both}
    if len(both) == 2:
        names = " and ".join(say(f"IP {at + 1} {{r:length}}", r=smaller[at].radius_m) for at in both)
        yield PlanRemedy(f"Both smaller: {names}", smaller)
    for at, away in ((leg, -1.0), (leg + 1, 1.0)):
        moved = _moved(legs, leg, at, away)
        if moved is not None:
            yield moved


def _down(corner: Corner, room: tuple[float, float]) -> float:
    """The largest radius there is room for, down to a whole step; 0 where there is none."""
    largest = corner.largest_radius_m(*room)
    if largest <= 1.0:
        return 0.0
    # It was found to a tenth of a millimetre from below: the whole step above may be it.
    above = replace(corner, radius_m=_whole(largest + 2e-4))
    fits = above.tangent_in_m <= room[0] + 1e-9 and above.tangent_out_m <= room[1] + 1e-9
    return above.radius_m if fits else _whole(largest)


def _whole(radius: float) -> float:
    """Down to whole metres, or decimetres where it is small."""
    return float(np.floor(radius)) if radius > _WHOLE_FROM_M else float(np.floor(10 * radius)) / 10


def _moved(legs: Legs, leg: int, at: int, away: float) -> PlanRemedy | None:
    """An end of a leg moved along it, away from the other, by the least that gives its bends room."""
    ips = list(legs.ips)
    unit = (legs.xy[leg + 1] - legs.xy[leg]) / legs.length_m[leg] * away

    def put(metres: float) -> dict[int, CentrelineIp]:
        e, n = (legs.xy[at] + unit * metres).tolist()
        return {at: replace(ips[at], easting_m=round(e, 3), northing_m=round(n, 3))}

    def fits(metres: float) -> bool:
        return _mends(ips, legs, leg, PlanRemedy("", put(metres)))

    metres = _least(fits, _MOST_MOVED * float(legs.length_m[leg]))
    if metres is None:
        return None
    other = (leg if at == leg + 1 else leg + 1) + 1
    return PlanRemedy(say(f"Move IP {at + 1} by {{d:length}}, away from IP {other}", d=metres), put(metres))


def _least(good: Callable[[float], bool], most: float) -> float | None:
    """The least of the steps tried that is good, then to the decimetre; None where none is."""
    high = _MOVE_STEP_M
    while not good(high):
        high *= 2
        if high > most:
            return None
    low, top = round(high / 2 / _MOVE_STEP_M), round(high / _MOVE_STEP_M)
    while top - low > 1:
        middle = (low + top) // 2
        low, top = (low, middle) if good(middle * _MOVE_STEP_M) else (middle, top)
    return round(top * _MOVE_STEP_M, 1)


def _mends(ips: list[CentrelineIp], before: Legs, leg: int, remedy: PlanRemedy) -> bool:
    """Whether the bends of a leg fit after it, and no others overlap that did not before."""
    try:
        after = Legs.of([remedy.changes.get(i, ip) for i, ip in enumerate(ips)])
    except DesignInputError:
        return False
    return leg not in after.over and set(after.over) <= set(before.over)
