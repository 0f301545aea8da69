"""The language of programs: what is read, what is refused with line and column, what it makes a machine do."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.errors import NonnaError
from nonna.metrology.safe_feeds import safe_feeds
from nonna.programs.language.blocks import parse, parse_line
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.expressions import resolve
from nonna.programs.writing.writer import Settings, write
from nonna.stations.mill.planning.choose import centre_will_do
from nonna.stations.mill.planning.touches import setter_calibration
from tests.support.examples import length_plan
from tests.support.plans import ran


def test_units_distance_and_feed():
    _, machine = ran("G20 G90 G0 X1 Y2\nG91 G1 X0.5 F10\nG21 X1\nG90 X0")
    assert machine.log == [
        ("move", (25.4, 50.8, 0.0), None),
        ("move", (38.1, 50.8, 0.0), 254.0),
        ("move", (39.1, 50.8, 0.0), 254.0),
        ("move", (0.0, 50.8, 0.0), 254.0),
    ]


def test_offsets_lengths_and_machine_coordinates():
    text = "#5221 = 100 #5223 = -20\nT3 M6\nG43 H3\nG90 G54 G0 X1 Z5\nG53 Z0\nG49 Z5\nG55 X1"
    state, machine = ran(text)
    assert [entry[1] for entry in machine.log if entry[0] == "move"] == [
        (101.0, 0.0, 5 - 20 + 98.77),
        (101.0, 0.0, 0.0),
        (101.0, 0.0, -15.0),
        (1.0, 0.0, -15.0),
    ]
    assert state.parameters[5220] == 2


def test_a_probe_leaves_its_trip_in_the_programs_coordinates():
    state, _ = ran("#5223 = -20\nG21 G90 F100\nG38.2 Z-60\n#1001 = [#5063 + #[5203 + 20 * #5220]]")
    assert state.parameters[5063] == pytest.approx(-30.0)
    assert state.parameters[1001] == pytest.approx(-50.0)
    with pytest.raises(ProgramError) as caught:
        ran("F100\nG38.2 Z-10")
    assert (caught.value.code, caught.value.line) == ("no-trigger", 2)


def test_spindle_tool_dwell_and_end():
    state, machine = ran("S500 M3\nM5\nT7 M6 G4 P0.5\nM4\nM2\nG0 X1")
    assert machine.log == [
        ("spindle", 1, 500),
        ("spindle", 0, 0.0),
        ("tool", 7),
        ("dwell", 0.5),
        ("spindle", -1, 500),
        ("end", 5),
    ]
    assert state.ended


def test_settings_take_effect_after_the_whole_block():
    state, _ = ran("#1 = 5\n#1 = [#1 + 1] #2 = #1")
    assert (state.parameters[1], state.parameters[2]) == (6, 5)


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("[1 + 2 * 3]", 7),
        ("[2 ** 3 ** 1]", 8),
        ("[[1 + 2] * 3]", 9),
        ("[7 mod 3]", 1),
        ("[-7 mod 3]", 2),
        ("-[2]", -2),
        ("sqrt[16]", 4),
        ("atan[1]/[1]", 45),
        ("sin[30]", 0.5),
        ("round[2.5]", 3),
        ("fix[-2.3]", -3),
        ("fup[2.1]", 3),
        ("abs[-3]", 3),
        ("#3", 30),
        ("#[1 + 2]", 30),
        ("##1", 20),
        ("[1 and 0]", 0),
        ("[1 or 0]", 1),
        ("[1 xor 1]", 0),
        ("exp[0]", 1),
        ("ln[1]", 0),
        ("acos[0]", 90),
        ("[10 / 4 - 1]", 1.5),
        ("-.5", -0.5),
        ("+3.", 3),
    ],
)
def test_expressions(text, value):
    block = parse_line(f"X {text}", 1)
    assert resolve(block.words[0].value, {1: 2.0, 2: 20.0, 3: 30.0}) == pytest.approx(value)


@given(a=st.floats(-1e3, 1e3), b=st.floats(-1e3, 1e3), c=st.floats(0.1, 1e3))
def test_expressions_work_out_what_arithmetic_says(a, b, c):
    text = f"X[[{a:.6f} + {b:.6f}] * {c:.6f} - {a:.6f} / {c:.6f}]"
    a, b, c = (float(f"{v:.6f}") for v in (a, b, c))
    assert resolve(parse_line(text, 1).words[0].value, {}) == pytest.approx((a + b) * c - a / c, abs=1e-9)


@pytest.mark.parametrize(
    ("text", "line", "column", "code"),
    [
        ("G0 X1\nG1 Q", 2, 5, "syntax"),
        ("G0 X1.2.3", 1, 7, "syntax"),
        ("G0 (half", 1, 4, "syntax"),
        ("G0 half)", 1, 8, "syntax"),
        ("#1 5", 1, 4, "syntax"),
        ("X[1 + ]", 1, 8, "syntax"),
        ("X[1", 1, 4, "syntax"),
        ("X[1 2]", 1, 5, "syntax"),
        ("U1", 1, 1, "unsupported"),
        ("G0 $5", 1, 4, "syntax"),
        ("X sin 30", 1, 6, "syntax"),
        ("X[foo]", 1, 6, "syntax"),
        ("X" + "[" * 60, 1, 43, "syntax"),
        ("G1 X" + "1" * 300, 1, 257, "syntax"),
        ("X atan[1]", 1, 10, "syntax"),
    ],
)
def test_malformed_blocks_are_refused_with_their_place(text, line, column, code):
    with pytest.raises(ProgramError) as caught:
        parse(text)
    assert (caught.value.code, caught.value.line) == (code, line)
    assert abs(caught.value.column - column) <= 2


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("G5 X1", "unsupported"),
        ("M99", "unsupported"),
        ("G0 G1 X1", "modal-conflict"),
        ("G20 G21", "modal-conflict"),
        ("X1 X2", "syntax"),
        ("X1", "syntax"),
        ("G1 X1", "syntax"),
        ("G53 G38.2 Z1 F1", "syntax"),
        ("F0", "syntax"),
        ("S-1", "syntax"),
        ("T1.5", "syntax"),
        ("#0 = 1", "syntax"),
        ("#100000 = 1", "syntax"),
        ("#1.5 = 1", "syntax"),
        ("X[1 / 0]", "syntax"),
        ("G0 X#[0 - 1]", "syntax"),
        ("G0 X sqrt[0 - 1]", "syntax"),
        ("G0 X[[0 - 8] ** 0.5]", "syntax"),
        ("G2 X1 I1", "syntax"),
        ("G41 X1", "unsupported"),
        ("G87 X1 Z-1 R1", "unsupported"),
    ],
)
def test_blocks_that_cannot_be_run_are_refused(text, code):
    with pytest.raises(ProgramError) as caught:
        ran(text)
    assert caught.value.code == code
    assert caught.value.where.startswith("line 1")


@given(st.text(alphabet="GMXYZFST#[]()=+-*/.0123456789 absincoqrt;%\n", max_size=60))
def test_no_text_crashes_the_interpreter(text):
    try:
        ran(text)
    except ProgramError as error:
        assert error.line >= 1


def test_comments_deleted_blocks_and_percent_signs():
    state, machine = ran("%\n(a comment) G0 (inside) X1\n/G0 X9\n\n#7 = 1 (set)\n%\nG0 X5")
    assert machine.log == [("move", (1.0, 0.0, 0.0), None)]
    assert state.parameters[7] == 1


def test_safe_feeds_stop_within_half_the_overtravel():
    for overtravel in (0.5, 2.0, 4.0):
        f = safe_feeds(
            overtravel_mm=overtravel, latency_s=0.002, jitter_s=0.0002, deceleration_mm_s2=500, accuracy_mm=0.001
        )
        v = f.fast_mm_min / 60
        assert v * 0.002 + v * v / 1000 <= overtravel / 2
        assert f.slow_mm_min / 60 * 0.0002 <= 0.001 / 3 + 1e-9
        assert f.slow_mm_min < f.fast_mm_min
    with pytest.raises(ValueError, match="above 0"):
        safe_feeds(overtravel_mm=0, latency_s=0, jitter_s=0, deceleration_mm_s2=1, accuracy_mm=1)


def test_which_tools_may_be_touched_at_their_centre():
    table = {
        ("drill", 20): True,
        ("end-mill", 6): True,
        ("end-mill", 6.1): False,
        ("face-mill", 63): False,
        ("ball-mill", 12): True,
    }
    for (kind, diameter), may in table.items():
        assert centre_will_do(kind, diameter, 14.0) is may
    assert not centre_will_do("end-mill", 4.0, 6.0)


def test_programs_say_what_they_do_and_leave_the_machine_as_it_was(shop):
    machine = shop.machine("larch")
    text = write(setter_calibration(machine, 140.0, 16.0, 3, 2))
    assert "FIRST RUN: rapid turned down, a finger on feed hold, doors shut" in text
    assert all(len(line) <= 256 for line in text.splitlines())
    blocks = parse(text)
    spoken = {w.letter + format(w.value, "g") for b in blocks for w in b.words if isinstance(w.value, float)}
    assert not {"g54", "g55", "m3", "m4", "g92"} & spoken
    assert write(length_plan(machine, shop.tools("larch").tools[:2])).count("M6") == 2
    assert "G61" in write(setter_calibration(machine, 140.0, 16.0, 3, 2), Settings(restore="G21 G90 G61"))


def test_what_does_not_fit_the_machine_is_refused(shop):
    machine = shop.machine("larch")
    with pytest.raises(NonnaError, match="outside the travel"):
        setter_calibration(machine, 600.0, 16.0, 3, 2)
    with pytest.raises(NonnaError, match="no setter"):
        setter_calibration(machine.model_copy(update={"setter": None}), 140.0, 16.0, 3, 2)
    assert math.isfinite(setter_calibration(machine, 140.0, 16.0, 3, 0).feeds.fast_mm_min)
