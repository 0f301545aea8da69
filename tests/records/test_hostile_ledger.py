"""Ledgers that were cut, swapped, edited or written by strangers: named, never believed, never made worse."""

import json
import os
import sqlite3
import sys
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from nonna.adapters.files import safe_write
from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.adapters.store.sqlite import file, opening
from nonna.bench.book.recalling import read_back
from nonna.bench.book.writing import Signature, event
from nonna.bench.sheet.signing import prepare
from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.shop.links.subjects import tool
from nonna.shop.records.damage import DamagedRecordError
from nonna.shop.records.hashing import canonical, digest
from nonna.shop.records.text import exported, record_of
from tests.support.documents import REPEAT, SETTER, TOOL
from tests.support.ledgers import Ledger, plain, sql

WHO = Signature(
    "K. Amsel", "Larch", tool(2), "Tarnholm Pump Works", at=datetime.fromisoformat("2026-11-20T08:00:00+01:00")
)


def filled(folder, count=4):
    book = Ledger(folder.ledger)
    for i in range(count):
        book.add(prepare((TOOL, SETTER, REPEAT)[i % 3], WHO)[0])
    return folder


@pytest.fixture
def kept(tmp_path):
    return filled(ShopFolder(tmp_path / "shop"))


def said(capfd, *arguments):
    status = run([os.fsencode(a).decode("utf-8", "surrogateescape") for a in map(str, arguments)], lambda given: 99)
    out, err = capfd.readouterr()
    assert "Traceback" not in err
    return status, [json.loads(line) for line in out.splitlines() if line.strip()]


def test_the_newest_record_cannot_vanish_unseen(kept, capfd, tmp_path):
    sql(kept.ledger, "DELETE FROM records WHERE number = 4")
    file = tmp_path / "t.json"
    file.write_text(json.dumps(TOOL))
    status, (refused,) = said(capfd, "record", file, "--shop", kept.root, "--operator", "K. Amsel")
    assert status == 2 and "Record 4 is gone, 4 were signed" in refused["error"]["message"]
    assert said(capfd, "ledger", "verify", "--shop", kept.root)[0] == 3


def test_a_cut_or_foreign_file_is_refused_and_left_as_it_is(kept, tmp_path, capfd):
    file = tmp_path / "t.json"
    file.write_text(json.dumps(TOOL))
    whole = kept.ledger.read_bytes()
    foreign = tmp_path / "foreign.sqlite"
    with closing(sqlite3.connect(foreign)) as connection:
        connection.execute("CREATE TABLE customers (name TEXT)")
        connection.commit()
    for data in (b"", b"SQLite", whole[:1000], foreign.read_bytes(), b"\0" * 8192):
        for name in ("-wal", "-shm"):
            kept.ledger.with_name(kept.ledger.name + name).unlink(missing_ok=True)
        kept.ledger.write_bytes(data)
        for command in (["verify"], ["list"], ["export"]):
            assert said(capfd, "ledger", *command, "--shop", kept.root)[0] in (2, 3)
        assert said(capfd, "record", file, "--shop", kept.root, "--operator", "K. Amsel")[0] == 2
        assert said(capfd, "loop", "--shop", kept.root)[0] == 2
        assert kept.ledger.read_bytes() == data


@pytest.mark.parametrize(
    "change",
    [
        "UPDATE records SET body = replace(body, '112.418', '112.419') WHERE number = 1",
        "UPDATE records SET body = CAST(x'ff7b7d' AS TEXT) WHERE number = 1",
        "UPDATE records SET body = x'00ff' WHERE number = 1",
        "UPDATE records SET hash = 5 WHERE number = 1",
        "UPDATE records SET body = '{' WHERE number = 1",
        "UPDATE records SET operator = CAST(x'c328' AS TEXT) WHERE number = 1",
        "UPDATE records SET value_mm = 'long' WHERE number = 1",
        "UPDATE records SET signed_at = 17 WHERE number = 1",
        "UPDATE records SET refers_to = 3 WHERE number = 1",
        "UPDATE records SET number = 9 WHERE number = 1",
        "DELETE FROM records WHERE number = 1",
    ],
)
def test_a_damaged_record_is_named_and_never_handed_out(kept, change, capfd, tmp_path):
    sql(kept.ledger, change)
    status, (answer,) = said(capfd, "ledger", "verify", "--shop", kept.root)
    assert (status, answer["ok"], answer["first_damaged"]) == (3, False, 1)
    if "body" in change or "hash" in change:
        for command in (["ledger", "list"], ["ledger", "export"], ["certificate", "1", "-o", tmp_path / "c.pdf"]):
            assert said(capfd, *command, "--shop", kept.root)[0] in (2, 3)
        assert not (tmp_path / "c.pdf").exists()
        with pytest.raises(NonnaError):
            Ledger(kept.ledger).reader()(1)


@given(column=st.sampled_from(["hash", "previous", "signed_at", "kind", "name", "machine", "verdict", "value_mm",
    "note", "body"]),
       value=st.one_of(st.text(max_size=20), st.binary(max_size=20), st.integers(-(2**60), 2**60), st.floats(),
           st.none()))  # fmt: skip
def test_no_row_of_a_stranger_brings_anything_down(tmp_path_factory, column, value):
    folder = filled(ShopFolder(tmp_path_factory.mktemp("h") / "shop"), 2)
    try:
        sql(folder.ledger, (f"UPDATE records SET {column} = ? WHERE number = 2", (value,)))
    except (sqlite3.Error, UnicodeEncodeError):
        return  # the database itself refuses it
    book = Ledger(folder.ledger)
    found = book.verify()
    if not found.sound:
        assert found.first_damaged == 2
    for look in (lambda: Ledger(folder.ledger).entries(), lambda: Ledger(folder.ledger).reader()(2)):
        try:
            look()
        except NonnaError:
            assert not found.sound


def lines(folder):
    book = Ledger(folder.ledger)
    return [json.dumps(exported(r)).encode() for r in book.all()]


def resigned(line, **changes):
    body = json.loads(line)["body"] | changes
    return json.dumps({"hash": digest(canonical(body)), "body": body}).encode()


@pytest.mark.parametrize(
    "changes",
    [
        {"number": "1"}, {"number": True}, {"value_mm": "far"}, {"value_mm": 1e308}, {"verdict": "good"},
        {"kind": "gift"}, {"operator": 5},
        {"signed_at": "yesterday"}, {"signed_at": "2026-11-20T08:00:00"}, {"refers_to": 9}, {"influences": []},
        {"result": {}},
        {"carried": {"x": 5}}, {"tape": [5]}, {"masters": []}, {"order": [["a"]]}, {"headline": {}},
        {"format": "nonna-record/9"},
        {"name": "nonsense"}, {"checks": [{}]}, {"input": {"readings": 5, "setup": {}}}, {"previous": "x" * 64},
        {"note": "\ud800"},
    ],
)  # fmt: skip
def test_nothing_unsound_gets_in_for_ever(kept, tmp_path, changes):
    other = Ledger(tmp_path / "other.sqlite")
    first = lines(kept)[0]
    try:
        bad = resigned(first, **changes)
    except (ValueError, UnicodeEncodeError):
        return
    with pytest.raises(NonnaError, match="line 1"):
        other.take_in([bad])
    assert not other.exists


def test_restoring_takes_a_line_at_a_time_and_all_or_none(kept, tmp_path, monkeypatch, capfd):
    whole = lines(kept)
    book = Ledger(tmp_path / "shorter.sqlite")
    assert book.take_in(iter(whole[:2])) == 2
    asked = []

    def watched():
        for line in whole:
            asked.append(book.verify().count)  # readers see the old book until all is in
            yield line

    assert book.take_in(watched()) == 2 and set(asked) == {2}
    assert book.take_in(whole) == 0 and book.verify().count == 4
    with pytest.raises(NonnaError, match="line 3 is over 50 MB"):
        Ledger(tmp_path / "third.sqlite").take_in([*whole[:2], None])
    assert not Ledger(tmp_path / "third.sqlite").exists
    monkeypatch.setattr(
        "nonna.shop.texts.strict_json.MAX_BYTES", max(map(len, whole)) + 10
    )  # the file is longer than a line may be
    (tmp_path / "book.jsonl").write_bytes(b"\n".join(whole))
    assert said(capfd, "ledger", "import", tmp_path / "book.jsonl", "--shop", tmp_path / "new")[1] == [{"imported": 4}]
    with pytest.raises(NonnaError, match="does not follow"):
        book.take_in([resigned(whole[0], note="x")])


def test_back_dated_records_are_seen_against_their_neighbours(kept, tmp_path):
    whole = lines(kept)
    early = resigned(whole[2], signed_at="2026-01-02T08:00:00+01:00")
    with pytest.raises(NonnaError, match="dated over a day before"):
        Ledger(tmp_path / "o.sqlite").take_in([*whole[:2], early])
    book = Ledger(kept.ledger)
    old = Signature("K. Amsel", at=WHO.at - timedelta(days=3))
    with pytest.raises(NonnaError, match="set the clock"):
        book.add(event("crash", old))
    book.add(event("crash", Signature("K. Amsel", at=WHO.at - timedelta(hours=2))))  # two clocks may differ


def test_a_read_only_copy_can_be_read(kept, monkeypatch, tmp_path, capfd):
    writer = sqlite3.connect(kept.ledger)
    writer.execute("PRAGMA journal_mode=WAL")
    writer.execute("BEGIN")
    monkeypatch.setattr(opening.os, "access", lambda path, mode: False)
    assert said(capfd, "ledger", "verify", "--shop", kept.root)[1][0]["records"] == 4
    assert len(said(capfd, "ledger", "export", "--shop", kept.root)[1]) == 4
    assert said(capfd, "certificate", "2", "--shop", kept.root, "-o", tmp_path / "c.pdf")[0] == 0
    log = kept.ledger.with_name(kept.ledger.name + "-wal")
    with closing(sqlite3.connect(kept.ledger)) as open_one:  # a copy taken while the log still held something
        open_one.execute("PRAGMA wal_autocheckpoint=0")
        open_one.execute("CREATE TABLE later (x)")
        open_one.commit()
        assert log.stat().st_size > 0
        assert said(capfd, "ledger", "verify", "--shop", kept.root)[1][0]["records"] == 4


def test_a_full_disk_leaves_the_old_file(tmp_path, monkeypatch):
    target = tmp_path / "c.pdf"
    target.write_bytes(b"old")
    target.chmod(0o640)

    def full(_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(safe_write.os, "fsync", full)
    with pytest.raises(NonnaError, match="No space left"):
        safe_write.write_bytes(target, b"new")
    assert target.read_bytes() == b"old" and list(tmp_path.iterdir()) == [target]
    monkeypatch.undo()
    safe_write.write_bytes(target, b"new")
    assert target.read_bytes() == b"new" and target.stat().st_mode & 0o777 == 0o640
    before = os.umask(0o027)
    try:
        safe_write.write_text(tmp_path / "fresh", "x")
    finally:
        os.umask(before)
    assert (tmp_path / "fresh").stat().st_mode & 0o777 == 0o640
    (tmp_path / "link").symlink_to(target)
    safe_write.write_text(tmp_path / "link", "through")
    assert (tmp_path / "link").is_symlink() and target.read_text() == "through"


def test_two_processes_make_one_ledger(tmp_path):
    with file.made_aside(tmp_path / "l.sqlite"):
        pass
    with pytest.raises(FileExistsError), file.made_aside(tmp_path / "l.sqlite"):
        pass
    assert Ledger(tmp_path / "l.sqlite").verify().sound
    assert [p.name for p in tmp_path.iterdir() if p.name.startswith(".nonna")] == []


def test_odd_places_and_names_are_said_in_one_line(kept, tmp_path, capfd):
    loop = tmp_path / "round"
    loop.symlink_to(loop)
    file = tmp_path / "t.json"
    file.write_text(json.dumps(TOOL))
    long = "x" * 300
    for arguments in (
        ["record", file, "--shop", kept.root, "--operator", "K\udcff"],
        ["record", file, "--shop", kept.root, "--operator", "x" * 5000],
        ["record", loop, "--shop", kept.root, "--operator", "K"],
        ["record", file, "--shop", loop, "--operator", "K"],
        ["record", file, "--shop", tmp_path / long, "--operator", "K"],
        ["evaluate", tmp_path / long],
        ["evaluate", loop, "--jsonl"],
        ["ledger", "verify", "--shop", loop],
        ["ledger", "import", loop, "--shop", kept.root],
        ["certificate", "1", "--shop", kept.root, "-o", tmp_path / long / "c.pdf"],
        ["certificate", "1", "--shop", kept.root, "-o", loop / "c.xml"],
        ["prepare", "tool-length", "--shop", loop],
        ["plan", loop, "-o", tmp_path / "p"],
    ):
        assert said(capfd, *arguments)[0] == 2, arguments
    sql(kept.ledger, "UPDATE alembic_version SET version_num = '0999'")
    assert said(capfd, "record", file, "--shop", kept.root, "--operator", "K")[0] == 2


@pytest.mark.skipif(not Path("/dev/full").exists(), reason="this system has no device that is always full")
def test_an_output_that_cannot_be_written_is_said(kept):
    import subprocess

    for arguments in (["ledger", "export", "--shop", kept.root], ["schema"], ["ledger", "verify", "--shop", kept.root]):
        with Path("/dev/full").open("w") as full:
            done = subprocess.run(
                [sys.executable, "-m", "nonna", *map(str, arguments)],
                stdout=full,
                stderr=subprocess.PIPE,
                text=True,
                check=False,
            )
        assert done.returncode == 2 and "Traceback" not in done.stderr and "No space left" in done.stderr


def test_a_damaged_neighbour_does_not_spoil_a_sound_record(kept):
    book = Ledger(kept.ledger)
    count = book.verify().count
    with closing(sqlite3.connect(kept.ledger)) as db:
        db.execute("DROP TRIGGER records_no_update")
        db.execute("UPDATE records SET body = X'FF00' WHERE number = 1")
        db.commit()
    read = kept.book.reader()
    assert read(count).number == count  # the first is read along with it, and nobody minds
    with pytest.raises(NonnaError, match="Record 1 is damaged"):
        read(1)
    assert kept.book.reader()(count) is read(count)  # unchanged: not checked once more


@pytest.mark.parametrize("template, facts", [("{x:evil}", {"x": 1.0}), ("{y:length}", {}), ("{x:length}", {"x": "abc"}),
    ("{x.__class__}", {"x": 1}), ("{", {}), ("{x:length}", [1]), (5, None)])  # fmt: skip
def test_words_that_cannot_be_said_are_a_damaged_record(tmp_path, template, facts):
    signed = prepare(REPEAT, Signature("K. Amsel", "Larch", tool(2)))[0]
    body = {**plain(signed), "headline": {"template": template, "lengths": facts}}
    book = Ledger(tmp_path / "ledger.sqlite")
    with pytest.raises((DamagedRecordError, ValidationError), match=r"holds no result|headline"):
        read_back(book.get(book.add(record_of(body)).number))
