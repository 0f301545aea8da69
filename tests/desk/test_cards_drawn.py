"""Cards as drawings: numbers at their dimension lines, slips refused where hands type, another machine by the same
questions.
"""

import json

import pytest
from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from nonna.bench.book.writing import Signature
from nonna.bench.founding.interview import StationInterview
from nonna.bench.founding.one_more_station import add_station
from nonna.bench.shelf.card_trail import changed_outside
from nonna.bench.shelf.shelving import cards, put
from nonna.bench.station.site import Site
from nonna.desk.commands.ids import CommandId
from nonna.desk.pages.shelf.drawing import CardDrawing
from nonna.desk.pages.shelf.view import _PLACE
from nonna.desk.signing.asking_machine import AskStation
from nonna.errors import NonnaError
from nonna.wording.lengths import Units
from tests.support.eyes import unpainted
from tests.support.founding import MM, answer
from tests.support.hands import settle, shown_dialog, shown_text

WHO = Signature("K. Amsel", "Larch", shop="Tarnholm Pump Works", invented=True)


def shelf(desk, hands, group, name=""):
    desk.do(CommandId.SHELF)
    hands.until(lambda: desk.places.currentWidget() is desk.shelf)
    listed = desk.shelf.list
    for row in range(listed.count()):
        here = listed.item(row).data(_PLACE)
        if here and here[0].key == group and name in here[1]["name"]:
            listed.setCurrentRow(row)
            break
    for _ in range(4):
        QApplication.processEvents()
    return desk.shelf


def fields(view):
    return {w.accessibleName(): w for w in view.form.findChildren(QLineEdit) if w.isVisible()}


@pytest.mark.parametrize(
    ("group", "name"),
    [
        ("masters", "Master tool"),
        ("masters", "Ring 50"),
        ("masters", "Block"),
        ("machines", "Larch"),
        ("machines", "Rowan"),
        ("machines", "Willow"),
    ],
)
def test_a_cards_numbers_stand_in_its_drawing(desk, hands, group, name):
    view = shelf(desk, hands, group, name)
    (drawing,) = (d for d in view.findChildren(CardDrawing) if d.isVisible())
    inside = [w for w in drawing.findChildren(QLineEdit) if w.isVisible()]
    assert len(inside) >= 4 and not [line for line in unpainted(desk) if "sideways" in line or "over" in line]
    places = [QRect(w.mapTo(drawing, QPoint(0, 0)), w.size()) for w in inside]
    assert all(drawing.rect().contains(place) for place in places)
    assert not any(a.intersects(b) for i, a in enumerate(places) for b in places[i + 1 :])


def test_a_number_typed_at_its_line_is_kept(desk, hands, shop):
    view = shelf(desk, hands, "machines", "Larch")
    drawing = next(d for d in view.findChildren(CardDrawing) if d.isVisible())
    there = fields(view)
    there["X travel to, mm"].setFocus()
    QTest.keyClick(there["X travel to, mm"], Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    before = drawing.figure
    QTest.keyClicks(there["X travel to, mm"], "820")
    assert drawing.figure != before  # it grew as it was typed
    QTest.keyClick(there["X travel to, mm"], Qt.Key.Key_Return)
    hands.until(lambda: "On the shelf" in shown_text(view))
    settle(desk)
    assert shop.machine("larch").travel_mm.x == [0.0, 820.0] and changed_outside(shop) == ()


def test_a_card_begins_at_its_top_and_a_narrow_one_is_a_list(desk, hands):
    view = shelf(desk, hands, "machines", "Larch")
    bar = view.area.verticalScrollBar()
    assert bar.maximum() > 0
    bar.setValue(bar.maximum())
    shelf(desk, hands, "masters", "Ring 50")
    assert bar.value() == 0
    desk.resize(787, 538)
    shelf(desk, hands, "machines", "Willow")
    names = set(fields(view))
    assert {"Jaws reach out from the axis, mm (0: not known)", "Arm swings out by M (0: there is none)"} <= names
    assert not {"Setter at X, mm", "Spindle nose, diameter, mm (0: not known)"} & names
    assert not [d for d in view.findChildren(CardDrawing) if d.isVisible()]


def test_what_cannot_be_is_refused_where_it_is_typed(shop):
    ring = next(c for c in cards(shop)["masters"] if c["id"] == "ring-50")
    larch = next(c for c in cards(shop)["machines"] if c["id"] == "larch")
    for group, card, name, value in (
        ("masters", ring, "cte_per_k", 9.8), ("masters", ring, "U_diameter_mm", 8.0), ("masters", ring, "k", 95.0),
        ("machines", larch, "setter_x_mm", -720.0), ("machines", larch, "trigger_plane_mm", 452.4),
        ("machines", larch, "rapid_xy_mm_min", 24.0), ("machines", larch, "overtravel_mm", 400.0),
        ("machines", larch, "x_to_mm", 100.0),
    ):  # fmt: skip
        with pytest.raises(NonnaError) as refused:
            put(shop, group, {**card, name: value}, WHO, card)
        assert refused.value.code == "out-of-range" and changed_outside(shop) == ()
    odd = {**ring, "cte_per_k": 0.5}
    file = json.loads((shop.root / "masters.json").read_text())
    file["masters"] = [odd if row["id"] == "ring-50" else row for row in file["masters"]]
    (shop.root / "masters.json").write_text(json.dumps(file))
    odd = next(c for c in cards(shop)["masters"] if c["id"] == "ring-50")
    assert put(shop, "masters", {**odd, "kept": "drawer"}, WHO, odd) == (
        "kept",
    )  # what stands there is not argued with


def test_a_lathes_card_holds_what_stands_in_it(shop):
    willow = next(c for c in cards(shop)["machines"] if c["id"] == "willow")
    was = shop.machine("willow").lathe
    put(shop, "machines", {**willow, "chuck_radius_mm": 101.0, "arm_x_mm": 66.0}, WHO, willow)
    now = shop.machine("willow").lathe
    assert (now.chuck_radius_mm, now.arm.x_mm) == (101.0, 66.0)
    kept = {"chuck_radius_mm": 101.0, "arm": {**was.arm.model_dump(), "x_mm": 66.0}}
    assert now.model_dump() == {**was.model_dump(), **kept}


def test_another_machine_by_the_same_questions(desk, hands, shop):
    settle(desk)
    view = shelf(desk, hands, "machines", "Larch")
    view.station_asked.emit()
    hands.until(lambda: shown_dialog(desk, AskStation) is not None)
    pages = shown_dialog(desk, AskStation)
    QTest.keyClick(pages, Qt.Key.Key_1)
    QTest.keyClicks(pages.entry, "larch")
    QTest.keyClick(pages.entry, Qt.Key.Key_Return)
    assert "is here already" in shown_text(pages)
    answer(pages, MM)
    QApplication.processEvents()
    assert "600 mm" in shown_text(pages) and "-50 mm" in shown_text(pages)  # all answers once more
    QTest.keyClick(pages, Qt.Key.Key_Return)
    hands.until(lambda: "Birch is put up" in shown_text(desk))
    settle(desk)
    assert shop.shop().machines[-1] == "birch" and shop.machine("birch").setter.trigger_plane_mm == -420.0
    assert [c.machine for c in shop.gear().setters][-1] == "Birch" and Site.load(shop, "birch").tools == ()
    assert changed_outside(shop) == () and shop.book.verify().sound


def test_a_station_is_put_up_whole_or_not_at_all(shop, monkeypatch):
    now = StationInterview(typed_in=Units.MM, taken=("Larch",))
    while (question := now.question) is not None:
        said = {"kind": "mill", "pad_shape": "", "free": "yes", "zero_x": "high end"}.get(
            question.key, MM.get(question.key, "")
        )
        now = now.answered(said if question.sort not in ("yes", "choice") or not said.isdigit() else "")
    (shop.root / "machines" / "birch.json").write_text("{}")  # somebody's own, of no station

    def full(self, bodies):
        raise NonnaError("unreadable", "The disk is full.", "ledger")

    with monkeypatch.context() as m:
        m.setattr(type(shop.book), "sign", full)
        with pytest.raises(NonnaError, match="full"):
            add_station(shop, now.founded(), WHO)
    assert "birch-2" not in shop.shop().machines and "Birch" not in {c.machine for c in shop.gear().setters}
    assert add_station(shop, now.founded(), WHO).startswith("birch-")
    with pytest.raises(NonnaError, match="of that name"):
        add_station(shop, now.founded(), WHO)
