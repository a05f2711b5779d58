"""What the lights do: patterns, the score that is made of them, its picture, and what the hardware can show of it."""

from . import ambient_edits as _ambient_edits
from . import edits as _edits
from . import feed_edits as _feed_edits
from . import film_edits as _film_edits
from . import pattern_edits as _pattern_edits
from . import scene_edits as _scene_edits
from . import score_edits as _score_edits
from . import sign_edits as _sign_edits
from .currents import average_share, peak_share
from .lamps import Lamps, lamps_of
from .score import level_at, levels

__all__ = ["Lamps", "average_share", "lamps_of", "level_at", "levels", "peak_share"]
del _ambient_edits, _edits, _feed_edits, _film_edits, _pattern_edits, _scene_edits, _score_edits, _sign_edits
