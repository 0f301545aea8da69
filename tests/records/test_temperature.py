"""The temperature masters are used at is read once a day; where nobody read it, sheet, record and certificate say
so.
"""

import json

import pytest
from PySide6.QtCore import Qt

from nonna.adapters.papers import certificate_pdf, certificate_xml
from nonna.bench import clock
from nonna.bench.sheet.opening import prepared
from nonna.bench.station.site import Site
from nonna.procedures.catalogue import evaluate
from nonna.shop.links.subjects import SETTER
from nonna.wiring import unprintable
from tests.support.hands import record_of, shown_text
from tests.support.papers import text_of


@pytest.fixture
def shop(shop):
    """The demo's files as a shop of one's own, whose thermometer nobody ever read."""
    path = shop.root / "shop.json"
    path.write_text(json.dumps({**json.loads(path.read_text()), "invented": False}))
    return shop


def conditions(shop, name="setter-calibration", subject=SETTER):
    return prepared(Site.load(shop), name, subject).facts.conditions


def test_it_is_asked_once_a_day_in_the_line_readings_are_typed_into(desk, hands, shop):
    assert "21.4 °C assumed" in shown_text(desk) and conditions(shop)["temperature_assumed"]
    desk.open_link("setter")
    sheet = hands.sheet()
    c = sheet.controller
    assert "Temperature at the machine" in shown_text(sheet) and "never read here" in shown_text(sheet)
    hands.enter("-312.4010")  # a reading, typed into the wrong line: nothing is lost, nothing is taken
    assert c.session.rows == () and "expected here" in shown_text(sheet) and c.thermometer.asked
    hands.press(Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    hands.enter("22,6")
    assert c.session.facts.conditions["temperature_c"] == 22.6 and not c.session.temperature_assumed
    hands.enter("-312.4010")
    assert len(c.session.rows) == 1
    hands.until(lambda: conditions(shop) == {"temperature_c": 22.6, "temperature_u_c": 0.3})  # on every other sheet too
    hands.until(lambda: "22.6 °C ± 0.6" in shown_text(desk))
    assert json.loads((shop.root / "shop.json").read_text())["temperature_at"] == f"{clock.now():%Y-%m-%d}"


def test_enter_alone_keeps_it_and_that_stays_visible(desk, hands, shop, tmp_path):
    assert "temperature_assumed" not in conditions(shop, "repeatability")  # no master is used there
    desk.open_link("setter")
    c = hands.sheet().controller
    hands.enter()
    assert not c.thermometer.asked and c.session.temperature_assumed
    top, sides = -312.4, {"+x": 735.05, "-x": 705.08, "+y": 75.05, "-y": 45.08}
    while (slot := c.session.next_slot) is not None:
        hands.enter(f"{sides.get(slot.fields['face'], top) + 0.0003 * len(c.session.rows):.4f}")
    assert "Nobody read the temperature" in shown_text(hands.sheet())
    hands.enter()
    hands.until(lambda: c.receipt is not None)
    body = record_of(desk, c.receipt.number)
    certificate_pdf.write(desk.folder.book.get(c.receipt.number), tmp_path / "c.pdf")
    assert "assumed: nobody read it that day" in text_of(tmp_path / "c.pdf")[1]
    certificate_xml.write(desk.folder.book.get(c.receipt.number), tmp_path / "c.xml")
    assert "Temperature, assumed" in (tmp_path / "c.xml").read_text()
    assert body["input"]["conditions"]["temperature_assumed"] and "temperature-assumed" in body["result"]["flags"]
    assert conditions(shop)["temperature_assumed"]  # the next sheet asks again


def test_letters_that_no_certificate_can_print_are_said_before_anybody_signs(desk, hands):
    assert unprintable("Żółć Ελλάς Дуб") == ()
    desk.open_link("setter")
    sheet = hands.sheet()
    assert "No certificate can print" not in shown_text(sheet)
    sheet.controller.operator = "山田"
    sheet.controller.notices.look(sheet.controller)
    hands.until(lambda: "No certificate can print 山 田" in shown_text(sheet))
    sheet.controller.operator = "Żółć"
    sheet.controller.notices.look(sheet.controller)
    sheet.refresh()
    assert "No certificate can print" not in shown_text(sheet)


def test_a_master_without_u_is_told_with_the_advice_and_no_share_of_the_rest_is(setter):
    master = setter["masters"]["master"]
    for name in [name for name in master if name.startswith("U_")]:
        del master[name]
    told = " ".join(evaluate(setter).to_document()["advice"])
    assert "own doubt is not in this" in told and "Most of the doubt" not in told


def test_only_what_uses_a_master_is_said_to_hang_on_it(setter, repeat):
    setter["conditions"] = repeat["conditions"] = {"temperature_c": 21.0, "temperature_assumed": True}
    assert "temperature-assumed" in evaluate(setter).flags and "temperature-assumed" not in evaluate(repeat).flags
    setter["conditions"] = {"temperature_c": 21.0}
    assert "temperature-assumed" not in evaluate(setter).flags
