"""How a lathe has its tips measured on the arm by program; each result is what the tip's own sheet takes."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING

from nonna.errors import NonnaError
from nonna.programs.dialects.listing import stopping
from nonna.programs.writing.results import Touched, readings_by_tool
from nonna.shop.cards.machine import Machine, Tool, Tools
from nonna.standin.rehearsal import Trial
from nonna.stations.lathe.rehearsal import rehearse
from nonna.stations.lathe.tip_program import sheet_of_tips, tip_check, tip_program
from nonna.stations.lathe.tip_run import run_tips
from nonna.stations.lathe.turret import Lathe
from nonna.stations.lathe.ways import WAYS
from nonna.stations.tool_program import Finding, Outcome, Running, Standin, Taken, Told, ToolsAsked, ToolsPlan, Written

if TYPE_CHECKING:
    from nonna.programs.language.dialect import Dialect
    from nonna.programs.writing.printed import Sheet
    from nonna.shop.cards.control_tables import ControlTablesFile
    from nonna.shop.texts.given import Plain, Row
    from nonna.standin.rehearsal import Rehearsal
    from nonna.standin.world import World
    from nonna.stations.touched_tools import ToolPlan

HOST = "G21 G90 G94\n"  #: what a part program has said before the piece


class TipsOnArm:
    """Tips touched on the arm, planned when a program is asked for."""

    live = False

    def plan(self, asked: ToolsAsked, told: Told, check: Callable[[], None]) -> ToolsPlan:
        """Write and rehearse a program."""
        if not asked.tools:
            raise NonnaError("missing-field", "Mark tools first: then there is a program to write.", "tools")
        made = tip_program(asked.machine, asked.tools, dialect=asked.dialect, rounds=asked.touches)
        told(len(asked.tools), len(asked.tools))
        check()
        return ToolsPlan(asked, _tried(asked, made.text, made.text), made.spots)

    def written(self, asked: ToolsAsked) -> Written:
        """A tip's program is made of its table, and rehearsed: in the tray."""
        words = "{name}: a lathe's tips are planned in its tray, from their table."
        raise NonnaError("out-of-range", words, "machine.kind", name=asked.machine.name)

    def look(self, asked: ToolsAsked) -> ToolPlan | None:
        """Nothing is planned before a program is asked for."""
        del asked
        return None

    def rehearse(
        self,
        text: str,
        machine: Machine,
        tools: Tools,
        dialect: Dialect,
        *,
        sweep: bool = True,
        seed: int = 0,
        check: Callable[[], None] | None = None,
        kept: ControlTablesFile | None = None,
        held: Tool | None = None,
    ) -> Rehearsal:
        """Rehearse any program with the tips as their table has them."""
        del sweep, seed
        if held is not None:
            raise NonnaError("out-of-range", "A lathe's spindle holds no tool: its turret does.", "held")
        if check is not None:
            check()
        return rehearse(text, machine, tools, dialect=dialect, kept=kept)

    def standin(self, machine: Machine, tools: Tools, seed: int) -> Standin:
        """Return the lathe as its papers have it."""
        del seed
        if machine.lathe is None:
            words = "{name}: say what stands in it first (lathe: chuck, turret, arm)."
            raise NonnaError("missing-field", words, "machine.lathe", name=machine.name)
        return Standin(Lathe(machine, machine.lathe, tools), turret=True)

    def run(
        self, plan: ToolsPlan, papers: Machine, world: World, number: int, go_on: bool, told: Running
    ) -> tuple[Outcome, ...]:
        """Run it; where it stops at a tip, that has the reason, and those after it nothing."""
        del go_on
        plan.trial.must_be_clean()
        asked = plan.asked

        def watch(line: int, of: int, _: float) -> None:
            told(line, of, f"{asked.machine.name}, block {line}")

        found, stopped = run_tips(
            plan.trial.text, plan.spots, papers, asked.table, world, number, dialect=plan.trial.dialect,
            watch=watch,
        )  # fmt: skip
        text = plan.trial.text
        failed = [
            Outcome(each, failed=words, procedure=sheet_of_tips(), program=text) for each, words in stopped.items()
        ]
        return (*_outcomes(found, asked.table, text), *failed)

    def read_back(
        self, touches: Sequence[Touched], plan: ToolsPlan | None, tools: Sequence[Tool]
    ) -> tuple[Outcome, ...]:
        """Take what each tip's sheet takes, in the order it came."""
        del plan
        return _outcomes(readings_by_tool(touches), tools)

    def dry_run(self, plan: ToolsPlan) -> str | None:
        """Near the arm it stops at a touch: there is no way above it to go dry."""
        del plan
        return None

    def printed_back(self, taken: Sequence[tuple[Sheet, Sequence[Row]]], tools: Sequence[Tool]) -> tuple[Outcome, ...]:
        """Take what each tip's sheet takes; its way is its table's."""
        return _outcomes({sheet.tool: rows for sheet, rows in taken}, tools)

    def template_faults(
        self, templates: Callable[[], Mapping[str, str] | None], machine: Machine
    ) -> tuple[Finding, ...]:
        """A lathe's programs are made of none of them."""
        del templates, machine
        return ()

    def piece(self, asked: ToolsAsked, tolerance_mm: float | None) -> Trial:
        """Write the piece that checks a tip against its table."""
        if not asked.tools or tolerance_mm is None:
            raise NonnaError("missing-field", "Put the cursor on a tool first.", "tools")
        text = tip_check(asked.machine, asked.tools[0], tolerance_mm).text
        return _tried(asked, text, f"{HOST}{text}M30\n", stopping())


PROGRAM = TipsOnArm()


def _tried(asked: ToolsAsked, text: str, whole: str, dialect: Dialect | None = None) -> Trial:
    """Rehearse a whole program. Raises: NonnaError (it stops: what is written in it is written nowhere)."""
    spoken = dialect or asked.dialect
    tools = Tools(format="nonna-tools/1", tools=list(asked.table))
    found = rehearse(whole, asked.machine, tools, dialect=spoken)
    stop = next((p for p in found.problems if p.severity == "stop"), None)
    if stop is not None:
        words = "It does not rehearse clean, so it is not written. Block {line}, T{tool}: {message}."
        raise NonnaError("out-of-range", words, "program", line=stop.line, tool=stop.tool, message=stop.message)
    return Trial(text, spoken, asked.machine, found)


def _outcomes(
    readings: Mapping[int, Sequence[Mapping[str, Plain]]], tools: Sequence[Tool], program: str = ""
) -> tuple[Outcome, ...]:
    """Return readings as each tip's sheet takes them; the way of a tip is its table's."""
    ways, made = {tool.number: tool.edge for tool in tools}, []
    for number, rows in readings.items():
        way = ways.get(number, "")
        if number in ways and way not in WAYS:  # the planes of another way would be taken for its own
            words = "say first which way it cuts (E edits the tool)."
            made.append(Outcome(number, failed=words, procedure=sheet_of_tips(), program=program))
        else:
            made.append(Outcome(number, (Taken(sheet_of_tips(), rows, variant=way),), program=program))
    return tuple(made)
