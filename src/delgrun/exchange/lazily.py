"""Readers whose libraries take a while to import: a server that is started again must be back soon."""

from collections.abc import Callable
from importlib import import_module
from typing import Any, BinaryIO

from delgrun.exchange.survey_text import PLAIN, Reading


def look(module: str) -> Callable[[BinaryIO, Any], Any]:
    """The `look` of a reader's file, which is imported when it is first used."""
    return lambda file, options: import_module(f"delgrun.exchange.{module}").look(file, options)


def workbook_look(of: Callable[[BinaryIO, Any], Any]) -> Callable[[BinaryIO, Any], Any]:
    """The look of a reader of tables, at a workbook."""
    return lambda file, options: import_module("delgrun.exchange.workbook").look_with(of)(file, options)


def workbook_read(of: Callable[..., Any]) -> Callable[..., Any]:
    """The read of a reader of tables, of a workbook."""

    def whole(file: BinaryIO, options: Any = None, how: Reading = PLAIN) -> Any:
        return import_module("delgrun.exchange.workbook").read_with(of)(file, options, how)

    return whole


def read(module: str) -> Callable[..., Any]:
    """The `read` of a reader's file."""

    def whole(file: BinaryIO, options: Any, how: Reading = PLAIN) -> Any:
        return import_module(f"delgrun.exchange.{module}").read(file, options, how)

    return whole


def opened(module: str, take: Callable[..., Any]) -> Callable[..., Any]:
    """A consumer of what a format's file says the file holds; both are imported when they are first used."""

    def whole(file: BinaryIO, *options: Any) -> Any:
        return take(import_module(f"delgrun.exchange.{module}").contents(file), *options)

    return whole
