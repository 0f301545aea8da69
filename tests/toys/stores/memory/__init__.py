"""A store that keeps records in memory: one folder, and the whole suite of stores runs on it."""

from contextlib import contextmanager

from nonna.bench.book.store import Beside, Stored
from nonna.shop.records.text import body_of

COLUMNS = ("kind", "name", "machine", "note")


class MemoryStore:
    """Fills `bench.book.store.Store`."""

    name = "memory"

    def __init__(self):
        self.kept: list[tuple[Stored, Beside]] | None = None
        self.highest = 0

    @property
    def exists(self):
        return self.kept is not None

    def marks(self):
        return (len(self.kept or ()), id(self.kept))

    def heads(self):
        return tuple((row.number, row.hash) for row, _ in self.kept or ())

    def rows(self, first, last):
        return iter([row for row, _ in self.kept or () if first <= row.number <= last])

    def rows_beside(self):
        return iter(self.kept or ())

    def starting_with(self, hash_):
        return tuple(row for row, _ in self.kept or () if row.hash.startswith(hash_))[:2]

    def newest_of(self, machine, most):
        found = [r for r, beside in reversed(self.kept or ()) if beside.columns["machine"] == machine]
        return iter([r for r in found if '"kind":"measurement"' in r.text][:most])

    def with_words(self, words):
        return iter([r for r, _ in reversed(self.kept or ()) if words in r.text and '"kind":"measurement"' in r.text])

    @contextmanager
    def adding(self):
        adding = _Adding(list(self.kept or ()), self.highest)
        yield adding
        self.kept, self.highest = adding.kept, adding.highest

    beginning = adding

    def damage(self):
        return self.highest, ""


class _Adding:
    def __init__(self, kept, highest):
        self.kept, self.highest = kept, highest

    @property
    def last(self):
        return self.kept[-1][0] if self.kept else None

    def hash_of(self, number):
        return next((row.hash for row, _ in self.kept if row.number == number), None)

    def add(self, record):
        body = body_of(record)
        beside = Beside(record.previous, {name: body[name] for name in COLUMNS})
        self.kept.append((Stored(record.number, record.hash, record.text), beside))
        self.highest = record.number
