"""A shop's folder: its cards, drafts, templates, copies, and how a new one is written.

Here belongs which file of a shop is where.
"""
