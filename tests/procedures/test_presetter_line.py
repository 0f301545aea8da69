"""A presetter on a line: what it prints goes where it belongs, over a real socket; nothing else is taken."""

import pytest
from PySide6.QtWidgets import QApplication

from nonna.bench.book.writing import Signature
from nonna.bench.sheet.instruments import instrument_of, not_meant
from nonna.bench.sheet.opening import prepared
from nonna.bench.shelf.shelving import cards, put
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.procedures.instrument_line import parse_line
from nonna.procedures.session import Session
from nonna.shop.links.subjects import PRESETTER, tool
from nonna.shop.texts.line_pattern import line_pattern
from nonna.standin.indicator import IndicatorServer
from tests.support.hands import settle, shown_text

SIGNED = Signature("K. Amsel")


@pytest.mark.parametrize(
    ("pattern", "line", "value", "axis", "number"),
    [
        ("{axis} {value}", "Z +112.418", 112.418, "z", ""),
        ("{axis} {value}", "x 15.998", 15.998, "x", ""),
        ("T{tool} {axis}{value}", "T7 X+0012.345", 12.345, "x", "7"),
        ("{skip}A{value}", "01A+0012.345", 12.345, "", ""),
        ("{axis}: {value} {unit}", "Z: 4.5 in", 114.3, "z", ""),
    ],
)
def test_a_line_says_axis_tool_and_number(pattern, line, value, axis, number):
    read = parse_line(line, line_pattern(pattern, ("value",)))
    assert read == pytest.approx(value)
    assert (read.axis, read.tool) == (axis, number)


def test_a_line_that_is_not_meant_for_the_sheet_is_said(shop):
    site = Site.load(shop, "alder")
    session = Session("presetter-tool", prepared(site, "presetter-tool", tool(2)).facts)
    assert instrument_of(site, session).sends and instrument_of(site, session).pattern == "{axis} {value}"
    assert not_meant(session, "z", "2", site.tools) == "" and not_meant(session, "z", "", site.tools) == ""
    assert "That was T5" in not_meant(session, "z", "5", site.tools)
    own = [t.model_copy(update={"id": "long drill"}) if t.number == 2 else t for t in site.tools]
    moved = Session("presetter-tool", prepared(site, "presetter-tool", own[0].subject).facts)
    assert not_meant(moved, "z", "2", own) == ""  # it goes by its own id and sits in pocket 2
    for _ in range(2):
        session = session.take(112.4, "indicator", "2026-11-23T10:00:00+00:00", axis="x")
    assert [row.values["axis"] for row in session.rows] == ["x", "x"]
    assert "Nothing more is wanted in X" in not_meant(session, "x", "", site.tools)
    assert instrument_of(Site.load(shop), Session("tool-length", session.facts)) is None


def test_what_a_presetter_shows_is_asked_once_on_its_card(shop):
    card = cards(shop)["presetters"][0]
    put(shop, "presetters", {**card, "x_shows": "radius", "resolution_mm": 0.002}, SIGNED, card)
    facts = prepared(Site.load(shop, "alder"), "presetter-calibration", PRESETTER).facts
    assert (facts.setup["x_shows"], facts.setup["resolution_mm"]) == ("radius", 0.002)
    with pytest.raises(NonnaError):
        put(shop, "presetters", {**card, "x_shows": "both"}, SIGNED, card)


def opened(desk, hands, number):
    desk.show_station("alder")
    settle(desk)
    desk.measure((tool(number),))
    return hands.sheet(f"T{number}").controller


def test_the_stand_in_presetter_prints_a_line_a_reading(desk, hands):
    c = opened(desk, hands, 2)
    c.go_live("")
    hands.until(lambda: c.session.next_slot is None)
    c.stop_live()
    assert sorted(row.values["axis"] for row in c.session.rows) == ["x", "x", "z", "z"]
    assert {row.source for row in c.session.rows} == {"indicator"}
    found = c.session.evaluate()
    assert found.quantity("length_mm").value == pytest.approx(112.42, abs=0.05)
    assert found.quantity("diameter_mm").value == pytest.approx(8.5, abs=0.05)


def test_garbage_another_tool_and_a_pulled_cable_lose_nothing(desk, hands, shop):
    card = cards(shop)["presetters"][0]
    put(shop, "presetters", {**card, "pattern": "T{tool} {axis} {value}"}, SIGNED, card)
    lines = iter(["?#~", "T5 Z +90.000", "T2 Z +112.430", "T2 X +8.499", "T2 Z", "T2 Z +112.431", "T2 X +8.500"])
    last = "T2 Z +112.500"
    c = opened(desk, hands, 2)
    said = []
    c.said.connect(lambda words, tone: said.append(words))
    server = IndicatorServer(lambda: next(lines, last), rate_hz=15)
    c.go_live(server.url)
    hands.until(lambda: c.session.next_slot is None)
    assert [(row.values["axis"], row.values["value_mm"]) for row in c.session.rows][-1] == ("x", 8.5)
    assert len(c.session.rows) == 4 and 90.0 not in [row.values["value_mm"] for row in c.session.rows]
    assert any("That was T5" in words for words in said)
    server.close()  # the cable is pulled
    hands.until(lambda: any("does not answer" in words for words in said) or not c.dial.open)
    QApplication.processEvents()
    assert len(c.session.rows) == 4  # what was read is there
    hands.enter()
    hands.until(lambda: c.receipt is not None)
    assert "Signed" in shown_text(desk)


def test_one_reading_too_many_of_a_master_never_goes_to_the_next_one(shop):
    session = Session(
        "presetter-calibration", prepared(Site.load(shop, "alder"), "presetter-calibration", PRESETTER).facts
    )
    for _ in range(3):
        session = session.take(60.001, "indicator", "2026-11-23T10:00:00+00:00", axis="z")
    assert session.slot_on("z") is None and "Nothing more is wanted in Z" in not_meant(session, "z", "", ())
    assert session.slot_on("x").fields == {"master": "low", "axis": "x"}


def test_a_line_far_from_what_is_expected_is_asked_about(desk, hands):
    c = opened(desk, hands, 2)
    lines = iter(["Z +1", "Z +112.430"])
    server = IndicatorServer(lambda: next(lines, "Z +4.4252"), rate_hz=15)  # 112.4 mm in inches
    c.go_live(server.url)
    hands.until(lambda: c.question is not None)
    c.stop_live()
    server.close()
    assert "112" in c.question.words and len(c.session.rows) == 1
