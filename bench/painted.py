"""Drawings of any size, made up: blobs of twelve curves in six colours that cover their page about one and a half times."""

from __future__ import annotations

import math
import random

COLOURS = ("#3B1E4E", "#E8A33D", "#F2EBDD", "#17141B", "#6FD3B8", "#FF6F59")


def blobs(count: int, seed: int = 1) -> bytes:
    """An SVG of `count` paths."""
    chance = random.Random(seed)
    size = 1440 / math.sqrt(count)
    rows = ['<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1000 1000">']
    for _ in range(count):
        x, y, radius = chance.uniform(0, 1000), chance.uniform(0, 1000), size * chance.uniform(0.2, 0.8)
        turn = [2 * math.pi * k / 12 for k in range(12)]
        reach = [radius * chance.uniform(0.7, 1.3) for _ in turn]
        p = [(x + r * math.cos(a), y + r * math.sin(a)) for r, a in zip(reach, turn, strict=True)]
        d = f"M{p[0][0]:.2f} {p[0][1]:.2f}"
        for k in range(12):
            a, b, c, e = p[k - 1], p[k], p[(k + 1) % 12], p[(k + 2) % 12]
            one = (b[0] + (c[0] - a[0]) / 6, b[1] + (c[1] - a[1]) / 6)
            two = (c[0] - (e[0] - b[0]) / 6, c[1] - (e[1] - b[1]) / 6)
            d += f"C{one[0]:.2f} {one[1]:.2f} {two[0]:.2f} {two[1]:.2f} {c[0]:.2f} {c[1]:.2f}"
        rows.append(f'<path fill="{chance.choice(COLOURS)}" d="{d}Z"/>')
    return "\n".join([*rows, "</svg>"]).encode()
