"""Programs that are not ours: sound ones rehearse without a stop, unsound ones are stopped for the right reason."""

import copy
import json
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.programs.language.blocks import parse
from nonna.programs.language.interpreter import run as run_blocks
from nonna.programs.language.shifts import left
from nonna.standin.nearest import nearest
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.rehearsing import rehearse
from nonna.stations.mill.standin.truth import make
from tests.support.dialects import BRANCH, PLAIN_OR_BRANCHING
from tests.support.plans import HEAD, LARCH, MACHINE, TABLE, TOOLS, TOUCH, drill, machine_with, planned, table

WITH_LENGTH = HEAD + "T2 M6\nG43 H2\nG0 X720 Y60\nG0 Z-440\nG38.2 Z-456 F50\nG53 G0 Z0\nG49\nM2\n"
MILL = {"number": 4, "kind": "face-mill", "diameter_mm": 63, "length_mm": 61.2, "centre_cutting": False}
EDGE = HEAD + "T4 M6\nG53 G0 X750.5 Y60\nG53 G0 Z-380\nS252 M4\nG4 P2\nG38.2 Z-395 F0.5\nM5\nG53 G0 Z0\nM2\n"
SIDE = HEAD + "T2 M6\nG53 G0 X750 Y60\nG53 G0 Z-350\nS300 M4\nG38.2 X730 F5\nG53 G0 X750\nG53 G0 Z0\nM5\nM2\n"

SOUND = {
    "two touches": (TOUCH, drill()),
    "lower case, no blanks": (TOUCH.lower().replace("g38.2 z", "g38.2z"), drill()),
    "numbered blocks": ("\n".join(f"N{10 * i} {line}" if line[:1] in "GTM#" else line for i,
        line in enumerate(TOUCH.splitlines())), drill()),
    "with the length offset": (WITH_LENGTH, drill()),
    "another system and back": (TOUCH.replace("M5\n", "M5\nG55\nG54\n", 1), drill()),
    "G59.3 and back": (TOUCH.replace("M5\n", "M5\nG59.3\nG54\n", 1), drill()),
    "an edge, turning backwards": (EDGE, MILL),
    "a side, turning backwards": (SIDE, drill(point_angle_deg=140)),
    "the spindle emptied at the end": (TOUCH.replace("M30", "T0 M6\nM30"), drill()),
    "inches, and back": (
        "G20 G90\nT2 M6\nG53 G0 X28.3465 Y2.3622\nG53 G0 Z-13.2\nG38.2 Z-13.45 F4\nG53 G0 Z0\nG21\nM2", drill(),
    ),
    "expressions": (TOUCH.replace("Z-330", "Z[-300 - 3 * 10]").replace("F200", "F[100 * 2]"), drill()),
    "a shift taken back": (TOUCH.replace("M30", "G92 X0\nG92.1\nM30"), drill()),
    "an unused slash block": (TOUCH.replace("M30", "/M8\nM30"), drill()),
}  # fmt: skip


@pytest.mark.parametrize("name", SOUND)
def test_sound_programs_are_not_stopped(name):
    text, tool = SOUND[name]
    found = rehearse(text, MACHINE, table(tool), sweep=True)
    assert found.problems == ()
    assert found.contacts and found.duration_s > 0 and all(c.tool == tool["number"] for c in found.contacts)
    if name in ("two touches", "with the length offset"):
        assert found.results[2]["length_mm"] == pytest.approx(112.418, abs=0.004)
    if name == "an edge, turning backwards":
        assert found.results[4]["length_mm"] == pytest.approx(61.2, abs=0.004)
    if name == "a side, turning backwards":
        assert found.results[2]["diameter_mm"] == pytest.approx(8.5, abs=0.03)  # from one side and the setter's centre


UNSOUND = {
    "length offset missing": (WITH_LENGTH.replace("G43 H2\n", ""), drill(), "collision rapid-contact"),
    "another tool's length": (WITH_LENGTH.replace("H2", "H3"), drill(), "wrong-tool"),
    "a length the table has not": (WITH_LENGTH.replace("H2", "H9"), drill(), "wrong-tool"),
    "no such tool": (TOUCH.replace("T2 M6", "T8 M6"), drill(), "wrong-tool"),
    "inch values": (TOUCH.replace("Z-330", "Z-12.992").replace("Z-345", "Z-13.583").replace("X720 Y60",
        "X28.346 Y2.362"), drill(), "units"),
    "incremental left on": (TOUCH.replace("M30", "G91\nM30"), drill(), "offset-not-restored"),
    "a retreat that forgets G90": (TOUCH.replace("G91 G0 Z1\nG90", "G91 G0 Z1"), drill(),
        "no-trigger out-of-travel syntax"),
    "spindle forward on an edge": (EDGE.replace("M4", "M3"), MILL, "spinning-wrong-way"),
    "edge standing still": (EDGE.replace("S252 M4", "M5"), MILL, "spinning-wrong-way"),
    "left-hand tool turned as a right-hand one": (EDGE, MILL | {"hand": "left"}, "spinning-wrong-way"),
    "turning at the centre": (TOUCH.replace("G53 G0 Z-330", "S500 M4\nG53 G0 Z-330"), drill(), "spindle-running"),
    "spindle left on": (EDGE.replace("M5\nG53 G0 Z0\nM2", "G53 G0 Z0\nM2"), MILL, "spindle-running"),
    "search too short": (TOUCH.replace("Z-345", "Z-335"), drill(), "no-trigger"),
    "rapid to the touch": (TOUCH.replace("G38.2 Z-345 F200", "G0 Z-345"), drill(), "rapid-contact"),
    "feed to the touch": (TOUCH.replace("G38.2 Z-345 F200", "G1 Z-345 F200"), drill(), "collision"),
    "far too fast": (TOUCH.replace("F200", "F40000"), drill(), "overtravel"),
    "beyond travel": (TOUCH.replace("X720", "X820"), drill(), "out-of-travel"),
    "pulled out": (TOUCH, drill(true_length_mm=125.0), "tool-too-long"),
    "broken off": (TOUCH, drill(true_length_mm=90.0), "no-trigger"),
    "work offset left": (TOUCH.replace("M30", "G56\nM30"), drill(), "offset-not-restored"),
    "work offset changed": (TOUCH.replace("M30", "G10 L2 P1 Z5\nM30"), drill(), "offset-not-restored"),
    "axis offset left": (TOUCH.replace("M30", "G92 Z5\nM30"), drill(), "offset-not-restored"),
    "length offset left": (WITH_LENGTH.replace("G49\n", ""), drill(), "offset-not-restored"),
    "inches left": (TOUCH.replace("M30", "G20\nM30"), drill(), "units"),
    "a word nobody knows": (TOUCH.replace("M30", "M555\nM30"), drill(), "unsupported"),
    "an arc in another plane": (TOUCH.replace("M30", "G18\nF200 G2 X1 Z1 I1\nM30"), drill(), "unsupported"),
    "half a word": (TOUCH.replace("G91 G0 Z1", "G91 G0 Z"), drill(), "syntax"),
    "an open bracket": (TOUCH.replace("#500 = #5063", "#500 = [#5063"), drill(), "syntax"),
    "no feed": (TOUCH.replace(" F200", "").replace(" F20", ""), drill(), "syntax"),
    "a probe move to nowhere": (TOUCH.replace("G91 G0 Z1", "G38.2"), drill(), "syntax"),
    "no such system": (TOUCH.replace("M30", "G10 L2 P12 X1\nM30"), drill(), "syntax"),
    "G92 of nothing": (TOUCH.replace("M30", "G92\nM30"), drill(), "syntax"),
    "a jump in the plain language": (TOUCH.replace("M30", "GOTO 1\nM30"), drill(), "syntax unsupported"),
}  # fmt: skip


@pytest.mark.parametrize("name", UNSOUND)
def test_unsound_programs_are_stopped_for_the_right_reason(name):
    text, tool, wanted = UNSOUND[name]
    found = rehearse(text, MACHINE, table(tool))
    got = {p.code for p in found.problems}
    assert got & set(wanted.split()), found.problems
    for problem in found.problems:
        assert 0 < problem.line <= len(text.splitlines()) and problem.message
        assert problem.severity == "stop" or problem.code in ("offset-not-restored", "units")
    if "offset-not-restored" not in got and "units" not in got:
        assert not found.clean


def test_an_obstacle_in_the_way_and_how_near_one_comes():
    wall = [{"name": "vice", "box_mm": [[690, 20, -560], [760, 100, -300]]}]
    hit = rehearse(TOUCH, machine_with(obstacles=wall), table(drill()))
    assert {"collision", "rapid-contact"} <= {p.code for p in hit.problems}
    contact = hit.to_document()["contacts"][0]  # the tip meets the vice's top at rapid, on its way down
    assert (contact["with"], contact["feed_mm_min"]) == ("vice", 18000) and contact["z_mm"] == pytest.approx(
        -300 + 112.418
    )
    beside = [{"name": "vice", "box_mm": [[735, 20, -560], [760, 100, -300]]}]
    machine = machine_with(obstacles=beside, spindle=None)
    found = rehearse(TOUCH, machine, table(drill()), trace=True)
    assert found.clean
    near = nearest(found.path, machine)
    assert (near.name, near.tool) == ("vice", 2)
    assert near.gap_mm == pytest.approx(735 - 720 - 8.5 / 2)
    assert nearest(found.path, machine_with(obstacles=[])) is None
    assert [p.way for p in found.path[:3]] == ["change", "rapid", "change"]
    assert all(b.at_s >= a.at_s for a, b in zip(found.path, found.path[1:], strict=False))


def test_shifts_are_the_published_ones():
    def after(text):
        drive = Mill(MACHINE, make(MACHINE, list(TOOLS.tools), 1), TOOLS)
        return run_blocks(parse("G21 G90\n" + text), drive), drive

    state, drive = after("G10 L2 P2 X100 Y50\nG55 G0 X1 Y2")
    assert drive.position[:2] == (101.0, 52.0) and left(state.parameters) == ["the work offset G55 was changed"]
    state, drive = after("G0 X100 Y100\nG92 X0\nG0 X5\nG92 X0\nG0 X5")
    assert drive.position[0] == 110.0
    state, drive = after("G0 X100 Y100\nG92 X0 Y0\nG92.1\nG0 X7")
    assert drive.position[:2] == (7.0, 100.0) and left(state.parameters) == []
    state, drive = after("G20\nG0 X4\nG92 X0\nG0 X1\nG21")
    assert drive.position[0] == pytest.approx(127.0)
    for text in ("G10 L20 P1 X0", "G92.3", "G10 X1"):
        with pytest.raises(NonnaError):
            after(text)


def test_our_programs_do_not_mind_an_axis_offset_that_is_active():
    text = planned([drill(measure=["length", "diameter"])])[1]
    shifted = text.replace("M5\n#111", "G92 X10 Y-20 Z3\nM5\n#111", 1).replace(
        "G53 G0 Z#104\nG21 G90 G94\nM2", "G53 G0 Z#104\nG92.1\nM2"
    )
    assert shifted.count("G92") == 2
    found = rehearse(shifted, MACHINE, table(drill()))
    assert found.problems == ()
    assert found.results[2]["length_mm"] == pytest.approx(112.418, abs=0.004)


@given(st.integers(0, 10_000), st.sampled_from(sorted(SOUND)))
def test_a_sound_program_spoilt_anywhere_is_answered_never_a_crash(seed, name):
    """Drop, double, swap or change characters: the rehearsal always gives an answer with lines that exist."""
    text, tool = SOUND[name]
    dice, letters = random.Random(seed), list(text)
    for _ in range(dice.randrange(1, 4)):
        at = dice.randrange(len(letters))
        way = dice.randrange(4)
        if way == 0:
            del letters[at]
        elif way == 1:
            letters.insert(at, dice.choice("0123456789.-+GMXYZ#[]()FST %/\n"))
        elif way == 2:
            letters[at] = dice.choice("0123456789.-XYZ")
        else:
            other = dice.randrange(len(letters))
            letters[at], letters[other] = letters[other], letters[at]
    spoilt = "".join(letters)
    found = rehearse(spoilt, MACHINE, table(tool), sweep=True, dialect=PLAIN_OR_BRANCHING[seed % 2])
    assert all(0 <= p.line <= len(spoilt.splitlines()) + 1 for p in found.problems)
    json.dumps(found.to_document(), allow_nan=False)


@given(seed=st.integers(0, 10_000))
def test_a_job_spoilt_anywhere_is_planned_or_refused_with_a_place(seed, tmp_path_factory):
    place = tmp_path_factory.getbasetemp()
    dice = random.Random(seed)
    job = {
        "format": "nonna-job/1",
        "machine": copy.deepcopy(LARCH),
        "tools": copy.deepcopy(TABLE["tools"][:3]),
        "touches": 2,
        "accuracy_mm": 0.005,
    }
    spots = (
        [(job, k) for k in job]
        + [(job["machine"], k) for k in job["machine"]]
        + [(t, k) for t in job["tools"] for k in t]
    )
    if job["machine"].get("setter"):
        spots += [(job["machine"]["setter"], k) for k in job["machine"]["setter"]]
    for _ in range(dice.randrange(1, 3)):
        holder, key = dice.choice(spots)
        if dice.random() < 0.3:
            holder.pop(key, None)
        else:
            holder[key] = dice.choice([None, -1, 0, 1e9, 1e-9, "x", [], {}, True, 5, [1, 2], "disc", float("nan")])
    (place / "job.json").write_text(json.dumps(job))
    status = run(
        ["plan", str(place / "job.json"), "-o", str(place / "p.ngc"), "--report", str(place / "r.json")], lambda _: 9
    )
    assert status in (0, 2)
    if status == 0:
        report = json.loads((place / "r.json").read_text())
        assert len(report["tools"]) == len(job["tools"])
        parse((place / "p.ngc").read_text())


STOPS = "N9 M5\nM0 (touched too early)\nM2\n"
SEARCH = "G31 Z-345 F200\nIF [ABS[#5063 + 345] LT 0.002] GOTO 9\nG53 G0 Z0\nM2\n"


@pytest.mark.parametrize(
    ("behind", "rest", "sound"),
    [
        ("IF [ABS[#5063 + 330] GT 0.05] GOTO 9", SEARCH + STOPS, True),  # an approach: the touch is yet to come
        ("IF [#5063 GT -329.95] GOTO 9", SEARCH + STOPS, True),
        ("IF [ABS[#5063 + 330] LT 0.002] GOTO 9", SEARCH + STOPS, False),  # a search: made where nothing was touched
        (
            "IF [#5063 GT -329.95] GOTO 8",
            "M0 (no trigger)\nM2\nN8 #500 = #5063\nG53 G0 Z0\nM2\n",
            False,
        ),  # the same, turned round
        (
            "IF [#5063 GT -329.95] GOTO 8",
            SEARCH + "N8 #500 = #5063\nG53 G0 Z0\nM2\nN9 M0\nM2\n",
            False,
        ),  # it would go on
        ("IF [ABS[#5063 + 999] LT 0.002] GOTO 9", SEARCH + STOPS, False),  # it would never be made
        ("IF [ABS[#5063 + 330] GT 0.05] GOTO 77", SEARCH + STOPS, False),  # there is no such block
        ("GOTO 9", SEARCH + STOPS, False),
        ("G4 P1", SEARCH + STOPS, False),
    ],
)
def test_a_skip_move_that_touches_nothing_is_sound_only_where_the_program_wants_it_so(behind, rest, sound):
    text = f"G21 G90 G94\nM5\nT2 M6\nG53 G0 X720 Y60\nG53 G0 Z-320\nG31 Z-330 F500\n{behind}\n{rest}"
    found = rehearse(text, MACHINE, table(drill()), dialect=BRANCH)
    assert ("no-trigger" not in {p.code for p in found.problems}) is sound, found.problems
    assert not sound or found.contacts
