"""The world outside: the book on SQLite, a shop's files, the clock, instruments, tables, certificates.

Each fills a port of the bench. Nothing is decided here.
"""
