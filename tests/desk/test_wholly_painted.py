"""Every page and dialog, on small screens and with large text: each number and each label is wholly painted,
measured.
"""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QLabel, QPushButton

from nonna.bench.shelf.shelving import cards
from nonna.desk.actions.by_command import withdraw
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.overlay import layers
from nonna.desk.pages.loop.station import Station
from nonna.desk.pages.shelf.view import _PLACE
from nonna.desk.signing.asking_machine import ask_machine, ask_station
from nonna.desk.signing.cards_outside import look_at_changes
from nonna.desk.tray.machine_results import read_results
from nonna.desk.tray.tables_in import read_table
from nonna.shop.cards.kinds import station_kinds
from tests.support.eyes import unpainted
from tests.support.hands import settle

KINDS = {"larch": "mill", "rowan": "router", "alder": "presetter", "willow": "lathe"}
STATIONS = [station for station, kind in KINDS.items() if kind in station_kinds()]
SCREENS = ((1024, 700), (1280, 800), (1366, 768))
SIZES = sorted({(round(w * 100 / text), round(h * 100 / text)) for w, h in SCREENS for text in (100, 130, 160)})
DIALOGS = (
    CommandId.FIND, CommandId.WHAT_IF, CommandId.OPERATOR, CommandId.MACHINE, CommandId.HELP, CommandId.KEYS,
    CommandId.SETTINGS, CommandId.INDICATOR, CommandId.BENCH_LIST,
    CommandId.OPEN_SHOP, CommandId.TRAY_ADD,
    CommandId.TRAY_EDIT, CommandId.TRAY_GRID, CommandId.TRAY_JOB, CommandId.TRAY_TOUCH, CommandId.TRAY_LENGTHS,
    CommandId.TRAY_CHECKS, CommandId.TRAY_WAYS,
    CommandId.TRAY_FEEDS,
    CommandId.COPY_SHOP, CommandId.RESTORE, CommandId.TRAY_TAKE, CommandId.TRAY_OPEN_PROGRAM, CommandId.TRAY_RESULTS,
)  # fmt: skip


def painted(desk, root=None):
    """Return what is cut in any of the sizes."""
    found = []
    for size in SIZES:
        desk.resize(*size)
        for _ in range(30):  # words that wrap at another width ask for another height, and so on
            QApplication.processEvents()
            if not (cut := unpainted(root() if root else desk)):
                break
        assert desk.size().toTuple() == size
        found += [f"{size}: {line}" for line in dict.fromkeys(cut)]
    desk.resize(1280, 800)
    return found


def test_the_eyes_see_what_is_cut(desk, hands):
    settle(desk)
    other = next(w for w in desk.loop.findChildren(QLabel) if w.isVisible() and len(w.text()) > 12)
    where = other.parentWidget()
    for make in (QLabel, QPushButton):
        made = make("a number that is far too long, 123.4567 mm", where)
        made.setGeometry(0, 0, 60, 20)
        made.show()
        assert any("123.4567" in line for line in unpainted(desk)), make
        made.setText("1.5")
        made.setGeometry(other.geometry())
        assert any(" over " in line for line in unpainted(desk)), make
        made.setGeometry(2_000, 0, 900, 40)
        assert any("sideways" in line for line in unpainted(desk)), make
        made.deleteLater()


@pytest.mark.parametrize("station", STATIONS)
def test_the_loop_and_the_tools(desk, hands, station):
    desk.show_station(station)
    hands.until(lambda: desk.state.key == station)
    settle(desk)
    assert painted(desk) == []
    desk.do(CommandId.TOOLS)
    settle(desk)
    assert painted(desk) == []
    desk.show_units()
    settle(desk)
    assert painted(desk) == []
    desk.do(CommandId.LOOP)
    settle(desk)
    desk.resize(640, 437)
    for _ in range(5):
        QApplication.processEvents()
    shown = desk.loop.findChildren(Station)
    assert len(shown) == len(desk.state.links) and all(s.fits() for s in shown)


def test_the_book_and_every_kind_of_card(desk, hands):
    desk.do(CommandId.BOOK)
    settle(desk)
    assert painted(desk) == []
    desk.do(CommandId.SHELF)
    hands.until(lambda: desk.places.currentWidget() is desk.shelf)
    seen = set()
    for row in range(desk.shelf.list.count()):
        here = desk.shelf.list.item(row).data(_PLACE)
        kind = (here[0].key, here[1].get("kind")) if here else None
        if kind and kind not in seen:
            seen.add(kind)
            desk.shelf.list.setCurrentRow(row)
            assert painted(desk) == [], kind
    assert len(seen) > 12


@pytest.mark.parametrize("link", ["setter", "runout", "ring", "level", "closure"])
def test_a_sheet_empty_filled_and_its_setup(desk, hands, link):
    desk.open_link(link)
    hands.sheet()
    settle(desk)
    assert painted(desk) == []
    desk.do(CommandId.SETUP)
    settle(desk)
    assert painted(desk) == []
    desk.do(CommandId.SETUP)
    hands.standin()
    settle(desk)
    assert painted(desk) == []


def test_the_reading_and_what_it_is_for_are_seen_together(desk, hands):
    desk.resize(640, 437)
    desk.open_link("runout")
    numbers = hands.sheet().numbers
    for _ in range(8):
        QApplication.processEvents()
    for widget in (numbers.prompt, numbers.reading):
        assert widget.visibleRegion().boundingRect().size() == widget.size()
    assert (
        desk.sheet.steps.caution.mapTo(desk, desk.rect().topLeft()).y()
        < numbers.prompt.mapTo(desk, desk.rect().topLeft()).y()
    )


def test_a_page_begins_at_its_top(desk, hands):
    desk.resize(787, 538)
    for place in (CommandId.TOOLS, CommandId.BOOK, CommandId.LOOP):
        desk.do(place)
        settle(desk)
        area = desk.places.parentWidget().parentWidget()
        assert area.verticalScrollBar().value() == 0, place


@pytest.mark.parametrize("do", DIALOGS)
def test_a_dialog(desk, hands, do):
    settle(desk)
    desk.do(do)
    hands.until(lambda: bool(layers(desk)))
    settle(desk)
    assert painted(desk, lambda: layers(desk)[-1].around) == []


def test_the_pages_of_questions_and_what_was_changed_outside(desk, hands, shop):
    settle(desk)
    (shop.root / "masters.json").write_text((shop.root / "masters.json").read_text().replace("50.0018", "50.0118"))
    for opened in (ask_station, look_at_changes, ask_machine):
        opened(desk)
        hands.until(lambda: bool(layers(desk)) or "was given" in desk.banner.words.text())
        if layers(desk):
            assert painted(desk, lambda: layers(desk)[-1].around) == [], opened
            hands.press(Qt.Key.Key_Escape)
            hands.until(lambda: not layers(desk))


def test_on_a_usual_screen_no_page_scrolls_for_one_that_stands_behind_it(desk, hands, shop):
    area = desk.places.parentWidget().parentWidget()
    settle(desk)
    desk.shelf.show_cards(cards(shop))  # made, as after the first picture, and never looked at
    assert desk.tools.rehearsal is not None and desk.book is not None
    desk.open_link("runout")
    hands.sheet()
    hands.standin()
    settle(desk)
    assert area.verticalScrollBar().maximum() == 0
    for do in (CommandId.TOOLS, CommandId.BOOK, CommandId.SHELF, CommandId.LOOP):
        desk.do(do)
        hands.until(lambda do=do: desk.places.at(do))
        settle(desk)
        assert area.verticalScrollBar().maximum() == 0, do


def test_dialogs_that_a_file_or_a_record_brings(desk, hands, tmp_path):
    def top():
        return layers(desk)[-1].around

    def measured():
        hands.until(lambda: bool(layers(desk)))
        settle(desk)
        found = painted(desk, top)
        hands.press(Qt.Key.Key_Escape)
        hands.until(lambda: not layers(desk))
        return found

    desk.do(CommandId.TOOLS)
    settle(desk)
    (tmp_path / "a.csv").write_text("Nr;D;L\n60;5;80\n61;x;80\n")
    read_table(desk, tmp_path / "a.csv")
    assert measured() == []
    (tmp_path / "b.csv").write_text("number,kind,diameter_mm,length_mm\n60,drill,5,80\n61,drill,wide,70\n")
    read_table(desk, tmp_path / "b.csv")
    assert measured() == []
    (tmp_path / "c.log").write_text("T2 Z -340\n")
    read_results(desk, tmp_path / "c.log")
    assert measured() == []
    desk.show_station("willow")
    hands.until(lambda: desk.state.key == "willow")
    settle(desk)
    desk.do(CommandId.WEAR)
    assert measured() == []
    desk.show_station("larch")
    hands.until(lambda: desk.state.key == "larch")
    settle(desk)
    withdraw(desk, next(e.number for e in desk.state.entries if e.kind == "measurement"))
    assert measured() == []
