"""What was typed and not signed outlives the program: taken up where it was left, thrown away only on purpose."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt

from nonna.adapters.shop_files import drafts
from nonna.adapters.shop_files.drafts import FOLDER, DraftFile, path_of
from nonna.bench.session.sheet.tape_keeper import TapeWriter
from nonna.bench.sheet.drafts import left_behind
from nonna.bench.sheet.opening import open_sheet
from nonna.bench.station.site import Site
from nonna.desk.commands.ids import CommandId
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.start.window_making import make_window
from nonna.errors import NonnaError
from nonna.procedures.draft import document_of, taken_up
from nonna.procedures.session import Session, SetupField
from nonna.shop.links.subjects import SETTER, Subject, tool
from nonna.shop.texts.given import Given
from tests.support.hands import PATIENCE, record_of, settle, shown_text, worked


def second_window(shop, tmp_path, qtbot):
    window = make_window(shop, DeskSettings(tmp_path / "second.ini"))
    qtbot.addWidget(window)
    window.show()
    qtbot.waitUntil(lambda: window.site is not None, timeout=PATIENCE)
    return window


def written(desk, hands):
    keeper = desk.sheet.controller.keeper
    hands.until(lambda: keeper.safe)


def test_a_sheet_is_taken_up_after_the_program_was_killed(desk, hands, shop, tmp_path, qtbot):
    desk.open_link("setter")
    sheet = hands.sheet("Setter")
    for text in ("-312.4010", "-312.4005", "-312.4100"):
        hands.enter(text)
    sheet.controller.strike(2, "chip on the pad")
    sheet.controller.set_field(SetupField("limit_range_mm"), 0.009)
    written(desk, hands)
    assert left_behind(shop) == ()  # while it is in hand
    desk.sheets.all[0].keeper.tape.let_go()  # a power cut lets go of everything
    window = second_window(shop, tmp_path, qtbot)
    worked(window)
    assert "Left unsigned: setter calibration, Setter" in shown_text(window)
    window.open_link("setter")
    qtbot.waitUntil(lambda: window.sheet is not None, timeout=PATIENCE)
    again = window.sheet.controller.session
    assert again.rows == sheet.controller.session.rows and again.rows[2].struck == "chip on the pad"
    assert again.facts.setup["limit_range_mm"] == 0.009
    assert "Taken up where it was left, 2 readings" in shown_text(window)
    window.do(CommandId.STANDIN)
    qtbot.waitUntil(lambda: not window.sheet.controller.busy, timeout=PATIENCE)
    window.sheet.controller.sign()
    settle(window)
    assert left_behind(shop) == ()
    body = record_of(window, window.sheet.controller.receipt.number)
    assert [row["source"] for row in body["tape"]][:3] == ["typed"] * 3


def test_passes_and_ways_come_back_too(desk, hands, shop, tmp_path, qtbot):
    desk.open_link("level")
    sheet = hands.sheet("Setter")
    sheet.controller.choose_variant("grid")
    settle(desk)
    hands.standin()
    assert sheet.controller.picture().again
    hands.enter()
    hands.until(lambda: not sheet.controller.busy)
    written(desk, hands)
    desk.sheet.controller.keeper.tape.let_go()
    window = second_window(shop, tmp_path, qtbot)
    window.open_link("level")
    qtbot.waitUntil(lambda: window.sheet is not None, timeout=PATIENCE)
    mine, theirs = window.sheet.controller.session, sheet.controller.session
    assert (mine.facts.variant, mine.passes, mine.rows) == ("grid", theirs.passes, theirs.rows)
    assert mine.evaluate() == theirs.evaluate()


def test_a_draft_lives_as_long_as_its_readings_are_unsigned(desk, hands, shop):
    desk.open_link("setter")
    hands.sheet("Setter")
    hands.enter("-312.4010")
    written(desk, hands)
    keeper = desk.sheet.controller.keeper
    path = keeper.tape.place.path
    hands.press(Qt.Key.Key_Escape)
    assert path.exists() and desk.sheet is not None
    hands.press(Qt.Key.Key_Escape)
    desk.sheets.throw_away()
    hands.until(lambda: keeper.safe)
    assert not path.exists()
    desk.sheets.bring_back()
    written(desk, hands)
    assert path.exists()
    desk.sheet.controller.undo()
    written(desk, hands)
    assert not path.exists()  # nothing on the tape: nothing to keep


def test_two_windows_on_one_sheet_keep_two_tapes(desk, hands, shop, tmp_path, qtbot):
    desk.open_link("setter")
    hands.sheet("Setter")
    hands.enter("-312.4010")
    written(desk, hands)
    window = second_window(shop, tmp_path, qtbot)
    window.open_link("setter")
    qtbot.waitUntil(lambda: window.sheet is not None, timeout=PATIENCE)
    assert window.sheet.controller.session.rows == ()  # the other's tape is the other's
    window.sheet.controller.enter("-312.4020")
    other = window.sheet.controller.keeper
    hands.until(lambda: other.safe)
    assert other.tape.place.path != desk.sheet.controller.keeper.tape.place.path
    window.sheets.let_go()
    desk.sheets.let_go()
    worked(window)
    worked(desk)
    assert len(left_behind(shop)) == 2


def test_a_sheet_signed_before_its_draft_was_put_away_is_not_signed_again(desk, hands, shop, tmp_path, qtbot):
    desk.open_link("setter")
    sheet = hands.sheet("Setter")
    hands.standin()
    written(desk, hands)
    keeper = sheet.controller.keeper
    text = keeper.tape.place.path.read_text()
    sheet.controller.sign()
    settle(desk)
    number = sheet.controller.receipt.number
    keeper.tape.let_go()
    keeper.tape.place.path.write_text(text)  # as a kill between the signature and the removal leaves it
    assert left_behind(shop) == ()
    window = second_window(shop, tmp_path, qtbot)
    window.open_link("setter")
    qtbot.waitUntil(lambda: window.sheet is not None, timeout=PATIENCE)
    assert window.sheet.controller.session.rows == ()
    assert f"signed already, as record {number}" in shown_text(window)


def test_every_name_has_its_own_draft(shop):
    names = ["Mühle", "Möhle", "M hle", "m-hle", "Ab/..", "Ab..", "a" * 300]
    paths = {path_of(shop.root, name, "tool-length", tool(1)) for name in names}
    assert len(paths) == len(names) and all(len(p.name) < 100 and p.parent == shop.root / FOLDER for p in paths)


def test_a_damaged_draft_is_said_and_the_sheet_opens_empty(desk, hands, shop):
    path = path_of(shop.root, "Larch", "setter-calibration", SETTER)
    path.parent.mkdir()
    path.write_text("{")
    assert "cannot be read" in left_behind(shop)[0]
    desk.open_link("setter")
    assert hands.sheet("Setter").controller.session.rows == ()
    assert "cannot be read" in shown_text(desk)
    assert path.parent.name == FOLDER


def test_what_is_no_draft_is_refused(shop):
    site = Site.load(shop)
    opening = open_sheet(site, "tool-length", tool(2))
    session = Session("tool-length", opening.facts).take(-339.9, "typed", "2026-11-25T10:00:00+00:00")
    draft = Given(json.loads(json.dumps(document_of(session, "", "G21"))))
    assert taken_up(Session("tool-length", opening.facts), draft, opening.carried).rows == session.rows
    old = Given({**draft, "setup": {**draft["setup"], "trigger_plane_mm": -1.0, "limit_mm": 0.07}})
    fresh = taken_up(Session("tool-length", opening.facts), old, opening.carried).facts.setup
    assert (
        fresh["trigger_plane_mm"] == opening.facts.setup["trigger_plane_mm"]
    )  # carried from the record, not the draft
    assert fresh["limit_mm"] == 0.07
    for bad in ({"format": "x"}, {"procedure": "breakage"}, {"rows": [{}]}, {"rows": 5}, {"passes": None}):
        with pytest.raises(NonnaError):
            taken_up(Session("tool-length", opening.facts), Given({**draft, **bad}), {})


def test_a_place_that_is_let_go_in_that_very_moment_is_not_held_twice(tmp_path, monkeypatch):
    """Who lets go takes the lock's file away; who had just opened it must not believe to hold what nobody else sees."""
    first = DraftFile(tmp_path, "Larch", "tool-length", Subject.of("T2"))
    lock = drafts.fcntl.flock

    def in_between(handle, how):
        if first.held and how & drafts.fcntl.LOCK_NB:
            first.let_go()
        return lock(handle, how)

    monkeypatch.setattr(drafts.fcntl, "flock", in_between)
    second = DraftFile(tmp_path, "Larch", "tool-length", Subject.of("T2"))
    third = DraftFile(tmp_path, "Larch", "tool-length", Subject.of("T2"))
    assert not first.held and second.held and third.held
    assert second.path != third.path


class Place:
    """A place whose disk is as slow as is wanted."""

    held = True

    def __init__(self):
        self.there, self.before = "", lambda: None

    def write(self, text):
        self.before()
        self.there = text

    def forget(self):
        self.before()
        self.there = ""

    def let_go(self):
        self.held = False


@given(st.lists(st.tuples(st.sampled_from(["", "a", "b"]), st.lists(st.sampled_from(["", "a", "b"]), max_size=3))))
def test_the_disk_ends_with_what_was_wanted_last(steps):
    """Whatever is wanted while something is being written, and back again."""
    place = Place()
    tape = TapeWriter(place)
    for wanted, meanwhile in steps:
        tape.wanted = wanted
        left = list(meanwhile)

        def change(left=left):
            if left:
                tape.wanted = left.pop(0)

        place.before = change
        if not tape.safe:
            tape.catch_up()
        assert tape.safe and place.there == tape.wanted
    tape.let_go()
    assert not place.held and place.there == tape.wanted
