"""What the commands of the window do: palette, menu, help, settings, copies, papers.

Here belongs behaviour; ids, words and keys stand in `desk.commands`.
"""
