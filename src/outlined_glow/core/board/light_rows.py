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


@kernel(
    "void(i8, i8, u2[:,:,::1], u2[:,:,::1], u2[:,::1], f4[:,:,::1], i4[::1], f4[:,::1], i4[:,::1], i4[:,::1],"
    " i8[::1], f4[::1], f4[::1], i8[::1], f4[:,::1], u2[:,:,::1], i4[:,:,::1], i8[::1], f4[:,::1], u1[::1], u1[:,:,::1])",
    calls=(_light_on_row, _cores_on_row),
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
    each of the `tints` (m, 3) is `clear` (n, h, w) by their `ways` (m,), and not beyond the columns of its `spans` (n, h, 2).
    All fields are as wide as the piece (`across`), their rows are mixed (`_light_on_row`), and cores are added: those
    that may reach a row of the picture are `here` (h, 2)."""
    high, wide, fronts = len(rows), across.shape[2], len(shades)
    light = np.empty((len(across), wide), np.float32)
    steps, total = np.empty((3, wide), np.int32), np.empty(wide, np.float32)
    half, most = np.float32(0.5), np.float32(len(table) - 1)
    ends = np.zeros((len(across), 2), np.int64)
    ends[:, 1] = wide
    for y in range(high):
        for m in range(len(tints)):
            ends[2 * fronts + m, 0] = max(0, spans[ways[m], top + y, 0] - left)
            ends[2 * fronts + m, 1] = min(wide, spans[ways[m], top + y, 1] - left)
        _light_on_row(across, rows[y], row_shares[y], ends, light)
        _cores_on_row(top + y, left, here[top + y], frames, starts, patches, levels, fields, light)
        eye = seen[top + y][left : left + wide]
        for k in range(fronts):
            halo = light[2 * k + 1]
            for x in range(wide):
                halo[x] *= np.float32(eye[x])
        for plane in range(3):
            dark, white, row = base[plane, top + y][left : left + wide], lit[plane, top + y][left : left + wide], steps[plane]
            for x in range(wide):
                step = np.float32(dark[x])
                total[x] = step * step
            for k in range(fronts):
                part, falling, halo = shades[k, plane], light[2 * k], light[2 * k + 1]
                for x in range(wide):
                    total[x] += part * (falling[x] * np.float32(white[x]) + halo[x])
            for m in range(len(tints)):
                first, last, part = ends[2 * fronts + m, 0], ends[2 * fronts + m, 1], tints[m, plane]
                shown, shining = clear[ways[m], top + y][left + first : left + last], light[2 * fronts + m][first:last]
                there = total[first:last]
                for x in range(len(there)):
                    there[x] += part * shining[x] * np.float32(shown[x])
            for x in range(wide):
                row[x] = np.int32(min(np.sqrt(total[x]) + half, most))
        pixels, red, green, blue = out[top + y][left : left + wide], steps[0], steps[1], steps[2]
        for x in range(wide):
            # What is never below 0 is looked up without asking.
            pixels[x, 0] = table[np.uint32(red[x])]
            pixels[x, 1] = table[np.uint32(green[x])]
            pixels[x, 2] = table[np.uint32(blue[x])]
