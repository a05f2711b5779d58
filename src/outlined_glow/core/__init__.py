"""The core: everything the application knows, without a window.

Folders stand in the order of the work. A folder imports from what stands above it in this list, never
from below: units, geometry, colour, project, parts, brief, artwork, shape, lights, drive, board, motion,
order, workshop. `workshop` is the door for the window and the command line.
"""
