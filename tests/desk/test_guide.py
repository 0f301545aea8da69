"""The guide and the keys: a page for every page, a word for every field, and no key that does nothing."""

import ast
import re
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QDialog, QLineEdit, QMenu

from nonna.bench.form_fields import Sort, asked_in
from nonna.bench.guide_pages import about, topic, topics
from nonna.desk.actions import menu
from nonna.desk.actions.choices import PAGE, choices
from nonna.desk.actions.helping import KeysDialog, page_of, topic_of
from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.listed import CommandGroup, commands
from nonna.desk.commands.page import pages
from nonna.desk.commands.page_keys import keys_of, own_keys
from nonna.desk.forms.finder import Finder, found
from nonna.desk.forms.form_dialog import FormDialog
from nonna.desk.forms.help_dialog import HelpDialog
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.start.setting_up import SetUp
from nonna.guide import FIRST
from nonna.procedures.catalogue import procedure
from nonna.procedures.listing import PROCEDURES
from nonna.shop.cards import gear, machine, masters
from nonna.shop.links.subjects import PROBE
from nonna.shop.texts.strict_model import Strict
from nonna.wording.fields import field_help
from tests.support.hands import PATIENCE, settle, shown_dialog, shown_text, turns

DESK = Path(__file__).parents[2] / "src" / "nonna" / "desk"
KEY = re.compile(r"\b((?:Ctrl|Alt)\+[A-Z]\w*|F\d{1,2})\b(?:\*\*)?(?: \(([^)]*)\))?")
MADE_BY_THE_PROGRAM = {
    "format",
    "procedure",
    "missing",
    "rule",
    "conditions",
    "masters",
    "setup",
    "readings",
    "x",
    "y",
    "z",
    "xy",
    "kind",
}


def test_every_sheet_and_page_has_its_own():
    assert {t.key for t in topics()} == set(FIRST) | set(PROCEDURES)
    for name, listed in PROCEDURES.items():
        page = topic(name)
        assert page.title == listed.title
        assert re.findall(r"^## (.*)$", page.text, re.M) == [
            "What it is",
            "Why",
            "How the hands do it",
            "What goes wrong",
            "The arithmetic",
        ]
    assert {"loop", "tools", "rehearsal", "shelf", "book", "set-up", "settings"} <= set(FIRST)
    assert len(re.findall(r"^- \*\*", topic("glossary").text, re.M)) >= 30
    there = Path(__file__).parents[2] / "docs" / "guide"
    of_places = {t for page in pages() for t in page.own_keys}  # these lie with their pages
    assert {p.stem for p in there.glob("*.md")} == set(FIRST) - of_places | {"set-up"}


def test_every_key_the_guide_names_does_what_it_says():
    known = {c.keys: c.words.lower() for c in commands() if c.keys}
    named = [(t.key, *match) for t in topics() for match in KEY.findall(t.text)]
    assert len(named) >= 12
    for page, key, words in named:
        assert known.get(key) == words.lower(), f"{page}: {key} ({words})"
    for page, rows in own_keys().items():
        assert page == "sheet" or topic(page) is not None
        assert len({key for key, _ in rows}) == len(rows)


def test_every_command_has_words_and_help():
    assert [c.do for c in commands() if not c.help or not c.words] == []
    assert len({c.words for c in commands()}) == len(commands())
    keys = [c.keys for c in commands() if c.keys]
    assert len(set(keys)) == len(keys)
    assert {c.do for c in commands()} == set(CommandId)


def models():
    seen = []

    def walk(model):
        if model not in seen:
            seen.append(model)
            for info in model.model_fields.values():
                for part in (info.annotation, *getattr(info.annotation, "__args__", ())):
                    if isinstance(part, type) and issubclass(part, Strict):
                        walk(part)

    for name in PROCEDURES:
        walk(procedure(name).model)
    for module in (gear, machine, masters):
        for each in vars(module).values():
            if isinstance(each, type) and issubclass(each, Strict) and each is not Strict:
                walk(each)
    return seen


def test_every_field_has_a_word_of_help_beyond_its_title():
    bare = {
        f"{model.__name__}.{asked.name}"
        for model in models()
        for asked in asked_in(model)
        if asked.name not in MADE_BY_THE_PROGRAM
        and asked.sort is not Sort.SHOWN
        and (not asked.help or asked.help == asked.title)
    }
    assert {name for name in bare if not name.startswith("Missing.")} == set()


def test_every_field_of_a_dialog_has_one_too():
    bare = []
    for file in DESK.rglob("*.py"):
        for node in ast.walk(ast.parse(file.read_text("utf-8"))):
            if (
                isinstance(node, ast.Call)
                and getattr(node.func, "id", "") == "Asked"
                and isinstance(node.args[0], ast.Constant)
            ):
                name = node.args[0].value
                if not field_help(name) and not any(k.arg == "help" for k in node.keywords):
                    bare.append(f"{file.name}: {name}")
    assert bare == []


def test_words_find_pages_and_commands_alike():
    assert about("guard band")[0].key in ("glossary", "doubt")
    assert about("lobing ring")[0].key == "probe-ring"
    assert about("no such word at all") == []
    rows = found(choices(None), ["lobing", "ring"])
    assert rows[0].key == f"{PAGE}probe-ring"
    assert found(choices(None), ["loop"])[0].key == CommandId.LOOP
    assert (
        found(choices(None), ["setter", "calibration"])[0].words == "Open the sheet: setter calibration"
    )  # no presetter's
    assert any(c.key == CommandId.TRAY_CHECKS for c in found(choices(None), ["costs", "least"]))  # by its help alone


def help_of(desk):
    return shown_dialog(desk, HelpDialog)


def go(desk, hands, place):
    if place in ("loop", "tools", "shelf", "book"):
        desk.do(CommandId(place))
    elif place == "rehearsal":
        desk.do(CommandId.TRAY_REHEARSAL)
    else:
        desk.open_sheets([(place, PROBE)], CommandId.LOOP)
        hands.until(lambda: desk.sheet is not None and desk.sheets.in_front)
    settle(desk)


@pytest.mark.parametrize("place", ["loop", "tools", "rehearsal", "shelf", "book", "tip-runout"])
def test_f1_opens_the_page_on_what_is_in_front_and_esc_gives_the_keyboard_back(desk, hands, place):
    hands.until(lambda: desk.settled)
    go(desk, hands, place)
    if place == "rehearsal":
        hands.until(lambda: topic_of(desk) == "rehearsal")
    had = hands.at
    hands.press(Qt.Key.Key_F1)
    hands.until(lambda: help_of(desk) is not None)
    dialog = help_of(desk)
    assert dialog.key == place == topic_of(desk)
    assert topic(place).title in shown_text(dialog) and "What it is" in dialog.page.toPlainText()
    hands.press(Qt.Key.Key_F1)  # not a second one over it
    assert sum(d.isVisible() for d in desk.findChildren(HelpDialog)) == 1
    hands.type("guard band")
    assert dialog.key in ("glossary", "doubt", "breakage")
    hands.press(Qt.Key.Key_Down)
    hands.press(Qt.Key.Key_PageDown)
    hands.type("xyzzy")
    assert "Nothing holds all these words" in shown_text(dialog)
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: help_of(desk) is None)
    assert hands.at is had


def test_f1_says_what_the_field_is_on_a_sheet_and_in_a_dialog(desk, hands):
    go(desk, hands, "tip-runout")
    hands.until(lambda: isinstance(hands.at, QLineEdit))
    hands.press(Qt.Key.Key_F1)
    hands.until(lambda: help_of(desk) is not None)
    assert (
        "it may carry its unit" in shown_text(help_of(desk))
        and "What it starts from" in help_of(desk).page.toPlainText()
    )
    hands.press(Qt.Key.Key_Escape)
    go(desk, hands, "tools")
    hands.until(lambda: desk.tools.controller.tray.tools != ())
    desk.tools.table.setFocus()
    hands.type("e")
    hands.until(lambda: shown_dialog(desk, FormDialog) is not None)
    edit = shown_dialog(desk, FormDialog).edits["corner_radius_mm"]
    edit.setFocus()
    hands.press(Qt.Key.Key_F1)
    hands.until(lambda: help_of(desk) is not None)
    assert "Radius of its corner" in shown_text(help_of(desk))
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: help_of(desk) is None)
    assert shown_dialog(desk, FormDialog) is not None and hands.at is edit


def test_a_question_mark_shows_the_keys_and_is_a_letter_where_words_are_typed(desk, hands):
    go(desk, hands, "tools")
    desk.tools.table.setFocus()
    hands.type("?")
    hands.until(lambda: shown_dialog(desk, KeysDialog) is not None)
    card = shown_dialog(desk, KeysDialog)
    assert (
        set(own_keys()["tools"]) <= set(card.shown)
        and ("Ctrl+I", "Tools: take a table in (CSV, JSON, XML)") in card.shown
    )
    assert not any(words.startswith("Strike") for _, words in card.shown)
    hands.press(Qt.Key.Key_Escape)
    desk.do(CommandId.INDICATOR)
    hands.until(lambda: shown_dialog(desk, NoteDialog) is not None)
    hands.type("port?")
    assert shown_dialog(desk, NoteDialog).line.text() == "port?"
    hands.press(Qt.Key.Key_Escape)


def test_the_menu_holds_every_command_once_and_does_it(desk, hands):
    hands.until(lambda: desk.settled)
    chosen = []
    opened = menu.open_menu(desk, chosen.append)
    groups = {a.text(): a.menu() for a in opened.actions()}
    assert set(groups) == {g.value for g in CommandGroup} | {"Open a sheet", "Log what happened"}
    words = [a.text().partition("\t")[0].replace("&&", "&") for g in CommandGroup for a in groups[g.value].actions()]
    assert sorted(words) == sorted(c.words for c in commands())
    assert all(a.toolTip() for g in CommandGroup for a in groups[g.value].actions())
    next(a for a in groups["Go to"].actions() if "book" in a.text()).trigger()
    next(a for a in groups["Open a sheet"].actions() if "face level" in a.text()).trigger()
    next(a for a in groups["Log what happened"].actions() if "crash" in a.text()).trigger()
    assert chosen == [CommandId.BOOK, "sheet:face-level", "event:crash:Station"] or chosen[:2] == [
        CommandId.BOOK,
        "sheet:face-level",
    ]
    opened.close()
    QTest.mouseClick(desk.bar.menu, Qt.MouseButton.LeftButton)
    hands.until(lambda: any(m.isVisible() for m in desk.findChildren(QMenu)))
    next(m for m in desk.findChildren(QMenu) if m.isVisible()).close()


def test_a_page_of_the_guide_is_found_in_the_palette(desk, hands):
    hands.press(Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: shown_dialog(desk, Finder) is not None)
    hands.type("lobing ring")
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: help_of(desk) is not None)
    assert help_of(desk).key == "probe-ring"
    hands.press(Qt.Key.Key_Escape)


def test_each_key_of_the_tray_does_something(desk, hands):
    go(desk, hands, "tools")
    c = desk.tools.controller
    hands.until(lambda: c.tray.tools != ())
    table = desk.tools.table

    def dialog():
        turns()
        return next((d for d in desk.findChildren(QDialog) if d.isVisible()), None)

    before = {
        "Space": lambda: c.tray.marked, "L": lambda: c.tray, "D": lambda: c.tray, "B": lambda: c.tray,
        "I": lambda: c.tray, "U": lambda: c.tray.marked,
        "Delete": lambda: c.tray.tools, "E": dialog, "N": dialog, "O": dialog, "W": dialog,
        "H": lambda: desk.sheets.in_front,
    }  # fmt: skip
    named = {key for keys, _ in own_keys()["tools"] for key in keys.split(", ")}
    assert named == {*before, "Enter", "Ctrl+Enter", "T", "A number"}  # those four have their own tests
    for key, look in before.items():
        table.setFocus()
        table.go_to(4)
        was = look()
        if len(key) == 1:
            hands.type(key.lower())
        else:
            hands.press({"Space": Qt.Key.Key_Space, "Delete": Qt.Key.Key_Delete}[key])
        hands.until(lambda look=look, was=was: look() != was)
        opened = dialog()
        if opened is not None:
            opened.reject()
            settle(desk)


def test_the_arrows_walk_the_loop_and_enter_opens_what_is_next(desk, hands):
    hands.until(lambda: desk.settled)
    desk.do(CommandId.LOOP)
    desk.loop.take_keyboard()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Left, Qt.Key.Key_Down, Qt.Key.Key_Up):
        was = desk.loop.focused_link()
        hands.press(key)
        assert desk.loop.focused_link() != was or key is Qt.Key.Key_Left
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: desk.sheets.in_front)
    assert page_of(desk) == "sheet" and list(keys_of("sheet"))


def test_help_while_a_shop_is_set_up(qtbot, tmp_path):
    pages = SetUp(tmp_path / "mine")
    qtbot.addWidget(pages)
    pages.show()
    at = pages.interview.at
    QTest.keyClick(pages, Qt.Key.Key_Return)
    QTest.keyClick(pages, Qt.Key.Key_F1)
    qtbot.waitUntil(lambda: any(d.isVisible() for d in pages.findChildren(HelpDialog)), timeout=PATIENCE)
    shown = next(d for d in pages.findChildren(HelpDialog) if d.isVisible())
    assert shown.key == "set-up"
    QTest.keyClick(shown, Qt.Key.Key_Escape)
    qtbot.waitUntil(lambda: not any(d.isVisible() for d in pages.findChildren(HelpDialog)), timeout=PATIENCE)
    was = pages.interview.at
    QTest.keyClick(pages, Qt.Key.Key_PageUp)
    assert at == 0 and pages.interview.at <= was


def test_each_key_of_rehearsal_shelf_and_book_does_something(desk, hands):
    hands.until(lambda: desk.settled)
    hands.mend("level", "setter")
    go(desk, hands, "tools")
    c = desk.tools.controller
    c.change(c.tray.with_marks([2, 4]))
    hands.until(lambda: c.answer is not None and not c.plans.busy)
    go(desk, hands, "rehearsal")
    page = desk.tools.rehearsal
    strip = page.strip
    named = {key for keys, _ in own_keys()["rehearsal"] for key in keys.split(", ")}
    assert named == {"Left", "Right", "Page up", "Page down", "Space"}
    page.setFocus()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_PageDown, Qt.Key.Key_Left, Qt.Key.Key_PageUp):
        was = strip.point
        QTest.keyClick(page, key)
        settle(desk)
        assert strip.point != was, key
    QTest.keyClick(page, Qt.Key.Key_Space)
    hands.until(lambda: strip.playing)
    QTest.keyClick(page, Qt.Key.Key_Space)
    hands.until(lambda: not strip.playing)
    go(desk, hands, "shelf")
    hands.until(lambda: desk.places.currentWidget() is desk.shelf)
    desk.shelf.list.setFocus()
    was = desk.shelf.list.currentRow()
    hands.press(Qt.Key.Key_Down)
    assert desk.shelf.list.currentRow() != was
    hands.type("n")
    hands.until(lambda: any(m.isVisible() for m in desk.shelf.findChildren(QMenu)))
    next(m for m in desk.shelf.findChildren(QMenu) if m.isVisible()).close()
    go(desk, hands, "book")
    table = desk.book.table
    hands.until(lambda: desk.settled and desk.book.model.rowCount() > 2)
    table.selectRow(0)
    QTest.keyClick(table, Qt.Key.Key_Down)
    assert table.currentIndex().row() == 1
