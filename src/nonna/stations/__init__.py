"""Kinds of stations, one folder each: a loop as data, its scenes, its stand-in, procedures of its own.

A folder here is all it takes. Nothing in another room names a kind, and nothing here opens a file or knows a widget.
"""
