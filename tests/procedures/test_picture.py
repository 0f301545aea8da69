"""What a sheet says at each moment, without a window: steps, tones, sentences, units."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.bench.session.sheet.picture import picture
from nonna.procedures.doubt import doubted
from nonna.procedures.facts import SheetFacts
from nonna.procedures.session import Session
from nonna.shop.links.subjects import tool
from nonna.wording.lengths import Units

AT = "2026-11-23T10:00:00+01:00"
MASTER = {"length_mm": 140.0, "U_length_mm": 0.0008, "k": 2, "diameter_mm": 16.0, "U_diameter_mm": 0.0008}


def tool_session(**setup):
    base = {"trigger_plane_mm": -452.4, "trigger_plane_u_mm": 0.0006, "expected_mm": 112.418, "limit_mm": 0.02}
    return Session("tool-length", SheetFacts(setup=base | setup, subject=tool(2)))


def setter_session(variant="master"):
    about = {"top": -312.4, "+x": 735.0, "-x": 705.0, "+y": 75.0, "-y": 45.0}
    return Session(
        "setter-calibration",
        SheetFacts(setup={"limit_range_mm": 0.004}, masters={"master": MASTER}, variant=variant, about=about),
    )


def shown(session, units=Units.MM, asked=None, signed=""):
    return picture(session, units, asked, signed)


def states(session, signed=""):
    return [state for _, state in shown(session, signed=signed).steps]


def taken(session, *values):
    for value in values:
        session = session.take(value, "typed", AT)
    return session


def test_steps_follow_the_hands():
    session = setter_session()
    assert states(session) == ["now", "later", "later", "later", "later", "later"]
    session = taken(session, -312.4)
    assert states(session) == ["done", "done", "now", "later", "later", "later"]
    session = taken(session, -312.401, -312.4005)
    assert states(session) == ["done", "done", "done", "now", "later", "later"]
    session = taken(session, 735.0, 735.0002, 705.0, 705.0003)
    assert states(session) == ["done", "done", "done", "done", "now", "later"]
    session = taken(session, 75.0, 75.0001, 45.0, 45.0002)
    assert states(session) == ["done", "done", "done", "done", "done", "now"]
    assert states(session, signed="Signed as record 9.") == ["done"] * 6


def test_striking_takes_the_hands_back_to_that_step():
    session = taken(setter_session(), -312.4, -312.401, -312.4005, 735.0)
    assert states(session)[3] == "now"
    session = session.strike(1, "chip")
    assert states(session)[2] == "now"
    assert shown(session).prompt == "Touch the top"
    assert [tile.struck for tile in shown(session).tiles] == [False, True, False, False]
    assert shown(session).tiles[1].foot == "chip"
    assert shown(session).tape_note == "3 of 11 taken"


def test_an_empty_sheet_says_how_to_begin():
    view = shown(tool_session())
    assert view.headline == "Nothing is measured yet."
    assert "F7" in view.todo
    assert "F8" in view.todo
    assert view.main.value == "–"
    assert not view.can_sign
    assert view.expected == "next about −339.9820 mm"
    assert view.wanted == "Touch 1/3"


@pytest.mark.parametrize(
    ("setup", "tone", "words"),
    [
        ({}, "good", "within"),
        ({"limit_mm": 0.0012}, "due", "leaves open"),
        ({"expected_mm": 112.3}, "bad", "over"),
        ({"limit_mm": None}, "plain", "against the table"),
        ({"limit_mm": None, "expected_mm": None}, "plain", "Length"),
    ],
)
def test_the_verdict_says_what_was_found_and_what_to_do(setup, tone, words):
    session = taken(tool_session(), -339.981, -339.9805, -339.9812).with_setup(**setup)
    view = shown(session)
    assert view.tone == tone
    assert words in view.headline
    assert view.todo
    assert view.can_sign
    assert view.wanted == ""
    assert view.main.doubt.startswith("mm")


def test_before_all_readings_are_there_it_asks_to_go_on():
    view = shown(taken(tool_session(), -339.981, -339.9805))
    assert view.todo == "Go on with the next reading."
    assert view.can_sign  # two will do, three are wanted


def test_one_reading_alone_says_what_is_missing():
    view = shown(taken(tool_session(), -339.981))
    assert "scatters" in view.headline
    assert not view.can_sign


def test_history_lets_one_reading_stand_and_flags_what_does_not_fit():
    session = taken(tool_session(repeatability_mm=0.0004, repeatability_dof=9.0), -339.981)
    assert shown(session).can_sign
    loose = taken(session, -339.97, -339.99)
    assert any("loose or dirty" in words for words in shown(loose).advice)


def test_everything_can_be_read_in_inches():
    session = taken(tool_session(), -339.981, -339.9805, -339.9812)
    view = shown(session, Units.INCH)
    assert view.main.value == "4.42595"
    assert "in" in view.main.doubt
    assert "µin" in view.headline
    assert view.tiles[0].values == ("−13.38508",)
    assert "mm" not in " ".join([view.headline, view.todo, view.expected, *view.advice])


def test_a_question_stands_before_everything_else():
    session = taken(tool_session(), -339.981)
    asked = doubted(session, -339.981 / 25.4, Units.MM)
    view = shown(session, asked=asked)
    assert view.tone == "due"
    assert "inches" in view.headline
    assert "Enter takes −339.9810" in view.todo.replace("\u00a0", " ")
    far = doubted(session, -300.0, Units.MM)
    assert "Ctrl+Enter" in shown(session, asked=far).todo


def test_a_signed_sheet_says_so_and_wants_nothing_more():
    view = shown(taken(tool_session(), -339.981, -339.9805, -339.9812), signed="Signed as record 9.")
    assert view.headline == "Signed as record 9."
    assert view.todo == "Enter goes on."
    assert not view.can_sign


def test_a_number_is_never_parted_from_its_unit():
    view = shown(taken(setter_session(), -312.4, -312.401, -312.4005))
    assert "±\u00a0" in view.headline
    assert "\u00a0µm" in view.headline
    assert "± " not in view.headline


def test_variants_ask_only_for_what_they_can_touch():
    for variant, title in (("spindle-face", "Spindle face over the setter"), ("block", "Block under the spindle face")):
        session = setter_session(variant)
        masters = {"master": {"length_mm": 0.0 if variant == "spindle-face" else 75.0}}
        session = Session(session.name, SheetFacts(setup={}, masters=masters, variant=variant))
        assert session.wanted == 3
        assert shown(session).figure.title == title
        assert shown(taken(session, -452.4, -452.4004, -452.4001)).can_sign


def test_a_drawing_touches_when_the_tool_does():
    before, after = (len(shown(s).figure.strokes) for s in (tool_session(), taken(tool_session(), -339.981)))
    assert after == before + 1  # the contact


@given(
    values=st.lists(st.floats(-340.01, -339.95), min_size=0, max_size=6), units=st.sampled_from((Units.MM, Units.INCH))
)
def test_whatever_is_typed_the_sheet_can_be_painted(values, units):
    view = shown(taken(tool_session(), *values), units)
    assert len(view.tiles) == len(values)
    assert view.headline
    assert view.figure.window[0] < view.figure.window[2]
    assert all(line.value for line in view.lines)


def test_a_place_the_machine_does_not_reach_is_not_announced():
    near = tool_session()
    assert "next about −339.9820 mm" in shown(near).expected
    far = Session("tool-length", replace(near.facts, reach={"z": (-300.0, 0.0)}))
    assert shown(far).expected == ""
