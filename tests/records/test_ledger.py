"""The ledger keeps what was signed: chained, append-only, safe under kills and two writers."""

import gzip
import json
import math
import os
import signal
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from pathlib import Path

import pytest

from nonna.adapters.store.sqlite.file import made_aside
from nonna.adapters.store.sqlite.shapes import HEAD
from nonna.bench.book.difference import difference
from nonna.bench.book.recalling import read_back
from nonna.bench.book.results_that_hold import held_in
from nonna.bench.book.writing import Grounds, Signature, event, withdrawal
from nonna.bench.sheet.signing import prepare
from nonna.errors import NonnaError
from nonna.procedures.telling import words_of
from nonna.shop.links.subjects import STATION, tool
from nonna.shop.records.hashing import canonical, digest
from nonna.shop.records.text import body_of
from nonna.shop.records.values import CarriedFrom
from tests.support.documents import SETTER, TOOL
from tests.support.ledgers import Ledger, plain

NOVEMBER = Path(__file__).parents[1] / "data" / "ledger-of-november.sqlite.gz"
SIGNATURE = Signature("K. Amsel", "Larch", tool(2), "Tarnholm Pump Works", invented=True)


def signed(ledger, count=3):
    return [ledger.add(prepare(TOOL, SIGNATURE)[0]) for _ in range(count)]


@pytest.fixture
def book(tmp_path):
    ledger = Ledger(tmp_path / "ledger.sqlite")
    yield ledger


def test_each_record_carries_the_hash_of_the_one_before(book):
    receipts = signed(book)
    records = list(book.all())
    assert [body_of(r)["previous"] for r in records] == ["0" * 64, receipts[0].hash, receipts[1].hash]
    assert all(digest(canonical(body_of(r))) == r.hash for r in records)
    assert book.verify().sound
    assert book.get(receipts[1].hash[:9]).number == 2
    body = body_of(records[0])
    assert body["input"] == TOOL
    assert body["made_with"]["name"] == "nonna"
    assert body["signed_at"][-6] in "+-"


def test_a_record_remembers_its_result_whatever_the_program_does_later(book):
    body, evaluation = prepare(SETTER, SIGNATURE)
    book.add(body)
    back = read_back(book.get(1))
    assert back.to_document()["results"] == evaluation.to_document()["results"]
    assert [q.title for q in back.quantities] == [q.title for q in evaluation.quantities]
    assert back.checks == evaluation.checks
    assert words_of(back.headline) == words_of(evaluation.headline)
    assert back.quantities[0].estimate.k1 == pytest.approx(evaluation.quantities[0].estimate.k1)


def test_rows_cannot_be_changed_or_deleted_through_sql(book, tmp_path):
    signed(book)
    with closing(sqlite3.connect(tmp_path / "ledger.sqlite")) as db:
        for sql in ("UPDATE records SET verdict = 'pass'", "DELETE FROM records"):
            with pytest.raises(sqlite3.IntegrityError, match="never changed"):
                db.execute(sql)


@pytest.mark.parametrize(
    ("sql", "first"),
    [
        ("UPDATE records SET body = replace(body, '112.418', '112.419') WHERE number = 2", 2),
        ("UPDATE records SET operator = 'somebody' WHERE number = 3", 3),
        ("UPDATE records SET hash = '" + "a" * 64 + "' WHERE number = 1", 1),
        ("DELETE FROM records WHERE number = 2", 2),
        ("DELETE FROM records WHERE number = 4", 4),
        ("DELETE FROM records WHERE number = 1", 1),
        ("UPDATE records SET value_mm = 1.0 WHERE number = 4", 4),
        (
            "UPDATE records SET body = '{}', hash = "
            "'44136fa355b3678a1146ad16f7e8649e94fb4fc21fe77e8310c060f61caaff8a' WHERE number = 2",
            2,
        ),
    ],
)
def test_the_first_damaged_record_is_named(book, tmp_path, sql, first):
    signed(book, 4)
    with closing(sqlite3.connect(tmp_path / "ledger.sqlite")) as db:
        db.execute("DROP TRIGGER records_no_update")
        db.execute("DROP TRIGGER records_no_delete")
        db.execute(sql)
        db.commit()
    check = book.verify()
    assert (check.sound, check.first_damaged) == (False, first)
    assert check.reason


def test_a_damaged_or_foreign_file_is_refused_whole(tmp_path):
    path = tmp_path / "ledger.sqlite"
    book = Ledger(path)
    signed(book)
    whole = path.read_bytes()
    for data in (b"not a database at all, only text" * 40, whole[:100] + b"\xff" * 4000 + whole[4100:]):
        path.write_bytes(data)
        for suffix in ("-wal", "-shm"):
            path.with_name(path.name + suffix).unlink(missing_ok=True)
        with pytest.raises(NonnaError):
            Ledger(path).verify()
        with pytest.raises(NonnaError):
            Ledger(path).entries()
    with pytest.raises(NonnaError):
        Ledger(tmp_path / "none.sqlite").verify()


def test_a_newer_ledger_is_left_alone(book, tmp_path):
    signed(book)
    with closing(sqlite3.connect(tmp_path / "ledger.sqlite")) as db:
        db.execute("UPDATE alembic_version SET version_num = '9999'")
        db.commit()
    with pytest.raises(NonnaError, match="newer"):
        signed(Ledger(tmp_path / "ledger.sqlite"))


def test_a_new_ledger_has_the_shape_of_the_one_kept_from_before(book, tmp_path):
    """Its table and guards are those of a file that an earlier program made, letter for letter but for white space."""
    signed(book)
    old = tmp_path / "november.sqlite"
    old.write_bytes(gzip.decompress(NOVEMBER.read_bytes()))
    signed(Ledger(old))
    shapes = []
    for path in (tmp_path / "ledger.sqlite", old):
        with closing(sqlite3.connect(path)) as db:
            rows = db.execute("SELECT type, name, sql FROM sqlite_master WHERE name != 'sqlite_stat1'").fetchall()
            assert db.execute("SELECT version_num FROM alembic_version").fetchall() == [(HEAD,)]
            assert db.execute("PRAGMA journal_mode").fetchone() == ("wal",)
        shapes.append({(kind, what, "".join((sql or "").split()).replace(",", "")) for kind, what, sql in rows})
    made, kept = shapes
    assert {row[:2] for row in made} == {row[:2] for row in kept}
    assert {row for row in made if row[0] == "trigger"} == {row for row in kept if row[0] == "trigger"}


def test_the_first_shape_opens_for_ever(tmp_path):
    """A ledger file as version 0001 wrote it, its rows put in by hand."""
    path = tmp_path / "old.sqlite"
    with made_aside(path):
        pass
    body = {**plain(prepare(TOOL, SIGNATURE)[0]), "number": 1, "previous": "0" * 64}
    names = (
        "number",
        "previous",
        "signed_at",
        "kind",
        "name",
        "machine",
        "subject",
        "verdict",
        "operator",
        "value_mm",
        "expanded_mm",
        "note",
    )
    with closing(sqlite3.connect(path)) as db:
        text = canonical(body)
        marks = ", ".join("?" * (len(names) + 2))
        values = [body[n] for n in names] + [digest(text), text]
        db.execute(f"INSERT INTO records ({', '.join(names)}, hash, body) VALUES ({marks})", values)
        db.commit()
    book = Ledger(path)
    assert book.verify().sound
    assert book.add(prepare(TOOL, SIGNATURE)[0]).number == 2


WRITER = """
import json, sys
from pathlib import Path
from tests.support.ledgers import Ledger
from nonna.bench.sheet.signing import prepare
from nonna.bench.book.writing import Signature
book = Ledger(Path(sys.argv[1]))
body, _ = prepare(json.loads(sys.argv[2]), Signature(sys.argv[3]))
for _ in range(int(sys.argv[4])):
    print(book.add(body).hash, flush=True)
"""


def writer(path, name, count):
    command = [sys.executable, "-c", WRITER, str(path), json.dumps(TOOL), name, str(count)]
    return subprocess.Popen(command, stdout=subprocess.PIPE, text=True)


def test_two_processes_on_one_shop_make_one_chain(tmp_path):
    path = tmp_path / "ledger.sqlite"
    running = [writer(path, name, 25) for name in ("K. Amsel", "J. Finch")]
    printed = {line for process in running for line in process.communicate(timeout=120)[0].split()}
    book = Ledger(path)
    check = book.verify()
    assert (check.sound, check.count) == (True, 50)
    assert {record.hash for record in book.all()} == printed


def test_a_kill_at_any_moment_loses_no_signed_record(tmp_path):
    path = tmp_path / "ledger.sqlite"
    promised: list[str] = []
    for round_ in range(4):
        process = writer(path, "K. Amsel", 10_000)
        assert process.stdout is not None
        promised.append(process.stdout.readline().strip())
        time.sleep(0.03 * round_)
        os.kill(process.pid, signal.SIGKILL)
        promised += [line for line in process.communicate()[0].split() if len(line) == 64]
    book = Ledger(path)
    assert book.verify().sound
    assert set(promised) <= {record.hash for record in book.all()}
    assert len(promised) >= 4


def test_export_and_import_refuse_anything_tampered(book, tmp_path):
    signed(book)
    lines = [json.dumps({"hash": r.hash, "body": body_of(r)}) for r in book.all()]
    other = Ledger(tmp_path / "other.sqlite")
    for bad in (lines[1:], [lines[0].replace("112.418", "112.419")], ["{}"], ["[]"], [lines[0], lines[2]]):
        with pytest.raises(NonnaError):
            other.take_in("\n".join(bad).encode().splitlines())
        assert not other.exists
    assert other.take_in("\n".join(lines[:2]).encode().splitlines()) == 2
    assert other.take_in([line.encode() for line in lines]) == 1  # the whole of it into a shorter copy
    assert other.verify().sound


def test_common_errors_cancel_in_a_difference(book):
    """Two setters calibrated with one master; tools on each: plane and master cancel as far as they are shared."""
    planes = []
    for shift in (0.0, 0.002):
        readings = [{**r, "position_mm": r["position_mm"] + shift} for r in SETTER["readings"]]
        receipt = book.add(prepare({**SETTER, "readings": readings}, SIGNATURE)[0])
        held = held_in(book.get(receipt.number), "trigger_plane_mm")
        planes.append((held, {"setup.trigger_plane_mm": CarriedFrom(record=receipt.number, hash=receipt.hash)}))
    for which in (0, 0, 1):
        held, carried = planes[which]
        setup = {**TOOL["setup"], "trigger_plane_mm": held.value, "trigger_plane_u_mm": held.u}
        book.add(prepare({**TOOL, "setup": setup}, SIGNATURE, Grounds(carried=carried))[0])
    one, two, other = (book.get(n) for n in (3, 4, 5))
    touch = read_back(one).quantities[0].estimate.budget[0].u
    assert difference(one, two, "length_mm", book.get).u == pytest.approx(touch * 2**0.5)
    setter = {r["source"]: r["u"] for r in body_of(book.get(1))["influences"]["trigger_plane_mm"]}
    own = math.hypot(touch, setter["touch repeatability in Z"], setter["temperature"])
    apart = difference(one, other, "length_mm", book.get)
    assert apart.u == pytest.approx(own * 2**0.5) and apart.u < 0.9 * math.hypot(touch, held.u) * 2**0.5
    with pytest.raises(NonnaError, match="one and the same"):
        difference(one, one, "length_mm", book.get)


def test_events_and_withdrawals_are_records_too(book, tmp_path):
    book.add(event("crash", SIGNATURE, "ran into the vice"))
    book.add(withdrawal(1, SIGNATURE, "wrong machine"))
    rows = Ledger(tmp_path / "ledger.sqlite").entries()
    assert [(r.kind, r.refers_to, r.note) for r in rows] == [
        ("event", None, "ran into the vice"),
        ("withdrawal", 1, "wrong machine"),
    ]
    assert book.verify().sound
    with pytest.raises(NonnaError, match="neither"):
        book.get("xyz")


def test_what_was_signed_here_is_seen_though_the_file_looks_as_it_did(shop, monkeypatch):
    """The log is written before its commit can be read: whoever looked in between must look again."""
    monkeypatch.setattr("nonna.adapters.store.sqlite.store.ledger_marks", lambda _: (1, 2, 3))
    before, marks = len(shop.book.entries()), shop.book.marks()
    signature = Signature("K. Amsel", "Larch", STATION, "Tarnholm Pump Works", True)
    shop.book.sign([event("cleaned", signature, "as every Friday")])
    assert shop.book.marks() != marks and len(shop.book.entries()) == before + 1


def test_what_another_program_was_just_signing_is_seen_when_it_can_be_read(shop, monkeypatch):
    """Its log changes before its commit can be read: who looked in between looks once more, when the file is
    settled.
    """
    book, other = shop.book, Ledger(shop.ledger)
    before = book.entries()
    signature = Signature("K. Amsel", "Larch", STATION, "Tarnholm Pump Works", True)
    other.sign([event("cleaned", signature, "as every Friday")])
    written = max(path.stat().st_mtime_ns for path in shop.root.glob("ledger.sqlite*"))
    after = [10_000_000]
    monkeypatch.setattr("nonna.adapters.files.marks.time.time_ns", lambda: written + after[0])
    with monkeypatch.context() as patched:
        patched.setattr("nonna.bench.book.glance.entries", lambda *_: before)  # not readable yet
        assert book.entries() == before
    marks = book.marks()
    assert book.marks() == marks
    after[0] = 2_000_000_000
    assert book.marks() != marks and len(book.entries()) == len(before) + 1
    marks = book.marks()
    after[0] = 9_000_000_000
    assert book.marks() == marks  # and then no more
