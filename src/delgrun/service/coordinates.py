"""The coordinates of a project, held against what is known and against what files say of theirs."""

from dataclasses import replace

from delgrun.core.coordinates import Coordinates
from delgrun.core.errors import DesignInputError
from delgrun.exchange import crs
from delgrun.exchange.crs import Said
from delgrun.service.wire import Json


def check(value: Coordinates) -> Coordinates:
    """The coordinates with the code that is known for what was typed.

    Raises
    ------
    DesignInputError
        No such grid is known, or it is in degrees.
    """
    if not value.crs.strip():
        return replace(value, crs="")
    found = crs.said(value.crs)
    if not found.crs:
        raise DesignInputError(
            "crs",
            f"“{value.crs}” is no coordinate system that is known here: choose one listed, or leave it free.",
        )
    if found.degrees:
        raise DesignInputError("crs", f"{found.name} is in degrees: choose the projected grid the survey belongs to.")
    return replace(value, crs=found.crs)


def clash(project: Coordinates, file: Said) -> str:
    """Why a file can't join a project: in another grid, or above another datum; empty where it can."""
    if file.crs and project.crs and file.crs != project.crs:
        own = crs.said(project.crs).name or project.crs
        return (
            f"This file is in {file.name} ({file.crs}), and the project is in {own} ({project.crs}). Mixed they would "
            "lie beside each other: convert the file to the project's grid, and read that."
        )
    if file.vertical and project.vertical and file.vertical != project.vertical:
        return (
            f"The levels of this file are above {file.vertical}, and the project's above {project.vertical}: they "
            "differ by an amount that changes from place to place. Convert the levels, and read that."
        )
    return ""


def taken_on(project: Coordinates, file: Said) -> Coordinates | None:
    """The project's coordinates with what a file says where the project says nothing; None where nothing changes."""
    out = replace(project, crs=project.crs or file.crs, vertical=project.vertical or file.vertical)
    return None if out == project else out


def known(text: str, vertical: bool) -> list[Json]:
    """Systems whose names hold all words of a text."""
    return [{"code": code, "name": name} for code, name in crs.known(text, vertical)]
