"""What the commands of the tray do: tables and results in, programs out, offsets and wear written.

Here belongs what is done over the page of tools; the page itself stands in `desk.pages.tools`.
"""
