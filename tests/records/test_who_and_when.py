"""Who may sign, and by which clock: asked in the command line as in the desk, never locked out by one wrong date."""

import json
import sqlite3
from datetime import datetime, timedelta

import pytest
from PySide6.QtCore import Qt, QtMsgType

from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench import clock
from nonna.bench.book.writing import Signature, event
from nonna.bench.station.site import Site
from nonna.bench.station.state import read_state
from nonna.cli.main import run
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.start.fault_watch import say_offscreen
from nonna.errors import NonnaError
from nonna.shop.links.subjects import STATION
from nonna.shop.records.text import body_of
from tests.support.documents import TOOL
from tests.support.hands import shown_dialog, shown_text


def cli(capfd, *arguments):
    status = run(list(map(str, arguments)), lambda given: 99)
    return status, json.loads(capfd.readouterr().out.splitlines()[-1])


def later(**by):
    return clock.now() + timedelta(**by)


def test_who_may_sign_is_asked_in_the_command_line_too(shop, tmp_path, capfd):
    file = tmp_path / "t.json"
    file.write_text(json.dumps(TOOL))
    count = len(shop.book.entries())
    status, said = cli(capfd, "record", file, "--shop", shop.root, "--operator", "Nobody Known")
    assert (status, said["error"]["where"]) == (2, "operator") and "K. Amsel" in said["error"]["message"]
    status, said = cli(
        capfd, "ledger", "withdraw", count, "--shop", shop.root, "--operator", "Nobody Known", "--why", "x"
    )
    assert (status, said["error"]["where"]) == (2, "operator")
    assert len(ShopFolder(shop.root).book.entries()) == count
    assert cli(capfd, "record", file, "--shop", shop.root, "--operator", "K. Amsel")[0] == 0
    assert cli(capfd, "record", file, "--shop", tmp_path / "new", "--operator", "Anybody")[0] == 0  # no shop says who


def test_a_wrong_year_is_asked_about_and_locks_nothing(shop):
    book, wrong = shop.book, later(days=9 * 366)
    crash = event("crash", Signature("K. Amsel", "Larch", STATION, at=wrong))
    with pytest.raises(NonnaError, match="set the clock") as asked:
        book.sign([crash])
    assert asked.value.where == "signed_at" and book.verify().sound
    book.clock_is_right()
    (future,) = book.sign([crash])
    assert body_of(book.get(future.number))["clock"]["record"] == future.number - 1
    true = event("crash", Signature("K. Amsel", "Larch", STATION, at=later()))
    with pytest.raises(NonnaError, match=f"record {future.number} was signed"):
        book.sign([true])
    book.clock_is_right()
    (first,) = book.sign([true])
    assert body_of(book.get(first.number))["clock"] == {"record": future.number, "signed_at": str(wrong)}
    (second,) = book.sign([event("crash", Signature("K. Amsel", "Larch", STATION, at=later(hours=1)))])  # as ever
    assert "clock" not in body_of(book.get(second.number)) and book.verify().sound
    with pytest.raises(NonnaError, match="set the clock"):  # said once, it holds for one signature
        book.sign([crash])


def test_the_command_line_says_how_a_right_clock_is_told(shop, tmp_path, capfd, monkeypatch):
    file = tmp_path / "t.json"
    file.write_text(json.dumps(TOOL))
    wrong = later(days=3000)
    monkeypatch.setattr(clock, "now", lambda: wrong)
    command = ("record", file, "--shop", shop.root, "--operator", "K. Amsel")
    status, said = cli(capfd, *command)
    assert (status, said["error"]["where"]) == (2, "signed_at")
    assert cli(capfd, *command, "--clock-is-right")[0] == 0
    assert ShopFolder(shop.root).book.verify().sound


@pytest.mark.parametrize("right", [True, False])
def test_the_desk_asks_before_it_signs(desk, hands, monkeypatch, right):
    from nonna.desk.signing.event_signing import log_event

    count, wrong = len(desk.folder.book.entries()), datetime(2036, 2, 3, 10, 0).astimezone()
    monkeypatch.setattr(clock, "now", lambda: wrong)
    log_event(desk, "crash", "into the vice")
    hands.until(lambda: shown_dialog(desk, QuestionDialog) is not None)
    assert "03 Feb 2036" in shown_text(shown_dialog(desk, QuestionDialog))
    hands.press(Qt.Key.Key_Return if right else Qt.Key.Key_Escape)
    hands.until(lambda: shown_dialog(desk, QuestionDialog) is None)
    if right:
        hands.until(lambda: len(desk.folder.book.entries()) == count + 1)
    else:
        hands.until(lambda: "set the clock" in shown_text(desk))
        assert len(desk.folder.book.entries()) == count


def test_what_was_signed_for_practice_counts_in_no_real_shop(shop, desk, hands):
    """Whether a shop is invented stands in each record: its file alone makes no practice record a real one."""
    assert Site.load(shop).results().held("setter-calibration", "trigger_plane_mm")
    path = shop.root / "shop.json"
    path.write_text(json.dumps({**json.loads(path.read_text()), "invented": False}))
    fresh = ShopFolder(shop.root)
    assert (
        Site.load(fresh).standing() == ()
        and Site.load(fresh).results().held("setter-calibration", "trigger_plane_mm") is None
    )
    state = read_state(fresh)
    assert "holds" not in {s.state.value for s in state.links if s.link.procedure} and len(state.entries) > 100
    hands.until(lambda: desk.state is not None and not desk.state.practice)
    desk.go(CommandId.BOOK)
    assert "K. Amsel, practice" in {desk.book.model.words(e)[6] for e in desk.state.entries}


@pytest.mark.parametrize("odd", ["\u2028", "\x07", "\x1b[2J", "\n", "\u2029"])
@pytest.mark.parametrize("where", ["operator", "machine", "shop", "note"])
def test_letters_that_no_paper_shows_are_refused_before_signing(shop, odd, where):
    names = {"operator": "K. Amsel", "machine": "Larch", "shop": "Tarnholm"} | (
        {where: f"K{odd}A"} if where != "note" else {}
    )
    if (where, odd) == ("note", "\n"):
        assert event("crash", Signature(**names), f"one{odd}two").note == "one\ntwo"
        return
    with pytest.raises(NonnaError, match=f"U\\+{ord(odd[0]):04X}") as refused:
        event("crash", Signature(**names), f"one{odd}two" if where == "note" else "")
    assert refused.value.where == where


def test_a_full_disk_is_said_in_one_line_of_ours(tmp_path, monkeypatch):
    def full(connection):
        raise sqlite3.OperationalError("database or disk is full")

    monkeypatch.setattr("nonna.adapters.store.sqlite.file.create", full)
    with pytest.raises(NonnaError) as refused:
        ShopFolder(tmp_path / "shop").book.sign([event("crash", Signature("K. Amsel"))])
    assert refused.value.message == "ledger.sqlite cannot be made: database or disk is full."
    assert not (tmp_path / "shop" / "ledger.sqlite").exists()


def test_the_tour_passes_on_all_that_a_missing_screen_does_not_explain(capsys):
    for words in ("This plugin does not support propagateSizeHints()", "QPainter: not active"):
        say_offscreen(QtMsgType.QtWarningMsg, None, words)
    assert capsys.readouterr().err == "QPainter: not active\n"
