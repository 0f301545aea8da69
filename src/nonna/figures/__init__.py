"""Drawings as plain lists of strokes, so that the screen and the certificate show the same one.

They know numbers and words, never a record or a widget.
"""
