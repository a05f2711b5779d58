"""What was found while LEDs were placed, told in the board frame."""

from __future__ import annotations

from ..passes import Pass
from ..project.frames import all_in_board_frame
from .own_parts import CHECKS as _OWN_PARTS

CHECKS = (Pass("lights check", ("light findings", "origin"), all_in_board_frame), *_OWN_PARTS)
