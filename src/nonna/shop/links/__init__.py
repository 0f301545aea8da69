"""Links of a station's loop: which there are, what holds them, what breaks them, what the records say of them.

Here belongs judging by dates and events; values with their doubt stand in `metrology`.
"""
