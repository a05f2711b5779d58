"""What of a score is told: flashes, words, scenes, tables, currents, and what the LEDs cannot show."""
