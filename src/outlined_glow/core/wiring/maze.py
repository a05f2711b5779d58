"""The way of a track over a grid of two layers: the cheapest path from a piece of a net to another piece of it.

Each function is compiled once on a machine. Cells are numbered layer by layer, row by row. A step goes to one of eight
neighbours or through a via; `owner` says whose a cell is for a class of copper (-1 anybody's, -2 nobody's, else a net), `used`
how many other nets lie too near to it. What is used is not forbidden but dear, and becomes dearer (negotiated congestion).
"""

from __future__ import annotations

from typing import Any

import numpy as np

from ..compiled import kernel

#: The eight directions a track leaves a cell in, counterclockwise from +x.
STEPS = ((1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1))
#: How a cell was come to, where not by one of them; what is added once it was looked at.
VIA, START, DONE = 8, 9, 16
#: What `marks` says of a cell: no copper of the net, its track, its pad.
TRACK, PAD = 1, 2
#: Places of `prices`: a step, a step aslant, a via (under 0: none), a bend of an eighth, of a quarter; how dear used cells are
#: (under 0: closed); how many times a step in front, and behind, costs that at the least.
STEP, ASLANT, THROUGH, BEND, CORNER, PRESSURE, IN_FRONT, BEHIND = range(8)
#: Places of `sizes`.
WIDTH, HEIGHT = range(2)


def _push(costs: Any, cells: Any, count: Any, cost: Any, cell: Any) -> Any:
    """One more on the heap; how many it holds."""
    at = count
    while at > 0:
        above = (at - 1) >> 1
        if costs[above] <= cost:
            break
        costs[at], cells[at] = costs[above], cells[above]
        at = above
    costs[at], cells[at] = cost, cell
    return count + 1


def _pop(costs: Any, cells: Any, count: Any) -> Any:
    """The heap without its least, which was at 0; how many it holds."""
    count -= 1
    cost, cell = costs[count], cells[count]
    at = 0
    while True:
        below = 2 * at + 1
        if below >= count:
            break
        if below + 1 < count and costs[below + 1] < costs[below]:
            below += 1
        if costs[below] >= cost:
            break
        costs[at], cells[at] = costs[below], cells[below]
        at = below
    if count:
        costs[at], cells[at] = cost, cell
    return count


def _left(x: Any, y: Any, on: Any, boxes: Any, prices: Any) -> Any:
    """No way from a cell of layer `on` into the nearest of some boxes (left, bottom, right, top, layers) is cheaper."""
    here, over = prices[6 + on], prices[7 - on]
    through = max(prices[2], 0.0)
    least = 1e18
    for at in range(len(boxes)):
        dx = max(max(boxes[at, 0] - x, x - boxes[at, 2]), 0)
        dy = max(max(boxes[at, 1] - y, y - boxes[at, 3]), 0)
        far = prices[0] * (max(dx, dy) - min(dx, dy)) + prices[1] * min(dx, dy)
        if not (boxes[at, 4] >> on) & 1:
            left = far * min(here, over) + through
        elif boxes[at, 4] == 3:
            left = min(far * here, far * over + through)
        else:
            left = min(far * here, far * over + 2 * through)
        least = min(least, left)
    return least


def _sharp(trunk: Any, way: Any) -> Any:
    """Whether a track that leaves in a direction stands sharply on one that leaves in one of the bits of `trunk`."""
    return (trunk >> ((way + 1) & 7)) & 1 or (trunk >> ((way + 7) & 7)) & 1


def _dx(way: Any) -> Any:
    return 1 if way == 0 or way == 1 or way == 7 else -1 if way == 3 or way == 4 or way == 5 else 0


def _dy(way: Any) -> Any:
    return 1 if way == 1 or way == 2 or way == 3 else -1 if way == 5 or way == 6 or way == 7 else 0


def _turn(last: Any, way: Any) -> Any:
    """By how many eighths a track turns that came in one direction and goes on in another; 0 after a via and at the start."""
    turn = (way - last) & 7 if last < 8 else 0
    return 8 - turn if turn > 4 else turn


def _written(path: Any, found: Any, came: Any, width: Any, layer: Any) -> Any:
    """Write the path that led to a cell from there back to its start; its length."""
    length, here = 0, found
    while length < len(path):
        path[length] = here
        length += 1
        last = came[here] & 15
        if last == 9:
            return length
        if last == 8:
            here = here + layer if here < layer else here - layer
        else:
            here = here - _dx(last) - _dy(last) * width
    return 0


def _price(net: Any, cell: Any, owner: Any, used: Any, dear: Any, past: Any, prices: Any) -> Any:
    """How many times as dear a step to a cell is as one over free ground; under 0 where it is not allowed."""
    whose = owner[cell]
    if whose != -1 and whose != net:
        return -1.0
    many = used[cell]
    if many > 0 and prices[5] < 0:
        return -1.0
    return (1.0 + dear[cell]) * (1.0 + past[cell]) * (1.0 + max(prices[5], 0.0) * many)


def _through(
    net: Any, there: Any, flat: Any, layer: Any, owner: Any, used: Any, via_owner: Any, via_used: Any, dear: Any, past: Any,
    prices: Any,
) -> Any:  # fmt: skip
    """What a via to a cell of the other side costs; under 0 where it is not allowed."""
    price = _price(net, there, owner, used, dear, past, prices)
    one = _price(net, flat, via_owner, via_used, dear, past, prices)
    other = _price(net, flat + layer, via_owner, via_used, dear, past, prices)
    if price < 0 or one < 0 or other < 0:
        return -1.0
    return prices[2] * max(1.0, 0.25 * (one + other))


def _reached(cell: Any, cost: Any, way: Any, run: Any, costs: Any, seen: Any, came: Any) -> Any:
    """Whether a cell is reached at less cost than before, which is noted then."""
    if seen[cell] == run and cost >= costs[cell] - 1e-6:
        return False
    costs[cell], seen[cell], came[cell] = cost, run, way
    return True


def _begun(
    starts: Any, run: Any, sizes: Any, boxes: Any, prices: Any, costs: Any, seen: Any, came: Any, heap_costs: Any,
    heap_cells: Any,
) -> Any:  # fmt: skip
    """Put the cells from which a path may start on the heap; how many they are."""
    width, layer = sizes[0], sizes[0] * sizes[1]
    count = 0
    for at in range(len(starts)):
        cell = starts[at]
        costs[cell], seen[cell], came[cell] = 0.0, run, 9
        x, y = cell % layer % width, cell % layer // width
        count = _push(heap_costs, heap_cells, count, _left(x, y, cell // layer, boxes, prices), cell)
    return count


@kernel(
    "i8(i4[::1],i8,i4[::1],i2[::1],i4[::1],i2[::1],u1[::1],f4[::1],f4[::1],u1[::1],i4[::1],u2[::1],i8[::1],i8[:,::1],f8[::1],"
    "f4[::1],i4[::1],i1[::1],i8,f4[::1],i4[::1],i4[::1],i8,i8)",
    (_push, _pop, _left, _sharp, _dx, _dy, _turn, _written, _price, _through, _reached, _begun),
    exact=True,
)
def find_path(
    starts: Any, net: Any, owner: Any, used: Any, via_owner: Any, via_used: Any, drilled: Any, dear: Any, past: Any, marks: Any,
    pieces: Any, trunks: Any, sizes: Any, boxes: Any, prices: Any, costs: Any, seen: Any, came: Any, run: Any, heap_costs: Any,
    heap_cells: Any, path: Any, waiting: Any, most_looked: Any,
) -> Any:  # fmt: skip
    """The cheapest path of a net from the cells `starts` to any cell of another of its pieces, written to `path` from its end
    to its start; its length, 0 where there is none.

    `marks` and `pieces` say what of a net lies on a cell and to which piece it belongs, `trunks` in which directions its tracks
    leave there; `drilled` where no via may be, for another is near; `dear` and `past` what a cell costs beyond a step; `boxes`
    (n, 5: left, bottom, right, top, the layers as bits) hold all goals. `costs`, `seen`, `came` and the heap are scratch, `run`
    a new number. A search pauses when it has looked at so many cells: told is then, under 0, how many are `waiting` on the
    heap, and with them it goes on.
    """
    width, layer, most, mine = sizes[0], sizes[0] * sizes[1], len(heap_cells) - 10, pieces[starts[0]]
    count = waiting or _begun(starts, run, sizes, boxes, prices, costs, seen, came, heap_costs, heap_cells)
    looked = 0
    while count > 0 and count < most and looked < most_looked:
        here, looked = heap_cells[0], looked + 1
        count = _pop(heap_costs, heap_cells, count)
        last = came[here]
        if last >= 16:  # it was looked at when it was cheaper
            continue
        if marks[here] and pieces[here] != mine:
            return _written(path, here, came, width, layer)
        came[here], flat = last + 16, here % layer
        x, y = flat % width, flat // width
        for way in range(8):
            dx, dy, turn = _dx(way), _dy(way), _turn(last, way)
            if turn > 2 or not (0 <= x + dx < width and 0 <= y + dy < sizes[1]):
                continue
            there = here + dx + dy * width
            own = marks[there]
            if (own and pieces[there] == mine) or (last == 9 and marks[here] == 1 and _sharp(trunks[here], way)):
                continue
            price = _price(net, there, owner, used, dear, past, prices)
            if price < 0 or (own == 1 and _sharp(trunks[there], (way + 4) & 7)):
                continue
            bend = prices[3] if turn == 1 else prices[4] if turn == 2 else 0.0
            total = costs[here] + (prices[1] if way & 1 else prices[0]) * price + bend
            if _reached(there, total, way, run, costs, seen, came):
                count = _push(heap_costs, heap_cells, count, total + _left(x + dx, y + dy, here // layer, boxes, prices), there)
        there = here + layer if here < layer else here - layer
        if last == 8 or prices[2] < 0 or drilled[flat] or (marks[there] and pieces[there] == mine):
            continue
        price = _through(net, there, flat, layer, owner, used, via_owner, via_used, dear, past, prices)
        total = costs[here] + price
        if price >= 0 and _reached(there, total, 8, run, costs, seen, came):
            count = _push(heap_costs, heap_cells, count, total + _left(x, y, there // layer, boxes, prices), there)
    return -count if looked == most_looked else 0


def _open(net: Any, cell: Any, owner: Any, used: Any, prices: Any) -> Any:
    """Whether a step to a cell is allowed at any price."""
    return (owner[cell] == -1 or owner[cell] == net) and (used[cell] == 0 or prices[5] >= 0)


def _flood(
    first: Any, net: Any, mine: Any, owner: Any, used: Any, via_owner: Any, via_used: Any, drilled: Any, marks: Any,
    pieces: Any, sizes: Any, prices: Any, run: Any, flooded: Any, queue: Any,
) -> Any:  # fmt: skip
    """How many cells lead to one; a great number where the piece `mine` is among them, or where they are many."""
    width, layer = sizes[0], sizes[0] * sizes[1]
    flooded[first], queue[0] = run, first
    at, count = 0, 1
    while at < count:
        here = queue[at]
        at += 1
        flat = here % layer
        x, y = flat % width, flat // width
        through = prices[2] >= 0 and not drilled[flat] and _open(net, flat, via_owner, via_used, prices)
        through = through and _open(net, flat + layer, via_owner, via_used, prices)
        for way in range(9):
            if way == 8:
                there = here + layer if here < layer else here - layer
                if not through:
                    continue
            else:
                dx, dy = _dx(way), _dy(way)
                there = here + dx + dy * width
                if not (0 <= x + dx < width and 0 <= y + dy < sizes[1]):
                    continue
            if marks[there] and pieces[there] == mine:
                return len(queue)
            if flooded[there] != run and _open(net, there, owner, used, prices):
                flooded[there] = run
                queue[count] = there
                count += 1
        if count > 4000:
            return len(queue)
    return count


@kernel(
    "b1(i8,i8,i4[::1],i2[::1],i4[::1],i2[::1],u1[::1],u1[::1],i4[::1],i8[::1],i8[:,::1],f8[::1],i8,i4[::1],i4[::1])",
    (_dx, _dy, _open, _flood),
    exact=True,
)
def walled_in(
    net: Any, mine: Any, owner: Any, used: Any, via_owner: Any, via_used: Any, drilled: Any, marks: Any, pieces: Any,
    sizes: Any, boxes: Any, prices: Any, run: Any, flooded: Any, queue: Any,
) -> Any:  # fmt: skip
    """Whether no way leads from the piece `mine` of a net to any other: what leads there is flooded from each of their cells,
    as long as it is little. The arrays are those of a search; `flooded` and `queue` are scratch, `run` a new number.
    """
    width, layer = sizes[0], sizes[0] * sizes[1]
    for at in range(len(boxes)):
        for on in range(2):
            if not (boxes[at, 4] >> on) & 1:
                continue
            for y in range(max(boxes[at, 1], 0), min(boxes[at, 3] + 1, sizes[1])):
                for x in range(max(boxes[at, 0], 0), min(boxes[at, 2] + 1, width)):
                    cell = on * layer + y * width + x
                    goal = marks[cell] and pieces[cell] != mine and flooded[cell] != run
                    if not goal or not _open(net, cell, owner, used, prices):
                        continue
                    many = _flood(
                        cell, net, mine, owner, used, via_owner, via_used, drilled, marks, pieces, sizes, prices, run, flooded,
                        queue,
                    )  # fmt: skip
                    if many == len(queue):
                        return False
    return True


@kernel("void(i4[::1],i8[:,::1],i2[::1],i8[::1],i8)", exact=True)
def stamp(cells: Any, offsets: Any, used: Any, sizes: Any, by: Any) -> Any:
    """Add `by` to the use of all cells within `offsets` (n, 2: dx, dy) of some cells, on their own layers."""
    width, height = sizes[0], sizes[1]
    layer = width * height
    for at in range(len(cells)):
        cell = cells[at]
        base = cell - cell % layer
        flat = cell % layer
        x, y = flat % width, flat // width
        for which in range(len(offsets)):
            column, row = x + offsets[which, 0], y + offsets[which, 1]
            if 0 <= column < width and 0 <= row < height:
                used[base + row * width + column] += by


@kernel("void(i4[::1],i8[:,::1],u1[::1],i8[::1],u1)", exact=True)
def mark_near(cells: Any, offsets: Any, flags: Any, sizes: Any, value: Any) -> Any:
    """Set the flag of all places (layers do not count) within `offsets` of some cells."""
    width, height = sizes[0], sizes[1]
    layer = width * height
    for at in range(len(cells)):
        flat = cells[at] % layer
        x, y = flat % width, flat // width
        for which in range(len(offsets)):
            column, row = x + offsets[which, 0], y + offsets[which, 1]
            if 0 <= column < width and 0 <= row < height:
                flags[row * width + column] = value


@kernel("void(i4[::1],f8[::1],i8[::1],f8,i8,f8,f8,f8,f8,f8,f8,b1)", exact=True)
def claim(
    owner: Any,
    origin: Any,
    sizes: Any,
    pitch: Any,
    net: Any,
    x_mm: Any,
    y_mm: Any,
    half_width: Any,
    half_height: Any,
    angle: Any,
    reach: Any,
    is_round: Any,
) -> Any:
    """Make a pad's net the owner of the cells of one layer nearer to it than `reach`, mm; a cell with two owners is nobody's.

    The pad is a box of these half sizes, turned by `angle` (radians), or a disc of that half width.
    """
    width, height = sizes[0], sizes[1]
    span = (half_width if is_round else np.sqrt(half_width * half_width + half_height * half_height)) + reach
    left = max(0, int(np.floor((x_mm - span - origin[0]) / pitch)))
    right = min(width - 1, int(np.ceil((x_mm + span - origin[0]) / pitch)))
    bottom = max(0, int(np.floor((y_mm - span - origin[1]) / pitch)))
    top = min(height - 1, int(np.ceil((y_mm + span - origin[1]) / pitch)))
    cosine, sine = np.cos(angle), np.sin(angle)
    for row in range(bottom, top + 1):
        for column in range(left, right + 1):
            dx, dy = origin[0] + column * pitch - x_mm, origin[1] + row * pitch - y_mm
            if is_round:
                far = np.sqrt(dx * dx + dy * dy) - half_width
            else:
                along = max(abs(dx * cosine + dy * sine) - half_width, 0.0)
                across = max(abs(dy * cosine - dx * sine) - half_height, 0.0)
                far = np.sqrt(along * along + across * across)
            if far < reach:
                cell = row * width + column
                if owner[cell] == -1:
                    owner[cell] = net
                elif owner[cell] != net:
                    owner[cell] = -2
