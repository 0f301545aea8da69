"""Touches with the spindle oriented: teeth one by one, a boring bar's edge, and what stops them."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt

from nonna.bench.session.tray.picture import notes, waiting
from nonna.cli.main import run
from nonna.procedures.catalogue import evaluate
from nonna.programs.dialects.listing import dialect_of
from nonna.programs.writing.writer import Writer
from nonna.shop.cards.machine import Tool
from nonna.standin.bodies import body
from nonna.standin.world import World
from nonna.stations.mill.planning.oriented import edge_at_pad, turn_to_pad
from nonna.stations.mill.standin.batch import measure_tools
from nonna.stations.mill.standin.rehearsing import rehearse
from nonna.stations.mill.standin.trial import tried
from nonna.stations.mill.standin.truth import make
from nonna.wording.lengths import Units
from tests.support.dialects import DIALECTS, RS274
from tests.support.hands import settled
from tests.support.plans import HEAD, machine_with, planned, table
from tests.support.tool_programs import as_plan

ABLE = machine_with(spindle_orient=True)
MILL = {"number": 4, "kind": "face-mill", "diameter_mm": 63, "length_mm": 61.2, "flutes": 5, "centre_cutting": False}
BAR = {"number": 6, "kind": "boring-bar", "diameter_mm": 40, "length_mm": 150, "corner_radius_mm": 0.4, "flutes": 1}


@given(
    x=st.floats(-40, 40), y=st.floats(-40, 40), edge_deg=st.floats(-360, 360), flutes=st.integers(1, 12), data=st.data()
)
def test_the_edge_that_is_turned_to_the_pad_stands_over_it(x, y, edge_deg, flutes, data):
    if math.hypot(x, y) < 8.0:
        x += 20.0
    tool = Tool.model_validate({**MILL, "flutes": flutes, "edge_deg": edge_deg})
    edge = data.draw(st.integers(1, flutes))
    angle = turn_to_pad(tool, (x, y), edge)
    assert 0.0 <= angle < 360.0
    assert edge_at_pad(tool, (x, y), angle, 1.0) == edge
    # Where that edge really is, worked out by hand: over the line from the axis to the pad.
    at = math.radians(edge_deg + angle + 360.0 * (edge - 1) / flutes)
    assert math.cos(at) * -x + math.sin(at) * -y == pytest.approx(math.hypot(x, y))


@pytest.mark.parametrize("dialect", DIALECTS)
def test_teeth_are_planned_written_rehearsed_and_measured(dialect):
    rows = [{**MILL, "measure": ["length", "teeth"]}]
    plan, text = planned(rows, ABLE, dialect=dialect)
    assert text.count("M19 R") == 5 and "standing still" in plan.tools[0].reasons[-1]
    found = rehearse(text, ABLE, table(MILL), dialect=dialect_of(dialect), sweep=True)
    assert found.clean, found.problems
    assert found.results[4]["length_mm"] == pytest.approx(61.2, abs=0.005)
    writer = Writer(dialect=dialect_of(dialect))
    trial = tried(text, ABLE, table(MILL), dialect=writer.dialect)
    (outcome,) = measure_tools(as_plan(plan, trial, [Tool.model_validate(MILL)], writer), World.from_seed(5), 1)
    assert len(outcome.teeth) == 10 and len(outcome.tops) == 2 and not outcome.failed
    document = {
        "format": "nonna-readings/1", "procedure": "tooth-runout", "setup": {},
        "readings": [{"tooth": tooth, "position_mm": z} for tooth, z in outcome.teeth],
    }  # fmt: skip
    got = evaluate(document).to_document()
    true = body(Tool.model_validate(MILL), 5).edges
    assert max(true) == 0.0 and got["longest_tooth"] == true.index(0.0) + 1
    for tooth, back in got["back_mm"].items():
        assert back == pytest.approx(-true[int(tooth) - 1], abs=0.004)


@pytest.mark.parametrize(
    ("tool", "machine", "words"),
    [
        (MILL, machine_with(), "cannot be oriented"),
        ({**MILL, "length_mm": None}, ABLE, "measure its length first"),
        ({**MILL, "flutes": 1}, ABLE, "cannot be told apart"),
        ({**MILL, "kind": "end-mill", "diameter_mm": 5, "flutes": 3, "centre_cutting": True}, ABLE, "do not stand out"),
    ],
)
def test_teeth_that_cannot_be_touched_say_why(tool, machine, words):
    plan = planned([{**tool, "measure": ["teeth"]}], machine)[0].tools[0]
    assert words in plan.refused and not plan.touches


def test_a_boring_bar_is_turned_to_the_pad_where_the_spindle_can():
    _, text = planned([{**BAR, "edge_deg": 30}], ABLE)
    assert "M19 R150.00" in text  # the axis stands on +x of the pad, so the edge looks to -x
    assert rehearse(text, ABLE, table({**BAR, "edge_deg": 30})).clean
    assert "M19" not in planned([BAR], machine_with())[1]


UNSOUND = {
    "not oriented": ("", "nobody knows where the edge is"),
    "looks away": ("M19 R0\n", "no edge of the tool is turned to the pad"),
    "let go again": ("M19 R180\nM5\n", "nobody knows where the edge is"),
    "turns again": ("M19 R180\nM3 S100\n", "standing still"),
}


@pytest.mark.parametrize("name", UNSOUND)
def test_an_edge_that_is_not_turned_to_the_pad_is_stopped(name):
    orient, words = UNSOUND[name]
    text = HEAD + f"T6 M6\nG53 G0 X739.6 Y60\n{orient}G53 G0 Z-297\nG38.2 Z-306 F20\nM5\nG53 G0 Z0\nM2\n"
    sound = text.replace(orient, "M19 R180\n") if orient else text.replace("G53 G0 Z-297", "M19 R180\nG53 G0 Z-297")
    assert rehearse(sound, ABLE, table(BAR)).clean
    found = rehearse(text, ABLE, table(BAR))
    assert any(words in p.message for p in found.problems if p.severity == "stop"), found.problems
    other = rehearse(sound, machine_with(), table(BAR)).problems
    assert any("cannot be oriented" in p.message for p in other)


def test_the_letter_i_measures_each_insert_in_the_tray(tray, desk, hands):
    c = tray.controller
    c.change(c.tray.with_marks({4}))
    tray.table.go_to(4)
    hands.press(Qt.Key.Key_I)
    settled(desk, hands)
    assert "L+I" in notes(c.tray, {}, Units.MM)(4)
    assert c.answer.rehearsal.clean and "M19" in c.answer.text
    hands.press(Qt.Key.Key_F7)
    hands.until(lambda: not c.busy)
    assert [r.name for r in c.tray.results] == ["tool-length", "tooth-runout"]
    assert "teeth within" in " ".join(w.words for w in waiting(c.tray.results, Units.MM).values())
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: not c.busy and not c.tray.results)
    assert {e.name for e in desk.folder.book.entries()} >= {"tooth-runout"}


def test_a_diameter_is_touched_in_y_where_only_those_sides_are_free():
    ahead = machine_with({"clear_sides": ["+y", "-y"]})
    row = {"number": 5, "kind": "end-mill", "diameter_mm": 16, "length_mm": 92.0, "flutes": 4}
    plan, text = planned([{**row, "measure": ["diameter"]}], ahead)
    assert [t.name for t in plan.tools[0].touches] == ["T5 +y", "T5 -y"]
    trial = tried(text, ahead, table(row), dialect=RS274)
    (outcome,) = measure_tools(as_plan(plan, trial, [Tool.model_validate(row)]), World.from_seed(7), 1, truth_of=ahead)
    assert {face for face, _ in outcome.sides} == {"+y", "-y"}
    width = make(ahead, [Tool.model_validate(row)], 7).width_y
    document = {
        "format": "nonna-readings/1", "procedure": "tool-diameter",
        "setup": {"setter_width_y_mm": width, "setter_width_y_u_mm": 0.001,
            "feed_per_rev_mm": outcome.side_feed_per_rev},
        "readings": [{"face": face, "position_mm": y} for face, y in outcome.sides],
    }  # fmt: skip
    got = evaluate(document).to_document()["results"]["diameter_mm"]
    assert abs(got["value"] - 16.0) < 0.02 and got["U"] < 0.02


def test_a_job_file_may_ask_for_teeth(tmp_path):
    import json

    job = tmp_path / "job.json"
    machine = {**json.loads(ABLE.model_dump_json())}
    job.write_text(json.dumps({"format": "nonna-job/1", "machine": machine, "tools": [{**MILL, "measure": ["teeth"]}]}))
    assert run(["plan", str(job), "-o", str(tmp_path / "p.ngc")], lambda _: 0) == 0
    assert (tmp_path / "p.ngc").read_text().count("M19 R") == 5


@pytest.mark.parametrize(
    ("diameter", "flutes", "pad", "crowded"),
    [(8, 4, 14, True), (10, 3, 14, True), (63, 5, 14, False), (16, 4, 5, False), (10, 2, 4, False)],
)
def test_two_teeth_over_one_pad_are_not_told_apart(diameter, flutes, pad, crowded):
    """A small cutter on a wide pad: the longest tooth is met first, whichever is turned to it."""
    machine = machine_with({"width_x_mm": pad, "width_y_mm": pad}, spindle_orient=True)
    row = {
        "number": 1,
        "kind": "end-mill",
        "diameter_mm": diameter,
        "flutes": flutes,
        "length_mm": 90.0,
        "measure": ["teeth"],
    }
    plan = planned([row], machine)[0].tools[0]
    assert ("over the" in f"{plan.refused} {' '.join(plan.reasons)}" and "at once" in plan.refused) is crowded
    assert bool(plan.touches) is not crowded
