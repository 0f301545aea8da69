"""Shapes through touches: circles, run-out, a row of pockets, the scale of an axis.

Here belongs what has a geometry; its doubt comes from `metrology.doubt`.
"""
