"""The dry run before a machine's first program: the same tools to the same places, 50 mm higher, nothing touched."""

import json
from dataclasses import replace

import pytest

from nonna import demo
from nonna.bench.job.planning import work_out
from nonna.bench.job.programs_run import has_run, note_run
from nonna.bench.station.site import Site
from nonna.bench.tray.tray import Tray, job_tools
from nonna.cli.main import run
from nonna.desk.commands.ids import CommandId
from nonna.desk.tray.by_command import save_program
from nonna.errors import NonnaError
from nonna.programs.dialects.listing import dialect_of
from nonna.programs.writing.results import Touched
from nonna.programs.writing.writer import RAISED_MM, Writer
from nonna.shop.cards.job import JobTool
from nonna.shop.links.history import standing
from nonna.stations.mill.planning.plan import plan_job
from nonna.stations.mill.tool_program import PROGRAM, found_of
from nonna.stations.tool_program import ToolsAsked
from tests.support.dialects import DIALECTS
from tests.support.hands import shown_text, worked


def answer_of(shop, station, writer):
    site = Site.load(shop, station)
    tray = Tray(tools=site.tools).with_marks([t.number for t in site.tools])
    results = site.results()
    tools = tuple(job_tools(tray, tray.marked, results))
    asked = ToolsAsked(site.machine, tray.tools, tools, writer, 3, 0.001)
    return site.machine, work_out(1, asked, results, lambda: None, lambda done, of: None)


@pytest.mark.parametrize("dialect", DIALECTS)
def test_it_goes_where_the_program_goes_and_touches_nothing(shop, dialect):
    machine, answer = answer_of(shop, "larch", Writer(dialect=dialect_of(dialect)))
    text = PROGRAM.dry_run(answer.plan)
    assert (
        "DRY RUN" in text
        and "G38" not in text
        and "G31" not in text
        and "M3" not in text.split()
        and "M4" not in text.split()
    )
    real = {line for line in answer.text.splitlines() if line.startswith(("G53 G0 X", "T"))}
    dry = {line for line in text.splitlines() if line.startswith(("G53 G0 X", "T"))}
    assert real <= dry | {line for line in real if "G53 G0 X" not in line and " M6" not in line}
    lowest = min(touch.search_to for touch in answer.plan.program.touches if touch.axis == "z")
    heights = [float(line.split("Z")[1].split()[0]) for line in text.splitlines() if line.startswith("G53 G1 Z")]
    assert min(heights) == pytest.approx(min(lowest + RAISED_MM, machine.tool_change_z_mm), abs=1e-3)


def test_a_shops_own_dry_run_is_used_and_a_wrong_one_named(shop):
    own = {"program.j2": "", "dry.j2": "%\n(OURS {{ raised }})\nM2\n%\n"}
    _machine, answer = answer_of(shop, "larch", Writer())
    assert "(OURS 50.0)" in replace(answer.plan.asked.writer, own=own).write_dry(answer.plan.program)
    with pytest.raises(NonnaError, match=r"dry\.j2"):
        replace(answer.plan.asked.writer, own={**own, "dry.j2": "{{ nothing.there }}"}).write_dry(answer.plan.program)
    writer = replace(answer.plan.asked.writer, own={**own, "dry.j2": "%\nG53 G0 X0\nG53 G0 Z-9999\nM2\n%\n"})
    low = replace(answer.plan, asked=replace(answer.plan.asked, writer=writer))
    with pytest.raises(NonnaError):
        PROGRAM.dry_run(low)


def test_the_first_program_of_a_real_machine_comes_with_one(desk, hands, tmp_path):
    hands.until(lambda: desk.settled)
    hands.mend("level", "setter")
    desk.do(CommandId.TOOLS)
    hands.until(lambda: desk.settled and desk.places.at(CommandId.TOOLS))
    c = desk.tools.controller
    c.change(c.tray.with_marks([2, 4]))
    hands.until(lambda: c.answer is not None and not c.plans.busy)
    save_program(desk, tmp_path / "demo.ngc")
    worked(desk)
    assert sorted(p.name for p in tmp_path.glob("*.ngc")) == ["demo.ngc"]  # a demo shop, and long measured
    desk.tables.take(replace(desk.site, shop=desk.site.shop.model_copy(update={"invented": False})))
    desk.session.state = replace(desk.state, standing=standing((), "Larch", "Larch"))
    save_program(desk, tmp_path / "first.ngc")
    worked(desk)
    assert {"first.ngc", "first-dry-run.ngc"} <= {p.name for p in tmp_path.glob("*.ngc")}
    assert "First the dry run" in shown_text(desk.tools)
    assert (tmp_path / "first.ngc").read_text() == c.answer.text


def test_it_is_asked_for_until_a_program_ran_on_the_card_as_it_is(shop):
    """Lengths signed by hand are no program; a changed card is another machine."""
    site = Site.load(shop)
    assert not has_run(site.folder, site.machine)
    note_run(site.folder, site.machine)
    assert has_run(site.folder, site.machine)
    other = site.machine.model_copy(update={"tool_change_z_mm": -20.0})
    assert not has_run(site.folder, other)
    note_run(site.folder, other)
    assert has_run(site.folder, other) and not has_run(site.folder, site.machine)


def test_touches_are_what_the_program_made_them(shop):
    """Lengths, sides and teeth come back in the program's order; what fits no plan is not guessed at."""
    site = Site.load(shop)
    tool = JobTool.model_validate(
        {**site.tools[[t.number for t in site.tools].index(5)].model_dump(), "measure": ["length", "diameter"]}
    )
    plan = plan_job(site.machine, [tool], 2, 0.005).tools[0]
    made = [touch for touch in plan.touches for _ in range(touch.count)]
    own = [Touched(5, 100.0 + i, touch.axis) for i, touch in enumerate(made)]
    found = found_of(5, own, plan)
    assert (
        len(found.tops) == 2
        and [face for face, _ in found.sides] == ["+x", "+x", "-x", "-x"]
        and found.feed_per_rev > 0
    )
    assert found.flutes == 4
    for wrong, code in (
        (own[:-1], "too-few-readings"),
        (own[::-1], "wrong-format"),
        ([*own, own[0]], "too-few-readings"),
    ):
        with pytest.raises(NonnaError) as refused:
            found_of(5, wrong, plan)
        assert refused.value.code == code
    assert found_of(2, [Touched(2, 1.0), Touched(2, 1.1)], None).tops == (1.0, 1.1)
    with pytest.raises(NonnaError):
        found_of(2, [Touched(2, 1.0, "x")], None)


def test_a_host_is_rehearsed_with_a_piece_in_it(tmp_path, capsys):
    host, piece = tmp_path / "host.ngc", tmp_path / "piece.ngc"
    machine, tools = (demo.FOLDER / kind / "larch.json" for kind in ("machines", "tools"))
    host.write_text("G21 G90 G94\nT2 M6\nG43 H2\nG0 X300 Y400\nG0 Z-150\nG53 G0 Z0\nG49\nM2\n")
    piece.write_text("G53 G0 Z0\nG49\nM5\n")
    given = ["rehearse", str(host), "--machine", str(machine), "--tools", str(tools)]
    assert run(given, lambda _: 9) == 0
    capsys.readouterr()
    assert run([*given, "--piece", str(piece), "--at", "4"], lambda _: 9) == 3
    told = json.loads(capsys.readouterr().out)
    assert {p["code"] for p in told["problems"]} == {"no-compensation"}  # the host went on without it
    assert run([*given, "--piece", str(piece), "--at", "99"], lambda _: 9) == 2


def test_rehearsing_a_plan_tells_no_progress_and_can_be_stopped_at_any_block(shop):
    site = Site.load(shop, "larch")
    tray = Tray(tools=site.tools).with_marks([t.number for t in site.tools][:2])
    tools = tuple(job_tools(tray, tray.marked, site.results()))
    asked = ToolsAsked(site.machine, tray.tools, tools, Writer(), 3, 0.001)
    told, checks = [], []
    PROGRAM.plan(asked, lambda done, of: told.append((done, of)), lambda: checks.append(1))
    assert len(told) <= len(tools) + 1 and len(checks) > 50
    with pytest.raises(ZeroDivisionError):
        PROGRAM.plan(asked, lambda *_: None, lambda: 1 / 0)
