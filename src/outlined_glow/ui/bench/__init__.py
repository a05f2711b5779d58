"""The bench: where the board lies at every stage. `area` puts it together; it is loaded when a board is there to lie on it."""
