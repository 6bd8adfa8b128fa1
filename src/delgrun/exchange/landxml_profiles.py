"""LandXML profiles: designed ones with their curves, and those of the ground as points."""

from typing import Any

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.ip import Ip
from delgrun.exchange.landxml_file import in_metres, in_words, plain_tag
from delgrun.exchange.profiles import Profile


def profiles(data: bytes) -> list[Profile]:
    """Designed profiles with their curves, and profiles of the ground as points.

    Source: LandXML 1.2, elements ProfAlign (PVI, ParaCurve, UnsymParaCurve, CircCurve) and ProfSurf.

    Raises
    ------
    DesignInputError
        No LandXML, or no profile in it.
    """
    found: list[Profile] = []
    with in_words():
        for tag, node, unit in in_metres(data, "ProfAlign", "ProfSurf"):
            if tag == "ProfAlign":
                name = (node.get("name") or f"profile {len(found) + 1}")[:60]
                ips = tuple(_landxml_ip(child, unit) for child in node if plain_tag(child.tag) in _IPS)
                if len(ips) > 1:
                    found.append(Profile(name, ips=_between_ends(ips)))
                continue
            name = (node.get("name") or f"surface {len(found) + 1}")[:60]
            for child in node:
                if plain_tag(child.tag) == "PntList2D" and child.text:
                    points = np.array(child.text.split(), float).reshape(-1, 2) * unit
                    found.append(Profile(name, points=points))
    if not found:
        raise DesignInputError("file", "The file holds no profile.")
    return found


_IPS = ("PVI", "ParaCurve", "UnsymParaCurve", "CircCurve")


def _landxml_ip(node: Any, unit: float) -> Ip:
    chainage, level = (float(text) * unit for text in node.text.split()[:2])
    match plain_tag(node.tag):
        case "ParaCurve":
            return Ip(chainage_m=chainage, level_m=level, curve_length_m=float(node.get("length")) * unit)
        case "UnsymParaCurve":
            before, after = (float(node.get(name)) * unit for name in ("lengthIn", "lengthOut"))
            share = before / (before + after) if before + after > 0 else None
            return Ip(chainage_m=chainage, level_m=level, curve_length_m=before + after, in_share=share)
        case "CircCurve":
            length = float(node.get("length")) * unit
            return Ip(chainage_m=chainage, level_m=level, curve_length_m=length, shape="circle")
        case _:
            return Ip(chainage_m=chainage, level_m=level)


def _between_ends(ips: tuple[Ip, ...]) -> tuple[Ip, ...]:
    """An end has no curve, whatever a file says of it."""
    return ips[0].freed(0.0), *ips[1:-1], ips[-1].freed(0.0)
