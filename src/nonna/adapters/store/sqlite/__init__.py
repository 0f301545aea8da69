"""Records in one SQLite file beside the shop's others, by Python's own driver.

`shapes` says what tables there are and were, `file` opens and makes the file, `store` asks and adds.
"""
