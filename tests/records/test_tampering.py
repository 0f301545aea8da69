"""What hands do to a ledger's file behind our back: never shown, carried or written as measured; found and named."""

import json
import os
import shutil
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.adapters.store.sqlite.shapes import HEAD, REPEATED, upgrade
from nonna.bench.book.writing import Signature, event
from nonna.bench.station.site import Site
from nonna.bench.station.state import read_state
from nonna.bench.tables.tool_table import csv_text, rows
from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.shop.links.subjects import tool
from nonna.shop.records.damage import DamagedRecordError
from nonna.shop.records.hashing import canonical, digest
from nonna.shop.records.text import body_of, exported
from tests.support.ledgers import Ledger, sql

TRIGGERS = ("records_no_update", "records_no_delete", "records_no_replace")


def forged(path, number, change, *, chain=True):
    """Put another text into a record, with a hash that fits it; ``chain``: and carry the chain on to the end."""
    with closing(sqlite3.connect(path)) as db:
        for name in TRIGGERS:
            db.execute(f"DROP TRIGGER IF EXISTS {name}")
        previous, last = None, db.execute("SELECT max(number) FROM records").fetchone()[0]
        for at in range(number, last + 1 if chain else number + 1):
            body = json.loads(db.execute("SELECT body FROM records WHERE number = ?", (at,)).fetchone()[0])
            if at == number:
                change(body)
            else:
                body["previous"] = previous
            text, previous = canonical(body), digest(canonical(body))
            fields = ", ".join(f"{name} = ?" for name in REPEATED)
            values = [body[name] for name in REPEATED]
            db.execute(f"UPDATE records SET body = ?, hash = ?, previous = ?, {fields} WHERE number = ?",
                       (text, previous, body["previous"], *values, at))  # fmt: skip
        db.commit()


def shown(shop):
    """What the desk shows, carries and writes of a shop's tools and links."""
    state = read_state(shop)
    link = next(s for s in state.links if s.link.key == "tools")
    table = csv_text(rows(state.tools, state.standing, link))
    plane = Site.load(shop).results().value("setter-calibration", "trigger_plane_mm")
    return (
        table,
        plane,
        [(s.link.key, s.state, s.entry) for s in state.links],
        state.entries,
        state.book.minutes("Larch"),
    )


@pytest.fixture(scope="module")
def sound(practice):
    return shown(ShopFolder(practice))


VALUES = {
    "signed_at": st.sampled_from(["2030-01-01T00:00:00+00:00", "2020-01-01T00:00:00+00:00"]),
    "kind": st.sampled_from(["event", "withdrawal", "measurement"]), "value_mm": st.floats(-400, 400),
    "expanded_mm": st.floats(0, 1), "refers_to": st.integers(1, 100), "verdict": st.sampled_from(["pass", "fail"]),
}  # fmt: skip


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(data=st.data(), column=st.sampled_from(list(REPEATED)))
def test_a_column_changed_by_hand_changes_nothing_that_is_seen_and_is_named(
    practice, sound, tmp_path_factory, data, column
):
    place = tmp_path_factory.mktemp("tampered") / "shop"
    shutil.copytree(practice, place)
    shop = ShopFolder(place)
    number = data.draw(st.integers(1, len(sound[3])))
    value = data.draw(VALUES.get(column, st.sampled_from(["another", "T2", "Larch", "tool-length"])))
    sql(shop.ledger, (f"UPDATE records SET {column} = ? WHERE number = ?", (value, number)))
    assert shown(shop) == sound
    check = shop.book.verify()
    was = getattr(sound[3][number - 1], column, None)
    if check.sound or check.first_damaged is None:
        assert value == (str(was) if column == "subject" else was)
    else:
        assert check.first_damaged == number and column in check.reason
    shutil.rmtree(place)


def test_a_withdrawal_is_found_by_what_was_signed_and_marks_nothing_else(shop):
    from nonna.bench.sheet.signing import withdraw

    length = next(e for e in reversed(shop.book.entries()) if e.name == "tool-length" and e.subject == tool(2))
    by = withdraw(shop.book, length.number, "K. Amsel", "chip").number
    sql(shop.ledger, f"UPDATE records SET refers_to = {length.number - 1}, kind = 'event' WHERE number = {by}")
    fresh = ShopFolder(shop.root)
    assert fresh.book.withdrawal_of(length.number) == by and fresh.book.withdrawal_of(length.number - 1) is None
    assert length.number not in {e.number for e in Site.load(fresh).standing()}


@pytest.mark.parametrize("chain", [False, True])
@pytest.mark.parametrize(
    ("change", "reason"),
    [
        (lambda b: b.update(verdict="fail"), "verdict is not that of its own checks"),
        (lambda b: (b["result"].update(verdict="pass"), b.update(verdict="pass"), b["checks"][0].update(value=9.0)),
            "limit it does not keep"),
        (lambda b: b.update(value_mm=111.0), "main value is none of its results"),
        (lambda b: b.update(signed_at="2024-01-01T00:00:00.000+00:00"), "dated over a day before"),
    ],
)  # fmt: skip
def test_a_record_that_contradicts_itself_or_its_neighbour_is_named(shop, change, reason, chain):
    number = next(
        e.number
        for e in reversed(shop.book.entries())
        if e.name == "tool-length" and body_of(shop.book.get(e.number))["checks"]
    )
    forged(shop.ledger, number, change, chain=chain)
    check = ShopFolder(shop.root).book.verify()
    assert (check.sound, check.first_damaged) == (False, number) and reason in check.reason


def test_a_record_put_in_the_place_of_another_is_refused_or_seen_at_the_next_look(shop):
    with closing(sqlite3.connect(shop.ledger)) as db:
        row = db.execute("SELECT * FROM records WHERE number = 5").fetchone()
        names = [c[1] for c in db.execute("PRAGMA table_info(records)")]
        row = dict(zip(names, row, strict=True)) | {"hash": "1" * 64}
        replace = f"INSERT OR REPLACE INTO records ({', '.join(names)}) VALUES ({', '.join('?' * len(names))})"
        with pytest.raises(sqlite3.IntegrityError, match="never changed"):
            db.execute(replace, list(row.values()))
    forged(shop.ledger, 5, lambda b: b.update(operator="Nobody"), chain=False)
    with pytest.raises(DamagedRecordError, match="Record 6 is damaged: it does not follow"):
        Ledger(shop.ledger).entries()
    assert ShopFolder(shop.root).book.verify().first_damaged == 6


@pytest.mark.parametrize("number", [1, 40])
def test_a_text_changed_or_a_record_taken_out_stops_the_look(shop, number):
    whole = shop.ledger.read_bytes()
    sql(shop.ledger, f"UPDATE records SET body = replace(body, 'K. Amsel', 'N. Obody') WHERE number = {number}")
    with pytest.raises(DamagedRecordError, match=f"Record {number} is damaged"):
        shown(ShopFolder(shop.root))
    for end in ("-wal", "-shm"):
        shop.ledger.with_name(shop.ledger.name + end).unlink(missing_ok=True)
    shop.ledger.write_bytes(whole)
    sql(shop.ledger, f"DELETE FROM records WHERE number = {number}")
    with pytest.raises(DamagedRecordError, match=f"Record {number} is damaged: it is gone"):
        shown(ShopFolder(shop.root))


@pytest.mark.parametrize("gone", TRIGGERS)
def test_a_guard_taken_out_of_the_file_is_named(shop, gone, capsys):
    with closing(sqlite3.connect(shop.ledger)) as db:
        db.execute(f"DROP TRIGGER {gone}")
        db.commit()
    check = ShopFolder(shop.root).book.verify()
    assert not check.sound and check.first_damaged is None and gone in check.reason
    assert run(["ledger", "verify", "--shop", str(shop.root)], lambda given: 99) == 3
    assert gone in capsys.readouterr().err


@pytest.mark.parametrize("version", ["9999", "0000", ""])
def test_a_shape_that_is_none_of_ours_is_named(shop, version):
    sql(shop.ledger, ("UPDATE alembic_version SET version_num = ?", (version,)))
    check = ShopFolder(shop.root).book.verify()
    assert not check.sound and "none of ours" in check.reason
    with pytest.raises(NonnaError, match="shape this Nonna does not know"):
        Ledger(shop.ledger).add(event("crash", Signature("K. Amsel")))


def test_the_shape_before_is_brought_up_to_date_and_then_refuses_what_it_let_through(tmp_path):
    path = tmp_path / "old.sqlite"
    with closing(sqlite3.connect(path)) as db:
        db.execute("CREATE TABLE alembic_version (version_num VARCHAR(32) NOT NULL)")
        db.execute("INSERT INTO alembic_version VALUES ('')")
        upgrade(db, "", "0001")
        db.commit()
    assert Ledger(path).verify().sound  # as its own shape has it
    Ledger(path).add(event("crash", Signature("K. Amsel")))
    assert Ledger(path).verify().sound
    with closing(sqlite3.connect(path)) as db:
        assert db.execute("SELECT version_num FROM alembic_version").fetchone() == (HEAD,)
        names = {row[0] for row in db.execute("SELECT name FROM sqlite_master WHERE type = 'trigger'")}
    assert names == set(TRIGGERS)


def exported_lines(shop):
    return [json.dumps(exported(record)).encode() for record in shop.book.all()]


def with_body(line, **changes):
    body = {**json.loads(line)["body"], **changes}
    return json.dumps({"hash": digest(canonical(body)), "body": body}).encode()


def test_a_refused_import_leaves_nothing_behind(shop, tmp_path):
    whole = exported_lines(shop)
    for n, bad in enumerate(([b"{"], [*whole[:3], b"{"], whole[1:], [with_body(whole[0], value_mm=1e20)])):
        book = ShopFolder(tmp_path / f"new{n}" / "shop").book
        with pytest.raises(NonnaError):
            book.take_in(bad)
        assert not (tmp_path / f"new{n}").exists()
    book = ShopFolder(tmp_path / "new" / "shop").book
    assert book.take_in(whole[:3]) == 3 and book.verify().sound
    late = with_body(whole[3], signed_at="2020-01-01T08:00:00.000+00:00")
    with pytest.raises(NonnaError, match="dated over a day before record 3"):
        book.take_in([late])
    assert book.take_in(whole) == len(whole) - 3 and book.verify().count == len(whole)


def test_an_import_into_a_place_that_cannot_be_written_is_refused(shop, monkeypatch, capfd):
    lines = [json.dumps(exported(record)).encode() for record in shop.book.all()]
    file = shop.root.parent / "all.jsonl"
    file.write_bytes(b"\n".join(lines))
    assert run(["ledger", "import", str(file), "--shop", str(shop.root)], lambda _: 9) == 0
    assert f"{len(lines)} of {len(lines)} were here already" in capfd.readouterr().err
    monkeypatch.setattr(os, "access", lambda path, mode: Path(path) != shop.root / "ledger.sqlite")
    with pytest.raises(NonnaError, match="read-only"):
        shop.book.take_in(lines)
