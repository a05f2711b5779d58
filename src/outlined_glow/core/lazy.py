"""Packages whose names are loaded when they are asked for: a sum needs no geometry that draws."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from importlib import import_module
from typing import Any


def lazily(package: str, homes: Mapping[str, str]) -> Callable[[str], Any]:
    """A package's `__getattr__`: `homes` says in which of its modules each of its names lives."""
    modules = {name: module for module, names in homes.items() for name in names.split()}

    def found(name: str) -> Any:
        if name not in modules:
            raise AttributeError(f"module {package} has no attribute {name}")
        return getattr(import_module(f".{modules[name]}", package), name)

    return found
