"""Readers whose libraries take a while to import: a server that is started again must be back soon."""

from collections.abc import Callable
from importlib import import_module
from typing import Any


def look(module: str) -> Callable[[bytes, Any], Any]:
    """The `look` of a reader's file, which is imported when it is first used."""
    return lambda data, options: import_module(f"delgrun.exchange.{module}").look(data, options)


def read(module: str) -> Callable[[bytes, Any], Any]:
    """The `read` of a reader's file."""
    return lambda data, options: import_module(f"delgrun.exchange.{module}").read(data, options)
