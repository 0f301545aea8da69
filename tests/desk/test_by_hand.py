"""Machines without a changer, and holders that do not come back to the same length."""

from datetime import UTC, datetime, timedelta

import pytest

from nonna.bench.session.tray.picture import notes
from nonna.programs.dialects.listing import dialect_of
from nonna.programs.writing.writer import Writer
from nonna.shop.cards.machine import Tool
from nonna.shop.links.history import Entry, Standing
from nonna.shop.links.judge import Facts, judge, next_jobs
from nonna.shop.links.loop import Link, LinkSort, Loop
from nonna.shop.links.subjects import tool
from nonna.standin.world import World
from nonna.stations.mill.standin.batch import measure_tools
from nonna.stations.mill.standin.rehearsing import rehearse
from nonna.stations.mill.standin.trial import tried
from nonna.stations.telling import reason_words
from nonna.wording.lengths import Units
from tests.support.dialects import DIALECTS
from tests.support.hands import settled
from tests.support.plans import drill, machine_with, planned, table
from tests.support.tool_programs import as_plan

NONE = machine_with(pocket_count=0)
MILL = {"number": 5, "kind": "end-mill", "diameter_mm": 16, "length_mm": 92.0, "description": "End (mill) 16"}


@pytest.mark.parametrize("dialect", DIALECTS)
def test_the_program_stops_and_asks_for_each_tool(dialect):
    rows = [drill(), {**MILL, "measure": ["length", "diameter"]}]
    plan, text = planned(rows, NONE, dialect=dialect)
    asked = [line for line in text.splitlines() if line.startswith("M0 (BY HAND")]
    assert len(asked) == 2 and "T5 End [mill] 16, 16 mm wide" in asked[1]  # a name never leaves its comment
    at = text.splitlines().index(asked[1])
    assert text.splitlines()[at - 1] == "M5" and text.splitlines()[at + 1] == "T5 M6"
    assert "asks for it" in " ".join(plan.tools[0].reasons)
    assert rehearse(text, NONE, table(drill(), MILL), dialect=dialect_of(dialect), sweep=True).clean
    assert "BY HAND" not in planned(rows, dialect=dialect)[1]
    writer = Writer(dialect=dialect_of(dialect))
    trial = tried(text, NONE, table(drill(), MILL), dialect=writer.dialect)
    found = measure_tools(
        as_plan(plan, trial, [Tool.model_validate(row) for row in (drill(), MILL)], writer), World.from_seed(3), 1
    )
    assert [o.number for o in found] == [2, 5] and not any(o.failed for o in found)


def test_a_tool_that_does_not_repeat_holds_until_another_was_in_the_spindle():
    now = datetime(2026, 11, 20, tzinfo=UTC)
    tools = [tool(n) for n in (1, 2, 3)]
    each = Link(
        "tools", "Tools", "Tools", "tool-length", holds_days=90, sort=LinkSort.EACH, also=("tool-from-presetter",)
    )

    def states(*order):
        rows = Standing(
            Entry(i, "measurement", name, "Rowan", tool(n), "none", now - timedelta(days=9 - i), value_mm=90.0)
            for i, (n, name) in enumerate(order)
        )
        facts = Facts(Loop({}, (each,)), rows, tools, {}, now, frozenset({tool(1), tool(2)}))
        (found,) = judge(facts)
        return [str(state) for _, state in found.subjects], found

    setter, presetter = "tool-length", "tool-from-presetter"
    assert states((3, setter), (1, setter))[0] == ["holds", "never", "holds"]
    taken_out, link = states((3, setter), (1, setter), (3, presetter))
    assert taken_out == ["due", "never", "holds"]
    assert states((1, setter), (2, setter))[0] == ["due", "holds", "never"]
    (job,) = next_jobs([states((3, setter), (2, setter), (1, setter), (3, setter))[1]])
    assert job.can_wait and job.subjects == (tool(1), tool(2)) and reason_words(job.reason) == "measured at every load"
    assert link.state.value == "never"


def test_the_tray_knows_which_is_which(tray, desk, hands):
    c = tray.controller
    c.change(c.tray.with_tool(c.tray.tool(5).model_copy(update={"repeats": False}), 5))
    settled(desk, hands)
    assert notes(c.tray, {}, Units.MM)(5) == "at every load" and not notes(c.tray, {}, Units.MM)(2)
    assert "measured at every load" in " ".join(c.answer.of(5).reasons)
