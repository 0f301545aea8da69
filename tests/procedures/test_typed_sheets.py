"""Every sheet of the loop filled in by the number pad alone, light and dark, and its record held against the command
line.
"""

import json

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from nonna.adapters.papers.certificate_pdf import write as write_pdf
from nonna.bench.sheet.opening import open_sheet, prepared
from nonna.bench.station.site import Site
from nonna.cli.main import run
from nonna.desk.actions.helping import KeysDialog
from nonna.desk.commands.ids import CommandId
from nonna.procedures import doubt
from nonna.procedures.catalogue import procedure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import SheetFacts
from nonna.procedures.listing import PROCEDURES
from nonna.procedures.session import Session, TapeRow
from nonna.shop.links.subjects import ANY, SETTER, Subject, tool
from nonna.shop.texts.given import Given
from nonna.wording.lengths import Units
from tests.support.hands import record_of, shown_dialog, shown_text
from tests.support.ledgers import Ledger

ROUND = [0.0, 0.0045, 0.0064, 0.0047, 0.0002, -0.0043, -0.0061, -0.0046]  # a dial round an axis: 13 um of run-out
RING = [
    (342.0061, 210.0001),
    (335.5615, 225.5608),
    (320.0008, 232.0055),
    (304.4406, 225.5603),
    (297.9953, 210.0001),
    (304.4407, 194.4401),
    (320.0008, 187.9947),
    (335.5614, 194.4395),
]
TYPED = {
    "face-level": ("Setter", [0.0, 0.002, -0.002, 0.001, -0.001]),
    "tip-runout": ("Probe", ROUND),
    "beam-level": ("Beam setter", [v for end in (-380.0, -379.998) for i in range(3) for v in (end + 0.0004 * i,
        60.0 + 0.002 * i)]),
    "probe-length": ("Probe", [-330.9893, -330.9889, -330.9899]),
    "probe-ring": ("Probe", [v for shift in (0.0, -0.0008) for x, y in RING for v in (round(x + shift, 4), y)]),
    "loop-closure": ("Setter and probe", [-402.3508, -402.3506, -402.3503, -402.3487, -402.3486, -402.3485]),
    "artefact-check": ("Artefact", [32.0018, 32.002, 32.0022]),
    "repeatability": ("Setter", [-312.4159, -312.4135, -312.4158, -312.4148, -312.4158, -312.4144, -312.4149, -312.4147,
        -312.4148, -312.415]),
    "tool-diameter": ("T5", [735.0032, 735.0035, 704.9941, 704.9938]),
    "breakage": ("T2", [-340.0012]),
    "tooth-runout": ("T4", [-391.201, -391.2012, -391.195, -391.1953, -391.203, -391.2027, -391.199, -391.1994, -391.2,
        -391.2004]),
}  # fmt: skip


@pytest.mark.parametrize("dark", [False, True])
@pytest.mark.parametrize("name", TYPED)
def test_a_sheet_by_number_pad(desk, hands, tmp_path, capfd, name, dark):
    subject, values = TYPED[name]
    if dark:
        desk.do(CommandId.THEME)
    desk.open_sheets([(name, Subject.of(subject))], CommandId.LOOP)
    sheet = hands.sheet(subject)
    c = sheet.controller
    assert shown_text(sheet).count(PROCEDURES[name].title) >= 1
    assert c.session.procedure.caution.title in shown_text(
        sheet
    )  # where hands or spindles are involved it stands first
    wide = len(c.session.procedure.model.value_fields)
    assert c.session.wanted * wide == len(values)
    hands.keys.clear()
    for value in values:
        hands.enter(f"{value:.4f}")
        if c.question is not None:  # far from what was expected: as typed, then
            hands.press(Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    QApplication.processEvents()
    assert desk.height() == 800 and c.session.next_slot is None
    assert set(hands.keys) <= {*"0123456789-.", "Enter", "Key_Return"}
    assert sheet.numbers.main.text() != "–"
    before = shown_text(sheet)
    check, bar = c.picture().check, sheet.numbers.bar
    assert bar.isVisible() is (check is not None)
    if check is not None:
        assert check.title in bar.accessibleDescription()
    desk.do(CommandId.UNITS)
    assert shown_text(sheet) != before and c.session.live  # inches: the words follow, nothing typed is lost
    desk.do(CommandId.UNITS)
    hands.press(Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)  # sign it as it is
    hands.until(lambda: c.receipt is not None)
    body = record_of(desk, c.receipt.number)
    assert {row["source"] for row in body["tape"]} == {"typed"} and len(body["tape"]) == c.session.wanted
    (tmp_path / "r.json").write_text(json.dumps(body["input"]))
    assert run(["evaluate", str(tmp_path / "r.json")], lambda _: 9) == 0
    assert json.loads(capfd.readouterr().out) == body["result"]
    write_pdf(Ledger(desk.folder.ledger).get(c.receipt.number), tmp_path / "c.pdf", None)
    assert (tmp_path / "c.pdf").read_bytes().startswith(b"%PDF")
    if dark:
        desk.do(CommandId.THEME)


def test_a_sheet_is_worked_out_once_for_each_state_of_its_tape():
    session = Session(
        "repeatability",
        SheetFacts(),
        tuple(
            TapeRow(Given({"value_mm": 0.001 * (i % 3)}), f"Touch {i}", "2026-11-25T07:30:00+01:00", "typed")
            for i in range(6)
        ),
    )
    found = session.evaluate()
    assert session.evaluate() is found and session.strike(0, "a chip").evaluate() is not found


@pytest.mark.parametrize(
    ("value", "about", "offered", "named"),
    [
        (339.98, -339.98, -339.98, "sign"), (-33.998, -339.98, -339.98, "decimal point"),
        (13.385, 339.98, 339.979, "inches"),
        (3.0, 0.0, None, ""), (-13.385, 339.98, 339.979, "sign left out"),
    ],
)  # fmt: skip
def test_a_slip_is_offered_where_one_explains_it(value, about, offered, named):
    question = doubt.slipped(value, about, Units.MM)
    if not named:
        assert question is None
        return
    assert question.suggestion_mm == pytest.approx(offered, rel=1e-5) and named in question.words


def test_slips_that_compete_are_named_and_none_is_enters():
    """Three on a dial of half a millimetre: micrometres, or millimetres typed as inches. Nobody knows which."""
    facts = SheetFacts(setup=Given({}), reach={"dial": (-0.5, 0.5)})
    question = doubt.beyond(Session("tip-runout", facts), 3.0, Units.MM)
    assert question.suggestion_mm is None and "micrometres" in question.words and "inches" in question.words
    alone = doubt.beyond(Session("tip-runout", facts), 300.0, Units.MM)
    assert alone.suggestion_mm == pytest.approx(0.3)


@pytest.mark.parametrize("other", ["Shank master 12 × 95", "Presetter master 32 × 230"])
def test_another_master_of_the_shelf_is_named_and_none_is_enters(shop, other):
    """The 95 in the spindle where the sheet has the 140: said as what it most likely is, at the top and at the
    sides.
    """
    site = Site.load(shop)
    session = Session("setter-calibration", prepared(site, "setter-calibration", SETTER, "master-tool").facts)
    cards = {card.name: card for card in site.shelf.masters}
    mine, theirs = cards["Master tool 16 × 140"], cards[other]
    about, long, wide = session.expected_mm(), theirs.length_mm - mine.length_mm, theirs.diameter_mm - mine.diameter_mm
    asked = doubt.doubted(session, about + long + 0.2, Units.MM)
    assert f"Was that the {other}?" in asked.words and asked.suggestion_mm is None
    assert doubt.doubted(session, about + 0.2, Units.MM) is None
    assert other not in getattr(doubt.doubted(session, about + long / 2, Units.MM), "words", "")
    while not session.next_slot.fields["face"].startswith("-"):
        session = session.take(session.expected_mm(), "typed", "2026-11-25T10:00:00+01:00")
    away = doubt.doubted(session, session.expected_mm() - wide / 2, Units.MM)
    assert f"Was that the {other}?" in away.words


def test_a_diameter_is_never_held_against_the_travel_of_z():
    """What a lathe shows of a part may count from the part's zero: no travel tells anything of it."""
    facts = SheetFacts(
        setup=Given({"feature": "diameter", "side": "external"}), reach={"x": (-170.0, 40.0), "z": (-160.0, 40.0)}
    )
    assert doubt.beyond(Session("lathe-measure", facts), 55.989, Units.MM) is None
    tip = SheetFacts(setup=Given({}), variant="outside-chuck", reach={"x": (-170.0, 40.0), "z": (-160.0, 460.0)})
    assert "X travel" in doubt.beyond(Session("lathe-tip", tip), 90.0, Units.MM).words  # its slot names the axis


def birch(shop, **changes):
    """Larch with another setter, or a shelf whose master has no diameter."""
    path = shop.root / "machines" / "larch.json"
    machine = json.loads(path.read_text())
    machine["setter"] |= {k: v for k, v in changes.items() if k != "diameter"}
    path.write_text(json.dumps(machine))
    if changes.get("diameter") is False:
        shelf = json.loads((shop.root / "masters.json").read_text())
        for card in shelf["masters"]:
            card.pop("diameter_mm", None)
        (shop.root / "masters.json").write_text(json.dumps(shelf))
    return Site.load(shop)


@pytest.mark.parametrize(
    ("changes", "faces"),
    [
        ({"clear_sides": []}, {"top"}),
        ({"clear_sides": ["+x"]}, {"top"}),
        ({"clear_sides": ["+y", "-y", "+x"]}, {"top", "+y", "-y"}),
        ({"diameter": False}, {"top"}),
        ({}, {"top", "+x", "-x", "+y", "-y"}),
    ],
)
def test_a_setter_is_asked_for_what_can_be_touched_and_signed_with_that(shop, changes, faces):
    site = birch(shop, **changes)
    session = Session("setter-calibration", open_sheet(site, "setter-calibration", SETTER).facts)
    assert {slot.fields["face"] for slot in session.procedure.slots(session.facts)} == faces
    words = " ".join(step.words for step in session.procedure.steps(session.facts))
    assert ("Touch both X" in words, "Touch both Y" in words) == ("+x" in faces, "+y" in faces)
    while session.next_slot is not None:
        face = session.next_slot.fields["face"]
        session = session.take(session.facts.about[face], "typed", "2026-12-01T08:00:00+00:00")
    found = session.evaluate()
    assert isinstance(found, Evaluation) and found.quantity("trigger_plane_mm").estimate is not None
    assert any(q.name == "centre_x_mm" for q in found.quantities) is ("+x" in faces)


def test_a_diameter_is_touched_where_the_setter_is_free(shop):
    site = birch(shop, clear_sides=["+y", "-y"])
    assert prepared(site, "tool-diameter", tool(5)).facts.variant == "both-y"
    site = birch(shop, clear_sides=[])
    facts = prepared(site, "tool-diameter", tool(5)).facts
    assert "look first" in procedure("tool-diameter").steps(facts)[0].words


def test_a_reading_thrown_away_is_asked_for_again_and_the_next_ones_stay_what_they_were(shop):
    """Also where directions differ in nothing but their names, as round a ring."""
    for station in shop.shop().machines:
        site = Site.load(shop, station)
        for name, listed in PROCEDURES.items():
            if listed.kind and listed.kind != site.machine.kind:
                continue
            session = Session(name, prepared(site, name, tool(2) if listed.subject == ANY else listed.subject).facts)
            values = len(session.procedure.model.value_fields)
            for i in range(session.wanted * values):
                session = session.take(1.0 + i / 1000.0, "typed", "2026-12-01T08:00:00+00:00")
            every = max(1, len(session.rows) // 8)
            for i, row in [*enumerate(session.rows)][::every]:
                struck = session.strike(i, "a chip")
                assert struck.next_slot is not None and struck.next_slot.label == row.label, (name, row.label)


def test_the_key_that_shows_the_keys_works_where_readings_are_typed(desk, hands):
    desk.open_link("setter")
    hands.sheet()
    hands.type("?")
    hands.until(lambda: shown_dialog(desk, KeysDialog) is not None)
    assert desk.sheet.numbers.reading.text() == ""
