"""A copy is proved against its own mark: nothing cut, changed, added or led elsewhere is restored."""

import json
import os
import shutil
import sqlite3
from contextlib import closing
from datetime import datetime, timedelta

import pytest

from nonna.adapters.shop_files import safe_copy
from nonna.adapters.shop_files.safe_copy import MARK, copy_shop, restore
from nonna.errors import NonnaError
from tests.support.documents import START


@pytest.fixture
def copy(shop, tmp_path):
    (tmp_path / "stick").mkdir()
    return copy_shop(shop.root, tmp_path / "stick", START, lambda done, of: None).path


def cut_ledger(copy):
    with closing(sqlite3.connect(copy / "ledger.sqlite")) as db:
        for name in ("records_no_delete", "records_no_update"):
            db.execute(f"DROP TRIGGER {name}")
        db.execute("DELETE FROM records WHERE number > 50")
        db.execute("UPDATE sqlite_sequence SET seq = 50")
        for name in ("DELETE", "UPDATE"):
            words = "'records are never changed; sign a superseding one'"
            db.execute(
                f"CREATE TRIGGER records_no_{name.lower()} BEFORE {name} ON records BEGIN SELECT RAISE(ABORT, "
                f"{words}); END"
            )
        db.commit()


def other_master(copy):
    path = copy / "masters.json"
    path.write_text(path.read_text().replace("140.0032", "140.0132"))


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (cut_ledger, "ledger.sqlite was changed"), (other_master, "masters.json was changed"),
        (lambda copy: (copy / "rules.json").unlink(missing_ok=True) or (copy / "gear.json").unlink(),
            "missing|no file"),
        (lambda copy: (copy / "templates").mkdir() or (copy / "templates" / "program.j2").write_text("M2"),
            "was not in it"),
        (lambda copy: (copy / "more.json").symlink_to("/etc/hostname"), "more.json is a link"),
    ],
)  # fmt: skip
def test_what_is_no_longer_what_was_copied_is_refused_and_leaves_nothing(copy, tmp_path, spoil, words):
    spoil(copy)
    with pytest.raises(NonnaError, match=words):
        restore(copy, tmp_path / "back")
    assert not (tmp_path / "back").exists() and not list(tmp_path.glob(".nonna-new-*"))


def test_a_sound_copy_comes_back_with_the_modes_it_had_and_an_old_one_too(shop, tmp_path):
    (tmp_path / "stick").mkdir()
    shop.root.chmod(0o750)
    for name, mode in (("ledger.sqlite", 0o640), ("masters.json", 0o600)):
        (shop.root / name).chmod(mode)
    found = copy_shop(shop.root, tmp_path / "stick", START, lambda done, of: None)
    for place in (found.path, restore(found.path, tmp_path / "back").root):
        modes = [(place / name).stat().st_mode & 0o777 for name in (".", "ledger.sqlite", "masters.json")]
        assert modes == [0o750, 0o640, 0o600]
    mark = json.loads((found.path / MARK).read_text())
    (found.path / MARK).write_text(json.dumps({k: v for k, v in mark.items() if k != "files"}))  # as it was before
    assert restore(found.path, tmp_path / "old").book.verify().sound


def test_what_a_killed_copy_left_is_cleared_once_nobody_is_at_it(shop, tmp_path):
    stick = tmp_path / "stick"
    for name, age in ((".nonna-new-dead", timedelta(hours=3)), (".nonna-new-busy", timedelta(minutes=5))):
        (stick / name).mkdir(parents=True)
        (stick / name / "half").write_text("x")
        at = (START - age).timestamp()
        os.utime(stick / name, (at, at))
    copy_shop(shop.root, stick, START, lambda done, of: None)
    assert [p.name for p in stick.glob(".nonna-new-*")] == [".nonna-new-busy"]


def test_a_full_stick_is_said_in_one_sentence(shop, tmp_path, monkeypatch):
    (tmp_path / "stick").mkdir()

    def full(*_, **__):
        raise shutil.Error(
            [
                ("a", "b", "[Errno 28] No space left on device: 'b'"),
                ("c", "d", "[Errno 28] No space left on device: 'd'"),
            ]
        )

    monkeypatch.setattr(safe_copy.shutil, "copytree", full)
    with pytest.raises(NonnaError) as refused:
        copy_shop(shop.root, tmp_path / "stick", datetime(2026, 11, 25).astimezone(), lambda done, of: None)
    assert refused.value.message == "The shop was not copied: No space left on device (2 files)."
    assert list((tmp_path / "stick").iterdir()) == []
