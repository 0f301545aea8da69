"""The stand-in of a mill: its truth, the machine that runs a program on it, and what watches the way it takes.

What other kinds share with it lies in `nonna.standin`. Nothing that evaluates looks in here.
"""
