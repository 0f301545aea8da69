"""Probe length, by hand, from end to end, and held against the truth."""

import numpy as np
import pytest

from nonna.desk.commands.ids import CommandId
from nonna.desk.signing.certificate_out import write_certificate
from nonna.errors import NonnaError
from nonna.procedures.catalogue import evaluate
from tests.support.hands import record_of, shown_dialog, shown_text

PROBE = {
    "format": "nonna-readings/1",
    "procedure": "probe-length",
    "setup": {"surface_mm": -452.4, "surface_u_mm": 0.0008, "correction_mm": 0.0021, "correction_u_mm": 0.0005},
    "readings": [{"position_mm": -301.2}, {"position_mm": -301.2006}, {"position_mm": -301.2003}],
}


def test_by_hand():
    found = evaluate(PROBE).to_document()
    row = found["results"]["probe_length_mm"]
    assert row["value"] == pytest.approx(-301.2003 + 452.4 + 0.0021)
    assert row["u"] == pytest.approx(np.sqrt(0.0003**2 / 3 + 0.0008**2 + 0.0005**2))
    assert {r["source"] for r in found["budget"]["probe_length_mm"]} == {"touch repeatability", "surface", "correction"}
    assert found["verdict"] == "none"


@pytest.mark.parametrize(
    ("change", "code", "where"),
    [
        ({"setup": {}}, "missing-field", "setup.surface_mm"),
        ({"setup": {"surface_mm": "top"}}, "not-a-number", "setup.surface_mm"),
        ({"setup": {"surface_mm": 1.0, "surface_u_mm": -1.0}}, "out-of-range", "setup.surface_u_mm"),
        ({"readings": []}, "too-few-readings", "readings"),
        ({"readings": [{"position_mm": 1.0}]}, "no-repeatability", "readings"),
        ({"masters": {"block": {}}}, "unknown-field", "masters.block"),
    ],
)
def test_bad_input(change, code, where):
    with pytest.raises(NonnaError) as caught:
        evaluate(PROBE | change)
    assert (caught.value.code, caught.value.where) == (code, where)


@pytest.mark.parametrize("touches", [2, 3, 5])
def test_intervals_hold_the_truth(touches):
    rng, inside, cases = np.random.default_rng(3), 0, 600
    for _ in range(cases):
        setup = {"surface_mm": rng.normal(0, 0.0008), "surface_u_mm": 0.0008}
        setup |= {"correction_mm": rng.normal(0, 0.0005), "correction_u_mm": 0.0005}
        readings = [{"position_mm": z} for z in 150.0 + rng.normal(0, 0.0008, touches)]
        found = evaluate(PROBE | {"setup": setup, "readings": readings}).quantity("probe_length_mm").estimate
        inside += abs(found.value - 150.0) <= found.expanded
    assert 0.925 <= inside / cases <= 0.975


def test_its_sheet_record_and_certificate_come_by_themselves(desk, hands, tmp_path):
    from nonna.desk.actions.by_command import chosen

    chosen(desk, "sheet:probe-length")
    sheet = hands.sheet("Probe")
    assert "broken" in shown_text(sheet)  # the setter it rests on was knocked
    for text in ("-301.2", "-301.2006", "-301.2003"):
        hands.enter(text)
    hands.enter()
    body = record_of(desk, sheet.controller.receipt.number)
    assert body["carried"]["setup.surface_mm"]["link"] == "setter"
    assert evaluate(body["input"]).to_document() == body["result"]
    hands.enter()
    desk.do(CommandId.BOOK)
    hands.until(lambda: desk.places.at(CommandId.BOOK))
    assert "Probe length" in shown_text(desk.book)
    write_certificate(desk, desk.state.entries[-1].number, tmp_path / "c.pdf")
    hands.until(lambda: "written" in shown_text(desk.book))
    chosen(desk, "sheet:probe-length")
    hands.sheet("Probe")
    hands.standin()
    found = desk.sheet.controller.session.evaluate()
    assert found.quantity("probe_length_mm").value == pytest.approx(121.5, abs=0.5)
    assert "G38.2" in desk.sheet.controller.program


def test_the_list_and_the_procedures_agree():
    from nonna.procedures.catalogue import procedure
    from nonna.procedures.listing import PROCEDURES
    from nonna.stations.mill.loop import LOOP

    for name, listed in PROCEDURES.items():
        found = procedure(name)
        assert (found.name, found.title) == (name, listed.title)
        assert found.main_title
        assert found.main[0]
    assert {link.procedure for link in LOOP.links} - {""} <= set(PROCEDURES)


def test_the_palette_opens_it_with_a_few_letters(desk, hands):
    from PySide6.QtCore import Qt
    from PySide6.QtTest import QTest

    from nonna.desk.actions.by_command import find
    from nonna.desk.forms.finder import Finder

    find(desk)
    finder = shown_dialog(desk, Finder)
    everything = finder.list.count()
    QTest.keyClicks(finder.line, "sheet probe l")
    assert 1 <= finder.list.count() < everything
    assert "Open the sheet: probe length" in finder.list.item(0).text()
    QTest.keyClick(finder.line, Qt.Key.Key_Up)
    assert finder.list.currentRow() == 0
    QTest.keyClick(finder.line, Qt.Key.Key_Enter)
    assert hands.sheet("Probe").controller.session.name == "probe-length"
    assert shown_dialog(desk, Finder) is None
    find(desk)
    nothing = shown_dialog(desk, Finder)
    QTest.keyClicks(nothing.line, "no such zebra")
    QTest.keyClick(nothing.line, Qt.Key.Key_Enter)
    assert nothing.isVisible()  # nothing chosen, nothing done
    QTest.keyClick(nothing.line, Qt.Key.Key_Escape)
    assert not nothing.isVisible()
