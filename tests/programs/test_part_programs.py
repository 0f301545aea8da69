"""What part programs hold beside measuring: arcs, homes and drilling cycles, by the positions NIST IR 6556 gives."""

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.programs.language.errors import ProgramError
from nonna.stations.mill.standin.rehearsing import rehearse
from tests.support.plans import MACHINE, drill, ran, table

START = "G21 G90 F200\nG0 X0 Y0 Z10\n"


def moves(text, start=START):
    state, machine = ran(start + text)
    return state, machine.log[1:]  # the first takes it to the start


def places(text, start=START):
    return [row[1] for row in moves(text, start)[1] if row[0] == "move"]


@pytest.mark.parametrize(
    ("text", "centre", "radius", "turn"),
    [
        ("G3 X10 Y10 I0 J10", (0, 10), 10, 90),
        ("G2 X10 Y10 I0 J10", (0, 10), 10, -270),
        ("G2 X10 Y10 R10", (10, 0), 10, -90),
        ("G2 X10 Y10 R-10", (0, 10), 10, -270),
        ("G3 X10 Y10 R-10", (10, 0), 10, 270),
        ("G3 X0 Y0 I5 J0", (5, 0), 5, 360),
        ("G2 I5", (5, 0), 5, -360),
        ("G91\nG3 X10 Y10 J10", (0, 10), 10, 90),
    ],
)
def test_an_arc_stays_on_its_circle_and_goes_the_right_way_round(text, centre, radius, turn):
    path = places(text)
    at = [math.degrees(math.atan2(y - centre[1], x - centre[0])) for x, y, _ in [(0.0, 0.0, 10.0), *path]]
    gone = 0.0
    for before, after in pairwise(at):
        step = (after - before + 180.0) % 360.0 - 180.0
        assert step * turn > 0 and abs(step) <= 15.001
        gone += step
    assert gone == pytest.approx(turn)
    for x, y, _ in path:
        assert math.hypot(x - centre[0], y - centre[1]) == pytest.approx(radius)
    for (x0, y0, _), (x1, y1, _) in pairwise(path):
        sagitta = radius - math.hypot((x0 + x1) / 2 - centre[0], (y0 + y1) / 2 - centre[1])
        assert sagitta <= 0.0101


def test_a_helix_goes_down_evenly_and_inches_are_inches():
    path = places("G3 X0 Y0 Z2 I10")
    assert path[-1] == (0.0, 0.0, 2.0)
    assert [z for _, _, z in path] == sorted((z for _, _, z in path), reverse=True)
    assert path[len(path) // 2 - 1][2] == pytest.approx(6.0, abs=0.2)
    assert places("G20\nG3 X0 Y0 I1 F10")[len(places("G20\nG3 X0 Y0 I1 F10")) // 2 - 1][0] == pytest.approx(
        50.8, abs=0.5
    )


@given(st.floats(-50, 50), st.floats(-50, 50), st.floats(0.5, 200), st.booleans(), st.booleans())
def test_an_arc_by_its_radius_ends_where_it_should(x, y, radius, clockwise, long_way):
    chord = math.hypot(x, y)
    if chord < 0.01:
        return
    radius = max(radius, chord / 2 * 1.001)
    path = places(f"G{2 if clockwise else 3} X{x:.6f} Y{y:.6f} R{-radius if long_way else radius:.6f}")
    assert path[-1][:2] == (pytest.approx(x, abs=1e-6), pytest.approx(y, abs=1e-6))
    way = sum(math.dist(a, b) for a, b in pairwise([(0.0, 0.0, 10.0), *path]))
    half = math.pi * radius
    assert (way > half * 0.99) if long_way else (way < half * 1.01)


ARC_FAULTS = {
    "no centre": "G2 X10 Y0",
    "both": "G2 X10 Y0 I5 R5",
    "a K in this plane": "G2 X10 Y0 I5 K1",
    "no circle": "G2 X10 Y0 I4 J0",
    "too small a radius": "G2 X10 Y0 R4",
    "nowhere": "G2 X0 Y0 R4",
    "machine coordinates": "G53 G2 X10 Y0 I5",
    "no feed": ("G21 G90\nG0 X0 Y0 Z10\n", "G2 X10 Y0 I5"),
    "a cycle without its depth": "G81 X5 R2",
    "above its hole": "G81 X5 Y5 R2 Z5",
    "no pause": "G82 X5 Z-5 R2",
    "no peck": "G83 X5 Z-5 R2",
    "a peck of nothing": "G83 X5 Z-5 R2 Q0",
    "half a time": "G81 X5 Z-5 R2 L0.5",
    "a tap standing still": "G84 X5 Z-5 R2",
    "nothing to drill at": "G81 R2",
}


@pytest.mark.parametrize("text", ARC_FAULTS.values(), ids=ARC_FAULTS)
def test_what_is_no_arc_or_no_hole_is_refused_by_its_line(text):
    start, text = text if isinstance(text, tuple) else (START, text)
    with pytest.raises(ProgramError) as caught:
        moves(text, start)
    assert caught.value.code == "syntax"
    assert caught.value.line == start.count("\n") + 1


def test_a_plain_line_after_an_arc_wants_its_centre_anew():
    with pytest.raises(ProgramError):
        places("G2 X10 Y0 I5\nX20 Y0")
    assert places("G2 X10 Y0 I5\nG1 X20 Y0")[-1] == (20.0, 0.0, 10.0)


def log(text, start=START):
    return moves(text, start)[1]


def test_g81_drills_and_comes_back_to_where_it_was():
    assert log("G98 G81 X4 Y5 Z-1.5 R2.8") == [
        ("move", (4.0, 5.0, 10.0), None), ("move", (4.0, 5.0, 2.8), None),
        ("move", (4.0, 5.0, -1.5), 200.0), ("move", (4.0, 5.0, 10.0), None),
    ]  # fmt: skip
    assert log("G99 G81 X4 Y5 Z-1.5 R2.8\nX9\nG80")[3:] == [
        ("move", (4.0, 5.0, 2.8), None), ("move", (9.0, 5.0, 2.8), None),
        ("move", (9.0, 5.0, -1.5), 200.0), ("move", (9.0, 5.0, 2.8), None),
    ]  # fmt: skip


def test_g81_in_increments_repeats_along_a_row():
    """The standard's own example: G91 G81 G98 X4 Y5 Z-0.6 R1.8 L3 from (1, 2, 3)."""
    found = log("G91 G81 G98 X4 Y5 Z-0.6 R1.8 L3", "G21 G90 F200\nG0 X1 Y2 Z3\n")
    drilled = [row[1] for row in found if row[2] == 200.0]
    assert [place[:2] for place in drilled] == [(5.0, 7.0), (9.0, 12.0), (13.0, 17.0)]
    assert all(place[2] == pytest.approx(4.2) for place in drilled)
    assert found[0] == ("move", (1.0, 2.0, 4.8), None)  # below R at first: up to it once
    assert all(row[1][2] == pytest.approx(4.8) for row in found if row[2] is None)


def test_a_peck_clears_the_hole_and_goes_on_a_little_above_where_it_was():
    found = log("G99 G83 X0 Y0 Z-5 R1 Q2.5")
    assert found == [
        ("move", (0.0, 0.0, 1.0), None),
        ("move", (0.0, 0.0, -1.5), 200.0), ("move", (0.0, 0.0, 1.0), None), ("move", (0.0, 0.0, -1.246), None),
        ("move", (0.0, 0.0, -4.0), 200.0), ("move", (0.0, 0.0, 1.0), None), ("move", (0.0, 0.0, -3.746), None),
        ("move", (0.0, 0.0, -5.0), 200.0), ("move", (0.0, 0.0, 1.0), None),
    ]  # fmt: skip


def test_pauses_taps_and_bores_do_what_their_numbers_say():
    assert ("dwell", 0.5) in log("G82 X1 Z-1 R2 P0.5")
    tap = log("S300 M3\nG99 G84 X1 Z-1 R2")
    turns = [row for row in tap if row[0] == "spindle"]
    assert turns == [("spindle", 1, 300.0), ("spindle", -1, 300.0), ("spindle", 1, 300.0)]
    assert tap[-2] == ("move", (1.0, 0.0, 2.0), 200.0)
    assert log("G99 G85 X1 Z-1 R2")[-1] == ("move", (1.0, 0.0, 2.0), 200.0)
    assert ("dwell", 0.2) in log("G89 X1 Z-1 R2 P0.2")
    stopped = [row for row in log("S300 M3\nG86 X1 Z-1 R2 P0") if row[0] == "spindle"]
    assert stopped[1:] == [("spindle", 0, 0.0), ("spindle", 1, 300.0)]


def test_numbers_of_a_cycle_are_kept_until_another_motion():
    assert places("G81 X1 Z-1 R2\nX2")[-2] == (2.0, 0.0, -1.0)
    with pytest.raises(ProgramError, match="takes R"):
        moves("G81 X1 Z-1 R2\nG0 X5\nG81 X2 Z-1")


def test_home_is_reached_by_way_of_the_place_programmed():
    assert places("G28 X3 Y4 Z8") == [(3.0, 4.0, 8.0), (0.0, 0.0, 0.0)]
    assert places("#5181 = 7 #5183 = 9\nG30") == [(7.0, 0.0, 9.0)]
    assert places("G91 G28 Z0\nG90 G0 X5") == [(0.0, 0.0, 10.0), (0.0, 0.0, 0.0), (5.0, 0.0, 0.0)]


def test_a_part_program_with_all_of_them_is_rehearsed_whole():
    text = (
        "G21 G90 G17 G94 G40 G49 G80\nT2 M6\nS2000 M3\nG53 G0 Z0\nG0 X300 Y100\n"
        "G43 H2\nG1 Z-250 F800\nG2 X320 Y120 I20 J0\nG3 X300 Y100 R20\nG99 G81 X310 Y110 Z-260 R-245 F150\n"
        "X330\nG98 G83 X350 Z-270 R-245 Q5\nG80\nM5\nG49\nG91 G28 Z0\nG90\nM30\n"
    )
    found = rehearse(text, MACHINE, table(drill()))
    assert not [p for p in found.problems if p.severity == "stop"], found.problems
    assert found.duration_s > 20
    wrong = rehearse(text.replace("X350 Z-270 R-245 Q5", "X720 Y60 Z-460 R-245 Q50"), MACHINE, table(drill()))
    assert {"collision"} & {p.code for p in wrong.problems}  # a hole drilled into the setter is seen
    elsewhere = rehearse(text.replace("G40", "G41"), MACHINE, table(drill()))
    assert elsewhere.problems[0].code == "unsupported" and elsewhere.problems[0].line == 1
