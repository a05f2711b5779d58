"""Light made row by row, in compiled code: what frames of a playing pattern are made of."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..compiled import kernel


@kernel("void(f4[:,::1], i4[::1], f4[:,::1], f4[:,::1])")
def widen(grid: Any, columns: Any, shares: Any, out: Any) -> None:
    """Each row of a grid at the width of `out` (h, w): four of its columns from `columns` (w,) on by their shares (4, w)."""
    wide = out.shape[1]
    for y in range(len(grid)):
        line, row = grid[y], out[y]
        for x in range(wide):
            at = np.uint32(columns[x])
            row[x] = (
                shares[0, x] * line[at]
                + shares[1, x] * line[at + 1]
                + shares[2, x] * line[at + 2]
                + shares[3, x] * line[at + 3]
            )


@kernel("void(f4[:,::1], i4[::1], f4[:,::1], f4[:,::1])")
def mix_rows(across: Any, rows: Any, shares: Any, out: Any) -> None:
    """Rows of `out` (h, w): four of those of `across` from `rows` (h,) on by their shares (h, 4)."""
    for y in range(len(out)):
        one, two, three, four = across[rows[y]], across[rows[y] + 1], across[rows[y] + 2], across[rows[y] + 3]
        a, b, c, d, row = shares[y, 0], shares[y, 1], shares[y, 2], shares[y, 3], out[y]
        for x in range(len(row)):
            row[x] = a * one[x] + b * two[x] + c * three[x] + d * four[x]


@kernel("void(f4[:,::1], i8, i8, i4[:,::1], i8[::1], f4[::1], f4[::1])")
def add_patches(field: Any, top: Any, left: Any, frames: Any, starts: Any, patches: Any, levels: Any) -> None:
    """Add patches times their levels (n,) to a piece of a field that begins at a row and a column; `frames` (n, 4) are the
    first and last row and column of each in the whole field."""
    high, wide = field.shape
    for n in range(len(levels)):
        level, across = levels[n], frames[n, 3] - frames[n, 2]
        first, last = max(frames[n, 2], left), min(frames[n, 3], left + wide)
        if level <= 0 or first >= last:
            continue
        for y in range(max(frames[n, 0], top), min(frames[n, 1], top + high)):
            at = starts[n] + (y - frames[n, 0]) * across + first - frames[n, 2]
            row, patch = field[y - top], patches[at : at + last - first]
            for x in range(last - first):
                row[first - left + x] += level * patch[x]


def _light_on_row(across: Any, at: Any, shares: Any, ends: Any, light: Any) -> None:
    """Fields (f, rows, w) in one row of the picture (f, w), from one column to another (f, 2): four of their rows from `at` on
    by their shares (4,)."""
    a, b, c, d = shares[0], shares[1], shares[2], shares[3]
    for f in range(len(across)):
        part, first, last = across[f], ends[f, 0], ends[f, 1]
        # Slices, for a loop that begins elsewhere than at 0 is compiled to steps of one.
        row = light[f][first:last]
        if a == 1:
            one = part[at][first:last]
            for x in range(len(row)):
                row[x] = one[x]
        elif a == 0 and d == 0:
            two, three = part[at + 1][first:last], part[at + 2][first:last]
            for x in range(len(row)):
                row[x] = b * two[x] + c * three[x]
        else:
            one, two, three, four = (
                part[at][first:last],
                part[at + 1][first:last],
                part[at + 2][first:last],
                part[at + 3][first:last],
            )
            for x in range(len(row)):
                row[x] = a * one[x] + b * two[x] + c * three[x] + d * four[x]


def _cores_on_row(
    y: Any, left: Any, here: Any, frames: Any, starts: Any, patches: Any, levels: Any, fields: Any, light: Any
) -> None:  # fmt: skip
    """Add what patches times their levels (n,) give to a row of the picture, each to its field; those that may reach it are
    from one to another (2,)."""
    wide = light.shape[1]
    for n in range(here[0], here[1]):
        if levels[n] > 0 and frames[n, 0] <= y < frames[n, 1]:
            first, last = max(frames[n, 2], left), min(frames[n, 3], left + wide)
            at = starts[n] + (y - frames[n, 0]) * (frames[n, 3] - frames[n, 2]) + first - frames[n, 2]
            row, level = light[fields[n]], levels[n]
            for x in range(last - first):
                row[first - left + x] += level * patches[at + x]


def _in_the_eye(seen: Any, halo: Any) -> None:
    """What is spread in the eye, as it is seen along a row."""
    for x in range(len(halo)):
        halo[x] *= np.float32(seen[x])


def _squared(steps: Any, total: Any) -> None:
    """Steps of the table (w,) as light."""
    for x in range(len(total)):
        step = np.float32(steps[x])
        total[x] = step * step


def _add_front(part: Any, falling: Any, white: Any, halo: Any, total: Any) -> None:
    """Add what falls on a row of the side, and what is seen in the eye, in one plane of a colour."""
    for x in range(len(total)):
        total[x] += part * (falling[x] * np.float32(white[x]) + halo[x])


def _add_behind(part: Any, shining: Any, shown: Any, total: Any) -> None:
    """Add what shines through a row where it is clear, in one plane of a colour."""
    for x in range(len(total)):
        total[x] += part * shining[x] * np.float32(shown[x])


def _steps_of(total: Any, most: Any, steps: Any) -> None:
    """Light (w,) as the nearest steps of the table, at most the last."""
    for x in range(len(steps)):
        steps[x] = np.int32(min(np.sqrt(total[x]) + np.float32(0.5), most))


def _looked_up(steps: Any, table: Any, pixels: Any) -> None:
    """Steps of the table (3, w) as bytes (w, 3)."""
    red, green, blue = steps[0], steps[1], steps[2]
    for x in range(len(red)):
        # What is never below 0 is looked up without asking.
        pixels[x, 0] = table[np.uint32(red[x])]
        pixels[x, 1] = table[np.uint32(green[x])]
        pixels[x, 2] = table[np.uint32(blue[x])]


@kernel(
    "void(i8, i8, u2[:,:,::1], u2[:,:,::1], u2[:,::1], f4[:,:,::1], i4[::1], f4[:,::1], i4[:,::1], i4[:,::1],"
    " i8[::1], f4[::1], f4[::1], i8[::1], f4[:,::1], u2[:,:,::1], i4[:,:,::1], i8[::1], f4[:,::1], u1[::1], u1[:,:,::1])",
    calls=(_light_on_row, _cores_on_row, _in_the_eye, _squared, _add_front, _add_behind, _steps_of, _looked_up),
)
def develop(
    top: Any,
    left: Any,
    base: Any,
    lit: Any,
    seen: Any,
    across: Any,
    rows: Any,
    row_shares: Any,
    here: Any,
    frames: Any,
    starts: Any,
    patches: Any,
    levels: Any,
    fields: Any,
    shades: Any,
    clear: Any,
    spans: Any,
    ways: Any,
    tints: Any,
    table: Any,
    out: Any,
) -> None:
    """Light to bytes (h, w, 3), in a piece of the picture that begins at a row and a column. `base` (3, h, w) is in steps of
    the table; two fields for each of the colours `shades` (k, 3) fall on the side (`lit`) and are `seen` in the eye; one for
    each of the `tints` (m, 3) is `clear` (n, h, w) by their `ways` (m,), within the columns of its `spans` (n, h, 2). All
    are as wide as the piece (`across`); their rows are mixed, and get those cores that may reach them: `here` (h, 2)."""
    high, wide, fronts = len(rows), across.shape[2], len(shades)
    right, light = left + wide, np.empty((len(across), wide), np.float32)
    steps, total, most = np.empty((3, wide), np.int32), np.empty(wide, np.float32), np.float32(len(table) - 1)
    ends = np.zeros((len(across), 2), np.int64)
    ends[:, 1] = wide
    for y in range(top, top + high):
        for m in range(len(tints)):
            for end in range(2):
                ends[2 * fronts + m, end] = min(max(spans[ways[m], y, end] - left, 0), wide)
        _light_on_row(across, rows[y - top], row_shares[y - top], ends, light)
        _cores_on_row(y, left, here[y], frames, starts, patches, levels, fields, light)
        for k in range(fronts):
            _in_the_eye(seen[y][left:right], light[2 * k + 1])
        for plane in range(3):
            _squared(base[plane, y][left:right], total)
            for k in range(fronts):
                _add_front(shades[k, plane], light[2 * k], lit[plane, y][left:right], light[2 * k + 1], total)
            for m in range(len(tints)):
                first, last = ends[2 * fronts + m, 0], ends[2 * fronts + m, 1]
                shown, shining = clear[ways[m], y][left + first : left + last], light[2 * fronts + m][first:last]
                _add_behind(tints[m, plane], shining, shown, total[first:last])
            _steps_of(total, most, steps[plane])
        _looked_up(steps, table, out[y][left:right])
