"""Drawings as plain lists of strokes, so that the screen and the certificate show the same one."""
