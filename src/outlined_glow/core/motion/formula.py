"""Formulas in data files: arithmetic over named arrays. Nothing else can be said in one, so a stranger's file may be read."""

from __future__ import annotations

import ast
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import CodeType
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..compiled import kernel
from ..errors import Trouble

Numbers = NDArray[np.float64]


@kernel("void(f8[::1], f8[::1])", exact=True)
def _chances(value: Any, out: Any) -> None:
    """What `chance_of` says of numbers (n,), number by number."""
    for at in range(len(value)):
        whole = min(max(np.floor(value[at]), -1e15), 1e15) if value[at] == value[at] else 0.0
        mixed = np.uint64(np.int64(whole)) + np.uint64(0x9E3779B97F4A7C15)
        mixed = (mixed ^ (mixed >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
        mixed = (mixed ^ (mixed >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
        mixed = mixed ^ (mixed >> np.uint64(31))
        out[at] = np.float64(mixed >> np.uint64(11)) / 9007199254740992.0


def chance_of(value: Any) -> Numbers:
    """A number from 0 to 1 that a whole one leads to, always the same one and none like that of the next."""
    if _chances.made:
        flat = np.ascontiguousarray(value, float).reshape(-1)
        out = np.empty(len(flat))
        _chances(flat, out)
        return out.reshape(np.shape(value))
    whole = np.clip(np.nan_to_num(np.floor(value)), -1e15, 1e15)
    return hashed(np.asarray(whole).astype(np.int64).view(np.uint64))


def hashed(value: NDArray[np.uint64]) -> Numbers:
    """Whole numbers to numbers from 0 to 1 without any order among them (the mixing of splitmix64, public domain)."""
    with np.errstate(over="ignore"):
        mixed = value + np.uint64(0x9E3779B97F4A7C15)
        mixed = (mixed ^ (mixed >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
        mixed = (mixed ^ (mixed >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
        mixed = mixed ^ (mixed >> np.uint64(31))
    return np.asarray((mixed >> np.uint64(11)).astype(float) / float(1 << 53))


def rest(value: Any, whole: Any) -> Any:
    """`value % whole` to the bit, several times faster for many numbers and a whole one over 0."""
    if np.ndim(whole) or np.size(value) < _MANY or not (0 < whole < np.inf and whole == np.floor(whole)):
        return np.remainder(value, whole)
    times = np.asarray(value / whole)
    np.floor(times, out=times)
    if not (times.max() < _LARGE and times.min() > -_LARGE):
        return np.remainder(value, whole)
    if whole != 1:
        times *= whole
    np.subtract(value, times, out=times)
    if times.min() < 0:  # a quotient was rounded up to the next whole number
        times[times < 0] += whole
    return times


class _NoNumber(Exception):
    """What is worked out is no plain number."""


def _as_number(told: Any) -> Any:
    """1 for what is so, 0 for what is not."""
    return np.asarray(told, float) if np.ndim(told) else np.float64(told)


def _power(base: Any, exponent: Any) -> Any:
    """A power. `_NoNumber` for a root that is no plain one."""
    found = base**exponent
    if isinstance(found, complex):
        raise _NoNumber
    return found


#: From so many numbers on the faster way is one; up to so large a quotient its product has no rounding.
_MANY, _LARGE = 500, float(1 << 20)
#: What a formula may call, each with the number of values it takes.
FUNCTIONS: dict[str, tuple[Callable[..., Any], int]] = {
    "sin": (np.sin, 1),
    "cos": (np.cos, 1),
    "sqrt": (np.sqrt, 1),
    "exp": (np.exp, 1),
    "abs": (np.abs, 1),
    "floor": (np.floor, 1),
    "atan2": (np.arctan2, 2),
    "min": (np.minimum, 2),
    "max": (np.maximum, 2),
    "choose": (np.where, 3),
    "chance_of": (chance_of, 1),
}
_CONSTANTS = {"pi": np.float64(np.pi)}
#: What of a formula is run by functions of ours, by names that no formula could have.
_NUMBER, _OWN_SIGNS = "01", {ast.Mod: "%", ast.Pow: "**"}
_SCOPE = {name: run for name, (run, _) in FUNCTIONS.items()} | _CONSTANTS | {_NUMBER: _as_number, "%": rest, "**": _power}
_SIGNS = (ast.Add, ast.Sub, ast.Mult, ast.Div, ast.Mod, ast.Pow)
_ORDERS = (ast.Lt, ast.LtE, ast.Gt, ast.GtE)
_LONGEST = 400


@dataclass(frozen=True)
class Formula:
    """A formula and the names it reads."""

    text: str
    reads: frozenset[str]
    _code: CodeType

    def __call__(self, values: Mapping[str, Any]) -> Any:
        """What it comes to, in the shape that its values make together; `Trouble` where that cannot be said at all."""
        scope = _SCOPE | {name: values[name] for name in self.reads}
        try:
            with np.errstate(all="ignore"):
                return eval(self._code, {"__builtins__": {}}, scope)  # only arithmetic came through `read_formula`
        except _NoNumber as error:
            raise Trouble(f"The formula “{self.text}” has no value in it that is a plain number.") from error
        except (ArithmeticError, TypeError) as error:
            raise Trouble(f"The formula “{self.text}” has no value: {error}.") from error


def read_formula(text: str, names: frozenset[str]) -> Formula:
    """A formula of these names. `Trouble` for anything that is not arithmetic."""
    if len(text) > _LONGEST:
        raise Trouble(f"A formula is {len(text)} letters long; {_LONGEST} are allowed.")
    try:
        tree = ast.parse(text.strip(), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError) as error:
        raise Trouble(f"The formula “{text}” cannot be read.") from error
    reads: set[str] = set()
    _Reader(text, names, reads).visit(tree)
    return Formula(text, frozenset(reads), compile(_AsRun().visit(tree), "formula", "eval"))


class _Reader(ast.NodeVisitor):
    """Refuses what is not arithmetic, and collects the names."""

    def __init__(self, text: str, names: frozenset[str], reads: set[str]) -> None:
        self._text, self._names, self._reads = text, names, reads

    def generic_visit(self, node: ast.AST) -> None:
        allowed = (ast.Expression, ast.BinOp, ast.UnaryOp, ast.UAdd, ast.USub, ast.Compare, ast.Load, *_SIGNS, *_ORDERS)
        if not isinstance(node, allowed):
            raise Trouble(f"The formula “{self._text}” has something in it that is not arithmetic.")
        super().generic_visit(node)

    def visit_Constant(self, node: ast.Constant) -> None:
        if type(node.value) not in (int, float):
            raise Trouble(f"The formula “{self._text}” has “{node.value!r}” in it, which is no number.")

    def visit_Compare(self, node: ast.Compare) -> None:
        if len(node.ops) > 1:
            raise Trouble(f"The formula “{self._text}” compares more than two values at once.")
        self.generic_visit(node)

    def visit_Name(self, node: ast.Name) -> None:
        if node.id in self._names:
            self._reads.add(node.id)
        elif node.id not in _CONSTANTS:
            known = ", ".join(sorted({*self._names, *_CONSTANTS}))
            raise Trouble(f"The formula “{self._text}” reads “{node.id}”; it may read {known}.")

    def visit_Call(self, node: ast.Call) -> None:
        name = node.func.id if isinstance(node.func, ast.Name) else ""
        if name not in FUNCTIONS:
            raise Trouble(f"The formula “{self._text}” uses a function that is not there; there are {', '.join(FUNCTIONS)}.")
        if len(node.args) != FUNCTIONS[name][1] or node.keywords:
            raise Trouble(f"The formula “{self._text}” gives {name} {len(node.args)} values; it takes {FUNCTIONS[name][1]}.")
        for one in node.args:
            self.visit(one)


class _AsRun(ast.NodeTransformer):
    """Whole numbers become floats, which end at infinity: whole ones could grow for hours. Rests are taken the fast way. What
    is compared becomes 1 or 0, for two truths have another sum, and functions tell fewer digits of one."""

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        sides = [node.left, node.right]
        if isinstance(node.op, ast.Mult) and not all(isinstance(one, ast.Compare) for one in sides):
            # Times a number, it is one already.
            node.left, node.right = map(self._or_truth, sides)
            return node
        self.generic_visit(node)
        name = _OWN_SIGNS.get(type(node.op))
        return node if name is None else self._call(name, node.left, node.right)

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        return self._call(_NUMBER, self._or_truth(node))

    def visit_Call(self, node: ast.Call) -> ast.AST:
        asks = isinstance(node.func, ast.Name) and node.func.id == "choose"
        node.args = [self._or_truth(one) if asks and at == 0 else self.visit(one) for at, one in enumerate(node.args)]
        return node

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        large = abs(node.value) > 1e300  # type: ignore[arg-type]
        return ast.copy_location(ast.Constant(float("inf") if large else float(node.value)), node)  # type: ignore[arg-type]

    def _or_truth(self, node: ast.expr) -> Any:
        """A value, or what is compared as it is."""
        return self.generic_visit(node) if isinstance(node, ast.Compare) else self.visit(node)

    @staticmethod
    def _call(name: str, *values: ast.expr) -> ast.Call:
        call = ast.Call(ast.Name(name, ast.Load()), list(values), [])
        return ast.fix_missing_locations(ast.copy_location(call, values[0]))
