"""What a shop decides for itself: limits, rules, how long links hold.

Here belongs what decides verdicts; what a desk remembers for itself stands in the desk.
"""
