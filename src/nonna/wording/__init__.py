"""Sentences shared by all, and the one look-up from a reason's code to its sentence, so that it can be translated.

No decision is made here, and nobody reads these words but people.
"""
