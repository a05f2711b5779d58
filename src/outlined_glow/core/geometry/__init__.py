"""Regions in millimetres: fill rules, flattening, offsets, painter's order, thin places.

A region is a valid shapely Polygon or MultiPolygon (possibly empty), y up.
"""
