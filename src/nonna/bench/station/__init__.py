"""One station with all its files and records say: checked whole, its state, its documents.

Here belongs what is asked of a station as a whole.
"""
