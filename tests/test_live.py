"""A live indicator: over a local socket, from the stand-in's dial, by key and by its own button."""

import contextlib
import socket
import threading

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt

from nonna.desk.commands import Do
from nonna.desk.doing import carry_out
from nonna.desk.live import parse_line
from nonna.desk.note import NoteDialog
from nonna.standin.indicator import IndicatorServer
from tests.test_desk import desk, hands, shown_text  # noqa: F401


@given(value=st.floats(-20, 20), words=st.sampled_from(["{:+.4f}", " {:.4f} mm", "01A{:+.4f}"]))
def test_lines_of_instruments(value, words):
    if words.startswith("01A"):
        assert parse_line(words.format(value)) is not None  # an address before the number is not told apart
    else:
        assert parse_line(words.format(value)) == pytest.approx(value, abs=1e-4)


def test_odd_lines():
    assert parse_line("ERR") is None
    assert parse_line("+0,0123 mm") == 0.0123
    assert parse_line("0.01 in") == pytest.approx(0.254)


def test_runout_read_live_from_the_stand_in(desk, hands):  # noqa: F811
    desk.open_sheets([("tip-runout", "Probe")], Do.LOOP)
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


def test_an_instrument_with_a_button_and_one_that_is_not_there(desk, hands):  # noqa: F811
    values = iter([0.001 * n for n in range(400)])
    server = IndicatorServer(lambda: next(values), rate_hz=20)
    carry_out(desk, Do.INDICATOR)
    dialog = [d for d in desk.findChildren(NoteDialog) if d.isVisible()][-1]
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
    from nonna.desk.live import LiveReader

    def flood():
        client, _ = listener.accept()
        with client, contextlib.suppress(ConnectionError):
            for _ in range(100):  # what comes before the port is cleared is dropped
                client.sendall(b"9" * 5000 + b"\n+0.5000\n")
                threading.Event().wait(0.02)

    threading.Thread(target=flood, daemon=True).start()
    reader = LiveReader("socket://{}:{}".format(*listener.getsockname()))
    with qtbot.waitSignal(reader.arrived, timeout=5000, check_params_cb=lambda v: v == 0.5):
        reader.start()
    reader.close()
    listener.close()
