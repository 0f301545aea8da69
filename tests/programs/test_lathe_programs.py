"""Programs of the lathe: those it writes rehearse clean in both dialects; unsound ones are stopped for the right
reason.
"""

import json
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QDialog

from nonna.bench.book.writing import Signature
from nonna.bench.founding.interview import NONE, Interview
from nonna.bench.founding.open_questions import StillAsked, keep
from nonna.bench.job.planning import try_text
from nonna.bench.station.site import Site
from nonna.bench.tray.tray import Tray
from nonna.cli.main import run
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.form_dialog import FormDialog
from nonna.desk.tray.own_program import save_own
from nonna.errors import NonnaError
from nonna.stations.lathe.rehearsal import rehearse
from nonna.stations.lathe.tip_program import tip_check, tip_program
from nonna.wiring import new_shop
from nonna.wording.lengths import Units
from tests.support.dialects import BRANCH, PLAIN_OR_BRANCHING, RS274
from tests.support.hands import shown_dialog, shown_text, worked
from tests.support.lathe import LONGER, RADIUS, TIPS, TURRET, WILLOW, codes, machine, text_of, turret
from tests.support.tool_programs import tools_program

SIGNED = Signature("K. Amsel")

TURN = """G21 G90 G94
G53 G0 X40.000 Z460.000
T3 M6
M3 S800
G53 G0 X-80.000
G53 G0 Z-30.000
G53 G1 X-88.000 F200
G53 G1 Z-40.000
G53 G1 X-75.000
G53 G0 X40.000
G53 G0 Z460.000
M5
M30
"""  # turns the bar at 35.64 mm


def lathe(**more):
    return machine(lathe={**WILLOW["lathe"], **more})


def times(text, factor, letters):
    return re.sub(rf"([{letters}]\[?)(-?\d+\.?\d*)", lambda m: f"{m[1]}{float(m[2]) * factor:.4f}", text)


ON_RADIUS = turret(**{f"T{t['number']}": {"offset_x_mm": t["offset_x_mm"] / 2.0} for t in TURRET["tools"]})
SOUND = {
    **{f"T{n} {'branch' if b else 'plain'}": (lambda n=n,
        b=b: (text_of(n, branching=b), None, None, b)) for n in TIPS for b in (False, True)},
    "all plain": lambda: (text_of(), None, None, False),
    "all branch": lambda: (text_of(branching=True), None, None, True),
    "on radius": lambda: (text_of(on=RADIUS, tools=ON_RADIUS), RADIUS, ON_RADIUS, False),
    "in inches": lambda: (times(text_of(3), 1 / 25.4, "XZF").replace("G21", "G20").replace("M30", "G21\nM30"), None,
        None, False),
    "beside a tailstock": lambda: (text_of(3, 5), lathe(tailstock_z_mm=820.0), None, False),
    "away from the chuck": lambda: (text_of(3, tools=turret(T3={"edge": "outside-away"})), None,
        turret(T3={"edge": "outside-away"}), False),
    "back facing": lambda: (text_of(11, tools=turret(T11={"edge": "back"})), None, turret(T11={"edge": "back"}), False),
    "turning": lambda: (TURN, None, None, False),
    "facing to the middle": lambda: (TURN.replace("G53 G1 X-88.000 F200\nG53 G1 Z-40.000", "G53 G1 X-124.500 F200"),
        None, None, False),
}  # fmt: skip


@pytest.mark.parametrize("name", SOUND)
def test_sound_programs_are_let_through(name):
    text, on, tools, branching = SOUND[name]()
    stops, found = codes(text, on, tools, branching)
    assert stops == [], found.problems
    assert name.startswith(("turning", "facing")) or found.contacts


def cut(text, block):
    assert block in text
    return text.replace(block, "", 1)


def after(text, block, new):
    assert block in text
    return text.replace(block, f"{block}\n{new}", 1)


def searched(number, instead):
    """The first search of a tip made a plain move."""
    return re.sub(r"G38\.2 ", instead, text_of(number), count=1)


UNSOUND = {
    "arm never out": lambda: ("arm-not-out", cut(text_of(3), "M61 (ARM OUT)")),
    "arm never out, branch": lambda: ("arm-not-out", cut(text_of(5, branching=True), "M61 (ARM OUT)"), None, None,
        True),
    "arm left out": lambda: ("arm-left-out", cut(text_of(3), "M62 (ARM IN)")),
    "arm left out, branch": lambda: ("arm-left-out", cut(text_of(11, branching=True), "M62 (ARM IN)"), None, None,
        True),
    **{f"T{n} pushes on after its touch at {'rapid' if code == 'rapid-contact' else 'feed'}":
       (lambda n=n, code=code, word=word: (code, re.sub(r"(G38\.2 (\S+) F200)", rf"\1\n{word}\2", text_of(n), count=1)))
       for n in TIPS for code, word in (("rapid-contact", "G53 G0 "), ("collision", "G53 G1 "))},
    "slides along the face it touched": lambda: ("rapid-contact",
        text_of(3).replace("G38.2 X[4.360-#91] F200", "G38.2 X[4.360-#91] F200\nG53 G0 Z150.000", 1)),
    "arm swings while it turns": lambda: ("spindle-running", after(text_of(3), "T3 M6", "M3 S500")),
    "spindle beside the arm": lambda: ("spindle-running", after(text_of(3), "M61 (ARM OUT)", "M3 S500")),
    "spindle left on": lambda: ("spindle-running", TURN.replace("M5\n", "")),
    "two axes at once": lambda: ("wrong-axis",
        text_of(3).replace("G38.2 X[4.360-#91]", "G38.2 X[4.360-#91] Z180.000", 1)),
    "no axis moves": lambda: ("wrong-axis", text_of(3).replace("G38.2 X[4.360-#91]", "G38.2 X[18.360-#91]", 1)),
    **{f"T{n} fed into the arm": (lambda n=n: ("collision", searched(n, "G53 G1 "))) for n in TIPS},
    **{f"T{n} rushed into the arm": (lambda n=n: ("rapid-contact",
        re.sub(r"G38\.2 (\S+) F200", r"G53 G0 \1", text_of(n), count=1))) for n in TIPS},
    **{f"T{n} is longer than its table": (lambda n=n: ("collision", text_of(n), None, turret(**LONGER))) for n in (1, 3,
        9)},
    **{f"T{n} cuts the other way as {edge}": (lambda n=n,
        edge=edge: ("wrong-face", text_of(n), None, turret(**{f"T{n}": {"edge": edge, "diameter_mm": 3.0}})))
       for n, edge in ((3, "facing"), (9, "facing"), (11, "outside"), (1, "outside"))},
    "search gives up before the face": lambda: ("no-trigger",
        text_of(3).replace("G38.2 X[4.360-#91]", "G38.2 X17.000", 1)),
    "the same, branch": lambda: ("no-trigger",
        text_of(3, branching=True).replace("G31 X[4.360-#91]", "G31 X17.000", 1).replace("-[4.360]", "-[99.0]", 1),
        None, None, True),
    "search much too fast": lambda: ("overtravel", text_of(3).replace("F200", "F20000", 1)),
    "beyond the travel": lambda: ("outside-travel", text_of(3).replace("G53 G0 X40.000", "G53 G0 X44.000", 1)),
    "beyond the centre line": lambda: ("beyond-centre", TURN.replace("G53 G1 X-88.000 F200", "G53 G1 X-134.000 F200")),
    "rapid into the part": lambda: ("rapid-contact",
        TURN.replace("G53 G1 X-88.000 F200\nG53 G1 Z-40.000",
            "G53 G0 X-88.000\nG53 G0 Z-45.000").replace("G53 G0 Z-30.000\n", "G53 G0 Z-36.000\n")),
    "fed into a part that stands": lambda: ("collision", TURN.replace("M3 S800\n", "")),
    "into the chuck": lambda: ("collision", TURN.replace("G53 G1 Z-40.000", "G53 G1 Z-60.000")),
    "the turret into the chuck": lambda: ("rapid-contact",
        TURN.replace("G53 G0 X-80.000\nG53 G0 Z-30.000", "G53 G0 X0.000\nG53 G0 Z-155.000")),
    "into the tailstock": lambda: ("rapid-contact",
        TURN.replace("G53 G0 Z-30.000", "G53 G0 X-110.000\nG53 G0 Z300.000", 1).replace("Z460.000", "Z120.000"),
        lathe(tailstock_z_mm=400.0, turret_swing_mm=10.0)),
    "index beside the chuck": lambda: ("index-too-close", TURN.replace("T3 M6\n", "G53 G0 Z-100.000\nT3 M6\n")),
    "index beside the arm": lambda: ("index-too-close", after(text_of(3), "M61 (ARM OUT)", "G53 G0 Z230.000\nT5 M6")),
    "arm out with a tool in its way": lambda: ("arm-no-room",
        text_of(3).replace("M61 (ARM OUT)", "G53 G0 Z200.000\nM61 (ARM OUT)", 1)),
    "arm in with a tip beside it": lambda: ("arm-no-room",
        text_of(3).replace("G53 G0 X40.000\nG53 G0 Z460.000\nM62", "M62", 1)),
    "no such tool": lambda: ("no-tool", text_of(3).replace("T3 M6", "T4 M6", 1)),
    "a mill's length offset": lambda: ("unsupported", after(text_of(3), "T3 M6", "G43 H3")),
    "an M word it has not": lambda: ("unsupported", text_of(3).replace("M61", "M71", 1)),
    "not to be read": lambda: ("syntax", after(text_of(3), "T3 M6", "G53 G0 X")),
    "radius typed on a diameter machine": lambda: ("x-shows", times(text_of(3), 0.5, "X")),
    "diameter typed on a radius machine": lambda: ("x-shows",
        times(text_of(5, on=RADIUS, tools=ON_RADIUS), 2.0, "X").replace("X40.0000", "X20.000"), RADIUS, ON_RADIUS),
    "inches in a millimetre program": lambda: ("units", times(text_of(3), 1 / 25.4, "XZF")),
    "amounts left on": lambda: ("offset-not-restored", text_of(3).replace("M30", "G91\nM30")),
}  # fmt: skip


@pytest.mark.parametrize("name", UNSOUND)
def test_unsound_programs_are_stopped_for_the_right_reason(name):
    code, text, *rest = UNSOUND[name]()
    on, tools, branching = (*rest, None, None, False)[:3] if len(rest) < 3 else rest
    stops, found = codes(text, on, tools, branching)
    assert code in stops, [(p.code, p.line, p.message) for p in found.problems]


def test_there_are_enough_of_both():
    assert len(SOUND) >= 15 and len(UNSOUND) >= 40


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"edge": ""}, "which way it cuts"),
        ({"edge": "inside-away"}, "cannot come to the chuck's side"),
        ({"offset_x_mm": None}, "offsets have to be known"),
        ({"edge": "axial"}, "a tooth is turned to the face by hand"),
        ({"edge": "radial"}, "a tooth is turned to the face by hand"),
    ],
)
def test_a_tip_that_no_program_may_set_is_refused_in_words(change, words):
    tools = turret(T3=change)
    with pytest.raises(NonnaError, match=words):
        tip_program(machine(), [t for t in tools.tools if t.number == 3])
    with pytest.raises(NonnaError, match="no arm on file"):
        tip_program(machine(lathe=None), turret().tools)
    with pytest.raises(NonnaError, match="say what stands in it first"):
        rehearse("M30\n", machine(lathe=None), turret())


def test_the_command_line_rehearses_a_lathe_as_a_lathe(tmp_path, capsys):
    for name, body in (
        ("m.json", json.dumps(WILLOW)),
        ("t.json", json.dumps(TURRET)),
        ("p.ngc", text_of(3, 5)),
        ("bad.ngc", cut(text_of(3), "M62 (ARM IN)")),
    ):
        (tmp_path / name).write_text(body)
    given = ["--machine", str(tmp_path / "m.json"), "--tools", str(tmp_path / "t.json")]
    assert run(["rehearse", str(tmp_path / "p.ngc"), *given], lambda _: 9) == 0
    assert len(json.loads(capsys.readouterr().out)["contacts"]) == 8
    assert run(["rehearse", str(tmp_path / "bad.ngc"), *given], lambda _: 9) == 3
    assert json.loads(capsys.readouterr().out)["problems"][0]["code"] == "arm-left-out"


def test_marked_tips_become_a_program_that_was_rehearsed(desk, hands, tmp_path, shop):
    desk.show_station("willow")
    hands.until(lambda: desk.state is not None and desk.state.machine == "Willow" and desk.settled)
    desk.do(CommandId.TOOLS)
    hands.until(lambda: desk.site is not None and desk.site.key == "willow" and desk.tools.controller.tray.tools != ())
    desk.tools.mark((3, 5, 7))
    made = tools_program(desk.site, (3, 5, 7), RS274)
    assert made.trial.clean and len(made.trial.rehearsal.contacts) == 10
    save_own(desk, made, tmp_path / "set-tips.ngc")
    worked(desk)
    assert (tmp_path / "set-tips.ngc").read_text() == made.trial.text
    hands.until(lambda: "rehearsed clean" in shown_text(desk.tools))
    hands.press(Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: any(d.isVisible() for d in desk.findChildren(QDialog)))
    hands.press(Qt.Key.Key_Escape)
    with pytest.raises(NonnaError, match="Mark tools first"):
        tools_program(desk.site, (), RS274)
    if "alder" in shop.shop().machines:
        with pytest.raises(NonnaError, match="on their sheets"):
            tools_program(Site.load(shop, "alder"), (7,), RS274)
    shop.change(("machines", "willow.json"), lambda old: {**old, "lathe": {**old["lathe"], "turret_swing_mm": 900}})
    with pytest.raises(NonnaError, match="does not rehearse clean"):
        tools_program(Site.load(shop, "willow"), (3,), BRANCH)
    tried = try_text(
        "bad.ngc",
        cut(text_of(3), "M62 (ARM IN)").encode(),
        machine(),
        Tray(tools=tuple(turret().tools)),
        lambda: None,
        desk.state.results,
    )
    assert [p.code for p in tried.rehearsal.problems] == ["arm-left-out"]  # any program is tried as a lathe's


def test_a_lathe_that_was_just_set_up_is_asked_for_its_boxes_when_a_program_needs_them(tmp_path):
    now = Interview()
    said = {
        "units": "mm",
        "shop": "Mill Lane",
        "operator": "M. Teal",
        "kind": "lathe",
        "name": "Elder",
        "travel_x": "210",
        "travel_z": "620",
        "master": NONE,
    }
    while (question := now.question) is not None:
        now = now.answered(said.get(question.key, ""))
    shop = new_shop(tmp_path / "own", now.found().documents)
    elder = shop.machine("elder")
    assert elder.kind == "lathe" and elder.lathe is None and elder.x_shows == "diameter"
    assert shop.gear().micrometers[0].mpe_mm == 0.004 and shop.shelf().masters == []
    with pytest.raises(NonnaError, match="no arm on file"):
        tip_program(elder, turret().tools)
    answers = {
        "chuck_radius": "85", "chuck_length": "80", "arm_x": "62", "arm_z": "318", "out_m": "61", "in_m": "62",
        "turret_x": "132",
        "turret_z": "190", "turret_radius": "90", "turret_swing": "150", "rapid_x": "20000", "rpm": "4500",
        "stations": "12",
    }  # fmt: skip
    asked = StillAsked.of(shop, "elder", Units.MM)
    assert asked.questions[0].key == "chuck_radius" and asked.kind.drawn is not None
    while (question := asked.question) is not None:
        assert asked.kind.drawn({**asked.drawn_from, **asked.answers}, question.key, asked.units).strokes
        asked = asked.answered(answers.get(question.key, ""))
    assert keep(shop, asked, SIGNED) == ("rapid_x", "rapid_z")  # two speeds are one figure of the file
    elder = shop.machine("elder")
    assert elder.lathe.arm.out_m == 61 and elder.max_rpm == 4500.0 and elder.assumed == ["rapid_mm_min"]
    ways = turret(
        **{
            f"T{t['number']}": {"offset_x_mm": t["offset_x_mm"] + 40.0, "offset_z_mm": t["offset_z_mm"] + 460.0}
            for t in TURRET["tools"]
        }
    )
    stands = elder.model_copy(
        update={"lathe": elder.lathe.model_copy(update={"turret_x_mm": 152.0, "turret_z_mm": 650.0})}
    )
    stops, found = codes(text_of(3, on=stands, tools=ways), stands, ways)
    assert stops == [] and len(found.contacts) == 4


def checked_piece(number, tolerance, **off):
    tools = turret(**({f"T{number}": off} if off else {}))
    piece = tip_check(machine(), next(t for t in turret().tools if t.number == number), tolerance).text
    assert "M30" not in piece
    return codes(f"G21 G90 G94\n{piece}M30\n", tools=tools, branching=True)


def test_a_tip_is_checked_within_a_part_program_and_a_broken_one_stops_it():
    for number in TIPS:
        stops, found = checked_piece(number, 0.02)
        assert stops == [] and found.duration_s > 15.0
    whole = checked_piece(3, 0.02)[1].duration_s
    table = next(t for t in TURRET["tools"] if t["number"] == 3)
    broken = checked_piece(3, 0.02, offset_x_mm=table["offset_x_mm"] + 0.3, offset_z_mm=table["offset_z_mm"])
    assert (
        broken[1].duration_s < whole and "arm-left-out" in broken[0]
    )  # it stopped where it was: hands bring the arm in
    worn = checked_piece(3, 0.02, offset_x_mm=table["offset_x_mm"] + 0.03, offset_z_mm=table["offset_z_mm"])
    assert worn[0] == []  # 15 µm real, though 30 µm as shown


@pytest.mark.parametrize(
    ("typed", "meant"),
    [
        (2.0, "in millimetres for inches, 0.07874 mm?"), (0.00079, "in inches, 0.02007 mm?"),
        (20.0, "in micrometres, 0.02 mm?"),
        (1.0, "for inches, 0.03937 mm?"), (0.002, "in inches, 0.0508 mm?"),
    ],
)  # fmt: skip
def test_a_slip_in_the_tolerance_is_questioned(typed, meant):
    with pytest.raises(NonnaError) as said:
        tip_check(machine(), turret().tools[1], typed)
    assert f"Was it typed {meant}" in said.value.message or said.value.message.endswith(meant)
    with pytest.raises(NonnaError, match=r"0\.003 to 0\.5 mm\.$"):
        tip_check(machine(), turret().tools[1], -0.05)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.sampled_from(["G53 G0", "G53 G1", "G38.2", "M6", "M61", "M62", "M3 S500", "M5", "G91 G1",
    "G31", "M30", "G0"]),
                          st.sampled_from(["", "X", "Z", "X-20 Z", "T3 X", "F500 Z", "F-1 X", "#5061"]),
                          st.integers(-700, 700)), max_size=14), st.booleans())  # fmt: skip
def test_no_program_whatever_ends_a_rehearsal(blocks, branching):
    text = "\n".join(f"{code} {word}{value if word and word[0] != '#' else ''}" for code, word, value in blocks)
    found = rehearse(text, machine(), turret(), dialect=PLAIN_OR_BRANCHING[branching])
    assert all(p.severity in ("stop", "warn") and p.message for p in found.problems) and found.duration_s >= 0.0


def test_a_check_goes_on_the_clipboard(desk, hands):
    desk.show_station("willow")
    hands.until(lambda: desk.state is not None and desk.state.machine == "Willow" and desk.settled)
    desk.do(CommandId.TOOLS)
    hands.until(lambda: desk.site is not None and desk.site.key == "willow" and desk.tools.controller.tray.tools != ())
    desk.tools.table.go_to(3)
    desk.do(CommandId.TRAY_PIECE)
    hands.until(lambda: any(d.isVisible() for d in desk.findChildren(FormDialog)))
    dialog = shown_dialog(desk, FormDialog)
    dialog.put({"tolerance": "20"})
    dialog.submit()
    hands.until(lambda: "Was it typed" in shown_text(dialog))
    dialog.put({"tolerance": "0.02"})
    dialog.submit()
    hands.until(lambda: "blocks that check T3" in shown_text(desk.tools))
    assert "GOTO 9002" in QGuiApplication.clipboard().text()
