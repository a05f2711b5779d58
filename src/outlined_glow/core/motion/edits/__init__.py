"""The edits of what plays: strips, the score as a whole, feeds, films, patterns, scenes, signs, the sensor of light."""

from . import ambient, feeds, films, patterns, scenes, score, signs, strips  # noqa: F401  (each registers its own)
