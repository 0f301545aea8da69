"""What a load program stores is what was meant, in every table a control may have; nothing else is stored by anything.

The eyes that check the tables here share nothing with what writes and runs the programs.
"""

import json
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nonna.bench.control.loading import load_plan, load_program
from nonna.bench.control.results_file import ResultsFile
from nonna.bench.job.program_texts import written
from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.procedures.catalogue import evaluate
from nonna.programs.language.blocks import parse
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.control_state import ControlState
from nonna.programs.language.interpreter import run as run_blocks
from nonna.programs.language.table_file import cells_of, file_of, parameters_of
from nonna.programs.language.tables import ControlTables
from nonna.programs.writing.load_plan import LoadPlan, LoadRow
from nonna.programs.writing.loading import write_load
from nonna.shop.cards.control_card import ControlCard
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.job import Job
from nonna.shop.cards.machine import Machine
from nonna.standin.still import StillMachine
from nonna.stations.mill.standin.rehearsing import rehearse
from tests.support.dialects import BRANCH, RS274
from tests.support.plans import LARCH, TABLE, TOOLS, planned

CARD = {
    "stores": {
        "length": "#[700 + {tool}] = {value}", "diameter": "G10 L1 P{tool} R{radius}",
        "work": "G10 L2 P[{offset} - 53] {axis}{value}",
    },
    "reads": {"length": "#[700 + {tool}]", "diameter": "#[800 + {tool}]"},
    "prints": "(PRINT,{text})", "prints_value": "#{parameter}",
}  # fmt: skip
T2 = TABLE["tools"][0]
PLANE = -300.0


def machine(**card):
    return Machine.model_validate(LARCH | {"control": CARD | card})


def judged(procedure, setup, rows):
    document = {"format": "nonna-readings/1", "procedure": procedure, "setup": setup, "readings": rows}
    return evaluate(document).to_document()


def length(value, **setup):
    rows = [{"position_mm": PLANE + value}] * 3
    return judged("tool-length", {"repeatability_mm": 0.001, "trigger_plane_mm": PLANE, **setup}, rows)


def results(*rows):
    return ResultsFile.model_validate({"format": "nonna-results/1", "results": list(rows)})


def tables(**rows):
    return ControlTablesFile.model_validate({"format": "nonna-control/1", **rows})


def loaded(control, text, kept):
    """Run a program on a control's tables, and return them and the lines it printed."""
    state = ControlState()
    state.use(ControlTables.of(control, cells_of(kept)), parameters_of(kept))
    run_blocks(parse(text, phrases=phrases_of(control)), StillMachine(), state=state)
    own = {n: v for n, v in state.parameters.items() if 1001 <= n <= 4999}
    return file_of(kept.units, state.tables.cells, own), state.printed


# ------------------------------------------------------------------------------------------------ ten thousand tables

#: a line, what it writes for a number that is meant, and how the number is read out of the table again
LENGTHS = (
    ("#[700 + {tool}] = {value}", "#[700 + {tool}]", 1.0),
    ("#[700 + {tool}] = [0 - {value}]", "#[700 + {tool}]", -1.0),
    ("#[700 + {tool}] = {negative}", "#[700+{tool}]", -1.0),
    ("G10 L1 P{tool:02} Z{value}", "#[2000 + {tool}]", 1.0),
    ("G10 L10 P{tool} {axis}[0 - {value}]", "#[2000 + {tool}]", -1.0),
    ("SETLEN T{tool} L{value}", "#[2000 + 2 * {tool}]", 1.0),
)
DIAMETERS = (
    ("#[600 + {tool}] = {radius}", "#[600 + {tool}]", 0.5),
    ("G10 L1 P{tool} R{radius}", "#[600 + {tool}]", 0.5),
    ("G10 L11 P{tool} D{value}", "#[600 + {tool}]", 1.0),
    ("#[600 + {tool}] = [{value} / 2]", "#[600 + {tool}]", 0.5),
)
OFFSETS = (
    ("G10 P{offset} {axis}{value}", "#[3000 + {offset}]", 1.0),
    ("#[3000 + {offset}] = {value}", "#[3000 + {offset}]", 1.0),
    ("G10 P[10000 + {offset}] {axis}{negative}", "#[3000 + {offset}]", -1.0),
)
ROWS = st.lists(
    st.tuples(st.sampled_from(["length", "diameter", "offset-x"]), st.integers(1, 99), st.floats(-400.0, 400.0)),
    min_size=1, max_size=8, unique_by=lambda row: row[:2],
)  # fmt: skip


@settings(max_examples=300, deadline=None)
@given(
    rows=ROWS, inch=st.booleans(), decimals=st.none() | st.integers(0, 5), lines=st.tuples(
        st.sampled_from(LENGTHS), st.sampled_from(DIAMETERS), st.sampled_from(OFFSETS)
    ), old=st.floats(-500.0, 500.0),
)  # fmt: skip
def test_what_is_stored_is_what_was_meant_and_is_put_back_as_it_was(rows, inch, decimals, lines, old):
    whats = dict(zip(("length", "diameter", "offset-x"), lines, strict=True))
    card = ControlCard.model_validate(
        {
            "units": "inch" if inch else "mm", "decimals": decimals,
            "stores": {what: line[0] for what, line in whats.items()},
            "reads": {what: line[1] for what, line in whats.items()},
            "prints": "PRINT [{text}]", "prints_value": "<{parameter}>", "parameters": {"results": [1001, 1099]},
        }
    )  # fmt: skip
    digits = decimals if decimals is not None else 4 if inch else 3
    before = tables(
        units=card.units,
        tools=[
            {"number": n, **{what.replace("-", "_"): round(old, digits) for what, number, _ in rows if number == n}}
            for n in sorted({row[1] for row in rows})
        ],
    )
    plan = LoadPlan("Larch", card, tuple(LoadRow(w, v, n, n if w == "offset-x" else None) for w, n, v in rows), "RUN1")
    text = write_load(plan)
    after, printed = loaded(card, text, before)
    step = 10.0**-digits
    for what, number, value in rows:
        meant = value / (25.4 if inch else 1.0)
        (row,) = [row for row in after.tools if row.number == number]
        assert abs(getattr(row, what.replace("-", "_")) - whats[what][2] * meant) <= 0.501 * step
    said = [re.fullmatch(r"PRINT \[nonna RUN1 (\d+) tool=(\d+) what=(\S+) axis=(\w?) value=(\S+)\]", f"PRINT [{line}]")
            for line in printed[:-1]]  # fmt: skip
    assert all(said) and printed[-1] == f"nonna RUN1 end {len(said)}"
    assert [int(m[1]) for m in said] == [*range(1, 2 * len(rows) + 1)]
    assert [(m[3], int(m[2])) for m in said[::2]] == [(f"old-{what}", n) for what, n, _ in rows]
    assert all(abs(float(m[5]) - old) <= 0.501 * step and "e" not in m[5] and "." in m[5] for m in said[::2])
    back, _ = loaded(card, write_load(LoadPlan("Larch", card, plan.rows, "RUN2", put_back=True)), after)
    assert back.tools == before.tools


# ---------------------------------------------------------------------------------------------------- what is refused

HOSTILE = [
    ({"stores": {"length": line}}, "stores.length")
    for line in (
        "G0 Z{value}", "G1 Z{value} F{tool}", "G53 P{tool} Z{value}", "G28 P{tool} Z{value}", "G92 Z{value} P{tool}",
        "T{tool} M6 Z{value}", "M3 S{value} P{tool}", "#[700 + {tool}] = {value} #5223 = 0", "#5223 = {value}",
        "G10 L2 P{tool} Z{value}", "G10 L1 Z{value}", "G10 L1 P{tool}", "G10 L1 P{tool} Z{value} R{radius}",
        "#[700 + {tool}] = [{value} + 5]", "#[700 + {tool}] = [0 * {value}]", "#[700 + {tool}] = [{value} * {value}]",
        "#[700 + {tool}] = SIN[{value}]", "#[700 + {tool}] = {radius}", "M30 P{tool} Z{value}", "G81 P{tool} Z{value}",
        "IF [{value} GT {tool}] GOTO 9", "G10 L1 P{tool} Z{value} ({text})", "G31 P{tool} Z{value}",
        "#[700 + {tool}] = [{value} / 0]", "G38.2 P{tool} Z{value}", "M19 P{tool} Z{value}", "M0 P{tool} Z{value}",
    )
] + [
    ({"stores": {"work": "G10 L2 P1 Z{value}"}}, "stores.work"),
    ({"stores": {"work": "G10 L2 P{offset} Z{value}"}}, "stores.work"),
    ({"stores": {"length": "#[700 + {tool}] = {value}", "diameter": "#[700+{tool}]={value}"}}, "stores.diameter"),
    ({"prints": "G0 Z-400 ({text})"}, "prints"), ({"prints": "#5223 = 5 ({text})"}, "prints"),
    ({"prints": "M3 S9000 ({text})"}, "prints"), ({"prints": "(SAY)"}, "prints"),
    ({"prints": "(SAY {text} {text})"}, "prints"), ({"prints_value": "[#{parameter} + #{parameter}]"}, "prints_value"),
]  # fmt: skip


@pytest.mark.parametrize(("card", "where"), HOSTILE)
def test_a_card_whose_line_would_do_anything_else_is_refused(card, where):
    stores = {**CARD["stores"], **card.get("stores", {})}
    with pytest.raises(NonnaError) as caught:
        load_plan_text(machine(**{**card, "stores": stores}))
    assert caught.value.where == f"control.{where}"


def load_plan_text(with_card, own=None, **more):
    plan = load_plan(with_card, {2}, results({"tool": 2, "result": length(112.4, **more)}), "ABCD")
    return load_program(plan, own)


TEMPLATES = (
    "G21\n#[700 + 2] = 112.400\n#703 = 5\nM2\n", "(stores: T2 length)\nG21\n#[700 + 2] = 112.401\nM2\n",
    "(stores: T2 length)\n(stores: T3 length)\nG21\n#702 = 112.4\n#703 = 5\nM2\n", "(stores: T2 length)\nG21\nM2\n",
    "(stores: T2 length)\nG21\n#702 = 112.4\nG0 Z-100\nM2\n", "(stores: T2 length)\nG10 L2 P1 Z5\n#702 = 112.4\nM2\n",
    "(stores: T2 length)\nG21\n#702 = 112.4\n#[5221] = 3\nM2\n", "(stores: T2 length)\nG21\n#702=112.4\n#777=1\nM2\n",
    "(stores: T2 length)\nG21\n#702 = 112.4\nT3 M6\nM2\n", "(stores: T2 length)\nG21\n#702 = 112.4\nM3 S100\nM2\n",
    "(stores: T2 length)\nG21\n#702 = 112.4\n#702 = 112.4\nM2\n", "#702 = 112.400\nM2\n",
    "(stores: T2 length)\nG21\n#702 = 112.4\nG43 H2\nM2\n", "(stores: T2 length)\nG21\n#702 = 112.4\nG31 Z5\nM2\n",
    "(stores: T2 length)\nG21\n#802 = 112.4\nM2\n", "(stores: T2 length)\nG21\n#702 = 112.4\nM66\nM2\n",
)  # fmt: skip


@pytest.mark.parametrize("template", TEMPLATES)
def test_a_template_that_does_anything_else_makes_no_program(template):
    assert "#[700 + 2] = 112.400" in load_plan_text(machine())
    with pytest.raises(NonnaError, match="Look at the card and the templates"):
        load_plan_text(machine(), {"load.j2": template})


def test_a_template_that_says_the_same_another_way_is_believed():
    own = "(stores: T2 length)\nG21\n{% for row in rows %}{{ row.lines[-3] }}\n{% endfor %}M30\n"
    assert load_plan_text(machine(), {"load.j2": own}).split("\n")[2:] == ["#[700 + 2] = 112.400", "M30"]


def test_what_is_not_sound_or_not_said_on_the_card_stays_by_hand():
    failed = length(112.4, expected_mm=112.0, limit_mm=0.01)
    assert failed["verdict"] == "fail"
    wear = judged(
        "lathe-measure", {"feature": "diameter", "side": "external", "nominal_mm": 20.0, "axis": "x", "wear_mm": 0.0,
            "ball_diameter_mm": 3.0, "repeatability_mm": 0.001, "lower_mm": -0.02, "upper_mm": 0.02},
        [{"at": "+", "position_mm": 23.03}, {"at": "-", "position_mm": -23.03}],
    )  # fmt: skip
    work = judged("work-offset", {"repeatability_mm": 0.001, "tool_length_mm": 90.0}, [{"position_mm": -200.0}])
    plan = load_plan(machine(), {2, 3}, results({"tool": 3, "result": failed}, {"tool": 2, "result": length(112.4)},
        {"tool": 2, "result": wear}, {"offset": 55, "result": work}), "ABCD")  # fmt: skip
    assert [row.asked for row in plan.rows] == ["T2 length", "work 55 z"]
    assert [words.split(" ")[:2] for words in plan.by_hand] == [["T3", "length"], ["T2", "wear-x"]]
    text = load_program(plan)
    assert "NOT READ BACK, the card does not say how: work 55 z" in text and "LEFT OUT: T3 length is not stored" in text
    both = results({"offset": 55, "result": work}, {"tool": 2, "result": length(112.4)})
    back = load_plan(machine(), {2}, both, "X123", put_back=True)
    assert [row.asked for row in back.rows] == ["T2 length"], "what nobody kept is not put back"


def test_results_of_ours_never_lie_in_the_controls_own_tables():
    stores = {"length": "#[1000 + {tool}] = {value}"}
    for more, where in (({}, "machine.control.parameters.results"), ({"parameters": {"results": [500, 600]}}, "")):
        control = machine(stores=stores, reads={"length": "#[1000 + {tool}]"}, **more)
        try:
            assert "#1002 = 112.400" in load_plan_text(control).replace("[1000 + 2]", "1002") and not where
            planned([{**T2, "measure": ["length"]}], control)
        except NonnaError as error:
            assert error.where == where
            with pytest.raises(NonnaError):
                planned([{**T2, "measure": ["length"]}], control)
    far = machine(stores={"length": "#[2000 + {tool}] = {value}"}, reads={"length": "#[2000 + {tool}]"})
    assert "#[2000 + 2] = 112.400" in load_plan_text(far)
    found = rehearse("G21\n#2003 = 5\nM2\n", far, TOOLS)
    assert [p.code for p in found.problems] == ["stores-unasked"]


REFUSED = [
    ([{"tool": 9, "result": length(112.4)}], "out-of-range", "results[0].tool"),
    ([{"result": length(112.4)}], "missing-field", "results[0].tool"),
    ([{"tool": 0, "result": length(112.4)}], "missing-field", "results[0].tool"),
    ([{"tool": 2, "result": length(112.4)}, {"tool": 2, "result": length(112.5)}], "out-of-range", "results[1]"),
    ([{"tool": 2, "result": length(112.4, expected_mm=112.0, limit_mm=0.01)}], "out-of-range", "results"),
    ([{"tool": 2, "result": {"format": "nonna-result/1"}}], "wrong-format", "results[0].result"),
    ([{"tool": 2, "result": {**length(112.4), "verdict": None}}], "missing-field", "results[0].result.verdict"),
    ([{"tool": 2, "result": {**length(112.4), "results": {"length_mm": {"value": True}}}}], "not-a-number",
        "results[0].result.results.length_mm.value"),
    ([{"tool": 2, "result": judged("repeatability", {}, [{"value_mm": 0.001 * (i % 3)} for i in range(10)])}],
        "out-of-range", "results[0].result"),
    ([{"result": judged("work-offset", {"tool_length_mm": 90.0, "repeatability_mm": 0.1}, [{"position_mm": -200.0}])}],
        "missing-field", "results[0].offset"),
]  # fmt: skip


@pytest.mark.parametrize(("rows", "code", "where"), REFUSED)
def test_results_that_cannot_be_stored_are_refused_by_their_place(rows, code, where):
    with pytest.raises(NonnaError) as caught:
        load_plan(machine(), {2, 3}, results(*rows), "ABCD")
    assert (caught.value.code, caught.value.where) == (code, where)


# -------------------------------------------------------------------------------------------------------- rehearsals

HEAD = "G21 G90\n"
KEPT = tables(
    tools=[{"number": t.number, "length": t.length_mm, "diameter": t.diameter_mm / 2} for t in TOOLS.tools],
    work_offsets=[{"number": 54, "x": 10.0, "z": -200.0}], parameters={"1001": 112.4},
)  # fmt: skip
STORES = [
    ("(stores: T2 length)\n#702 = 112.43\n", []),
    ("(stores: t2 LENGTH)\n#[700 + 2] = #1001\n", []),
    ("#702 = 112.43\n", ["stores-unasked"]),
    ("(stores: T3 length)\n#702 = 112.43\n", ["stores-unasked"]),
    ("(stores: T2 diameter)\n#702 = 112.43\n", ["stores-unasked"]),
    ("(stores: T2 length)\n#702 = -112.43\n", ["stores-implausible"]),
    ("(stores: T2 length)\n#702 = 4.4263\n", ["stores-implausible"]),
    ("(stores: T2 length)\n#702 = 98.77\n", ["stores-implausible"]),
    ("(stores: T2 length)\n#702 = 0\n", ["stores-implausible"]),
    ("(stores: T2 diameter)\nG10 L1 P2 R4.25\n", []),
    ("(stores: T2 diameter)\nG10 L1 P2 R8.5\n", ["stores-implausible"]),
    ("(stores: T2 length)\n#777 = 112.43\n", ["stores-unasked"]),
    ("(stores: work 54 z)\nG10 L2 P1 Z-201\n", []),
    ("(stores: work 54 z)\nG10 L2 P[54 - 53] Z-201.\n", []),
    ("(stores: work 54 z)\nG10 L2 P2 Z-201\n", ["stores-unasked"]),
    ("(stores: work 54 z)\nG10 L2 P1 X1 Z-201\n", ["stores-unasked"]),
    ("(stores: work 54 z)\n#5223 = -201\n", []),
    ("(stores: work 54 z)\n#5221 = -201\n", ["stores-unasked"]),
    ("(stores: work 54 z)\nG10 L2 P1 Z-9000\n", ["stores-implausible"]),
    ("(stores: T2 length)\n#1002 = 5\n#101 = 7\n#702 = 112.43\n", []),
    ("T2 M6\nG43 H2\n(stores: T2 length)\n#702 = 112.43\nG49\nM5\n", []),
]


@pytest.mark.parametrize(("text", "codes"), STORES)
def test_what_a_program_stores_is_held_against_its_header_and_what_can_be(text, codes):
    found = rehearse(f"{HEAD}{text}M2\n", machine(), TOOLS, kept=KEPT)
    assert [p.code for p in found.problems if p.severity == "stop"] == codes
    assert found.stores


def test_a_length_that_is_taken_off_is_not_changed_beneath_the_program():
    text = f"{HEAD}(stores: T2 length)\nT2 M6\nG43 H2\n#702 = 112.43\nG53 G0 Z0\nM2\n"
    found = rehearse(text, machine(), TOOLS, kept=KEPT)
    assert "stores-implausible" in {p.code for p in found.problems}


def test_the_length_taken_off_is_the_tables_own():
    text = f"{HEAD}G54\nT2 M6\nG43 H2\nG0 X600 Y200\nG0 Z{{z}}\nG49\nG53 G0 Z0\nM2\n"
    low = LARCH["setter"]["trigger_plane_mm"] + 200.0  # G54 Z is -200: over everything by what is taken off
    for long, stops in ((112.418, False), (5000.0, True)):
        rows = [{"number": 2, "length": long}]
        kept = tables(tools=rows, work_offsets=[{"number": 54, "z": -200.0}])
        found = rehearse(text.format(z=low + 30.0), machine(), TOOLS, kept=kept)
        assert ("out-of-travel" in {p.code for p in found.problems}) is stops


def test_tables_in_another_unit_than_the_card_says_stop():
    found = rehearse(f"{HEAD}M2\n", machine(), TOOLS, kept=tables(units="inch"))
    assert [(p.code, p.severity) for p in found.problems] == [("units", "stop")]
    assert rehearse("G20\nM2\n", machine(units="inch"), TOOLS, kept=tables(units="inch")).problems == ()


def test_the_command_line_writes_rehearses_and_refuses(tmp_path, capsys):
    def wrote(name, document):
        (tmp_path / name).write_text(json.dumps(document))
        return str(tmp_path / name)

    def said(*words):
        status = run([str(word) for word in words], lambda _: 9)
        return status, json.loads(capsys.readouterr().out)

    paper = wrote("machine.json", LARCH | {"control": CARD})
    job = wrote("job.json", {"format": "nonna-job/1", "machine": "machine.json", "tools": TABLE["tools"]})
    load = wrote("results.json", {"format": "nonna-results/1", "results": [{"tool": 2, "result": length(112.43)}]})
    kept = wrote("state.json", KEPT.model_dump(exclude_none=True))
    program = tmp_path / "load.nc"
    status, answer = said("plan", job, "--load", load, "-o", program)
    assert (status, answer["stores"]) == (0, ["T2 length"])
    tools = wrote("tools.json", TABLE)
    status, found = said("rehearse", program, "--machine", paper, "--tools", tools, "--state", kept)
    assert (status, found["problems"]) == (0, [])
    assert [{**row, "line": 0} for row in found["stores"]] == [
        {"line": 0, "what": "length", "tool": 2, "offset": None, "old": 112.418, "new": 112.43}
    ]
    assert said("plan", job, "--load", load, "--put-back", "-o", program)[0] == 0
    status, found = said("rehearse", program, "--machine", paper, "--tools", tools, "--state", kept)
    assert (status, found["stores"][0]["new"]) == (0, 112.4), "what stood in the result parameter"
    assert said("plan", job, "--put-back", "-o", program)[1]["error"]["where"] == "load"
    bare = wrote("job.json", {"format": "nonna-job/1", "machine": LARCH, "tools": TABLE["tools"]})
    assert said("plan", bare, "--load", load, "-o", program)[1]["error"]["where"] == "machine.control.stores"
    wrong = wrote("state.json", {"format": "nonna-control/1", "parameters": {"01": 3.0}})
    assert said("rehearse", program, "--machine", paper, "--tools", tools, "--state", wrong)[0] == 2


# -------------------------------------------------------------------------------------------- stored while measuring

STORING = {
    "stores": {"length": "#[700 + {tool}] = {value}"}, "reads": {"length": "#[700 + {tool}]"},
    "prints": "(PRINT,{text})", "prints_value": "#{parameter}",
}  # fmt: skip
WINDOWED = [{**TABLE["tools"][i], "measure": what} for i, what in ((0, ["length"]), (1, ["length", "diameter"]),
    (2, ["length"]), (3, ["diameter"]))]  # fmt: skip


def storing(card, dialect=BRANCH, rows=WINDOWED, **more):
    job = Job.model_validate(
        {"format": "nonna-job/1", "machine": {}, "tools": rows, "touches": 3, "accuracy_mm": 0.002}
    )
    control = Machine.model_validate(LARCH | {"control": card} | more)
    return control, written(control, job, dialect.key, store=True)


@pytest.mark.skipif(BRANCH is RS274, reason="there is no dialect that compares")
@pytest.mark.parametrize("card", [
    STORING, STORING | {"units": "inch"}, STORING | {"stores": {"length": "G10 L1 P{tool} Z[0 - {value}]"}},
    STORING | {"stores": {"length": "#[700 + {tool}] = {negative}"}},
])  # fmt: skip
def test_a_program_stores_only_what_lies_inside_its_window(card):
    control, made = storing(card)
    unit = 25.4 if card.get("units") == "inch" else 1.0
    sign = -1.0 if "0 - " in card["stores"]["length"] or "negative" in card["stores"]["length"] else 1.0
    names = {"T2 length", "T3 length", "T4 length"}
    assert {line[9:-1] for line in made.text.splitlines() if line.startswith("(stores: ")} == names
    for off, stops in ((0.0, False), (0.004, False), (0.5, True)):
        rows = [{"number": t.number, "length": sign * (t.length_mm + off) / unit} for t in TOOLS.tools]
        kept = tables(units=card.get("units", "mm"), tools=rows)
        found = rehearse(made.text, control, TOOLS, dialect=BRANCH, kept=kept)
        assert [p for p in found.problems if p.severity == "stop"] == []
        assert len(found.stores) == (0 if stops else 3), "outside its window it stops before it stores"
        for each in found.stores:
            true = next(t.length_mm for t in TOOLS.tools if t.number == each.cell.number)
            assert sign * each.new * unit == pytest.approx(true, abs=0.008)
    assert all("is stored within" in " ".join(p.reasons) for p in made.tools if "length" in p.tool.measure)


def test_what_cannot_compare_or_has_no_line_for_it_is_refused_and_nothing_is_written(tmp_path, capsys):
    for card, dialect, where in (
        (STORING, RS274, "dialect"), (STORING | {"reads": {}}, BRANCH, "machine.control.reads.length"),
        (STORING | {"stores": {}}, BRANCH, "machine.control.stores.length"),
    ):  # fmt: skip
        if BRANCH is RS274 and dialect is BRANCH:
            continue
        (tmp_path / "job.json").write_text(
            json.dumps({"format": "nonna-job/1", "machine": LARCH | {"control": card}, "tools": TABLE["tools"]})
        )
        words = ["plan", str(tmp_path / "job.json"), "-o", str(tmp_path / "p.nc"), "--store", "--dialect", dialect.key]
        assert run(words, lambda _: 9) == 2
        assert json.loads(capsys.readouterr().out)["error"]["where"] == where
        assert not (tmp_path / "p.nc").exists()


def test_what_the_spindle_holds_at_the_start_is_rehearsed_with_it(tmp_path, capsys):
    probe = {"number": 99, "kind": "probe", "diameter_mm": 6.0, "length_mm": 120.0}
    names = {"machine.json": LARCH, "tools.json": TABLE, "probe.json": probe, "wrong.json": {"number": 99}}
    for name, document in names.items():
        (tmp_path / name).write_text(json.dumps(document))
    plane = LARCH["setter"]["trigger_plane_mm"]
    (tmp_path / "p.nc").write_text(
        f"G21 G90\nG53 G0 X720 Y60\nG53 G0 Z{plane + 125}\nG38.2 Z{plane + 118} F50\nG53 G0 Z0\nM2\n"
    )

    def said(*more):
        words = ["rehearse", "p.nc", "--machine", "machine.json", "--tools", "tools.json", *more]
        status = run([str(tmp_path / w) if w.endswith((".nc", ".json")) else w for w in words], lambda _: 9)
        return status, json.loads(capsys.readouterr().out)

    status, found = said("--held", "probe.json")
    assert status == 0 and found["contacts"][0]["z_mm"] == pytest.approx(plane + 120, abs=0.02), found["problems"]
    assert "no-trigger" in {p["code"] for p in said()[1]["problems"]}
    assert said("--held", "wrong.json")[1]["error"]["code"] == "missing-field"
