"""The shelf: cards put, changed, retired and recalled; what was signed stays as it was."""

import json

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton

from nonna.bench.book.writing import Signature
from nonna.bench.shelf.shelving import BY_KEY, cards, put
from nonna.bench.station.site import Site
from nonna.bench.station.state import read_state
from nonna.bench.station.weakest import doubts
from nonna.desk.actions.by_command import carry_out, chosen
from nonna.desk.actions.papers import write_bench_list
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.finder import Finder
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.pages.loop.what_if import WhatIfDialog
from nonna.desk.signing.event_signing import log_event
from nonna.errors import NonnaError
from nonna.shop.cards.masters import MasterCard
from nonna.shop.links.judge import State
from nonna.shop.links.subjects import Subject
from tests.support.documents import SETTER
from tests.support.hands import record_of, settle, shown_dialog, shown_text, worked
from tests.support.ledgers import Ledger

SIGNED = Signature("K. Amsel")


def state_of(window, key):
    return next(s.state for s in window.state.links if s.link.key == key)


def test_cards_are_put_changed_and_refused_whole(shop):
    before = (shop.root / "masters.json").read_text()
    assert put(shop, "masters", {"name": "Ring 25", "kind": "ring", "diameter_mm": 25.0002}, SIGNED) != ()
    made = next(card for card in cards(shop)["masters"] if card["name"] == "Ring 25")
    assert made["id"] == "ring-25"
    assert put(shop, "masters", made, SIGNED) == ()
    assert put(shop, "masters", {**made, "due": "2027-05-01"}, SIGNED) == ("due",)
    put(shop, "masters", {"name": "Ring 25", "kind": "ring"}, SIGNED)
    assert [c["id"] for c in cards(shop)["masters"] if c["name"] == "Ring 25"] == ["ring-25", "ring-25-2"]
    now = (shop.root / "masters.json").read_text()
    for bad, code, where in (
        ({"name": " ", "kind": "ring"}, "missing-field", "name"),
        ({"name": "x", "kind": "brick"}, "out-of-range", "kind"),
        ({"name": "x", "kind": "ring", "diameter_mm": -1.0}, "out-of-range", "diameter_mm"),
        ({"name": "x", "kind": "ring", "colour": "red"}, "unknown-field", "colour"),
    ):
        with pytest.raises(NonnaError) as caught:
            put(shop, "masters", bad, SIGNED)
        assert (caught.value.code, caught.value.where) == (code, where)
    assert (shop.root / "masters.json").read_text() == now != before
    (shop.root / "gear.json").unlink()
    put(shop, "probes", {"name": "Second probe", "machine": "Larch"}, SIGNED)
    assert shop.gear().probe("Larch").name == "Second probe"
    assert set(BY_KEY) == {
        "masters",
        "indicators",
        "setters",
        "probes",
        "changers",
        "presetters",
        "micrometers",
        "printouts",
        "services",
        "machines",
    }


def test_a_certificate_at_another_temperature_is_brought_to_20():
    card = MasterCard(id="x", name="x", kind="block", length_mm=100.0, cte_per_k=1e-5, reference_c=23.0)
    assert card.as_input()["length_mm"] == pytest.approx(100.0 / 1.00003)


def test_the_shelf_by_hand(desk, hands, shop):
    desk.do(CommandId.SHELF)
    hands.until(lambda: desk.places.currentWidget() is desk.shelf)
    view = desk.shelf
    assert "Master tool 16 × 140" in view.form.card()["name"]
    view.list.setCurrentRow(next(i for i in range(view.list.count()) if "Shank" in view.list.item(i).text()))
    assert "self-consistent" in shown_text(view)
    view.list.setCurrentRow(next(i for i in range(view.list.count()) if "Ring 50" in view.list.item(i).text()))
    fields = {w.accessibleName(): w for w in view.form.findChildren(QLineEdit) if w.isVisible()}
    fields["U of the diameter, mm"].setText("lots")
    view.submit()
    assert "is not a length" in shown_text(view)
    assert fields["U of the diameter, mm"].text() == "lots"
    fields["U of the diameter, mm"].setText("0.6um")
    fields["Due, year-month-day"].setText("soon")
    view.submit()
    assert "no date" in shown_text(view)
    fields["Due, year-month-day"].setText("2029-01-31")
    fields["Due, year-month-day"].returnPressed.emit()
    hands.until(lambda: shown_dialog(desk, QuestionDialog) is not None)
    assert "or was its card wrong?" in shown_text(shown_dialog(desk, QuestionDialog))
    hands.enter()
    settle(desk)
    assert "On the shelf" in shown_text(view)
    ring = next(c for c in json.loads((shop.root / "masters.json").read_text())["masters"] if c["id"] == "ring-50")
    assert (ring["U_diameter_mm"], ring["due"]) == (0.0006, "2029-01-31")
    body = record_of(desk, desk.state.entries[-1].number)
    assert (body["name"], body["subject"]) == ("master-calibrated", "master:ring-50")
    old = next(e for e in desk.state.entries if e.name == "probe-ring")
    assert record_of(desk, old.number)["masters"]["ring"]["U_diameter_mm"] == 0.0008  # as it was

    view.recall_asked.emit("ring-50", "Ring 50")
    dialog = shown_dialog(desk, NoteDialog)
    dialog.line.setText("laboratory called")
    dialog.line.returnPressed.emit()
    settle(desk)
    assert state_of(desk, "ring") is State.BROKEN
    assert state_of(desk, "runout") is State.HOLDS
    next(b for b in view.findChildren(QPushButton) if b.text() == "Retire it").click()
    desk.show_station("rowan")  # not while a card is being written: its event belongs to this shop
    assert "on its way to the disk" in shown_text(desk)
    settle(desk)
    assert desk.state.machine == "Larch"
    assert "Bring it back" in shown_text(view)
    desk.do(CommandId.LOOP)
    desk.open_link("ring")
    assert hands.sheet().controller.opening.cards["ring"]["id"] == "ring-32"  # the retired one is not offered
    desk.sheet.back()
    desk.do(CommandId.SHELF)
    hands.until(lambda: desk.places.currentWidget() is desk.shelf)
    view.begin(BY_KEY["indicators"])
    {w.accessibleName(): w for w in view.form.findChildren(QLineEdit) if w.isVisible()}["Name"].setText("Dial 3")
    view.submit()
    settle(desk)
    assert any(c["name"] == "Dial 3" for c in cards(shop)["indicators"])
    assert view.form.findChildren(QComboBox) == [] or view.form.findChildren(QCheckBox) is not None


def test_the_daily_check_trips_the_links_and_the_bench_list_says_what_to_do(desk, hands, tmp_path):
    hands.mend("level", "setter", "probe", "closure", "proof")
    assert state_of(desk, "setter") is State.HOLDS
    carry_out(desk, CommandId.DAILY)
    sheet = hands.sheet("Daily check")
    hands.standin()
    assert sheet.controller.session.evaluate().verdict == "pass"
    hands.enter()
    hands.enter()
    assert state_of(desk, "setter") is State.HOLDS
    assert state_of(desk, "proof") is State.HOLDS
    carry_out(desk, CommandId.DAILY)
    hands.sheet("Daily check")
    hands.enter("140.030")
    hands.enter()
    hands.enter()
    assert state_of(desk, "setter") is State.BROKEN
    assert next(s for s in desk.state.links if s.link.key == "setter").reason.code == "loop.check-failed"
    write_bench_list(desk, tmp_path / "list.pdf")
    worked(desk)
    assert (tmp_path / "list.pdf").read_bytes().startswith(b"%PDF")
    write_bench_list(desk, tmp_path / "no" / "list.pdf")
    worked(desk)
    assert "not written" in shown_text(desk)


def test_a_sheet_is_done_another_way_from_its_form(desk, hands):
    desk.open_link("level")
    sheet = hands.sheet()
    hands.enter("0")
    sheet.toggle_setup()
    box = next(b for b in sheet.form.findChildren(QComboBox) if b.accessibleName() == "How it is done")
    box.activated.emit(1)
    settle(desk)
    assert (sheet.controller.session.wanted, len(sheet.controller.session.live)) == (9, 0)
    edit = next(e for e in sheet.form.findChildren(QLineEdit) if e.accessibleName() == "Resolution of the dial")
    edit.setText("0.01")
    edit.setModified(True)
    edit.editingFinished.emit()
    assert sheet.controller.session.facts.setup["indicator"]["resolution_mm"] == 0.01
    sheet.toggle_setup()
    sheet.back()
    desk.open_sheets([("probe-length", Subject.of("Probe"))], CommandId.LOOP)
    sheet = hands.sheet("Probe")
    sheet.controller.choose_variant("block")
    settle(desk)
    assert "Surface touched is still to be given" not in shown_text(sheet)  # the setter's plane is kept until changed
    sheet.back()
    desk.open_sheets([("probe-ring", Subject.of("Probe"))], CommandId.LOOP)
    sheet = hands.sheet("Probe")
    sheet.controller.choose_variant("internal-two")  # one touch a direction was done before: shown beside this
    settle(desk)
    hands.standin()
    assert "In the ring, 0° and 180°, record" in shown_text(sheet)
    sheet.toggle_setup()
    assert desk.height() == 800  # a long form scrolls
    carry_out(desk, CommandId.HIDE_FAULT)
    assert desk.world().faults
    carry_out(desk, CommandId.SHOW_FAULT)
    assert "Mended" in shown_text(desk)


def test_what_if_a_link_were_done_better(desk, hands, shop):
    doubt, diameter = doubts(desk.state.kind, desk.state.standing, Ledger(shop.ledger).reader())
    assert sum(doubt.share(part) for part in doubt.parts) == pytest.approx(1)
    assert doubt.what_if({}) == pytest.approx(doubt.expanded_mm)
    assert doubt.what_if({part.source: 0.0 for part in doubt.parts}) == 0.0
    own = sum(part.variance for part in doubt.parts if not part.common)
    total = sum(part.variance for part in doubt.parts)
    assert doubt.between_two({}) == pytest.approx(doubt.expanded_mm * (2 * own / total) ** 0.5)
    assert diameter.expanded_mm > 0
    carry_out(desk, CommandId.WHAT_IF)
    worked(desk)
    dialog = shown_dialog(desk, WhatIfDialog)
    before = shown_text(dialog)
    dialog.sliders[0].setValue(0)
    assert shown_text(dialog) != before
    assert "what they share cancels" in shown_text(dialog)


def test_machines_are_put_up_without_editing_files(desk, hands, shop):
    there = shop.shop().machines
    desk.do(CommandId.SHELF)
    hands.until(lambda: desk.places.currentWidget() is desk.shelf)
    view = desk.shelf
    view.begin(BY_KEY["machines"])
    fields = {w.accessibleName(): w for w in view.form.findChildren(QLineEdit) if w.isVisible()}
    for name, text in (("Name", "Elm"), ("Z travel to, mm", "-900"), ("Setter at X, mm", "100")):
        fields[name].setText(text)
    view.submit()
    settle(desk)
    assert "from the lower to the higher" in shown_text(view) and fields["Name"].text() == "Elm"
    fields["Z travel to, mm"].setText("0")
    fields["Clear sides, such as +x -y"].setText("+x up")
    view.submit()
    settle(desk)
    assert "'up' is none of" in shown_text(view)
    fields["Clear sides, such as +x -y"].setText("+x, -y")
    view.submit()
    view.submit()  # Enter twice makes one card
    settle(desk)
    assert "On the shelf" in shown_text(view)
    assert "elm-2" not in [c["id"] for c in cards(shop)["machines"]]
    made = shop.machine("elm")
    assert (made.setter.x_mm, made.setter.clear_sides, shop.tools("elm").tools) == (100.0, ["+x", "-y"], [])
    larch = next(c for c in cards(shop)["machines"] if c["id"] == "larch")
    before = shop.document("machines", "larch.json")
    assert put(shop, "machines", {**larch, "max_rpm": 12000.0, "spindle_orient": False}, SIGNED) == (
        "max_rpm",
        "spindle_orient",
    )
    assert not shop.machine("larch").spindle_orient
    assert shop.document("machines", "larch.json")["spindle"] == before["spindle"]
    after = shop.document("machines", "larch.json")
    assert after["max_rpm"] == 12000.0 and after["obstacles"] == before["obstacles"]
    assert put(
        shop, "machines", {**larch, "max_rpm": 12000.0, "spindle_orient": False, "has_setter": False}, SIGNED
    ) == ("has_setter",)
    assert shop.machine("larch").setter is None
    put(shop, "machines", {**larch, "has_setter": True}, SIGNED)
    desk.do(CommandId.MACHINE)
    worked(desk)
    desk.findChild(Finder).chosen.emit("machine:elm")
    hands.until(lambda: desk.state.machine == "Elm")
    assert shop.shop().machines == [*there, "elm"]  # what a bench shows is no business of the shop's files
    assert desk.settings.station(shop.root) == "elm"
    assert all(s.state in (State.NEVER, State.DUE) for s in desk.state.links)
    desk.do(CommandId.TOOLS)
    hands.until(lambda: desk.places.at(CommandId.TOOLS))
    assert "No tools yet" in shown_text(desk.tools)
    desk.do(CommandId.UNDO)
    assert "Nothing to undo" in shown_text(desk.tools)
    chosen(desk, "machine:larch")
    settle(desk)
    assert desk.state.machine == "Larch"
    chosen(desk, "machine:none")
    settle(desk)
    assert "no station" in shown_text(desk)


def test_a_beam_setter_that_is_mounted_is_a_link_of_the_loop(desk, hands, shop):
    assert "beam" not in [s.link.key for s in desk.state.links]  # it still lies in its box
    card = next(c for c in cards(shop)["setters"] if c["kind"] == "beam")
    put(shop, "setters", {**card, "mounted": True}, SIGNED, card)
    desk.look_again()
    settle(desk)
    found = {s.link.key: s for s in desk.state.links}
    assert (found["beam"].state, list(found)[2]) == (State.NEVER, "beam")
    assert "Level the beam setter" in [job.link.job for job in desk.state.jobs]
    assert "beam" in [station.link for station in desk.loop.stations]
    desk.open_link("beam")
    hands.sheet("Beam setter")
    hands.standin()
    while desk.sheet.controller.picture().again:
        hands.enter()
        hands.until(lambda: not desk.sheet.controller.busy)
    hands.enter()
    hands.enter()
    hands.until(lambda: desk.sheet is None)
    settle(desk)
    assert next(s for s in desk.state.links if s.link.key == "beam").state is State.HOLDS
    log_event(desk, "beam-moved", "a chip bin")
    settle(desk)
    states = {s.link.key: s.state for s in desk.state.links}
    assert (states["beam"], states["repeatability"]) == (State.BROKEN, State.HOLDS)


def test_a_second_contact_setter_is_a_link_of_its_own(desk, hands, shop):
    first = next(c for c in cards(shop)["setters"] if c["kind"] == "contact")
    put(shop, "setters", {**first, "id": "far", "name": "Far setter"}, SIGNED, {})
    desk.look_again()
    settle(desk)
    found = {s.link.key: s for s in desk.state.links}
    assert (
        found["setter-far"].state is State.NEVER and list(found).index("setter-far") == list(found).index("setter") + 1
    )
    assert desk.site.setter == first["id"]  # tools are still measured on the one in use
    desk.open_link("setter-far")
    hands.sheet("setter:far")
    hands.press(Qt.Key.Key_F7)
    hands.until(lambda: "one setter, the one in use" in shown_text(desk.sheet))
    assert not desk.sheet.controller.session.rows  # nothing measured on one setter is signed for the other
    here = {"top": [-300.0000, -300.0004, -300.0002]} | {f: [v, v + 0.0003] for f, v in
            {"+x": 55.0, "-x": 25.0, "+y": 75.0, "-y": 45.0}.items()}  # fmt: skip
    rows = [{"face": face, "position_mm": v} for face, values in here.items() for v in values]
    path = shop.root / "far.json"
    path.write_text(json.dumps({**SETTER, "setup": {"limit_range_mm": 0.004}, "readings": rows}))
    desk.sheet.controller.from_file(path)
    hands.until(lambda: len(desk.sheet.controller.session.rows) == len(rows))
    hands.enter()
    settle(desk)
    entry = desk.state.entries[-1]
    assert (entry.name, str(entry.subject)) == ("setter-calibration", "setter:far")
    states = {s.link.key: s.state for s in desk.state.links}
    assert states["setter-far"] is State.HOLDS and states["setter"] is State.BROKEN  # the knock was the other's
    plane = desk.site.results().held("setter-calibration", "trigger_plane_mm")
    assert plane is None or plane.record.number != entry.number
    log_event(desk, "setter-far-moved", "a vice handle")
    settle(desk)
    assert next(s for s in desk.state.links if s.link.key == "setter-far").state is State.BROKEN


def test_the_setter_in_use_is_the_first_that_stands_on_its_machine(shop):
    first = next(c for c in cards(shop)["setters"] if c["kind"] == "contact")
    put(shop, "setters", {**first, "id": "far", "name": "Far setter"}, SIGNED, {})
    put(shop, "setters", {**first, "mounted": False}, SIGNED, first)
    state = read_state(shop)
    assert Site.load(shop).setter == state.results.setter == "far"
    assert not any(s.link.key.startswith("setter-") for s in state.links)


def test_a_dialog_closed_before_it_is_seen_stays_away(desk, hands):
    dialog = NoteDialog("Why?", "a word", desk)
    show_over(dialog, desk)
    dialog.reject()
    assert shown_dialog(desk, NoteDialog) is None and desk.focusWidget() is not None
    desk.open_link("setter")
    hands.sheet()
    hands.enter("17.8")  # an inch slip is asked about, and the field says so too
    assert desk.sheet.numbers.reading.property("look") == "reading-due"
