"""Plans as program text, by templates that a shop can edit, and their results read back.

Here belongs what goes to a control and comes from it.
"""
