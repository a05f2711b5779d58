"""The patterns that ship: how bright each LED is at each moment of a period, as formulas."""
