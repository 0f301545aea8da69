"""Every command as data: its name, words, keys, and which keys each page has of its own.

Here belongs no behaviour: what a command does stands in `desk.actions` and `desk.tray`.
"""
