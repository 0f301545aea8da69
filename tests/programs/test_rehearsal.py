"""Plans and rehearsals: sound programs run clean whatever the true lengths, unsound ones are stopped with the
reason.
"""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.programs.language.blocks import parse
from nonna.programs.language.interpreter import run as run_blocks
from nonna.shop.cards.machine import Tool
from nonna.stations.mill.planning.choose import choose
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.rehearsing import rehearse
from nonna.stations.mill.standin.truth import make
from tests.support.dialects import BRANCH, PLAIN_OR_BRANCHING
from tests.support.plans import KIND, LARCH, MACHINE, TABLE, TOOLS, drill, machine_with, planned, table


def codes(text, tools=TOOLS, machine=MACHINE, **more):
    found = rehearse(text, machine, tools, **more)
    return {p.code for p in found.problems}


KINDS = [
    ({"kind": "drill", "diameter_mm": 12}, "centre-static", 0),
    ({"kind": "tap", "diameter_mm": 30}, "centre-static", 0),
    ({"kind": "ball-mill", "diameter_mm": 20}, "centre-static", 0),
    ({"kind": "end-mill", "diameter_mm": 6}, "centre-static", 0),
    ({"kind": "end-mill", "diameter_mm": 6, "centre_cutting": False}, "offset-rotating", 3 - 0.3),
    ({"kind": "end-mill", "diameter_mm": 6.1}, "offset-rotating", 3.05 - 0.305),
    ({"kind": "end-mill", "diameter_mm": 16, "corner_radius_mm": 1}, "offset-rotating", 8 - 1 - 0.8),
    ({"kind": "face-mill", "diameter_mm": 63}, "offset-rotating", 30.5),
    ({"kind": "bull-mill", "diameter_mm": 16, "corner_radius_mm": 3}, "offset-rotating", 5),
    ({"kind": "chamfer-mill", "diameter_mm": 12}, "centre-static", 0),
    ({"kind": "chamfer-mill", "diameter_mm": 12, "tip_diameter_mm": 4}, "offset-rotating", 2 - 0.2),
    ({"kind": "slitting-saw", "diameter_mm": 80}, "rim-rotating", 39),
    ({"kind": "dovetail", "diameter_mm": 18}, "rim-rotating", 9 - 0.9),
    ({"kind": "boring-bar", "diameter_mm": 30, "corner_radius_mm": 0.4}, "edge-oriented", 14.6),
    ({"kind": "probe", "diameter_mm": 6}, "centre-static", 0),
]


@pytest.mark.parametrize(("row", "method", "offset"), KINDS)
def test_how_each_kind_is_touched(row, method, offset):
    how = choose(Tool.model_validate({"number": 1, **row}), machine_with({"clear_sides": ["-y"]}))
    assert (how.method, how.refused) == (method, "")
    assert how.offset_mm == pytest.approx((0, -offset))
    assert (how.rpm > 0) is method.endswith("rotating")
    assert all(words.endswith(".") for words in how.reasons)


def test_speed_hand_and_refusals():
    row = {"number": 1, "kind": "face-mill", "diameter_mm": 50}
    assert choose(Tool.model_validate(row), MACHINE).rpm == 318
    slow = choose(Tool.model_validate({**row, "material": "hss", "hand": "left", "max_rpm": 100}), MACHINE)
    assert (slow.rpm, slow.direction) == (100, "cw")
    assert choose(Tool.model_validate({**row, "diameter_mm": 8}), MACHINE).rpm == 1000
    wall = {"name": "vice", "box_mm": [[730, 0, -560], [800, 120, -400]]}
    beside = choose(Tool.model_validate(row), machine_with(obstacles=[wall]))
    assert beside.offset_mm[0] < 0
    boxed = choose(Tool.model_validate(row), machine_with({"clear_sides": ["+x"]}, obstacles=[wall]))
    assert "vice is in the way" in boxed.refused
    corner = choose(Tool.model_validate(row), machine_with({"x_mm": 795, "clear_sides": ["+x"]}))
    assert "outside the travel" in corner.refused
    assert "none is free" in choose(Tool.model_validate(row), machine_with({"clear_sides": []})).refused
    saw = {"number": 1, "kind": "slitting-saw", "diameter_mm": 40, "tip_diameter_mm": 30}
    assert "arbor screw" in choose(Tool.model_validate(saw), MACHINE).refused
    assert "has no setter" in choose(Tool.model_validate(row), MACHINE.model_copy(update={"setter": None})).refused


def test_the_demo_job_rehearses_clean_and_measures():
    rows = [{**row, "measure": ["length", "diameter"]} for row in TABLE["tools"]]
    made, text = planned(rows)
    found = rehearse(text, MACHINE, TOOLS, sweep=True)
    assert found.problems == ()
    assert all(len(line) <= 256 for line in text.splitlines())
    for tool in TOOLS.tools:
        assert found.results[tool.number]["length_mm"] == pytest.approx(tool.length_mm, abs=0.006)
        if tool.kind != "slitting-saw":
            assert found.results[tool.number]["diameter_mm"] == pytest.approx(tool.diameter_mm, abs=0.012)
    assert made.seconds == pytest.approx(found.duration_s, rel=0.5)
    assert {c.what for c in found.contacts} == {"setter"}


def wanted_touch(kind, d, pad, corner=0.0, flat=0.0, hollow=False):
    """What the book of rules says: method and distance off centre, written down apart from the program."""
    safe = min(6.0, 0.6 * pad)
    if kind in ("drill", "spot-drill", "tap", "reamer", "ball-mill", "probe", "master"):
        return "centre-static", 0.0
    if kind in ("slitting-saw", "t-slot", "dovetail"):
        return "rim-rotating", d / 2 - min(1.0, d / 20)
    if kind == "boring-bar":
        return "edge-oriented", d / 2 - corner
    if kind == "chamfer-mill":
        return ("offset-rotating", flat / 2 - min(1.0, flat / 20)) if flat else ("centre-static", 0.0)
    if kind in ("end-mill", "bull-mill") and d <= safe and not hollow:
        return "centre-static", 0.0
    if kind == "bull-mill":
        return "offset-rotating", d / 2 - corner
    return "offset-rotating", d / 2 - corner - min(1.0, d / 20)


@pytest.mark.parametrize(("pad", "sides"), [(14.0, ["+x"]), (6.0, ["-y", "+x"]), (30.0, ["-x"]), (9.0, ["+y"])])
def test_sixty_tools_of_all_kinds_are_decided_as_the_rules_say(pad, sides):
    machine = machine_with({"width_x_mm": pad, "width_y_mm": pad, "clear_sides": sides, "x_mm": 600, "y_mm": 250})
    sizes = (3.0, 5.9, 12.0, 40.0)
    tools = [
        {"number": 4 * i + j + 1, "kind": kind, "diameter_mm": d, **KIND[kind]}
        for i, kind in enumerate(sorted(KIND))
        for j, d in enumerate(sizes)
    ]
    assert len(tools) >= 60
    sign, axis = (1 if sides[0][0] == "+" else -1), "xy".index(sides[0][1])
    for row in tools:
        tool = Tool.model_validate(row)
        how = choose(tool, machine)
        method, away = wanted_touch(
            tool.kind, tool.diameter_mm, pad, tool.corner_radius_mm, tool.tip_diameter_mm, not tool.centre_cutting
        )
        if tool.kind == "slitting-saw" and how.refused:  # a small saw: the pad would reach under its screw
            assert away - pad / 2 < tool.tip_diameter_mm / 2 and "arbor screw" in how.refused
            continue
        assert (how.refused, how.method) == ("", method)
        assert how.offset_mm[axis] == pytest.approx(sign * away) and how.offset_mm[1 - axis] == 0.0
        rpm = min(50_000 / (3.141592653589793 * tool.diameter_mm), 1000.0)
        assert how.rpm == pytest.approx(rpm if method.endswith("rotating") else 0.0, abs=1.0)
        assert how.direction == ("ccw" if method.endswith("rotating") else "stopped")


SIDES = ("+x", "-x", "+y", "-y")


@st.composite
def a_tool(draw):
    """A tool of any kind with any length inside what is stated for it, perhaps hardly known."""
    kind = draw(st.sampled_from(sorted(KIND)))
    long, doubt = draw(st.floats(40, 200)), draw(st.one_of(st.just(0.0), st.floats(0.01, 25)))
    row = {
        "kind": kind,
        "diameter_mm": draw(st.one_of(st.floats(2, 80), st.sampled_from([0.5, 1.0, 160.0]))),
        **KIND[kind],
        "hand": draw(st.sampled_from(["left", "right"])),
    }
    row["length_mm"], row["length_uncertainty_mm"] = long, doubt
    row["true_length_mm"] = long + doubt * draw(st.floats(-1, 1))
    measure = draw(
        st.sampled_from([["length"], ["length", "diameter"], ["diameter"], ["breakage"], ["length", "breakage"]])
    )
    if "breakage" in measure:  # checked against what it was when it was measured
        row |= {"reference_mm": row["true_length_mm"], "tolerance_short_mm": 0.2, "tolerance_long_mm": 0.2}
    return row, measure


@given(
    rows=st.lists(a_tool(), min_size=1, max_size=5), pad=st.floats(8, 40), branching=st.booleans(),
    sides=st.sets(st.sampled_from(SIDES), min_size=1), overtravel=st.floats(0.2, 15), seed=st.integers(0, 99),
    at=st.tuples(st.floats(20, 780), st.floats(20, 480)),
    latency=st.sampled_from([0.0, 0.0015, 0.02]), jitter=st.sampled_from([0.0, 0.0002, 0.002]),
    acceleration=st.sampled_from([150, 2500, 15000]),
    change_z=st.sampled_from([0, -40]), most_rpm=st.sampled_from([40, 10000]),
    walls=st.lists(st.tuples(st.floats(0, 700), st.floats(0, 400), st.floats(-560, -50)), max_size=2),
)  # fmt: skip
def test_every_sound_job_rehearses_without_a_stop(
    rows, pad, branching, sides, overtravel, seed, at, latency, jitter, acceleration, change_z, most_rpm, walls
):
    setter = {"width_x_mm": pad, "width_y_mm": pad, "clear_sides": sorted(sides), "overtravel_mm": overtravel}
    boxes = [{"name": f"wall {i}", "box_mm": [[x, y, -560], [x + 60, y + 60, z]]} for i, (x, y, z) in enumerate(walls)]
    boxes = [b for b in boxes if not all(b["box_mm"][0][i] - pad < at[i] < b["box_mm"][1][i] + pad for i in (0, 1))]
    machine = machine_with(
        {**setter, "x_mm": at[0], "y_mm": at[1]}, obstacles=boxes, trigger_latency_s=latency, trigger_jitter_s=jitter,
        acceleration_mm_s2={"xy": acceleration, "z": acceleration}, tool_change_z_mm=change_z, max_rpm=most_rpm,
    )  # fmt: skip
    wanted = [{"number": i + 1, **row, "measure": measure} for i, (row, measure) in enumerate(rows)]
    made, text = planned(wanted, machine, dialect=PLAIN_OR_BRANCHING[branching].key)
    names = ("measure", "reference_mm", "tolerance_short_mm", "tolerance_long_mm")
    held = [{k: v for k, v in row.items() if k not in names} for row in wanted]
    found = rehearse(text, machine, table(*held), sweep=True, seed=seed, dialect=PLAIN_OR_BRANCHING[branching])
    checked = {row["number"] for row in wanted if "breakage" in row["measure"]}
    # a tool checked for breakage is as long as when it was measured: that its table's doubt is wider finds breaks
    assert [p for p in found.problems if p.tool not in checked or "with the tools" not in p.message] == []
    plane = machine.setter.trigger_plane_mm
    for plan, row in zip(made.tools, wanted, strict=True):
        assert plan.reasons
        if plan.refused:
            assert plan.refused.endswith(".") and not plan.touches
            continue
        if "length" in row["measure"] and found.results:
            assert found.results[row["number"]]["length_mm"] == pytest.approx(row["true_length_mm"], abs=0.02)
        if {t.axis for t in plan.touches} & {"x", "y"}:
            assert found.results[row["number"]]["diameter_mm"] == pytest.approx(row["diameter_mm"], abs=0.05)
        longest = plan.tool.length_mm + plan.tool.length_uncertainty_mm
        assert plan.approach_z > plane + longest
        if "breakage" not in row["measure"]:
            shortest = plan.tool.length_mm - plan.tool.length_uncertainty_mm
            assert plane + shortest - overtravel <= plan.search_to_z <= plane + shortest


SOUND = planned([drill()])[1]
MILL = {"number": 4, "kind": "face-mill", "diameter_mm": 63, "length_mm": 61.2}
TURNING = planned([MILL])[1]


@pytest.mark.parametrize(
    ("code", "text", "tool"),
    [
        ("tool-too-long", SOUND, drill(true_length_mm=120.0)),
        ("rapid-contact", SOUND, drill(true_length_mm=120.0)),
        ("no-trigger", SOUND, drill(true_length_mm=100.0)),
        ("wrong-tool", SOUND, drill(true_length_mm=100.0)),
        ("wrong-tool", SOUND.replace("T2 M6", "T3 M6"), drill()),
        ("units", SOUND.replace("G21", "G20"), drill()),
        (
            "spindle-running",
            SOUND.replace("G4 P2.5 (a wait for the spindle to run down: look that it stands)", "S500 M3"),
            drill(),
        ),
        ("spinning-wrong-way", TURNING.replace("M4", "M3"), MILL),
        ("spinning-wrong-way", TURNING.replace("S252 M4", "M5"), MILL),
        ("collision", "G21 G90 G94\nT2 M6\nG53 G0 X720 Y60\nG53 G0 Z-100\nG1 Z-400 F500\nM2", drill()),
        ("rapid-contact", "G21 G90\nT2 M6\nG0 X720 Y60\nG0 Z-440\nM2", drill()),
        ("overtravel", SOUND.replace("#101 = 600.0", "#101 = 60000.0"), drill()),
        ("out-of-travel", "G21 G90\nG53 G0 X900\nM2", drill()),
        ("offset-not-restored", "G21 G90 G55\nG53 G0 Z0\nM2", drill()),
        ("offset-not-restored", "G21 G91\nG0 Z-1\nM2", drill()),
        ("spindle-running", "G21 G90\nS100 M4\nM2", drill()),
        ("syntax", "G21 G90\nG0 Xabc\nM2", drill()),
        ("syntax", "G21 G90\nG2 X1 Y1 F100\nM2", drill()),
        ("unsupported", "G21 G90\nG41 G1 X1 Y1 F100\nM2", drill()),
        ("units", "G90\nG53 G0 Z0\nM2", drill()),
        ("tool-too-long", SOUND, drill(true_length_mm=460.0)),
    ],
)
def test_what_is_wrong_is_caught_and_stops(code, text, tool):
    found = rehearse(text, MACHINE, table(tool))
    assert code in {p.code for p in found.problems}, found.problems
    first = found.problems[0]
    assert first.line >= 0 and first.message
    if code not in ("offset-not-restored", "units"):
        assert any(p.severity == "stop" for p in found.problems)


def test_obstacles_and_the_other_unit():
    wall = {"name": "vice", "box_mm": [[500, 0, -560], [600, 500, -150]]}
    machine = machine_with(obstacles=[wall])
    low = "G21 G90\nT2 M6\nG53 G0 X200 Y60\nG53 G0 Z-100\nG53 G0 X700\nM2"
    assert {"collision", "rapid-contact"} <= codes(low, table(drill()), machine)
    assert codes(low.replace("Z-100", "Z0"), table(drill()), machine) == set()
    inches = ["G21 G90 G94", "T2 M6", "G53 G0 X28.346 Y2.362", "G53 G0 Z-13.2", "G38.2 Z-13.45 F20", "G53 G0 Z0", "M2"]
    assert "units" in codes("\n".join(inches), table(drill()))
    right = [line.replace("G21", "G20") for line in inches]
    assert codes("\n".join([*right[:-1], "G21", "M2"]), table(drill())) == set()


def test_breakage_checks_and_unknown_lengths():
    check = drill(measure=["breakage"], reference_mm=112.418, tolerance_short_mm=0.3, tolerance_long_mm=0.3)
    made, text = planned([check])
    plain = drill()
    assert codes(text, table(plain)) == set()
    assert codes(text, table({**plain, "true_length_mm": 112.418 + 0.6})) == set()  # pulled out: still no rapid touches
    assert "no-trigger" in codes(text, table({**plain, "true_length_mm": 90.0}))
    assert len(made.program.touches) == 1 and made.program.touches[0].count == 1
    unknown = {k: v for k, v in drill(true_length_mm=131.7).items() if k not in ("length_mm", "length_uncertainty_mm")}
    made, text = planned([{k: v for k, v in unknown.items() if k != "true_length_mm"}])
    found = rehearse(text, MACHINE, table(unknown))
    assert found.problems == ()
    assert found.results[2]["length_mm"] == pytest.approx(131.7, abs=0.01)
    assert "not known" in made.tools[0].reasons[1]
    assert "too long" in planned([drill(length_mm=460.0)])[0].tools[0].refused
    for bad in ([drill(), drill()], [drill(measure=["breakage"])]):
        with pytest.raises(NonnaError):
            planned(bad)


def test_the_command_line_plans_and_rehearses(tmp_path, capfd):
    (tmp_path / "machine.json").write_text(json.dumps(LARCH))
    (tmp_path / "tools.json").write_text(json.dumps(TABLE))
    job = {
        "format": "nonna-job/1",
        "machine": "machine.json",
        "tools": TABLE["tools"],
        "touches": 2,
        "accuracy_mm": 0.005,
    }
    (tmp_path / "job.json").write_text(json.dumps(job))
    out, report = tmp_path / "p.ngc", tmp_path / "plan.json"
    assert run(["plan", str(tmp_path / "job.json"), "-o", str(out), "--report", str(report)], lambda _: 9) == 0
    rows = json.loads(report.read_text())["tools"]
    assert [row["number"] for row in rows] == [t["number"] for t in TABLE["tools"]]
    assert set(rows[0]) == {
        "number", "method", "offset_mm", "spindle_rpm", "spindle_direction", "fast_feed_mm_min", "slow_feed_mm_min",
        "approach_z_mm", "search_to_z_mm", "seconds", "reasons", "refused",
    }  # fmt: skip
    assert all(row["refused"] is None for row in rows)
    capfd.readouterr()
    arguments = [
        "rehearse",
        str(out),
        "--machine",
        str(tmp_path / "machine.json"),
        "--tools",
        str(tmp_path / "tools.json"),
        "--sweep",
    ]
    assert run(arguments, lambda _: 9) == 0
    found = json.loads(capfd.readouterr().out)
    assert found["problems"] == []
    assert found["results"]["2"]["length_mm"] == pytest.approx(112.418, abs=0.006)
    assert set(found["contacts"][0]) == {"line", "tool", "x_mm", "y_mm", "z_mm", "feed_mm_min", "with"}
    out.write_text(out.read_text().replace("G21", "G20"))
    assert run(arguments, lambda _: 9) == 3
    capfd.readouterr()
    for change, code, where in (
        ({"machine": "none.json"}, "unreadable", ""),
        ({"machine": {**LARCH, "kind": "boat"}}, "out-of-range", "machine.kind"),
        ({"machine": 3}, "wrong-format", "machine"),
        ({"tools": [{"number": 1, "kind": "drill"}]}, "missing-field", "tools[0].diameter_mm"),
        ({"touches": 0}, "out-of-range", "touches"),
        ({"accuracy": 1}, "unknown-field", "accuracy"),
    ):
        (tmp_path / "bad.json").write_text(json.dumps(job | change))
        assert run(["plan", str(tmp_path / "bad.json"), "-o", str(out)], lambda _: 9) == 2
        error = json.loads(capfd.readouterr().out)["error"]
        assert (error["code"], error["where"]) == (code, where)


def test_a_branching_check_stops_the_machine_by_itself():
    check = drill(measure=["breakage"], reference_mm=112.418, tolerance_short_mm=0.3, tolerance_long_mm=0.3)
    _, text = planned([check], dialect="branch")
    assert "GOTO 9002" in text and "G31" in text and "G38.2" not in text
    for true, line, problem in (
        (112.4, "", set()),
        (112.9, "PULLED OUT", set()),
        (112.0, "BROKEN", set()),
        (80.0, "NO TRIGGER", {"no-trigger"}),
    ):
        reached = []
        tools = table(drill(true_length_mm=true))
        found = rehearse(text, MACHINE, tools, dialect=BRANCH)
        assert {p.code for p in found.problems} - {"wrong-tool"} == problem, true
        drive = Mill(MACHINE, make(MACHINE, list(tools.tools), 1), tools)
        run_blocks(parse(text, jumps=True), drive, lambda block, r=reached: r.append(block.line), skip=5061)
        stops = [words for n, words in enumerate(text.splitlines(), 1) if n in reached and words.startswith("M0")]
        assert [line in words for words in stops] == ([True] if line else []), (true, stops)


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("IF [1 LT] GOTO 5", "syntax"), ("IF 1 LT 2 GOTO 5", "syntax"), ("GOTO 77\nM2", "syntax"),
        ("IF [1] GOTO 2", "syntax"),
        ("N1 GOTO 1", "unsupported"), ("WHILE [1 EQ 1] DO1", "syntax"), ("IF [[1 LT 2] EQ 1] GOTO 9", "syntax"),
    ],
)  # fmt: skip
def test_jumps_that_cannot_be_read_or_never_end(text, code):
    found = rehearse(f"G21 G90\n{text}", MACHINE, TOOLS, dialect=BRANCH)
    assert found.problems[0].code == code
    assert rehearse("G21 G90\nIF [1 LT 2] GOTO 5\nN5 M2", MACHINE, TOOLS).problems  # not in the plain language
    assert rehearse("G21 G90\nG31 Z-5 F10\nM2", MACHINE, TOOLS).problems[0].code == "unsupported"
