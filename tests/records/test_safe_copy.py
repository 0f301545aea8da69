"""Copies of a whole shop: proved, dated, ten kept, made while somebody signs; and the way back."""

import json
import shutil
from datetime import UTC, datetime, timedelta

import pytest

from nonna.adapters.shop_files import safe_copy
from nonna.bench.book.writing import Signature, event
from nonna.bench.ports import Copied
from nonna.cli.main import run
from nonna.desk.actions import copies
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.file_dialog import FileDialog
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.threads.work import Work
from nonna.errors import NonnaError
from tests.support.hands import shown_dialog, shown_text
from tests.support.ledgers import Ledger

NOW = datetime(2026, 11, 27, 6, 30, tzinfo=UTC)


def quiet(done, of):
    assert 0 <= done <= of


def test_a_copy_holds_everything_and_is_proved_by_opening_it(shop, tmp_path):
    (shop.root / "templates").mkdir()
    (shop.root / "templates" / "own.j2").write_text("(own)")
    stick = tmp_path / "stick"
    stick.mkdir()
    made = safe_copy.copy_shop(shop.root, stick, NOW, quiet)
    assert made.path == stick / "shop-20261127-063000"
    book = Ledger(shop.ledger)
    assert (made.records, made.shop) == (book.verify().count, "Tarnholm Pump Works")
    for file in (
        "shop.json",
        "masters.json",
        "gear.json",
        "machines/larch.json",
        "tools/rowan.json",
        "templates/own.j2",
    ):
        assert (made.path / file).read_bytes() == (shop.root / file).read_bytes()
    assert safe_copy.look(made.path) == made
    assert json.loads((made.path / "copy.json").read_text())["records"] == made.records
    assert sorted(p.name for p in stick.iterdir()) == [made.path.name]


def test_it_is_one_moment_of_the_book_though_somebody_signs_meanwhile(shop, tmp_path):
    before = len(shop.book.entries())
    signed = []

    def sign_once(done, of):
        if not signed:
            signed.append(shop.book.sign([event("crash", Signature("K. Amsel", "Larch"))]))

    made = safe_copy.copy_shop(shop.root, tmp_path, NOW, sign_once)
    assert made.records in (before, before + 1)
    book = Ledger(made.path / "ledger.sqlite")
    assert book.verify().sound
    assert len(shop.book.entries()) == before + 1


def test_the_last_ten_are_kept_and_nothing_else_is_touched(shop, tmp_path):
    stick = tmp_path / "stick"
    stick.mkdir()
    (stick / "shop-notes").mkdir()
    (stick / "shop-20200101-000000").mkdir()  # looks like a copy and is none of ours
    for day in range(12):
        safe_copy.copy_shop(shop.root, stick, NOW + timedelta(days=day), quiet)
    names = sorted(p.name for p in stick.iterdir())
    assert len([n for n in names if n.startswith("shop-2026")]) == 10
    assert {"shop-notes", "shop-20200101-000000"} <= set(names) and "shop-20261127-063000" not in names


def test_stopped_or_refused_it_leaves_nothing(shop, tmp_path):
    stick = tmp_path / "stick"
    with pytest.raises(NonnaError, match="Is the stick out"):
        safe_copy.copy_shop(shop.root, stick, NOW, quiet)
    stick.mkdir()

    def stop(done, of):
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        safe_copy.copy_shop(shop.root, stick, NOW, stop)
    (shop.root / "masters.json").write_text("{")
    with pytest.raises(NonnaError, match=r"masters\.json"):
        safe_copy.copy_shop(shop.root, stick, NOW, quiet)
    with pytest.raises(NonnaError, match="lost with it"):
        safe_copy.copy_shop(
            shop.root, shop.root / "drafts" if (shop.root / "drafts").is_dir() else shop.root, NOW, quiet
        )
    assert list(stick.iterdir()) == []


def test_back_from_a_copy_into_a_new_folder_and_never_over_anything(shop, tmp_path):
    made = safe_copy.copy_shop(shop.root, tmp_path, NOW, quiet)
    back = safe_copy.restore(made.path, tmp_path / "again")
    assert back.book.verify() == shop.book.verify() and not back.has("copy.json")
    with pytest.raises(NonnaError, match="nothing is written over"):
        safe_copy.restore(made.path, tmp_path / "again")
    with (made.path / "ledger.sqlite").open("r+b") as file:
        file.seek(30_000)
        file.write(b"\xff" * 400)
    with pytest.raises(NonnaError):
        safe_copy.restore(made.path, tmp_path / "third")
    assert not (tmp_path / "third").exists()


def test_another_computer_is_named_once(shop, monkeypatch):
    assert safe_copy.opened_here(shop.root, NOW) == ""
    monkeypatch.setattr(safe_copy.socket, "gethostname", lambda: "bench-2")
    assert safe_copy.opened_here(shop.root, NOW).endswith("2026-11-27")
    assert safe_copy.opened_here(shop.root, NOW) == ""
    (shop.root / ".opened").write_text("[]")
    assert safe_copy.opened_here(shop.root, NOW) == ""


def test_the_command_line_copies_looks_and_restores(shop, tmp_path, capsys):
    def said(*words):
        assert run(["shop", *map(str, words)], lambda _: 1) == 0
        return json.loads(capsys.readouterr().out)

    made = said("copy", tmp_path, "--shop", shop.root)
    assert said("look", made["folder"]) == made
    assert said("restore", made["folder"], tmp_path / "again")["records"] == made["records"]
    assert run(["shop", "restore", made["folder"]], lambda _: 1) == 2


def test_the_desk_copies_while_it_is_open_and_restores_after_a_look(desk, hands, tmp_path):
    hands.until(lambda: desk.settled)
    stick = tmp_path / "stick"
    stick.mkdir()
    desk.do(CommandId.COPY_SHOP)
    hands.until(lambda: shown_dialog(desk, FileDialog) is not None)
    shown_dialog(desk, FileDialog).reject()
    copies.copy(desk, stick)
    hands.until(lambda: len(list(stick.glob("shop-*"))) == 1)
    (made,) = stick.glob("shop-*")
    opened = []
    copies.look(desk, made, opened.append)
    hands.until(lambda: shown_dialog(desk, QuestionDialog) is not None)
    shown_dialog(desk, QuestionDialog).reject()
    copies.restore(desk, made, tmp_path / "again", opened.append)
    hands.until(lambda: opened == [tmp_path / "again"])
    copies.look(desk, tmp_path, opened.append)  # no copy there: said, nothing opened
    shutil.rmtree(stick)
    copies.copy(desk, stick)
    hands.until(lambda: desk.settled)
    assert opened == [tmp_path / "again"]
    assert copies.words_of(Copied(made, "Us", 3, "2026-11-20T10:00+00:00")).endswith(
        "Us, 3 records, the last of 2026-11-20"
    )


def test_a_copy_is_stopped_by_the_same_command(desk, hands, tmp_path, monkeypatch):
    hands.until(lambda: desk.settled)
    asked = []

    def endless(shop, target, told):
        while True:
            asked.append(1)
            told(1, 2)

    monkeypatch.setattr(copies.wiring, "copy_shop", endless)
    copies.copy(desk, tmp_path)
    hands.until(lambda: len(asked) > 3)
    desk.do(CommandId.COPY_SHOP)
    hands.until(lambda: desk.findChild(Work, copies.COPYING) is None)
    assert shown_dialog(desk, FileDialog) is None
    count = len(asked)
    hands.until(lambda: "Nothing of the copy is left" in shown_text(desk))
    assert len(asked) == count
