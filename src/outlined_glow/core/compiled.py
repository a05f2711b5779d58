"""Functions that are compiled to machine code, once on a machine; later starts load what was made.

Each stands beside plain code that makes the same, which the tests compare it with and which is used until it is loaded.
"""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from importlib import import_module
from typing import Any


class Kernel:
    """One function, the types it is compiled for, and the plain functions that it calls."""

    def __init__(
        self, run: Callable[..., Any], signature: str, calls: tuple[Callable[..., Any], ...] = (), exact: bool = False
    ) -> None:
        self.run, self.signature, self._calls, self._exact = run, signature, calls, exact
        self._made: Callable[..., Any] | None = None

    def __call__(self, *given: Any) -> Any:
        """Run it: compiled once it is loaded, as it is written before."""
        return (self._made or self.run)(*given)

    @property
    def made(self) -> bool:
        """Whether it is compiled."""
        return self._made is not None

    def make(self) -> None:
        """Compile it, or take what was compiled before."""
        numba = import_module("numba")
        for one in self._calls:
            import_module("numba.extending").register_jitable(one)
        options = {"nogil": True, "fastmath": not self._exact, "error_model": "numpy"}
        try:
            self._made = numba.njit(self.signature, cache=True, **options)(self.run)
        except RuntimeError:  # nowhere to keep what is made
            self._made = numba.njit(self.signature, **options)(self.run)


_KERNELS: list[Kernel] = []
_turn = threading.Lock()


def kernel(
    signature: str, calls: tuple[Callable[..., Any], ...] = (), exact: bool = False
) -> Callable[[Callable[..., Any]], Kernel]:
    """Have a function of arrays and numbers compiled for these types, in the words of numba, with those that it calls.

    `exact`: it rounds as plain code does, so that what it decides is the same before it is loaded and after.
    """

    def decorate(run: Callable[..., Any]) -> Kernel:
        one = Kernel(run, signature, calls, exact)
        _KERNELS.append(one)
        return one

    return decorate


def load() -> bool:
    """Load every kernel declared so far, which takes a second, some seconds the first time; whether they are there now."""
    with _turn:
        try:
            for one in _KERNELS:
                if not one.made:
                    one.make()
        except Exception:  # whatever a compiler meets on a strange machine: plain code makes the same
            logging.getLogger(__name__).warning("kernels are not compiled", exc_info=True)
    return loaded()


def loaded() -> bool:
    """Whether every kernel declared so far can be used."""
    return all(one.made for one in _KERNELS)
