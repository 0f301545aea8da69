"""The tray in hand: marks, plans, results that wait, and what its pages show of them.

What a tray is and may become lives in `bench.tray`, what its tools go through in `bench.job`.
"""
