"""The dry run before a machine's first program: the same tools to the same places, 50 mm higher, nothing touched."""

from dataclasses import replace

import pytest

from nonna.bench.planning import Request, dry_run, work_out
from nonna.bench.site import Site
from nonna.bench.tray import Tray, job_tools
from nonna.desk.do import Do
from nonna.desk.tray_actions import save_program
from nonna.errors import NonnaError
from nonna.programs.writer import RAISED_MM, Writer
from nonna.shop.history import standing
from tests.test_desk import desk, hands, settle, shown_text, worked  # noqa: F401


def answer_of(shop, station, writer):
    site = Site.load(shop, station)
    tray = Tray(tools=site.tools).with_marks([t.number for t in site.tools])
    results = site.results()
    tools = tuple(job_tools(tray, tray.marked, results))
    asked = Request(1, site.machine, tools, tray.tools, {}, 3, 0.001, writer, results)
    return site.machine, work_out(asked, lambda: None, lambda done, of: None)


@pytest.mark.parametrize("dialect", ["rs274", "branch"])
def test_it_goes_where_the_program_goes_and_touches_nothing(shop, dialect):
    machine, answer = answer_of(shop, "larch", Writer(dialect=dialect))
    text = dry_run(answer, machine)
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
    machine, answer = answer_of(shop, "larch", Writer())
    assert "(OURS 50.0)" in replace(answer.writer, own=own).write_dry(answer.plan.program)
    with pytest.raises(NonnaError, match=r"dry\.j2"):
        replace(answer.writer, own={**own, "dry.j2": "{{ nothing.there }}"}).write_dry(answer.plan.program)
    low = replace(answer, writer=replace(answer.writer, own={**own, "dry.j2": "%\nG53 G0 X0\nG53 G0 Z-9999\nM2\n%\n"}))
    with pytest.raises(NonnaError):
        dry_run(low, machine)


def test_the_first_program_of_a_real_machine_comes_with_one(desk, hands, tmp_path):  # noqa: F811
    hands.until(lambda: desk.settled)
    hands.mend("level", "setter")
    desk.do(Do.TOOLS)
    hands.until(lambda: desk.settled and desk.places.at(Do.TOOLS))
    c = desk.tools.controller
    c.change(c.tray.with_marks([2, 4]))
    hands.until(lambda: c.answer is not None and not c.plans.busy)
    save_program(desk, tmp_path / "demo.ngc")
    worked(desk)
    assert sorted(p.name for p in tmp_path.glob("*.ngc")) == ["demo.ngc"]  # a demo shop, and long measured
    desk.tables.take(replace(desk.site, shop=desk.site.shop.model_copy(update={"invented": False})))
    desk.state = replace(desk.state, standing=standing((), "Larch", "Larch"))
    save_program(desk, tmp_path / "first.ngc")
    worked(desk)
    assert {"first.ngc", "first-dry-run.ngc"} <= {p.name for p in tmp_path.glob("*.ngc")}
    assert "First the dry run" in shown_text(desk.tools)
    assert (tmp_path / "first.ngc").read_text() == c.answer.text
