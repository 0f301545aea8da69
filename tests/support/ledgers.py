"""Ledgers of one file, for tests that sign a record at a time; and ledgers that somebody got at."""

import sqlite3
from contextlib import closing

from nonna.adapters.store.sqlite.store import SqliteStore
from nonna.bench.book.book import Book
from nonna.shop.records.hashing import FIRST_PREVIOUS
from nonna.shop.records.text import body_of, placed


class Ledger(Book):
    """A book in a file of its own."""

    def __init__(self, path):
        super().__init__(SqliteStore(path))

    def add(self, record):
        (receipt,) = self.sign([record])
        return receipt


def plain(record):
    """A record that is not signed yet as plain JSON, to be changed by hand."""
    body = body_of(placed(record, 1, FIRST_PREVIOUS))
    return {name: value for name, value in body.items() if name not in ("number", "previous")}


def sql(path, *statements):
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("DROP TRIGGER IF EXISTS records_no_update")
        connection.execute("DROP TRIGGER IF EXISTS records_no_delete")
        for statement in statements:
            connection.execute(*statement) if isinstance(statement, tuple) else connection.execute(statement)
        connection.commit()
