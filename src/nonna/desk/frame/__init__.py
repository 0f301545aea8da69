"""The window: bar, rail, banner, the places and the sheets that are open in it, what it remembers.

Here belongs what stands round a page; the pages stand in `desk.pages`.
"""
