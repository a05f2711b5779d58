"""Copper between the parts: net classes, tracks and vias, pours, and the check that what is joined is what should be."""
