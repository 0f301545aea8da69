"""Dialects of the program language, a folder each: `DIALECT` and the macros that write its searches and checks.

What a machine's own control needs beside them stands on its card.
"""
