"""How a mill, and a machine like one, has its tools measured on the setter by program."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING

from nonna.errors import NonnaError
from nonna.procedures.listing import measuring
from nonna.procedures.tool_diameter.evaluate import way_of
from nonna.programs.writing.results import LeftIn, Touched
from nonna.shop.cards.machine import Machine, Tool, Tools
from nonna.shop.texts.given import Plain, Row
from nonna.standin.course import course_of
from nonna.standin.first_tables import first_tables
from nonna.standin.rehearsal import Trial
from nonna.stations.mill.planning.plan import plan_job
from nonna.stations.mill.planning.snippets import Purpose, snippet
from nonna.stations.mill.planning.storing import must_store
from nonna.stations.mill.standin.batch import Found, measure_tools
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.rehearsing import as_stated, rehearse, true_lengths
from nonna.stations.mill.standin.template_check import check
from nonna.stations.mill.standin.trial import tried, tried_piece
from nonna.stations.tool_program import Finding, Outcome, Running, Standin, Taken, Told, ToolsAsked, ToolsPlan, Written

if TYPE_CHECKING:
    from nonna.programs.language.dialect import Dialect
    from nonna.programs.writing.printed import Sheet
    from nonna.shop.cards.control_tables import ControlTablesFile
    from nonna.shop.cards.job import JobTool
    from nonna.standin.rehearsal import Rehearsal
    from nonna.standin.world import World
    from nonna.stations.touched_tools import ToolPlan

#: fields of a sheet that its program alone knows
OF_THE_PROGRAM = (
    "feed_per_rev_mm", "flutes", "resolution_mm", "reference_mm", "tolerance_short_mm", "tolerance_long_mm",
)  # fmt: skip
NOT_THERE = "what it was to be measured for is not among the results."


class OnSetter:
    """Tools touched on the setter, planned as soon as they are marked."""

    live = True

    def plan(self, asked: ToolsAsked, told: Told, check: Callable[[], None]) -> ToolsPlan:
        """Plan, write and rehearse at every length."""
        job = plan_job(asked.machine, asked.tools, asked.touches, asked.accuracy_mm, told, asked.wishes)
        text = asked.writer.write(job.program)
        trial = tried(text, asked.machine, _held(asked), dialect=asked.dialect, trace=True, check=check)
        spots = tuple(
            LeftIn(plan.tool.number, t.axis, t.first_parameter, t.count, t.name, job.program.unit.mm)
            for plan in job.tools if not plan.refused for t in plan.touches
        )  # fmt: skip
        course = course_of(trial.rehearsal.path, asked.machine)
        return ToolsPlan(asked, trial, spots, job.tools, job.program, course)

    def written(self, asked: ToolsAsked) -> Written:
        """Plan and write a program."""
        if asked.store:
            must_store(asked.machine, asked.dialect)
        made = plan_job(asked.machine, asked.tools, asked.touches, asked.accuracy_mm, store=asked.store)
        text = asked.writer.write(made.program)
        if asked.store:
            _stores_what_it_says(asked, text)
        return Written(text, made.tools, made.seconds)

    def look(self, asked: ToolsAsked) -> ToolPlan | None:
        """Return how the first tool would be touched."""
        return plan_job(asked.machine, asked.tools[:1], asked.touches, asked.accuracy_mm, wishes=asked.wishes).tools[0]

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
        """Rehearse any program; where somebody may stop it, its way is kept to be looked at."""
        return rehearse(
            text,
            machine,
            tools,
            sweep=sweep,
            seed=seed,
            dialect=dialect,
            trace=check is not None,
            check=check,
            kept=kept,
            held=held,
        )

    def standin(self, machine: Machine, tools: Tools, seed: int) -> Standin:
        """Return the mill as its papers have it."""
        return Standin(Mill(machine, as_stated(machine, tools, true_lengths(tools)), tools, seed))

    def run(
        self, plan: ToolsPlan, papers: Machine, world: World, number: int, go_on: bool, told: Running
    ) -> tuple[Outcome, ...]:
        """Run it; where it stops at a tool the rest is written anew, rehearsed, and run in its turn."""
        found = measure_tools(plan, world, number, truth_of=papers, go_on=go_on, progress=told)
        plans = {each.tool.number: each.tool for each in plan.tools}
        return tuple(outcome_of(each, plans.get(each.number)) for each in found)

    def read_back(
        self, touches: Sequence[Touched], plan: ToolsPlan | None, tools: Sequence[Tool]
    ) -> tuple[Outcome, ...]:
        """Take each touch as what its program made it.

        A program leaves lengths, sides and teeth of a tool in its own order; touches that are fewer or more than it
        makes are taken as lengths where nothing else was asked for, and refused where it would be a guess which they
        are.
        """
        plans = {each.tool.number: each for each in plan.tools} if plan is not None else {}
        by_number: dict[int, list[Touched]] = {}
        for touch in touches:
            by_number.setdefault(touch.tool, []).append(touch)
        made = [found_of(number, own, plans.get(number)) for number, own in by_number.items()]
        return tuple(outcome_of(each, plans[each.number].tool if each.number in plans else None) for each in made)

    def printed_back(self, taken: Sequence[tuple[Sheet, Sequence[Row]]], tools: Sequence[Tool]) -> tuple[Outcome, ...]:
        """Take what each sheet takes; planes and widths are carried as to any sheet, the rest is the program's."""
        del tools
        made: dict[int, list[Taken]] = {}
        for sheet, rows in taken:
            setup: dict[str, Plain] = {
                name: int(value) if name == "flutes" else value
                for name, value in sheet.setup.items()
                if name in OF_THE_PROGRAM
            }
            way = way_of(rows) if sheet.takes == "face" else ""
            made.setdefault(sheet.tool, []).append(Taken(sheet.procedure, rows, setup, way))
        return tuple(Outcome(number, tuple(each)) for number, each in made.items())

    def template_faults(
        self, templates: Callable[[], Mapping[str, str] | None], machine: Machine
    ) -> tuple[Finding, ...]:
        """Write and rehearse samples."""
        return check(templates, machine)

    def piece(self, asked: ToolsAsked, tolerance_mm: float | None) -> Trial:
        """Write the piece that measures a tool, or checks it where that was asked of it."""
        plan = self.look(asked)
        if plan is None:
            raise NonnaError("missing-field", "Put the cursor on a tool first.", "tools")
        purpose: Purpose = "check" if "breakage" in plan.tool.measure else "measure"
        text = snippet(plan, asked.machine, purpose, asked.writer)
        trial = tried_piece(text, asked.machine, _held(asked), dialect=asked.dialect)
        trial.must_be_clean()
        return trial

    def dry_run(self, plan: ToolsPlan) -> str | None:
        """Return the dry run of a plan's program, rehearsed at every length: clean, and nothing touched.

        Raises: NonnaError ``collision`` (something would be met even so high above), or a shop's template is wrong.
        """
        asked = plan.asked
        if plan.program is None:
            raise NonnaError("missing-field", "There is no program to run dry.", "program")
        text = asked.writer.write_dry(plan.program)
        trial = tried(text, asked.machine, _held(asked), dialect=asked.dialect)
        trial.must_be_clean()
        if trial.rehearsal.contacts:
            raise NonnaError(
                "collision", "Even 50 mm higher something is touched. Do the first run by hand.", "program"
            )
        return text


PROGRAM = OnSetter()


def _stores_what_it_says(asked: ToolsAsked, text: str) -> None:
    """Rehearse a program that stores by itself. Raises: NonnaError (it stops, or stores what nobody asked for)."""
    names = set(Tool.model_fields)
    tools = [Tool.model_validate(t.model_dump(include=names)) for t in asked.tools]
    held = Tools(format="nonna-tools/1", tools=tools)
    kept = first_tables(asked.machine, held)
    Trial(text, asked.dialect, asked.machine, rehearse(
        text, asked.machine, held, dialect=asked.dialect, kept=kept
    )).must_be_clean()  # fmt: skip


def _as_stated(tools: Sequence[Tool]) -> Tools:
    return Tools(format="nonna-tools/1", tools=[t.model_copy(update={"true_length_mm": None}) for t in tools])


def _held(asked: ToolsAsked) -> Tools:
    """Return what the rehearsal takes to be in the pockets: a tool to be checked is as long as when it was measured."""
    reference = {t.number: t.reference_mm for t in asked.tools if t.reference_mm is not None}
    rows = []
    for tool in asked.table:
        long = reference.get(tool.number)
        rows.append(tool if long is None else tool.model_copy(update={"length_mm": long, "length_uncertainty_mm": 0.0}))
    return _as_stated(rows)


def found_of(number: int, own: Sequence[Touched], plan: ToolPlan | None) -> Found:
    """Sort what came of one tool by what its plan makes of each touch. Raises: NonnaError (it fits none)."""
    made = [touch for touch in plan.touches for _ in range(touch.count)] if plan else []
    beyond_lengths = any(touch.axis != "z" or touch.tooth for touch in made)
    named = any(touch.axis in ("x", "y") for touch in own)
    if (beyond_lengths or named) and len(made) != len(own):
        words = (
            "T{number}: {count} touches came, and its program makes {wanted}: which is a length, which a side? "
            "Nothing was taken."
        )
        raise NonnaError("too-few-readings", words, "touches", number=number, count=len(own), wanted=len(made))
    pairs = list(zip(own, made, strict=False)) if beyond_lengths else []
    wrong = next((a for a, b in pairs if a.axis and a.axis != b.axis), None)
    if wrong is not None:
        words = "T{number}: a touch along {axis} stands where its program makes another. Nothing was taken."
        raise NonnaError("wrong-format", words, "touches", number=number, axis=wrong.axis.upper())
    tops = [a.position_mm for a, b in pairs if b.axis == "z" and not b.tooth] if pairs else [a.position_mm for a in own]
    turns = {t.axis == "z": t.feeds.slow_mm_min / t.rpm for t in made if t.rpm and t.feeds is not None}
    return Found(
        number, tuple(tops), tuple((b.name.split()[-1], a.position_mm) for a, b in pairs if b.axis != "z"),
        tuple((b.tooth, a.position_mm) for a, b in pairs if b.tooth), turns.get(True, 0.0), turns.get(False, 0.0),
        plan.tool.edges if plan else 0,
    )  # fmt: skip


def _turning(feed_per_rev: float, flutes: int) -> dict[str, Plain]:
    """Return what a sheet is told of a tool that turned; one that stood still needs no word."""
    return {"feed_per_rev_mm": feed_per_rev, "flutes": flutes} if feed_per_rev else {}


def outcome_of(found: Found, wanted: JobTool | None) -> Outcome:
    """Return what was found as its sheets take it: lengths, sides, teeth, a check."""
    measure: Sequence[str] = wanted.measure if wanted is not None else ["length"]
    check = "breakage" in measure
    if found.failed and not (check and found.lowest is not None):
        first = next((what for what in ("length", "diameter", "breakage", "teeth") if what in measure), "length")
        return Outcome(found.number, failed=found.failed, procedure=measuring(first), program=found.program)
    rows: list[Taken] = []
    tops: list[Mapping[str, Plain]] = [{"position_mm": z} for z in found.tops]
    if "length" in measure and tops:
        rows.append(Taken(measuring("length"), tops, _turning(found.feed_per_rev, found.flutes)))
    if "diameter" in measure and found.sides:
        sides: list[dict[str, Plain]] = [{"face": face, "position_mm": x} for face, x in found.sides]
        turned = _turning(found.side_feed_per_rev, found.flutes)
        rows.append(Taken(measuring("diameter"), sides, turned, way_of(sides)))
    if found.teeth:
        rows.append(Taken(measuring("teeth"), [{"tooth": tooth, "position_mm": z} for tooth, z in found.teeth]))
    if check:
        rows.append(_check(found, wanted))
    if not rows:
        return Outcome(found.number, failed=NOT_THERE, procedure=measuring("length"))
    return Outcome(found.number, tuple(rows), program=found.program)


def _check(found: Found, wanted: JobTool | None) -> Taken:
    touched: list[dict[str, Plain]] = [{"position_mm": z} for z in found.tops[:1]]
    if not touched and found.lowest is not None:
        touched = [{"no_trigger": True, "lowest_mm": found.lowest}]
    names = ("reference_mm", "tolerance_short_mm", "tolerance_long_mm")
    setup: dict[str, Plain] = {name: getattr(wanted, name) for name in names} if wanted is not None else {}
    return Taken(measuring("breakage"), touched, setup | _turning(found.feed_per_rev, found.flutes))
