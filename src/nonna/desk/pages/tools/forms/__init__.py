"""Dialogs of the page of tools, one a file.

Here belongs what is asked or shown over the table.
"""
