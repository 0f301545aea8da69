"""A shop's beginning: questions asked one after the other until its files stand, and one more station later.

Here belongs what is asked once; a card that is changed afterwards stands in `bench.shelf`.
"""
