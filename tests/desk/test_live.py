"""A live indicator: over a local socket, from the stand-in's dial, by key and by its own button."""

import contextlib
import os
import socket
import threading
import tty
import weakref

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QMenu

from nonna.adapters.instrument_port import Lines
from nonna.bench.book.writing import Signature
from nonna.bench.shelf.shelving import BY_KEY, cards, put
from nonna.desk.actions.by_command import carry_out
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.threads.instrument_lines import LiveReader
from nonna.errors import NonnaError
from nonna.procedures.instrument_line import parse_line, read_as
from nonna.shop.cards.connection import Connection
from nonna.shop.links.subjects import Subject
from nonna.shop.texts.line_pattern import Budget, line_pattern
from nonna.standin.indicator import IndicatorServer
from tests.support.hands import PATIENCE, settle, shown_dialog, shown_text

SIGNED = Signature("K. Amsel")


@given(value=st.floats(-20, 20), words=st.sampled_from(["{:+.4f}", " {:.4f} mm", "01A{:+.4f}"]))
def test_lines_of_instruments(value, words):
    assert parse_line(words.format(value)) == pytest.approx(value, abs=1e-4)
    by_card = line_pattern("{skip}A{value}", ("value",))
    assert parse_line(f"01A{value:+.4f}", by_card) == pytest.approx(value, abs=1e-4)


def test_odd_lines():
    assert parse_line("ERR") is None
    assert parse_line("+0,0123 mm") == 0.0123
    assert parse_line("0.01 in") == pytest.approx(0.254)
    assert parse_line("01A+0012.345") == 12.345
    assert parse_line("12.5um") == pytest.approx(0.0125)
    assert parse_line("3.5 7.25") is None  # which of the two?
    assert parse_line("Nr 7: 2.5 in", line_pattern("nr {skip}: {value} {unit}", ("value",))) == pytest.approx(63.5)
    assert parse_line("garbage", line_pattern("nr {skip}: {value}", ("value",))) is None


@pytest.mark.parametrize(
    "url", ["hwgrep://(", "spy:///tmp/x?file=/tmp/y", "loop://", "file.txt", "socket://x", "/dev/../etc/x y"]
)
def test_what_is_no_port_is_said_and_never_opened(qtbot, url):
    reader, said = LiveReader(Connection(url)), []
    reader.lost.connect(said.append)
    reader.start()
    qtbot.waitUntil(lambda: bool(said), timeout=PATIENCE)
    assert "neither a port" in said[0]


def test_lines_that_tell_nothing_are_said_once(qtbot):
    reader, said, seen = LiveReader(Connection("socket://x:1")), [], []
    reader.unread.connect(said.append)
    reader.arrived.connect(seen.append)
    reader._post.open()
    for line in [b"a 1.5 2.5\n"] * 12:
        reader.port.take(line)
    qtbot.waitUntil(lambda: bool(said), timeout=PATIENCE)
    assert len(said) == 1 and "which number is it" in said[0] and seen == []
    for line in [b"\r\n", b"  \n"] * 12:  # between two presses
        reader.port.take(line)
    assert reader.port._box.empty()


@given(skips=st.integers(1, 12), text=st.text("a b", max_size=400))
def test_no_pattern_runs_away(skips, text):
    pattern = line_pattern("{skip}a" * skips + "T{tool}{skip}Z{z}", ("tool", "z"))
    steps = Budget(3_000_000)
    assert pattern.match(text, steps) is None  # no figure in it


def test_runout_read_live_from_the_stand_in(desk, hands):
    desk.open_sheets([("tip-runout", Subject.of("Probe"))], CommandId.LOOP)
    sheet = hands.sheet("Probe")
    c = sheet.controller
    hands.press(Qt.Key.Key_F12)
    hands.until(lambda: c.dial.value_mm is not None)
    for number in range(8):
        seen = []
        c.lived.connect(seen.append)
        hands.until(lambda seen=seen: len(seen) >= 3)  # the hand has turned the spindle on
        hands.enter()
        assert len(c.session.rows) == number + 1
    assert {row.source for row in c.session.rows} == {"indicator"}
    result = c.session.evaluate()
    world = desk.world()
    assert result.quantity("eccentricity_mm").value == pytest.approx(float((world.ball_xy**2).sum() ** 0.5), abs=0.0015)
    assert "Stop at" in shown_text(sheet)
    hands.press(Qt.Key.Key_F12)
    assert c.dial.value_mm is None
    hands.enter()
    assert "Key turned at" in shown_text(sheet)


def test_an_instrument_with_a_button_and_one_that_is_not_there(desk, hands):
    values = iter([0.001 * n for n in range(400)])
    server = IndicatorServer(lambda: next(values), rate_hz=20)
    carry_out(desk, CommandId.INDICATOR)
    dialog = shown_dialog(desk, NoteDialog)
    dialog.line.setText(f"{server.url} press")
    dialog.line.returnPressed.emit()
    desk.open_link("level")
    sheet = hands.sheet()
    hands.press(Qt.Key.Key_F12)
    hands.until(lambda: sheet.controller.session.next_slot is None)  # it presses by itself
    assert len(sheet.controller.session.rows) == 5
    sheet.controller.stop_live()
    server.close()
    sheet.controller.go_live(server.url)
    hands.until(lambda: "does not answer" in shown_text(sheet))
    assert sheet.controller.dial.value_mm is None
    sheet.controller.undo()
    desk.open_link("setter")
    assert not server._thread.is_alive()


def test_a_line_without_end_is_not_waited_for(qtbot):
    listener = socket.create_server(("127.0.0.1", 0))

    def flood():
        client, _ = listener.accept()
        with client, contextlib.suppress(ConnectionError):
            for _ in range(100):  # what comes before the port is cleared is dropped
                client.sendall(b"9" * 5000 + b"\n+0.5000\n")
                threading.Event().wait(0.02)

    threading.Thread(target=flood, daemon=True).start()
    reader = LiveReader(Connection("socket://{}:{}".format(*listener.getsockname())))
    with qtbot.waitSignal(reader.arrived, timeout=PATIENCE, check_params_cb=lambda v: v == 0.5):
        reader.start()
    reader.close()
    listener.close()


def whole_lines(*pieces):
    lines = Lines()
    return [line for piece in pieces if (line := lines.add(piece)) is not None]


def test_half_a_line_is_never_a_reading():
    assert whole_lines(b"250\n", b"+0.1250\n") == [b"+0.1250\n"]  # opened in the middle of 0.1250
    assert whole_lines(b"", b"+0.1250\n") == [b"+0.1250\n"]  # its own button, pressed later
    assert whole_lines(b"", b"+0.1", b"250\n") == [b"+0.1250\n"]  # a slow line in two pieces
    assert whole_lines(b"", b"+0.1", b"", b"250\n") == [b"+0.1250\n"]
    assert whole_lines(b"", b"+0.1", *[b""] * 5, b"+0.25\n") == [b"+0.25\n"]  # the cable was out meanwhile
    assert whole_lines(b"", b"9" * 200, b"5\n", b"+0.25\n") == [b"+0.25\n"]  # the end of a line without end
    assert whole_lines(b"", b"9" * 150, b"9" * 60 + b"\n", b"+0.25\n") == [b"+0.25\n"]


def test_readers_that_go_while_their_thread_talks_take_nothing_along(qtbot):
    listener = socket.create_server(("127.0.0.1", 0))
    here = "socket://{}:{}".format(*listener.getsockname())

    def talk(client):
        with client, contextlib.suppress(OSError):
            while True:
                client.sendall(b"+0.1250\n" * 200)

    def serve():
        with contextlib.suppress(OSError):
            while True:
                threading.Thread(target=talk, args=(listener.accept()[0],), daemon=True).start()

    threading.Thread(target=serve, daemon=True).start()
    heard = []
    for _ in range(12):
        reader = LiveReader(Connection(here))
        reader.arrived.connect(heard.append)
        before = len(heard)
        reader.start()
        qtbot.waitUntil(lambda before=before: len(heard) > before, timeout=PATIENCE)
        port, gone = reader.port, weakref.ref(reader)
        del reader  # not closed: the thread has nothing of Qt in its hands
        assert gone() is None  # at once, here: never by a collector that comes by on another thread
        port.stop.set()
    listener.close()
    assert set(heard) == {0.125}


def test_templates_that_cannot_be_read_are_said_where_the_stand_in_is_asked(desk, hands, shop):
    desk.open_sheets([("tip-runout", Subject.of("Probe"))], CommandId.LOOP)
    sheet = hands.sheet("Probe")
    (shop.root / "templates").mkdir()
    (shop.root / "templates" / "program.j2").write_bytes(b"\xff\xfe")
    sheet.controller.go_live("")
    settle(desk)
    assert "not UTF-8" in shown_text(sheet) and not sheet.controller.dial.open


@pytest.mark.parametrize(("end", "line_end"), [(b"\r\n", "lf"), (b"\n", "lf"), (b"\r", "cr")])
def test_a_real_serial_line_is_read_as_its_card_says(qtbot, end, line_end):
    here, there = os.openpty()  # the two ends of a serial line
    try:
        tty.setraw(there)
        reader = LiveReader(
            Connection(os.ttyname(there), 19_200, line_end=line_end), None, line_pattern("{skip}A{value}", ("value",))
        )
        heard = []
        reader.arrived.connect(heard.append)
        reader.start()
        for _ in range(400):
            os.write(here, b"01A+0012.345" + end)
            qtbot.wait(20)
            if heard:
                break
        assert heard[0] == 12.345
        reader.close()
    finally:
        os.close(here)
        os.close(there)


def test_a_flood_is_taken_without_loss_and_without_a_stall(qtbot):
    listener = socket.create_server(("127.0.0.1", 0))
    sent = 5_000

    def flood():
        client, _ = listener.accept()
        with client, contextlib.suppress(OSError):
            threading.Event().wait(0.5)  # what comes before the port is cleared is dropped
            client.sendall(b"".join(b"%d.5\n" % n for n in range(sent)))
            threading.Event().wait(60)

    threading.Thread(target=flood, daemon=True).start()
    reader, heard = LiveReader(Connection("socket://{}:{}".format(*listener.getsockname()))), []
    reader.arrived.connect(heard.append)
    reader.start()
    qtbot.waitUntil(lambda: bool(heard) and heard[-1] == sent - 0.5, timeout=PATIENCE)
    assert heard == [n + 0.5 for n in range(int(heard[0]), sent)] and heard[0] < 2.0
    reader.close()
    listener.close()


def test_what_a_line_would_be_read_as():
    assert read_as("01A+0012.345", "{skip}A{value}") == "12.345 mm"
    assert read_as("T7 X 0.5 in", "T{tool} {axis} {value} {unit}") == "12.7 mm, axis X, T7"
    assert "gives no number" in read_as("garbage", "T{value}") and "Which number" in read_as("1.5 2.5", "")
    with pytest.raises(NonnaError):
        read_as("1", "{nothing}")


def test_an_indicator_is_read_where_its_card_says(desk, hands, shop):
    server = IndicatorServer(iter([0.001 * n for n in range(4000)]).__next__, rate_hz=20)
    card = cards(shop)["indicators"][0]
    put(shop, "indicators", {**card, "port": server.url, "button": True}, SIGNED, card)
    desk.look_again()
    settle(desk)
    desk.open_link("level")
    sheet = hands.sheet()
    hands.press(Qt.Key.Key_F12)
    hands.until(lambda: sheet.controller.session.next_slot is None)
    assert {row.source for row in sheet.controller.session.rows} == {"indicator"}
    sheet.controller.stop_live()
    server.close()


def test_in_a_real_shop_nothing_but_an_instrument_is_read_live(desk, hands):
    desk.open_link("level")
    c = hands.sheet().controller
    object.__setattr__(c.site, "shop", c.site.shop.model_copy(update={"invented": False}))
    hands.press(Qt.Key.Key_F12)
    hands.until(lambda: "No instrument is connected" in shown_text(desk.sheet))
    assert not c.dial.open and c.session.rows == ()


def test_a_pattern_is_tried_on_a_pasted_line_before_its_card_is_kept(desk, hands, shop):
    desk.do(CommandId.SHELF)
    hands.until(lambda: desk.places.currentWidget() is desk.shelf)
    view = desk.shelf
    view.begin(BY_KEY["presetters"])
    fields = {w.accessibleName(): w for w in view.form.findChildren(QLineEdit) if w.isVisible()}
    fields["Name"].setText("Presetter two")
    fields["A line it sends"].setText("{skip}A{value}")
    fields["Baud rate"].setText("19200")
    view.submit()
    assert "Paste a line" in shown_text(view) and fields["Name"].text() == "Presetter two"
    fields["A line to try the pattern on"].setText("01B+0012.345")
    assert "gives no number" in shown_text(view)
    view.submit()
    assert "presetter-two" not in [c["id"] for c in cards(shop)["presetters"]]
    fields["A line to try the pattern on"].setText("01A+0012.345")
    assert "12.345 mm" in shown_text(view)
    view.submit()
    settle(desk)
    hands.until(lambda: "On the shelf" in shown_text(view))
    made = cards(shop)["presetters"][-1]
    assert (made["pattern"], made["baud"], made["parity"]) == ("{skip}A{value}", 19200, "none")
    with pytest.raises(NonnaError, match="needs"):
        put(shop, "presetters", {**made, "pattern": "no hole"}, SIGNED, made)


def test_a_new_card_of_any_kind_is_one_key_away(desk, hands):
    desk.do(CommandId.SHELF)
    hands.until(lambda: desk.places.currentWidget() is desk.shelf)
    desk.shelf.list.setFocus()
    hands.press(Qt.Key.Key_N)
    menu = next(m for m in desk.findChildren(QMenu) if m.isVisible())
    assert [a.text() for a in menu.actions()][-4:] == ["Micrometer", "Print-out", "Part with a counter", "Machine"]
    for _ in range(4):
        QTest.keyClick(menu, Qt.Key.Key_Up)
    QTest.keyClick(menu, Qt.Key.Key_Return)
    assert isinstance(desk.focusWidget(), QLineEdit) and desk.focusWidget().accessibleName() == "Name"
    assert "A new micrometer" in shown_text(desk.shelf)
