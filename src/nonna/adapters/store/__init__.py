"""Where records are stored: a folder for each way, filling the port `bench.book.store.Store`.

Nothing outside such a folder knows SQL, a driver or a path; what records mean, and whether a chain holds, is the
bench's.
"""
