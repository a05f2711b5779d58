"""The groups that actions, keys and gestures stand in, and what is done by hand."""

from __future__ import annotations

WORK, STEPS, BENCH, LIGHT, PLACES, WINDOW = "Project", "Changes", "Bench", "Light", "Stages", "Window"

#: Keys and gestures that belong to the thing that has the focus or is under the pointer: group, key, what it does.
BY_HAND = (
    (BENCH, "H", "take the next handle in hand"),
    (BENCH, "arrows", "move it, or the view; a tenth with Ctrl"),
    (BENCH, "Enter, twice", "on a handle: type its numbers beside it"),
    (BENCH, "wheel", "nearer and farther at the pointer"),
    (BENCH, "Shift and drag", "measure"),
    (BENCH, "Ctrl and drag", "on Lights: draw round LEDs"),
    (BENCH, "↑, Enter", "on a leaf: see it alone, hide it"),
    (LIGHT, "← →", "on the sun or the score: earlier, later"),
    (LIGHT, "↑ ↓", "on the score: another strip"),
    (LIGHT, "Shift and drag", "on the score: play that stretch again and again"),
    (LIGHT, "Ctrl and ← →", "on the score: the strip earlier, later; with Shift longer, shorter"),
    (LIGHT, "D, S, M, Delete", "on the score: copy, split, mute, remove the strip"),
    (LIGHT, "R", "on the score: play the strip once more; with Shift once less"),
    (LIGHT, "P", "on the score: mark the moment of the playhead"),
    (LIGHT, "Ctrl and drag", "on the bench at Motion: the LEDs of the strip"),
    (LIGHT, "drag over LEDs", "with “paint on the board”: the letter in hand"),
    (PLACES, "↑ ↓", "on the string: the one above, below"),
    (STEPS, "↑ ↓", "in the list: go through them"),
    (WINDOW, "Tab", "the next thing; with Shift, the last"),
    (WINDOW, "Enter, space", "press what has the ring"),
)
