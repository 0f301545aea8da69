"""Programs of strangers on mill, router and lathe: a hundred unsound ones stopped for the right reason, forty sound
ones not.
"""

import json

import pytest

from nonna import demo
from nonna.shop.cards.machine import Machine, Tools
from nonna.stations.lathe.rehearsal import rehearse as rehearse_lathe
from nonna.stations.mill.standin.rehearsing import rehearse
from tests.support.dialects import PLAIN_OR_BRANCHING


def card(name, **more):
    return {**json.loads((demo.FOLDER / "machines" / f"{name}.json").read_text()), **more}


def held(name, **by_number):
    rows = json.loads((demo.FOLDER / "tools" / f"{name}.json").read_text())["tools"]
    rows = [{**row, **by_number.get(f"T{row['number']}", {})} for row in rows]
    return Tools.model_validate({"format": "nonna-tools/1", "tools": rows})


def found(text, name="larch", branching=False, machine=None, tools=None):
    on = Machine.model_validate(machine or card(name))
    run = rehearse_lathe if on.kind == "lathe" else rehearse
    return run(text.replace("|", "\n"), on, tools or held(name), dialect=PLAIN_OR_BRANCHING[bool(branching)]).problems


P = "G21 G90 G94|"
END = "G53 G0 Z0|M2"
UP = "M5|G53 G0 Z0|M2"
OVER = "G53 G0 X720 Y60|"
# each down to its touch, then up: drill 8.5, end mill 16 (off centre), face mill 63, ball 6, end mill 4, saw 80
T2 = f"{P}T2 M6|G4 P3|{OVER}G53 G0 Z-335|"
FIND = "G38.2 Z-345 F100|G91 G0 Z1|G90|G38.2 Z-345 F20|"
T5 = f"{P}T5 M6|G53 G0 X727.2 Y60|G53 G0 Z-355|S500 M4|G4 P2|G38.2 Z-365 F2|G91 G0 Z2|G90|"
SIDE5 = f"{P}T5 M6|G53 G0 X740 Y60|G53 G0 Z-366|S500 M4|G4 P2|G38.2 X730 F5|G91 G0 X3|G90|"
B = P  # the branching dialect
SEARCH = "G31 Z-345 F100|IF [ABS[#5063 + 345] LT 0.01] GOTO 9|"
STOP = "N9 M5|G53 G0 Z0|M0 (no trigger)|M2"
BOX = {"obstacles": [{"name": "vice", "box_mm": [[220, 150, -512.4], [420, 320, -420]]}]}
HAND = {"pocket_count": 0}

SPEED = {
    "a face mill at 60,000": f"{P}T4 M6|M3 S60000|G4 P1|M5|M2",
    "backwards, too": f"{P}T4 M6|S10001 M4|G4 P1|M5|M2",
    "speed raised while it turns": f"{P}T4 M6|S900 M3|G4 P1|S20000|G4 P1|M5|M2",
    "speed raised on a move": f"{P}T4 M6|S900 M3|G1 X400 F500 S20000|M5|M2",
    "started without a speed": f"{P}T4 M6|M3|G4 P1|M5|M2",
    "backwards without a speed": f"{P}T4 M6|M4|G4 P1|M5|M2",
    "a speed of nothing": f"{P}T4 M6|S0 M3|G4 P1|M5|M2",
    "by a parameter": f"{P}T4 M6|#100 = 30000|S#100 M3|G4 P1|M5|M2",
    "one turn too many": f"{P}T2 M6|S10000.5 M3|M5|M2",
}
CONFLICT = {
    "two ways at once": f"{P}T2 M6|S500 M3 M5|{UP}", "stop and start": f"{P}T2 M6|S500 M5 M4|{UP}",
    "rapid and feed": f"{P}G0 G1 X400 F100|M2", "rapid and probe": f"{P}{OVER}G0 G38.2 Z-300 F100|M2",
    "changed twice": f"{P}T2 M6 M6|M2", "two ends": f"{P}M2 M30", "pause and end": f"{P}M0 M2",
    "two planes": f"{P}G17 G18|G17|M2", "two units": f"{P}G20 G21|M2", "two distances": f"{P}G90 G91|G90|M2",
    "two offsets": f"{P}G54 G55|G54|M2", "length on and off": f"{P}T2 M6|G43 G49 H2|M2",
    "an arc both ways": f"{P}G2 G3 X410 Y250 I5 F100|M2",
    "dwell and shift": f"{P}G4 G92 X0 P1|M2", "home twice": f"{P}G28 G30|M2",
    "a shift and a move": f"{P}G92 G0 X10|G92.1|M2",
    "home and a move": f"{P}G28 G1 X10 F100|M2", "coolant on and off": f"{P}M8 M9|M2",
    "override both": f"{P}M48 M49|M2",
    "oriented and turning": f"{P}T2 M6|S500 M3 M19|{UP}",
}  # fmt: skip
IGNORED = {
    "an offset number with P": f"{P}G54 P10|M2", "a radius on a line": f"{P}G1 X410 R5 F100|M2",
    "a turned system": f"{P}G10 L2 P1 X0 R45|M2",
    "a length number alone": f"{P}T2 M6|H2|M2", "a centre on a line": f"{P}G1 X410 I5 F100|M2",
    "a peck without a cycle": f"{P}G0 X410 Q2|M2",
    "a time without a dwell": f"{P}G0 X410 P2|M2", "repeats of a line": f"{P}G0 X410 L3|M2",
    "K on a rapid": f"{P}G0 X410 K1|M2",
    "a radius on a search": f"{T2}G38.2 Z-345 F100 R2|{END}", "H with a probe": f"{T2}G38.2 Z-345 F100 H2|{END}",
}  # fmt: skip
WRITTEN = {
    "half a spindle word": (f"{P}M5.9|M2", "syntax"),
    "a probe word nobody has": (f"{P}{OVER}G38.24 Z-300 F100|M2", "unsupported"),
    "digits of another alphabet": (f"{P}G0 X٤١٠|M2", "syntax"), "wide digits": (f"{P}G0 X４１０|M2", "syntax"),
    "a letter that looks alike": (f"{P}G0 Х410|M2", "syntax"), "X twice": (f"{P}G0 X410 X420|M2", "syntax"),
    "F twice": (f"{P}G1 X410 F100 F200|M2", "syntax"), "a dwell without time": (f"{P}G4|M2", "syntax"),
    "a dwell back in time": (f"{P}G4 P-1|M2", "syntax"), "G53 without a place": (f"{P}G53|M2", "syntax"),
    "G53 on an arc": (f"{P}G53 G2 X410 Y250 I5 F100|M2", "syntax"), "a number inside": (f"{P}G0 N5 X410|M2", "syntax"),
    "half a tool": (f"{P}T2.5 M6|M2", "syntax"), "half a length": (f"{P}T2 M6|G43 H2.5|G49|M2", "syntax"),
    "the system by its parameter": (f"{P}#5220 = 2|M2", "unsupported"),
    "inverse time": ("G21 G90 G93|M2", "unsupported"),
}  # fmt: skip
INSIDE = {
    "a longer tool down at the setter": f"{P}T11 M6|{OVER}G53 G0 Z-375|T2 M6|{END}",
    "a longer tool in the vice": f"{P}T11 M6|G53 G0 X300 Y200|G53 G0 Z-340|T2 M6|{END}",
    "a wide one beside the setter": f"{P}T14 M6|G53 G0 X735 Y60|G53 G0 Z-395|T4 M6|{END}",
    "a holder into the vice": f"{P}T14 M6|G53 G0 X210 Y140|G53 G0 Z-375|T5 M6|{END}",
}
PRESSED = {
    "sideways over the pad": f"{T2}G38.2 Z-345 F300|G1 X722 F100|{END}",
    "on a slant off it": f"{T2}G38.2 Z-345 F300|G53 G0 X722 Z-300|{END}",
    "the end": f"{T2}G38.2 Z-345 F300|M2", "the end of all": f"{T2}G38.2 Z-345 F300|M30",
    "a change": f"{T2}G38.2 Z-345 F300|T3 M6|{END}",
    "down from the side": f"{SIDE5.replace('G91 G0 X3|G90|', 'G91 G1 Z-1 F50|G90|')}{UP}",
    "up from the side": f"{SIDE5.replace('G91 G0 X3|G90|', '')}{UP}",
    "met on a slant": f"{T2}G38.2 X722 Z-345 F100|{END}",
    "searched again while pressed": f"{T2}G38.2 Z-345 F300|G38.2 Z-346 F20|{END}",
}  # fmt: skip
UNGUARDED = {
    "the wrong way round": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|G31 Z-345 F100|IF [#5063 GT -344.5] GOTO 9|#500 = "
    f"#5063|G53 G0 Z0|M2|{STOP}",
    "never compared": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|G31 Z-345 F100|#500 = #5063|G53 G0 Z0|M2",
    "another axis": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|G31 Z-345 F100|IF [ABS[#5061 + 345] LT 0.01] GOTO 9|#500 = "
    f"#5063|G53 G0 Z0|M2|{STOP}",
    "a lower end": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|G31 Z-345 F100|IF [#5063 LT -345.5] GOTO 9|#500 = #5063|G53 G0 "
    f"Z0|M2|{STOP}",
    "it goes on with its eyes open": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|{SEARCH}#500 = #5063|G53 G0 Z0|M2|"
    f"N9 G53 G0 Z0|T3 M6|M2",
    "sideways after a miss": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|{SEARCH}#500 = #5063|G53 G0 Z0|M2|N9 G53 G0 "
    "X700|M0|M2",
    "down after a miss": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|{SEARCH}#500 = #5063|G53 G0 Z0|M2|N9 G53 G0 Z-400|M0|M2",
    "both wait for a person, the wrong one goes on": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|G31 Z-345 F100|"
    f"IF [#5063 GT -344.5] GOTO 9|#500 = #5063|G53 G0 Z0|M0|T14 M6|G4 P3|{OVER}G53 G0 Z-355|G31 Z-367 F100|"
    f"IF [ABS[#5063 + 367] LT 0.01] GOTO 9|#501 = #5063|G53 G0 Z0|M2|N9 G53 G0 Z0|M0|M2",
    "a label that is not there": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|G31 Z-345 F100|IF [ABS[#5063 + 345] LT 0.01] "
    "GOTO 8|#500 = #5063|G53 G0 Z0|M2",
    "a label that stands twice": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|{SEARCH}#500 = #5063|G53 G0 Z0|M2|{STOP}|N9 M2",
    "a jump round the check": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|G31 Z-345 F100|GOTO 7|IF [ABS[#5063 + 345] LT 0.01] "
    f"GOTO 9|N7 #500 = #5063|G53 G0 Z0|M2|{STOP}",
}
WRONG_END = {
    "a hollow face mill at its middle": f"{P}T4 M6|G4 P3|{OVER}G53 G0 Z-386|G38.2 Z-395 F50|{END}",
    "a drill on its flank": f"{P}T3 M6|G4 P3|G53 G0 X731 Y60|G53 G0 Z-340|S500 M4|G4 P1|G38.2 Z-380 F5|{UP}",
    "a ball on its shoulder": f"{P}T9 M6|G4 P3|G53 G0 X729 Y60|G53 G0 Z-375|S500 M4|G4 P1|G38.2 Z-390 F5|{UP}",
    "a saw on its screw": f"{P}T7 M6|G4 P3|{OVER}G53 G0 Z-380|G38.2 Z-405 F50|{END}",
    "an end mill's side on its round corner": (
        f"{P}T5 M6|G53 G0 X740 Y60|G53 G0 Z-361|S500 M4|G4 P2|G38.2 X730 F5|G91 G0 X3|G90|{UP}",
        {"T5": {"kind": "bull-mill", "corner_radius_mm": 6}},
    ),
    "a ball's side too high": f"{P}T9 M6|G53 G0 X735 Y60|G53 G0 Z-381.5|S500 M4|G4 P2|G38.2 X725 F5|G91 G0 X3|G90|{UP}",
    "a drill's side on its point": f"{P}T2 M6|G53 G0 X735 Y60|G53 G0 Z-340.9|S500 M4|G4 P2|G38.2 X722 F5|G91 G0 "
    f"X3|G90|{UP}",
    "a chamfer on its cone": (
        f"{P}T5 M6|G53 G0 X731 Y60|G53 G0 Z-350|S500 M4|G4 P2|G38.2 Z-368 F5|{UP}",
        {"T5": {"kind": "chamfer-mill", "tip_diameter_mm": 4}},
    ),
}
SPINDLE = {
    "touched while it runs down": f"{P}T5 M6|G53 G0 X727.2 Y60|G53 G0 Z-355|S10000 M3|G4 P1|M5|G4 P0.5|G38.2 Z-365 "
    f"F50|{END}",
    "a drill, hardly stopped": f"{P}T2 M6|{OVER}G53 G0 Z-335|S10000 M3|M5|G4 P0.5|G38.2 Z-345 F100|{END}",
}
LENGTH = {
    "forgotten after a change": f"{P}T2 M6|G43 H2|G0 X300 Y400|G0 Z-150|G53 G0 Z0|T3 M6|G0 Z-20|G53 G0 Z0|G49|M2",
    "switched off by what was put in": f"{P}T5 M6|G43 H5|S500 M3|G0 X300 Y400|G0 Z-150|G53 G0 Z0|G49|G1 Z-60 F500|{UP}",
    "never on, cutting": f"{P}T5 M6|S500 M3|G0 X600 Y400|G1 Z-60 F500|{UP}",
}
TABLE_AND_REST = {
    "into the table": (f"{P}T2 M6|G53 G0 X600 Y400|G53 G0 Z-405|{END}", "rapid-contact"),
    "fed into the table": (f"{P}T5 M6|S500 M3|G53 G0 X600 Y400|G53 G1 Z-425 F200|{UP}", "collision"),
    "a slash block that crashes": (f"{T2}/G53 G0 Z-345|{FIND}{END}", "rapid-contact"),
    "a slash jump": (f"{B}T2 M6|/GOTO 7|{END}|N7 G53 G0 Z-500|M2", "out-of-travel rapid-contact"),
}

MILL = [
    *((f"speed: {n}", t, "overspeed", {}) for n, t in SPEED.items()),
    ("speed: more than the tool may", f"{P}T4 M6|S900 M3|M5|M2", "overspeed",
        {"tools": held("larch", T4={"max_rpm": 800})}),
    *((f"conflict: {n}", t, "modal-conflict", {}) for n, t in CONFLICT.items()),
    *((f"ignored: {n}", t, "ignored-word", {}) for n, t in IGNORED.items()),
    *((f"written: {n}", t, wanted, {}) for n, (t, wanted) in WRITTEN.items()),
    *((f"inside: {n}", t, "inside-box", {}) for n, t in INSIDE.items()),
    *((f"pressed: {n}", t, "sideways-touch", {}) for n, t in PRESSED.items()),
    *((f"unguarded: {n}", t, "unguarded", {"branching": True}) for n, t in UNGUARDED.items()),
    *((f"wrong end: {n}", t if isinstance(t, str) else t[0], "wrong-end",
        {} if isinstance(t, str) else {"tools": held("larch", **t[1])}) for n, t in WRONG_END.items()),
    *((f"spindle: {n}", t, "spindle-running", {}) for n, t in SPINDLE.items()),
    *((f"length: {n}", t, "no-compensation", {}) for n, t in LENGTH.items()),
    *((f"rest: {n}", t, wanted, {"branching": "GOTO" in t}) for n, (t, wanted) in TABLE_AND_REST.items()),
    ("hand change while turning", f"{P}T2 M6|S500 M3|T3 M6|M5|M2", "change-while-turning",
        {"machine": card("larch", **HAND)}),
]  # fmt: skip
ROUTER = [
    ("a pocket too many", f"{P}T9 M6|M2", "no-such-tool"),
    ("a pocket too many, touched", f"{P}T12 M6|G53 G0 X120 Y1120|G38.2 Z-130 F100|{END}", "no-such-tool"),
    ("far too fast", f"{P}T1 M6|S24000 M3|G4 P1|M5|M2", "overspeed"),
    ("into the bed", f"{P}T5 M6|S9000 M3|G53 G0 X900 Y600|G53 G1 Z-130 F900|{UP}", "collision"),
    ("a change down in the plate", f"{P}T4 M6|G53 G0 X120 Y1120|G53 G0 Z-120|T5 M6|{END}", "inside-box"),
    ("the end on the plate", f"{P}T1 M6|G4 P3|G53 G0 X120 Y1120|G53 G0 Z-120|G38.2 Z-130 F200|M2", "sideways-touch"),
    (
        "beside the plate, still",
        f"{P}T2 M6|G4 P3|G53 G0 X151 Y1120|G53 G0 Z-108|G38.2 Z-120 F60|{END}",
        "spinning-wrong-way",
    ),
]
TURN = (
    "G21 G90 G94|G53 G0 X40 Z460|T3 M6|M3 S800|G53 G0 X-80|G53 G0 Z-30|G53 G1 X-88 F200|G53 G1 Z-40|G53 "
    "G1 X-75|G53 G0 X40|G53 G0 Z460|M5|M30"
)
DRILL = (
    "G21 G90 G94|G53 G0 X40 Z460|T7 M6|M3 S800|G53 G0 X-125.9|G53 G0 Z-32|G53 G1 Z-45 F100|G53 G0 "
    "Z-30|G53 G0 Z460|G53 G0 X40|M5|M30"
)
ARM = (
    "G21 G90 G94|G53 G0 X40 Z460|T3 M6|M61|G53 G1 X18.36 F2000|G53 G1 Z187.49|G38.2 X4.36 F100|G53 G1 "
    "X18.36 F500|G53 G1 Z460|G53 G1 X40|M62|M30"
)
LATHE = [
    ("the chuck at 60,000", "G21 G90 G94|T3 M6|M3 S60000|G4 P1|M5|M30", "overspeed", {}),
    ("the chuck without a speed", "G21 G90 G94|T3 M6|M3|G4 P1|M5|M30", "overspeed", {}),
    ("a tool by four digits alone", TURN.replace("T3 M6", "T0303"), "unsupported", {}),
    ("a tool by T alone", TURN.replace("T3 M6", "T3"), "unsupported", {}),
    ("M6 where the card has none", TURN, "unsupported",
        {"machine": card("willow", control={"tool_call": "T{tool:02}{offset:02}"})}),
    ("another tool's offset", TURN.replace("T3 M6", "T0305"), "wrong-tool",
        {"machine": card("willow", control={"tool_call": "T{tool:02}{offset:02}"})}),
    ("the stylus missed in Y", ARM.replace("M61|", "M61|G53 G1 Y12 F2000|").replace("M62", "G53 G1 Y0|M62"),
        "no-trigger", {}),
    ("the arm beside a running chuck", ARM.replace("M61|", "M3 S4500|G4 P1|M5|M61|"), "spindle-running", {}),
    ("a drill sideways in the bar", DRILL.replace("G53 G0 Z-30|G53 G0 Z460", "G53 G1 X-115|G53 G0 Z460"), "collision",
        {}),
    ("a drill in at rapid", DRILL.replace("G53 G1 Z-45 F100", "G53 G0 Z-45"), "rapid-contact", {}),
    ("a drill that stands in the bar", DRILL.replace("M3 S800|", ""), "collision", {}),
    ("a drill into the chuck", DRILL.replace("Z-45", "Z-65"), "collision", {}),
    ("two spindle words", TURN.replace("M3 S800", "M3 M4 S800"), "modal-conflict", {}),
    ("a word too many", TURN.replace("G53 G1 Z-40", "G53 G1 Z-40 R2"), "ignored-word", {}),
    ("changed inside the bar", TURN.replace("G53 G1 Z-40|", "G53 G1 Z-40|T5 M6|"), "inside-box index-too-close", {}),
]  # fmt: skip


def stops(problems):
    return {p.code for p in problems if p.severity == "stop"}


def test_there_are_a_hundred_of_them():
    assert len(MILL) + len(ROUTER) + len(LATHE) >= 100
    assert len(SOUND) + len(SOUND_BRANCH) >= 40


@pytest.mark.parametrize(("text", "wanted", "more"), [row[1:] for row in MILL], ids=[row[0] for row in MILL])
def test_unsound_on_the_mill(text, wanted, more):
    assert stops(found(text, **more)) & set(wanted.split()), found(text, **more)


@pytest.mark.parametrize(("text", "wanted"), [row[1:] for row in ROUTER], ids=[row[0] for row in ROUTER])
def test_unsound_on_the_router(text, wanted):
    assert wanted in stops(found(text, "rowan")), found(text, "rowan")


@pytest.mark.parametrize(("text", "wanted", "more"), [row[1:] for row in LATHE], ids=[row[0] for row in LATHE])
def test_unsound_on_the_lathe(text, wanted, more):
    assert stops(found(text, "willow", **more)) & set(wanted.split()), found(text, "willow", **more)


@pytest.mark.parametrize("word", ["G10 L2 P2 X5", "G18", "M49", "G92 X5"])
def test_what_is_left_otherwise_is_said(word):
    assert {p.code for p in found(f"{P}{word}|M2")} == {"offset-not-restored"}


MORE_FEED = "G38.2 Z-345 F60|G91 G1 Z0.5 F300|G90|G38.2 Z-345 F10|"
SOUND = {
    "twice, fast and slow": f"{T2}{FIND}#100 = #5063|{END}", "no blanks": f"{T2}{FIND}{END}".replace(" ", ""),
    "lower case": f"{T2}{FIND}{END}".lower(), "N everywhere": "|".join(f"N{i} {b}" for i,
        b in enumerate(f"{T2}{FIND}{END}".split("|"), 10)),
    "feeds as moves back": f"{T2}{MORE_FEED}{END}", "with comments": f"{T2}(down we go){FIND}(up){END}",
    "percent signs": f"%|{T2}{FIND}{END}|%",
    "modal words": f"{P}T2 M6|G4 P3|G53 G0 X720 Y60|G53 Z-335|{FIND}{END}".replace("G53 Z", "G53 G0 Z"),
    "spindle stopped first": f"{P}M5|T2 M6|G4 P3|{OVER}G53 G0 Z-335|{FIND}{END}",
    "a dwell at the bottom": f"{T2}G38.2 Z-345 F100|G4 P0.2|G91 G0 Z3|G90|{END}",
    "a pause to look": f"{T2}M0 (look)|{FIND}{END}", "an optional pause": f"{T2}M1|{FIND}{END}",
    "an edge turning backwards": f"{T5}{UP}",
    "a side turning backwards": f"{SIDE5}{UP}",
    "stopped, waited, touched": f"{P}T2 M6|S8000 M3|G4 P1|M5|G4 P3|{OVER}G53 G0 Z-335|{FIND}{END}",
    "stopped, looked at, touched": f"{P}T2 M6|S8000 M3|G4 P1|M5|M0 (does it stand?)|{OVER}G53 G0 Z-335|{FIND}{END}",
    "with its length": f"{P}T2 M6|G43 H2|G0 X720 Y60|G0 Z-447|G38.2 Z-457 F50|G53 G0 Z0|G49|M2",
    "with its length by T": f"{P}T2 M6|G43|G0 X720 Y60|G0 Z-447|G38.2 Z-457 F50|G53 G0 Z0|G49|M2",
    "two tools, two lengths": f"{P}T2 M6|G43 H2|G0 X600 Y400|G0 Z-300|G53 G0 Z0|T3 M6|G43 H3|G0 Z-300|G53 G0 Z0|G49|M2",
    "cutting air": f"{P}T5 M6|G43 H5|S2000 M3|G0 X600 Y400|G0 Z-350|G1 Z-380 F300|X620|G0 Z-300|M5|G53 G0 Z0|G49|M2",
    "an arc": f"{P}T5 M6|G43 H5|S2000 M3|G0 X600 Y400 Z-300|G2 X620 Y400 I10 J0 F500|M5|G53 G0 Z0|G49|M2",
    "holes": f"{P}T2 M6|G43 H2|S2000 M3|G0 X600 Y400 Z-300|G81 X610 Y400 Z-320 R-305 F200|X620|G80|M5|G53 G0 Z0|G49|M2",
    "a peck": f"{P}T2 M6|G43 H2|S2000 M3|G0 X600 Y400 Z-300|G83 X610 Y400 Z-320 R-305 Q5 F200|G80|M5|G53 G0 Z0|G49|M2",
    "inches and back": "G20 G90 G94|T2 M6|G4 P3|G53 G0 X28.3465 Y2.3622|G53 G0 Z-13.2|G38.2 Z-13.5 F4|G53 G0 Z0|G21|M2",
    "another system and back": f"{T2}G55|G54|{FIND}{END}",
    "a shift taken back": f"{T2}{FIND}{END}".replace("G53 G0 Z0", "G92 X0|G92.1|G53 G0 Z0"),
    "a harmless slash block": f"{T2}/M8|{FIND}M9|{END}", "coolant": f"{T2}M8|M9|{FIND}{END}",
    "the spindle emptied": f"{T2}{FIND}G53 G0 Z0|T0 M6|M2",
    "the next one asked for": f"{T2}T3|{FIND}G53 G0 Z0|M6|M2",
    "the end mill at its middle": f"{P}T11 M6|G4 P3|{OVER}G53 G0 Z-384|G38.2 Z-392 F60|G91 G0 Z2|G90|{END}",
    "the ball at its middle": f"{P}T9 M6|G4 P3|{OVER}G53 G0 Z-376|G38.2 Z-384 F60|G91 G0 Z2|G90|{END}",
    "past the vice": f"{P}T2 M6|G53 G0 Z-250|G53 G0 X100 Y100|{END}",
    "a drill a little off centre": f"{P}T2 M6|G4 P3|G53 G0 X721.5 Y60|G53 G0 Z-335|{FIND}{END}",
    "parameters": f"{T2}#100 = [-345]|G38.2 Z#100 F[50 + 50]|G91 G0 Z2|G90|{END}",
    "a saw under its rim": f"{P}T7 M6|G53 G0 X759 Y60|G53 G0 Z-393|S198 M4|G4 P2|G38.2 Z-402 F2|G91 G0 Z2|G90|{UP}",
}  # fmt: skip
SOUND_BRANCH = {
    "a person is waited for either way": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|G31 Z-345 F100|"
    f"IF [ABS[#5063 + 345] LT 0.01] GOTO 9|#500 = #5063|G53 G0 Z0|M0|T14 M6|G4 P3|{OVER}G53 G0 Z-355|"
    f"G31 Z-367 F100|IF [ABS[#5063 + 367] LT 0.01] GOTO 9|#501 = #5063|G53 G0 Z0|M2|N9 G53 G0 Z0|M0|M2",
    "guarded": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|{SEARCH}G91 G0 Z1|G90|G31 Z-345 F20|IF [ABS[#5063 + 345] LT 0.01] "
    f"GOTO 9|#500 = #5063|G53 G0 Z0|M2|{STOP}",
    "guarded the other way": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|G31 Z-345 F100|IF [#5063 GT -344.9] GOTO 5|M5|G53 G0 "
    "Z0|M0 (nothing there)|M2|N5 #500 = #5063|G91 G0 Z2|G90|G53 G0 Z0|M2",
    "a guarded approach": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-300|G31 Z-335 F800|IF [#5063 GT -334.9] GOTO 9|{SEARCH}#500 "
    f"= #5063|G91 G0 Z2|G90|G53 G0 Z0|M2|{STOP}",
    "an alarm that only ends": f"{B}T2 M6|G4 P3|{OVER}G53 G0 Z-335|{SEARCH}#500 = #5063|G91 G0 Z2|G90|G53 G0 Z0|M2|N9 "
    "M5|G53 G0 Z0|M30",
}


@pytest.mark.parametrize("name", SOUND)
def test_sound_on_the_mill(name):
    assert found(SOUND[name]) == ()


@pytest.mark.parametrize("name", SOUND_BRANCH)
def test_sound_with_jumps(name):
    assert found(SOUND_BRANCH[name], branching=True) == ()


def test_sound_on_the_router():
    text = f"{P}T1 M6|G4 P3|G53 G0 X120 Y1120|G53 G0 Z-120|G38.2 Z-130 F200|G91 G0 Z3|G90|{END}"
    assert found(text, "rowan") == ()


@pytest.mark.parametrize("text", [TURN, DRILL, ARM], ids=["turning", "drilling", "on the arm"])
def test_sound_on_the_lathe(text):
    assert found(text, "willow") == ()
    offset = text.replace("T3 M6", "T0303").replace("T7 M6", "T0707")
    assert found(offset, "willow", machine=card("willow", control={"tool_call": "T{tool:02}{offset:02}"})) == ()
