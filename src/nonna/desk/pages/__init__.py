"""The pages, a folder each: loop, sheet, tools, book, shelf.

Here belongs what one page shows; no page knows another.
"""
