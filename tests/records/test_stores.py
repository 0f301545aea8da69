"""What the book asks of any store: the same suite on the file of SQLite and on one that lives in memory."""

import json
from datetime import timedelta

import pytest

from nonna.adapters.store.sqlite.store import SqliteStore
from nonna.bench.book.book import Book
from nonna.bench.book.writing import Grounds, Signature, event, withdrawal
from nonna.bench.sheet.signing import prepare
from nonna.errors import NonnaError
from nonna.shop.links.subjects import STATION, tool
from nonna.shop.records.damage import NotRead
from nonna.shop.records.text import exported
from tests.support.documents import REPEAT, START, TOOL
from tests.toys.stores.memory import MemoryStore

WHO = Signature("K. Amsel", "Larch", tool(2), "Tarnholm Pump Works", at=START)


@pytest.fixture(params=["sqlite", "memory"])
def store(request, tmp_path):
    return SqliteStore(tmp_path / "deep" / "ledger.sqlite") if request.param == "sqlite" else MemoryStore()


def signature(**later):
    return Signature("K. Amsel", "Larch", STATION, "Tarnholm Pump Works", at=START + timedelta(**later))


def length(at=0, **more):
    made = Signature("K. Amsel", "Larch", tool(2), at=START + timedelta(minutes=at))
    return prepare(TOOL, made, Grounds(title="Tool length", **more))[0]


def test_a_store_begins_empty_and_with_its_first_record(store):
    book = Book(store)
    assert not book.exists and book.entries() == () and book.minutes("Larch") == {}
    assert book.record_of_draft("a1") is None
    before = book.marks()
    (first,) = book.sign([length(draft="a1")])
    assert book.exists and book.marks() != before and first.number == 1
    assert [e.number for e in book.entries()] == [1] and book.record_of_draft("a1") == 1


def test_records_are_found_by_number_by_hash_by_word_and_in_order(store):
    book = Book(store)
    receipts = book.sign([length(), prepare(REPEAT, WHO)[0], event("crash", signature(hours=1), "into the vice")])
    assert [r.number for r in receipts] == [1, 2, 3] == [r.number for r in book.all()]
    assert book.get(2).hash == receipts[1].hash == book.get(receipts[1].hash[:9]).hash
    for wrong in ("7", "zz", "abcdef"):
        with pytest.raises(NonnaError):
            book.get(wrong)
    read = book.reader()
    with pytest.raises(NotRead):
        read.known(3)
    assert read(3).note == "into the vice" and read.known(3) is read(3)
    assert book.verify().sound and book.verify().count == 3


def test_all_of_a_signature_or_nothing(store):
    book = Book(store)
    book.sign([length()])

    def half():
        yield event("crash", signature(hours=1))
        raise NonnaError("out-of-range", "no more")

    with pytest.raises(NonnaError, match="no more"):
        book.sign(half())
    with pytest.raises(NonnaError) as early:
        book.sign([event("crash", signature(hours=1)), event("crash", signature(days=-9))])
    assert early.value.where == "signed_at" and [r.number for r in book.all()] == [1]
    book.clock_is_right()
    book.sign([event("crash", signature(days=-9))])
    assert book.get(2).clock.record == 1 and book.verify().sound


def test_a_record_taken_back_and_a_second_reader(store):
    book, other = Book(store), Book(store)
    book.sign([length(), withdrawal(1, signature(hours=1), "wrong tool")])
    assert other.withdrawal_of(1) == 2 and other.withdrawal_of(2) is None
    other.sign([event("cleaned", signature(hours=2))])
    assert [e.name for e in book.entries()] == ["tool-length", "withdrawal", "cleaned"]
    assert [e.number for e in book.standing("Larch", "Larch", practice=True)] == [3]


def test_ones_own_minutes(store):
    book = Book(store)
    for i, took in enumerate((3, 4, 5, 300)):
        row = {"values": {"position_mm": 1.0}, "at": START.isoformat(), "source": "typed", "struck": ""}
        at = START + timedelta(minutes=took)
        book.sign([prepare(TOOL, Signature("K. Amsel", "Larch", at=at), Grounds(tape=[row]))[0]])
        assert book.minutes("Larch") == ({} if i < 2 else {"tool-length": 4.0})


def test_an_export_carries_a_chain_on_or_leaves_nothing(store, tmp_path):
    source = Book(SqliteStore(tmp_path / "source.sqlite"))
    source.sign([length(i) for i in range(4)])
    lines = [json.dumps(exported(record)).encode() for record in source.all()]
    book = Book(store)
    for bad in ([b"{"], lines[1:], [*lines[:2], b"{"], [None]):
        with pytest.raises(NonnaError):
            book.take_in(bad)
        assert not book.exists
    assert book.take_in(lines[:2]) == 2 and book.take_in(lines) == 2 and book.take_in(lines) == 0
    assert [r.text for r in book.all()] == [r.text for r in source.all()] and book.verify().sound
