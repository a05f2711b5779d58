"""Places of a region that are too thin, and gaps in it that are too narrow: found, and measured."""
