"""One open sheet: what happens on it, what it shows, and what it has under way.

Its arithmetic lives in `procedures`, opening and signing in `bench.sheet`.
"""
