"""What a shop decides for itself: limits and rules in every sheet, links as long as the shop says, all of it signed."""

import json
from dataclasses import replace

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from nonna.bench.book.writing import Signature
from nonna.bench.settings.house_rules import decide, keep, limits_of, may_sign, with_limits
from nonna.bench.sheet.opening import open_sheet, prepared
from nonna.bench.shelf.shelving import follows
from nonna.bench.station.site import Site
from nonna.bench.station.state import read_state
from nonna.desk.actions.helping import topic_of
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.fields import put_text
from nonna.desk.forms.form_dialog import FormDialog
from nonna.desk.frame.settings_dialog import NO_LIMIT, SettingsDialog
from nonna.desk.start.after_paint import FirstSteps
from nonna.desk.tray.by_command import write_program
from nonna.errors import NonnaError
from nonna.procedures.session import Session
from nonna.shop.links.history import standing
from nonna.shop.links.judge import State
from nonna.shop.links.subjects import DAILY_CHECK, PROBE, STATION, Subject
from nonna.shop.records.text import body_of
from nonna.wording.lengths import Units
from tests.support.hands import settle, shown_dialog, shown_text, worked
from tests.support.ledgers import Ledger

WHO = Signature("K. Amsel", "Larch", STATION, "Tarnholm Pump Works")


def rules(shop, **parts):
    (shop.root / "rules.json").write_text(json.dumps({"format": "nonna-rules/1", **parts}))


def link(state, key):
    return next(s for s in state.links if s.link.key == key)


def test_a_sheet_starts_from_the_shops_own_limit_and_rule(shop):
    assert open_sheet(Site.load(shop), "tip-runout", PROBE).facts.setup["limit_mm"] == 0.005
    rules(
        shop,
        limits={"tip-runout": {"limit_mm": 0.002}, "repeatability": {"limit_2s_mm": None}},
        rule={"tip-runout": "simple"},
    )
    site = Site.load(shop)
    facts = open_sheet(site, "tip-runout", PROBE).facts
    assert facts.setup["limit_mm"] == 0.002 and facts.document("tip-runout", [])["rule"] == {"kind": "simple"}
    assert Session("tip-runout", facts).document()["rule"]["kind"] == "simple"
    assert "limit_2s_mm" not in prepared(site, "repeatability", STATION).facts.setup
    assert open_sheet(site, "face-level", STATION).facts.document("face-level", [])["rule"]["kind"] == "guarded"
    # a run-out of 1.96 um: within 2 um plainly, undecided with the doubt
    rows = [{"angle_deg": a, "value_mm": v} for a, v in ((0, 0.00098), (90, 0.0), (180, -0.00098), (270, 0.0001))]
    simple = Session("tip-runout", facts).take_all(rows, "typed", "2026-11-20T10:00:00+00:00").evaluate()
    assert (simple.verdict.value, simple.to_document()["rule"]["kind"]) == ("pass", "simple")


def test_none_takes_a_limit_away_and_silence_leaves_it():
    assert with_limits("tip-runout", {"a": 1.0, "limit_mm": 0.1}, {"limit_mm": None}) == {"a": 1.0}
    assert with_limits("tip-runout", {"limit_mm": 0.1}, {}) == {"limit_mm": 0.1}
    assert with_limits("tip-runout", {"x": None}, {"limit_mm": 0.2}) == {"x": None, "limit_mm": 0.2}


def test_what_decides_verdicts_is_signed_with_what_it_was_before(shop):
    before = len(shop.book.entries())
    receipt = decide(shop, {"tip-runout": {"limit_mm": 0.004}}, {"face-level": "simple"}, WHO)
    assert len(shop.book.entries()) == before + 1
    book = Ledger(shop.ledger)
    body = body_of(book.get(receipt.number))
    assert (body["kind"], body["name"], body["operator"]) == ("event", "rules-changed", "K. Amsel")
    assert (
        "Tip run-out" in body["note"]
        and "5.0 µm → 4.0 µm" in body["note"]
        and "Face level: guarded → simple" in body["note"]
    )
    assert book.verify().sound
    assert decide(shop, {"tip-runout": {"limit_mm": 0.004}}, {}, WHO) is None  # nothing changed, nothing signed
    again = decide(shop, {"tip-runout": {}}, {"face-level": "guarded"}, WHO)
    assert again is not None and "4.0 µm → 5.0 µm" in body_of(shop.book.get(again.number))["note"]
    rows = {(row.procedure, row.field): row for row in limits_of(shop.rules(), "mill")}
    assert rows["tip-runout", "limit_mm"].value == 0.005 and not rows["tip-runout", "limit_mm"].decided
    assert all(procedure not in ("lathe-tip", "home-check") for procedure, _ in rows)


@pytest.mark.parametrize("limits, rule, where", [
    ({"tip-runout": {"limit_mm": 0.0}}, {}, "limits.tip-runout.limit_mm"),
    ({"tip-runout": {"limit_mm": -1.0}}, {}, "limits.tip-runout.limit_mm"),
    ({"tip-runout": {"limit_mm": 1e9}}, {}, "limits.tip-runout.limit_mm"),
    ({"tip-runout": {"screws_deg": 1.0}}, {}, "limits.tip-runout.screws_deg"),
    ({"no-such": {"limit_mm": 1.0}}, {}, "limits.no-such.limit_mm"),
    ({}, {"tip-runout": "hope"}, "rule.tip-runout"),
])  # fmt: skip
def test_a_wrong_rule_is_refused_by_its_place_and_nothing_is_written(shop, limits, rule, where):
    count = len(shop.book.entries())
    with pytest.raises(NonnaError) as refused:
        decide(shop, limits, rule, WHO)
    assert refused.value.where == where
    assert not shop.has("rules.json") or json.loads((shop.root / "rules.json").read_text())["limits"] == {}
    assert len(shop.book.entries()) == count


def test_rules_that_could_not_be_signed_are_as_they_were(shop, monkeypatch):
    decide(shop, {"tip-runout": {"limit_mm": 0.004}}, {}, WHO)

    def full(bodies):
        raise NonnaError("unreadable", "The disk is full.")

    monkeypatch.setattr(shop.book, "sign", full)
    with pytest.raises(NonnaError, match="disk is full"):
        decide(shop, {"tip-runout": {"limit_mm": 0.003}}, {}, WHO)
    assert shop.rules().limits == {"tip-runout": {"limit_mm": 0.004}}


@pytest.mark.parametrize(
    "text",
    [
        "{",
        '{"format": "nonna-rules/1", "limits": []}',
        '{"format": "nonna-rules/1", "holds": 3}',
        '{"format": "nonna-rules/1", "links": {"Larch": {"level": {"holds_days": 0}}}}',
    ],
)
def test_a_damaged_file_is_refused_whole_and_named(shop, text):
    (shop.root / "rules.json").write_text(text)
    with pytest.raises(NonnaError, match=r"rules\.json"):
        Site.load(shop)


def test_a_link_holds_as_long_as_the_shop_says_and_somebody_is_told(shop):
    state = read_state(shop)
    old, rowan = link(state, "runout"), read_state(shop, station="rowan").kind.loop
    assert old.state is State.HOLDS
    keep(
        shop,
        "Larch",
        {"runout": {"holds_days": 1, "minutes": 33, "told": "QA", "fetch": ["A lamp"]}, "level": {"holds_days": None}},
        WHO,
    )
    new = link(read_state(shop), "runout")
    assert new.state is State.DUE
    assert (new.link.holds_days, new.link.told, new.link.fetch) == (1, "QA", ("A lamp",))
    assert link(read_state(shop), "level").link == link(state, "level").link
    assert read_state(shop, station="rowan").kind.loop == rowan
    keep(shop, "Larch", {"runout": {"holds_days": None, "minutes": "", "told": "", "fetch": []}}, WHO)
    assert link(read_state(shop), "runout").state is State.HOLDS and shop.rules().links["Larch"] == {}
    with pytest.raises(NonnaError):
        keep(shop, "Larch", {"runout": {"holds_days": -3}}, WHO)


def settings(desk, hands, part):
    hands.until(lambda: desk.settled)
    hands.press(Qt.Key.Key_Comma, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: shown_dialog(desk, SettingsDialog) is not None)
    dialog = shown_dialog(desk, SettingsDialog)
    for _ in range(part):
        hands.press(Qt.Key.Key_Down)
    assert dialog.parts.currentRow() == part and topic_of(desk) == "settings"
    return dialog


def test_a_limit_is_changed_by_keyboard_and_signed(desk, hands, shop):
    count = len(shop.book.entries())
    dialog = settings(desk, hands, 1)
    dialog.edits["tip-runout", "limit_mm"].setFocus()
    hands.enter("four")
    assert "Tip run-out" in shown_text(dialog) and hands.at is dialog.edits["tip-runout", "limit_mm"]
    hands.press(Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    hands.enter("4um")
    hands.until(lambda: "signed as record" in shown_text(dialog))
    assert len(shop.book.entries()) == count + 1
    dialog.edits["repeatability", "limit_2s_mm"].setFocus()
    hands.enter(NO_LIMIT)
    hands.until(lambda: len(shop.book.entries()) == count + 2)
    assert shop.rules().limits == {"tip-runout": {"limit_mm": 0.004}, "repeatability": {"limit_2s_mm": None}}
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: desk.settled)
    desk.open_sheets([("tip-runout", PROBE)], CommandId.LOOP)
    hands.until(lambda: desk.sheet is not None and desk.sheets.in_front)
    assert desk.sheet.controller.session.facts.setup["limit_mm"] == 0.004


def test_links_are_changed_by_keyboard(desk, hands, shop):
    dialog = settings(desk, hands, 2)
    dialog.edits["runout", "told"].setFocus()
    hands.type("QA")
    dialog.edits["runout", "holds_days"].setFocus()
    hands.enter("half")
    assert "whole number" in shown_text(dialog) or "number" in shown_text(dialog)
    hands.press(Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    hands.enter("1")
    hands.until(lambda: "Taken over" in shown_text(dialog))
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: link(desk.state, "runout").state is State.DUE)
    hands.until(lambda: any(job.link.told == "QA" for job in desk.state.jobs))


def test_this_desk_takes_units_colours_and_the_folder_of_programs(desk, hands, tmp_path):
    dialog = settings(desk, hands, 0)
    put_text(dialog.edits["units",], "inch")
    put_text(dialog.edits["digits",], "coarse")
    put_text(dialog.edits["theme",], "dark")
    dialog.edits["programs",].setFocus()
    hands.enter(str(tmp_path / "stick"))
    hands.until(lambda: "Taken over" in shown_text(dialog))
    assert (desk.units, desk.settings.theme, desk.settings.dark) == (Units("inch", coarse=True), "dark", True)
    assert desk.settings.units == desk.units  # the next start too
    hands.press(Qt.Key.Key_Escape)
    desk.do(CommandId.TOOLS)
    settle(desk)
    c = desk.tools.controller
    hands.until(lambda: c.tray.tools != ())
    hands.until(lambda: desk.settled)
    hands.mend("level", "setter")
    desk.do(CommandId.TOOLS)
    hands.until(lambda: desk.settled and desk.places.at(CommandId.TOOLS))
    assert desk.tools.model.data(desk.tools.model.index(2, 4)) == "2.4096"
    c.change(c.tray.with_marks([2]))
    hands.until(lambda: c.answer is not None)
    write_program(desk)
    worked(desk)
    assert "Is the stick out?" in shown_text(desk.tools)
    assert list(tmp_path.glob("**/*.ngc")) == []


def test_what_a_card_leaves_open_is_said(shop):
    ring = {
        "kind": "ring",
        "name": "Ring",
        "diameter_mm": 50.0,
        "U_diameter_mm": 0.0008,
        "certificate": "A-1",
        "due": "2027-01-01",
    }
    assert follows("masters", ring) == ()
    tool = {"kind": "master-tool", "name": "Pin", "length_mm": 100.0, "cte_per_k": 11.5e-6, "due": "2027-01-01"}
    assert ["relative school" in words for words in follows("masters", tool)] == [True]
    assert "engrave" in follows("masters", {**tool, "traceable": False})[0]
    assert any("never asked for" in words for words in follows("masters", {**ring, "due": ""}))
    assert any("auditor" in words for words in follows("masters", {**ring, "certificate": ""}))
    assert any("not growing" in words for words in follows("masters", {**tool, "cte_per_k": 0.0}))
    assert any("no sheet can use it" in words for words in follows("masters", {"kind": "block", "name": "B"}))
    assert len(follows("indicators", {"name": "Dial", "resolution_mm": 0.001})) == 2
    assert follows("masters", {**tool, "retired": True}) == () == follows("probes", {"name": "P"})
    assert follows("masters", {"kind": "spindle-face", "name": "Face"}) == ()


def test_the_first_length_of_a_real_shop_offers_what_is_next_and_never_again(desk, hands, shop):
    hands.until(lambda: desk.settled)
    steps = desk.findChild(FirstSteps)
    said = []
    desk.tell = lambda words, tone: said.append(words)
    site = desk.site
    desk.tables.take(replace(site, shop=site.shop.model_copy(update={"invented": False})))
    none = replace(desk.state, standing=standing((), "Larch", "Larch"))
    for state in (none, desk.state, none, desk.state):
        steps._on_state(state)
    assert [words[:16] for words in said] == ["The first length"]
    steps._on_ready()
    steps._on_ready()
    assert [words[:8] for words in said[1:]] == ["Ten keys"]


def test_tools_are_pasted_from_a_spreadsheet(desk, hands):
    desk.do(CommandId.TOOLS)
    c = desk.tools.controller
    hands.until(lambda: desk.settled and c.tray.tools != ())
    desk.tools.table.setFocus()
    QGuiApplication.clipboard().setText("")
    hands.press(Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert "Nothing is copied" in shown_text(desk.tools)
    QGuiApplication.clipboard().setText(
        "number\tname\tdiameter_mm\tlength_mm\n31\tDrill 7\t7\t99.5\n32\tTap M8\t8\t87.2\n"
    )
    hands.press(Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: c.tray.tool(32) is not None)
    assert (c.tray.tool(31).length_mm, c.tray.tool(32).description) == (99.5, "Tap M8")
    QGuiApplication.clipboard().setText("41\tDrill 9\t9\t101.5\n42\tReamer 10\t10\t120.5")
    desk.tools.table.setFocus()
    hands.press(Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: shown_dialog(desk, FormDialog) is not None)
    dialog = shown_dialog(desk, FormDialog)
    for name, column in (("number", "0"), ("description", "1"), ("diameter_mm", "2"), ("length_mm", "3")):
        put_text(dialog.edits[name], column)
    dialog.submit()
    hands.until(lambda: c.tray.tool(42) is not None)
    assert (c.tray.tool(41).length_mm, c.tray.tool(42).kind, c.tray.tool(42).diameter_mm) == (101.5, "reamer", 10.0)
    hands.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert c.tray.tool(42) is None


def test_who_may_sign_is_itself_signed(shop, desk, hands):
    count = len(shop.book.entries())
    was = shop.shop().operators
    assert may_sign(shop, was, WHO) is None and len(shop.book.entries()) == count
    with pytest.raises(NonnaError, match="Somebody has to sign"):
        may_sign(shop, [" ", ""], WHO)
    dialog = settings(desk, hands, 3)
    dialog.edits["operators",].setFocus()
    hands.press(Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    hands.enter("L. Fink; K. Amsel; L. Fink")
    hands.until(lambda: "signed as record" in shown_text(dialog))
    assert shop.shop().operators == ["L. Fink", "K. Amsel"]
    assert f"{', '.join(was)} → L. Fink, K. Amsel" in body_of(shop.book.get(count + 1))["note"]
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: desk.state.operators == ("L. Fink", "K. Amsel"))


def test_a_way_with_a_limit_of_its_own_keeps_it_and_a_strangers_field_is_no_limit(shop):
    rules(shop, limits={"artefact-check": {"limit_mm": 0.001}})
    site = Site.load(shop)
    assert open_sheet(site, "artefact-check", DAILY_CHECK).facts.setup["limit_mm"] == 0.01
    assert prepared(site, "artefact-check", Subject.of("Artefact")).facts.setup["limit_mm"] == 0.001
    rules(shop, limits={"tip-runout": {"screws_deg": 7.0}})
    with pytest.raises(NonnaError, match="no limit called screws_deg"):
        prepared(Site.load(shop), "tip-runout", PROBE)


def test_what_another_window_decided_meanwhile_is_not_written_over(shop):
    shown = shop.rules()
    decide(shop, {"tip-runout": {"limit_mm": 0.004}}, {}, WHO, shown)
    count = len(shop.book.entries())
    for late in (
        lambda: decide(shop, {"tip-runout": {}, "face-level": {"limit_mm": 0.003}}, {}, WHO, shown),
        lambda: keep(shop, "Larch", {"level": {"holds_days": 9}}, WHO, shown),
    ):
        with pytest.raises(NonnaError, match="another window"):
            late()
    assert shop.rules().limits == {"tip-runout": {"limit_mm": 0.004}} and len(shop.book.entries()) == count


def test_settings_closed_at_once_are_still_taken_over(desk, hands, shop):
    for text, done in (
        ("3um", lambda: shop.rules().limits.get("tip-runout") == {"limit_mm": 0.003}),
        ("", lambda: "tip-runout" not in shop.rules().limits),
    ):
        dialog = settings(desk, hands, 1)
        dialog.edits["tip-runout", "limit_mm"].setFocus()
        hands.press(Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        QTest.keyClicks(hands.at, text) if text else QTest.keyClick(hands.at, Qt.Key.Key_Delete)
        QTest.keyClick(hands.at, Qt.Key.Key_Return)
        dialog.reject()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        hands.until(done)
        hands.until(lambda: desk.settled)
