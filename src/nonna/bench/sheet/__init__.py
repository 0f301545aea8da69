"""One sheet from opening to signature: what it knows already, what it rests on, its draft, its evaluation.

Here belongs what is done with one procedure's readings. What the book says of them stands in `bench.book`.
"""
