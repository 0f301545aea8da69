"""What is signed from a window beside a sheet: events, answers about a machine, cards changed outside, certificates.

Here belongs what ends in the book.
"""
