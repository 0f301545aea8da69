"""How a mill touches its tools: which touch each allows, where, how fast, in which order.

No text of a program: `programs/writing` makes that of a plan. No bench, no records.
"""
