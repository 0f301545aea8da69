"""The tools of a machine as hands have them on the tray: rows, identity, tables changed by hand.

Here belongs what is true of the list of tools; what is planned and run with it stands in `bench.job`.
"""
