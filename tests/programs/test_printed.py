"""What a control prints while a program of ours runs is found among anything else, or the run is not complete."""

import json
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nonna.bench.control.printed_results import readings_files
from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.procedures.catalogue import evaluate
from nonna.programs.dialects.listing import dialect_of
from nonna.programs.language.blocks import parse
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.guarding import run_guarded
from nonna.programs.language.tool_calls import calls_of
from nonna.programs.writing.printed import program_of
from nonna.shop.cards.machine import Machine
from nonna.standin.rehearsal import state_for
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.rehearsing import rehearse
from nonna.stations.mill.standin.truth import make
from tests.support.dialects import PLAIN_OR_BRANCHING
from tests.support.plans import LARCH, TABLE, TOOLS, planned

PRINTS = {"prints": "(PRINT,{text})", "prints_value": "#{parameter}"}
CARDS = [PRINTS, PRINTS | {"units": "inch"}, PRINTS | {"tool_call": "T{tool:02}", "prints": "SAY [{text}]"}]
ROWS = [{**TABLE["tools"][i], "measure": what} for i, what in ((0, ["length", "diameter"]), (2, ["length", "diameter"]),
    (3, ["length"]))]  # fmt: skip


def printed(card, dialect="rs274", seed=3):
    """Return a program, what a true mill prints while it runs, and the true tools."""
    machine = Machine.model_validate(LARCH | {"control": card})
    _, text = planned(ROWS, machine, touches=3, dialect=dialect)
    found = rehearse(text, machine, TOOLS, sweep=True, dialect=dialect_of(dialect))
    assert found.problems == ()
    truth = make(machine, TOOLS.tools, seed)
    mill = Mill(machine, truth, TOOLS, seed)
    blocks = parse(text, jumps=dialect_of(dialect).jumps, phrases=phrases_of(machine.control))
    state = state_for(blocks, calls_of(machine.control), machine)
    run_guarded(blocks, mill, skip=dialect_of(dialect).skip_at, state=state)
    assert mill.problems == []
    return text, state.printed, truth


@pytest.mark.parametrize("dialect", PLAIN_OR_BRANCHING)
@pytest.mark.parametrize("card", CARDS)
def test_a_run_comes_back_as_readings_that_find_the_hidden_tools(card, dialect):
    text, lines, truth = printed(card, dialect if isinstance(dialect, str) else dialect.key)
    files = readings_files("\n".join(lines) + "\n", text)
    assert [(f["tool"], f["procedure"], len(f["readings"])) for f in files] == [
        (2, "tool-length", 3), (2, "tool-diameter", 6), (4, "tool-length", 3), (4, "tool-diameter", 6),
        (5, "tool-length", 3),
    ]  # fmt: skip
    for file in files:
        result = evaluate(file).to_document()["results"]
        body = truth.bodies[file["tool"]]
        if file["procedure"] == "tool-length":
            plane = truth.plane - LARCH["setter"]["trigger_plane_mm"]
            assert result["length_mm"]["value"] == pytest.approx(body.length + plane - truth.pre_travel, abs=0.012)
        else:
            assert result["diameter_mm"]["value"] == pytest.approx(body.diameter - 2.0 * truth.pre_travel, abs=0.03)


TEXT, LINES, _ = printed(PRINTS)
WHOLE = readings_files("\n".join(LINES) + "\n", TEXT)
RUN = program_of(TEXT).run
STRANGE = [
    "", "alarm 12: door", f"nonna {RUN}", "nonna XXXX 1 tool=2 what=length axis=z value=-99.000", "nonna XXXX end 3",
    f"{RUN} 3 tool=2 what=length axis=z value=-1.0",
]  # fmt: skip


@settings(max_examples=150, deadline=None)
@given(
    order=st.randoms(use_true_random=False),
    doubles=st.lists(st.sampled_from(LINES), max_size=8),
    others=st.lists(st.sampled_from(STRANGE), max_size=8),
    ends=st.sampled_from(["\n", "\r\n", "\r"]),
    closed=st.booleans(),
    stamped=st.booleans(),
)
def test_order_doubles_and_other_lines_change_nothing(order, doubles, others, ends, closed, stamped):
    lines = [*LINES, *doubles, *others]
    order.shuffle(lines)
    if stamped:
        lines = [f"2026-12-01 12:03:{i:02d} {line}" for i, line in enumerate(lines)]
    assert readings_files(ends.join(lines) + (ends if closed else ""), TEXT) == WHOLE


@settings(max_examples=150, deadline=None)
@given(gone=st.sets(st.sampled_from(range(len(LINES))), min_size=1, max_size=5))
def test_what_is_missing_is_named(gone):
    kept = [line for i, line in enumerate(LINES) if i not in gone]
    with pytest.raises(NonnaError) as caught:
        readings_files("\n".join(kept) + "\n", TEXT)
    assert caught.value.code == "too-few-readings"
    first = min(gone)
    words = f"{first + 1} (T" if first < len(LINES) - 1 else "end line"
    assert words in caught.value.message


@settings(max_examples=200, deadline=None)
@given(at=st.integers(0, len("\n".join(LINES))))
def test_a_print_out_that_is_cut_anywhere_gives_nothing_or_everything(at):
    whole = "\n".join(LINES)
    try:
        assert readings_files(whole[:at], TEXT) == WHOLE
        assert at >= len(whole) - 0, at
    except NonnaError as error:
        assert error.code == "too-few-readings"


def test_a_line_torn_and_glued_to_the_next_is_no_value():
    first, second = LINES[0], LINES[1]
    for at in range(1, len(first)):
        glued = [first[:at] + second, *LINES[2:]]
        with pytest.raises(NonnaError) as caught:
            readings_files("\n".join(glued) + "\n", TEXT)
        assert caught.value.code == "too-few-readings", at


WRONG = [
    lambda lines: [*lines, lines[0][:-1] + ("1" if lines[0][-1] != "1" else "2")],
    lambda lines: [*lines, f"nonna {RUN} 999 tool=2 what=length axis=z value=1.000"],
    lambda lines: [lines[0].replace("tool=2", "tool=3"), *lines[1:]],
    lambda lines: [lines[0].replace("what=length", "what=face+x"), *lines[1:]],
    lambda lines: [lines[0].replace("axis=z", "axis=x"), *lines[1:]],
    lambda lines: [*lines, f"nonna {RUN} end 3"],
]


@pytest.mark.parametrize("spoil", WRONG)
def test_lines_that_contradict_each_other_or_the_program_are_an_error(spoil):
    with pytest.raises(NonnaError) as caught:
        readings_files("\n".join(spoil(LINES)) + "\n", TEXT)
    assert caught.value.code == "wrong-format"


@pytest.mark.parametrize("value", ["nan", "inf", "1e3", "", "-312", "--3.0", "3.0.1", "0x1.0", "3,5", "9" * 400 + "."])
def test_a_value_that_is_no_number_is_a_touch_that_is_missing(value):
    spoilt = [LINES[0].rpartition("=")[0] + "=" + value, *LINES[1:]]
    with pytest.raises(NonnaError) as caught:
        readings_files("\n".join(spoilt) + "\n", TEXT)
    assert caught.value.code == "too-few-readings"


def test_every_written_program_has_a_run_of_its_own():
    machine = Machine.model_validate(LARCH | {"control": PRINTS})
    runs = {program_of(planned(ROWS, machine)[1]).run for _ in range(20)}
    assert len(runs) == 20
    with pytest.raises(NonnaError, match="could be read back"):
        readings_files("", planned(ROWS)[1])


def test_the_command_line_gives_a_list_or_lines_or_the_error(tmp_path, capsys):
    program, log = tmp_path / "p.nc", tmp_path / "log.txt"
    program.write_text(TEXT)
    lines = list(LINES)
    random.Random(5).shuffle(lines)
    log.write_text("\n".join(lines) + "\n")

    def said(*words):
        status = run(["results", str(log), "--program", str(program), *words], lambda _: 9)
        return status, capsys.readouterr().out

    status, out = said()
    assert (status, json.loads(out)) == (0, WHOLE)
    status, out = said("--jsonl")
    assert (status, [json.loads(line) for line in out.splitlines()]) == (0, WHOLE)
    log.write_text("\n".join(lines[1:]) + "\n")
    assert said()[0] == 2
    status, out = said("--jsonl")
    assert (status, json.loads(out)["error"]["code"]) == (1, "too-few-readings")
