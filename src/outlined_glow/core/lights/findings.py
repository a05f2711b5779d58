"""What was found while LEDs were placed, told in the board frame."""

from __future__ import annotations

from ..passes import Pass
from ..project.frames import all_in_board_frame

CHECKS = (Pass("lights check", ("light findings", "origin"), all_in_board_frame),)
