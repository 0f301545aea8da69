"""Ledgers that somebody got at."""

import sqlite3
from contextlib import closing


def sql(path, *statements):
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("DROP TRIGGER IF EXISTS records_no_update")
        connection.execute("DROP TRIGGER IF EXISTS records_no_delete")
        for statement in statements:
            connection.execute(*statement) if isinstance(statement, tuple) else connection.execute(statement)
        connection.commit()
