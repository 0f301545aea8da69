"""Around a program: pieces for part programs, a shop's own templates tried, results read back, teeth one by one."""

import json

import pytest

from nonna.adapters.shop_files.templates import lay_out, read_templates
from nonna.bench.job.planning import calibrated, piece_of, try_text
from nonna.bench.station.site import Site
from nonna.bench.tray.tray import Tray
from nonna.errors import NonnaError
from nonna.procedures.catalogue import evaluate
from nonna.procedures.telling import words_of
from nonna.programs.dialects.listing import dialect_of
from nonna.programs.language.blocks import parse
from nonna.programs.writing.results import by_tool, from_json, from_log, read_csv
from nonna.programs.writing.writer import Writer
from nonna.shop.cards.job import JobTool
from nonna.stations.mill.planning.snippets import snippet
from nonna.stations.mill.standin.rehearsing import rehearse
from nonna.stations.mill.standin.template_check import check
from nonna.stations.mill.standin.trial import tried_piece
from nonna.stations.tool_program import ToolsAsked
from tests.support.dialects import BRANCH, DIALECTS
from tests.support.examples import TEETH
from tests.support.plans import MACHINE, drill, planned, table

CHECK = drill(measure=["breakage"], reference_mm=112.418, tolerance_short_mm=0.3, tolerance_long_mm=0.3)


@pytest.mark.parametrize("dialect", DIALECTS)
def test_a_piece_put_into_a_part_program_runs_and_lets_it_go_on(dialect):
    plan = planned([CHECK], dialect=dialect)[0].tools[0]
    piece = snippet(plan, MACHINE, "check", Writer(dialect=dialect_of(dialect)))
    assert "AFTER its last line" in piece and "%" not in piece.splitlines()
    part = f"G21 G90 G94\nG53 G0 X400 Y250\n{piece}G53 G0 X300\nM2\n"
    parse(part, jumps=dialect_of(dialect).jumps)
    found = rehearse(part, MACHINE, table(drill()), dialect=dialect_of(dialect))
    assert found.problems == () and len(found.contacts) >= 2
    stopped = rehearse(part, MACHINE, table(drill(true_length_mm=90.0)), dialect=dialect_of(dialect))
    assert "no-trigger" in {p.code for p in stopped.problems}
    inside = tried_piece(piece, MACHINE, table(drill(length_uncertainty_mm=0.2)), dialect=dialect_of(dialect))
    assert inside.clean and inside.text == piece
    with pytest.raises(NonnaError, match="refused"):
        snippet(planned([drill(length_mm=460.0)])[0].tools[0], MACHINE, "measure")


def test_a_shops_own_templates_are_tried_before_they_are_believed(tmp_path):
    assert check(lambda: None, MACHINE) == ()
    mine = tmp_path / "templates"
    lay_out(mine)
    original = (mine / "program.j2").read_text()
    for change, words in (
        (("{{ plan.title }}", "{{ plan.titel }}"), "cannot be used"),
        (("{% for line in plan.lines -%}", "{% for line in plan.lines %"), "cannot be used"),
        (("{{ t.turning }} (BACK", "M3 (BACK"), "spinning-wrong-way"),
        (("\n{{ settings.restore }}\nM2", "\nG91\nM2"), "offset-not-restored"),
        (("G53 G0 Z#{{ scratch.safe }}\n{% if t.by_hand", "G999\n{% if t.tool"), "unsupported"),
        (("{{ move.search(t", "{# #}{{ movee.search(t"), "cannot be used"),
    ):
        assert change[0] in original
        (mine / "program.j2").write_text(original.replace(*change))
        found = check(lambda: read_templates(mine), MACHINE)
        assert any(words in f.words for f in found), (change, found)
    (mine / "program.j2").write_text("%\nG21 G90\nM2\n%\n")
    assert any("never touches" in f.words for f in check(lambda: read_templates(mine), MACHINE))


def test_results_come_back_from_logs_tables_and_json():
    log = (
        "start\n12:01 TOOL 2 touched Z = -339.9981 ok\n12:02 TOOL  2 touched Z=-339.9979 ok\nTOOL 14 touched "
        "Z = -364.27\nend"
    )
    found = from_log(log, "TOOL {tool} {skip} Z = {z}")
    assert by_tool(found) == {2: [-339.9981, -339.9979], 14: [-364.27]}
    assert by_tool(read_csv(b"position_mm;tool\n-339.9;T2\n-340;2\n").rows) == {2: [-339.9, -340.0]}
    rows = [{"tool": 2, "position_mm": -339.9}]
    assert from_json(json.dumps(rows).encode()) == from_json(json.dumps({"touches": rows}).encode())
    for call, code, where in (
        (lambda: from_log(log, "TOOL {tool}"), "wrong-format", "pattern"),
        (lambda: from_log(log, "T{tool} T{tool} {z}"), "wrong-format", "pattern"),
        (lambda: from_log(log, "HOLDER {tool} {z}"), "wrong-format", "pattern"),
        (lambda: read_csv(b"tool,z\n1,2\n").rows, "missing-field", "row 1"),
        (lambda: read_csv(b"tool,position_mm\n1,x\n").rows, "not-a-number", "row 2.position_mm"),
        (lambda: read_csv(b"tool,position_mm\n1,nan\n").rows, "out-of-range", "row 2"),
        (lambda: from_json(b"[1]"), "wrong-format", "touches[0]"),
        (lambda: from_json(b'[{"tool": 1}]'), "missing-field", "touches[0].position_mm"),
        (lambda: from_json(b"{}"), "wrong-format", ""),
    ):
        with pytest.raises(NonnaError) as caught:
            call()
        assert (caught.value.code, caught.value.where) == (code, where)


def test_teeth_by_hand():
    found = evaluate(TEETH).to_document()
    assert found["results"]["runout_mm"]["value"] == pytest.approx(0.016)
    assert (found["longest_tooth"], found["verdict"]) == (3, "pass")
    assert "each height ± " in found["advice"][0]
    assert found["back_mm"]["2"] == pytest.approx(0.016) and found["back_mm"]["3"] == 0.0
    tight = evaluate({**TEETH, "setup": {**TEETH["setup"], "limit_mm": 0.01}})
    assert tight.verdict.value == "fail" and "tooth 3" in words_of(tight.todo)
    with pytest.raises(NonnaError, match="two teeth"):
        evaluate({**TEETH, "readings": TEETH["readings"][:2]})


def test_a_piece_older_than_the_tools_last_record_says_so_when_it_is_rehearsed(shop):
    site = Site.load(shop)
    results = site.results()
    machine, tool = calibrated(site.machine, results), next(t for t in site.tools if t.number == 2)
    length = results.value("tool-length", "length_mm", tool.subject)
    wanted = JobTool.model_validate(
        {**tool.model_dump(), "measure": ["breakage"], "reference_mm": length, "tolerance_short_mm": 0.3,
            "tolerance_long_mm": 0.3}
    )  # fmt: skip
    writer = Writer(dialect=BRANCH)
    piece = piece_of(ToolsAsked(machine, site.tools, (wanted,), writer, 3, 0.002)).text
    part = f"G21 G90 G94\nG53 G0 X400 Y250\n{piece}G53 G0 X300\nM2\n"

    def said(machine, tools, text=part):
        found = try_text(
            "part.nc", text.encode(), machine, Tray(tools=tuple(tools), dialect=BRANCH), lambda: None, results
        ).rehearsal
        return [(p.severity, p.line, p.tool, p.message) for p in found.problems if p.code == "older-numbers"]

    assert said(machine, site.tools) == []
    line = next(i for i, b in enumerate(part.splitlines(), 1) if "RESTS ON" in b.upper())
    older = part.replace(f"{length:.4f}", f"{length + 0.02:.4f}")
    ((severity, at, number, words),) = said(machine, site.tools, older)
    assert (severity, at, number) == ("warn", line, 2) and f"by now it is {length:.4f}" in words
    moved = machine.model_copy(
        update={
            "setter": machine.setter.model_copy(update={"trigger_plane_mm": machine.setter.trigger_plane_mm - 0.01})
        }
    )
    assert "trigger plane at" in said(moved, site.tools)[0][3]
    another = [t.of_its_own({t.subject}) if t.number == 2 else t for t in site.tools]  # another tool in its pocket
    another = [t.model_copy(update={"length_mm": 99.0}) if t.number == 2 else t for t in another]
    assert "by now it is 99.0000" in said(machine, another)[0][3]
