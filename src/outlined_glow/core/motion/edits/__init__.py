"""The edits of what plays: strips, the whole score, feeds, films, own patterns, painted letters, scenes, signs, the sensor."""

from . import ambient, feeds, films, glyphs, patterns, scenes, score, signs, strips  # noqa: F401  (each registers its own)
