"""What is typed is known to the digits that were typed: readings off a coarse display are never taken for fine ones."""

import json
import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from PySide6.QtCore import Qt

from nonna.bench.sheet.opening import prepared
from nonna.bench.station.site import Site
from nonna.cli.main import run
from nonna.procedures.display import display_step
from nonna.procedures.entry import parse_length
from nonna.procedures.session import Session
from nonna.shop.links.subjects import SETTER, tool
from nonna.wording.lengths import Units
from tests.support.hands import record_of, shown_text

AT = "2026-11-20T08:00:00+00:00"


@given(st.lists(st.integers(-4_000_000, 4_000_000), min_size=2, max_size=9), st.integers(1, 5))
def test_the_step_of_a_metric_display_is_found(counts, digits):
    assume(any(count % 10 for count in counts))  # some reading does not end in a nought
    typed = [f"{count / 10**digits:.{digits}f}" for count in counts]
    step = display_step([parse_length(text, Units.MM) for text in typed])
    assert step == pytest.approx(10.0**-digits)


@given(st.lists(st.integers(-150_000, 150_000), min_size=4, max_size=9), st.integers(3, 5))
def test_the_step_of_a_display_in_inches_is_found(counts, digits):
    assume(sum(count % 5 != 0 for count in counts) >= 2)  # five tenths of a thou are a whole number of micrometres too
    typed = [f"{count / 10**digits:.{digits}f}" for count in counts]
    step = display_step([parse_length(text, Units.INCH) for text in typed])
    assert step >= 25.4 * 10.0**-digits * 0.999 and step < 25.4 * 10.0**-digits * 10.0


def test_one_reading_tells_no_step_and_odd_numbers_none():
    assert display_step([-312.4]) == 0.0 and display_step([]) == 0.0
    assert display_step([math.pi, math.e]) == 0.0


def test_a_coarse_display_enters_the_doubt_and_a_finer_digit_takes_it_back(shop):
    session = Session("tool-length", prepared(Site.load(shop), "tool-length", tool(2)).facts)
    session = session.with_setup(resolution_mm=0.0001, repeatability_mm=None, repeatability_dof=None)
    for value in (-339.98, -339.98, -339.98):
        session = session.take(value, "typed", AT)
    result = session.evaluate()
    assert session.display_mm == 0.01 and session.document()["setup"]["resolution_mm"] == 0.01
    assert result.quantity("length_mm").estimate.expanded > 1.9 * 0.01 / math.sqrt(12.0)
    finer = session.strike(0, "mistyped").take(-339.981, "typed", AT)
    assert finer.display_mm == pytest.approx(0.001)
    machine = session.take_all([{"position_mm": -339.9812}], "stand-in", AT)
    assert machine.display_mm == 0.01  # what a machine sent is no typing
    coarse = session.with_setup(resolution_mm=0.02)
    assert coarse.document()["setup"]["resolution_mm"] == 0.02  # a display said to be coarser is believed
    level = Session("face-level", prepared(Site.load(shop), "face-level", SETTER).facts)
    assert level.take(0.0, "typed", AT).take(0.01, "typed", AT).display_mm == 0.0  # its dial has a card


def test_what_the_sheet_took_for_the_display_stands_on_it_and_in_its_record(desk, hands, tmp_path, capfd):
    hands.mend("level", "setter")
    desk.do("tools")
    desk.open_sheets([("tool-length", tool(2))], "loop")
    sheet = hands.sheet("T2")
    about = sheet.controller.session.expected_mm()
    assert about is not None
    while sheet.controller.session.next_slot is not None:
        hands.enter(f"{about:.2f}")
    hands.press(Qt.Key.Key_F9)
    hands.until(lambda: "typed to 10 µm" in shown_text(sheet))
    hands.press(Qt.Key.Key_F9)
    sheet.controller.sign()
    hands.until(lambda: sheet.controller.receipt is not None)
    body = record_of(desk, sheet.controller.receipt.number)
    assert body["input"]["setup"]["resolution_mm"] == 0.01
    (tmp_path / "again.json").write_text(json.dumps(body["input"]))
    assert run(["evaluate", str(tmp_path / "again.json")], lambda _: 0) == 0
    assert json.loads(capfd.readouterr().out)["results"] == body["result"]["results"]
