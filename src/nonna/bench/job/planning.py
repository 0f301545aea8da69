"""What the tray works out behind the screen: plan, program, rehearsal; frozen requests, frozen answers, no Qt."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from nonna.bench.book.results_that_hold import HeldResults, Nothing
from nonna.bench.job.piece_age import older_numbers
from nonna.errors import NonnaError
from nonna.procedures import offers
from nonna.procedures.listing import measuring
from nonna.programs.dialects.listing import dialect_for
from nonna.programs.language.dialect import Dialect
from nonna.programs.writing.writer import Writer
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, Tool, Tools
from nonna.standin.rehearsal import Rehearsal
from nonna.stations.kind import kind_of
from nonna.stations.mill.planning.choose import Wish
from nonna.stations.mill.planning.plan import JobPlan, ToolPlan, plan_job
from nonna.stations.mill.planning.snippets import Purpose, snippet
from nonna.stations.mill.standin.course import Course, course_of
from nonna.stations.mill.standin.rehearsing import rehearse
from nonna.stations.mill.standin.trial import Trial, tried, tried_piece


@dataclass(frozen=True, slots=True)
class Request:
    """One job to be planned and rehearsed; answers to older ones are dropped."""

    number: int
    machine: Machine
    tools: tuple[JobTool, ...]
    table: tuple[Tool, ...]
    wishes: Mapping[int, Wish]
    touches: int
    accuracy_mm: float
    writer: Writer
    results: HeldResults


@dataclass(frozen=True, slots=True)
class Answer:
    """The plan, its program and what rehearsing that found."""

    number: int
    plan: JobPlan
    trial: Trial
    writer: Writer
    table: tuple[Tool, ...]  #: the tray's tools as they were planned
    results: HeldResults  #: what the plan rests on
    course: Course | None = None  #: its rehearsed path, to be looked at

    @property
    def text(self) -> str:
        """The program, exactly as it was rehearsed."""
        return self.trial.text

    @property
    def rehearsal(self) -> Rehearsal:
        """What rehearsing the text found."""
        return self.trial.rehearsal

    def of(self, tool: int) -> ToolPlan | None:
        """Return the plan of one tool."""
        return next((p for p in self.plan.tools if p.tool.number == tool), None)

    @property
    def refused(self) -> tuple[ToolPlan, ...]:
        """Tools that are left out, each with its reason."""
        return tuple(p for p in self.plan.tools if p.refused)


@dataclass(frozen=True, slots=True)
class Tried:
    """A program that is not ours, and what rehearsing it found."""

    text: str
    rehearsal: Rehearsal
    dialect: Dialect
    course: Course | None = None


def try_text(
    name: str,
    data: bytes,
    machine: Machine,
    tools: Sequence[Tool],
    asked: Dialect,
    check: Callable[[], None],
    results: HeldResults,
) -> Tried:
    """Rehearse a file's text at all lengths of the tools; a piece in it that rests on older numbers is said.

    Raises: NonnaError (it cannot be read, or a record that would be used is damaged).
    """
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError as error:
        raise NonnaError("unreadable", "{name} is not UTF-8 text.", name=name) from error
    dialect = dialect_for(text, asked)
    own, held = kind_of(machine.kind).rehearsal(), _held(tools, ())
    if own is not None:
        found = own(text, machine, held, dialect=dialect)
    else:
        found = rehearse(text, machine, held, sweep=True, dialect=dialect, trace=True, check=check)
    found = replace(found, problems=(*found.problems, *older_numbers(text, machine, tools, results)))
    return Tried(text, found, dialect, course_of(found.path, machine))


def calibrated(machine: Machine, results: HeldResults) -> Machine:
    """Return the machine with its setter's plane, widths and centre as they were calibrated last.

    Raises: NonnaError ``missing-field`` (no calibration that holds gives its trigger plane: nothing may be planned
    on what the machine's papers say).
    """
    each = kind_of(machine.kind).loop.each
    if each is not None and each.procedure != measuring("length"):
        words = "{name} measures tools one at a time: Enter opens the sheet of the tool under the cursor."
        raise NonnaError("missing-field", words, "machine.kind", name=machine.name)
    if machine.setter is None:
        raise NonnaError(
            "missing-field",
            "{name} has no setter on file; nothing can be touched.",
            "machine.setter",
            name=machine.name,
        )
    plane = results.find_offered(offers.TRIGGER_PLANE)
    if isinstance(plane, Nothing):
        raise NonnaError(
            "missing-field",
            "The setter's trigger plane is not known: {why} Calibrate the setter first.",
            "setter",
            why=plane.why,
        )
    setter = machine.setter.model_copy(update={"trigger_plane_mm": plane.value})
    return machine.model_copy(update={"setter": setter})


def work_out(asked: Request, check: Callable[[], None], progress: Callable[[int, int], None]) -> Answer:
    """Plan, write and rehearse at every length.

    ``check`` raises when the work is no longer wanted. Raises: NonnaError (also where the shop's own template is
    wrong).
    """

    def told(done: int, of: int) -> None:
        check()
        progress(done, of)

    plan = plan_job(asked.machine, asked.tools, asked.touches, asked.accuracy_mm, told, asked.wishes)
    writer = asked.writer
    held = _held(asked.table, asked.tools)
    trial = tried(writer.write(plan.program), asked.machine, held, dialect=writer.dialect, trace=True, check=check)
    course = course_of(trial.rehearsal.path, asked.machine)
    return Answer(asked.number, plan, trial, writer, asked.table, asked.results, course)


def dry_run(answer: Answer, machine: Machine) -> str:
    """Return the dry run of a plan's program, rehearsed at every length: clean, and nothing touched.

    Raises: NonnaError ``collision`` (something would be met even so high above), or a shop's template is wrong.
    """
    text = answer.writer.write_dry(answer.plan.program)
    held = _held(answer.table, [row.tool for row in answer.plan.tools])
    trial = tried(text, machine, held, dialect=answer.writer.dialect)
    trial.must_be_clean()
    if trial.rehearsal.contacts:
        raise NonnaError("collision", "Even 50 mm higher something is touched. Do the first run by hand.", "program")
    return text


def piece_of(plan: ToolPlan, writer: Writer, machine: Machine, tools: Sequence[Tool]) -> Trial:
    """Write the piece for a part program that measures or checks a tool, and rehearse it inside one.

    Raises: NonnaError (the tool is refused, the template cannot be used, or the piece does not rehearse clean).
    """
    purpose: Purpose = "check" if "breakage" in plan.tool.measure else "measure"
    text = snippet(plan, machine, purpose, writer)
    trial = tried_piece(text, machine, _held(tools, [plan.tool]), dialect=writer.dialect)
    trial.must_be_clean()
    return trial


def _held(table: Sequence[Tool], wanted: Sequence[JobTool]) -> Tools:
    """Return what the rehearsal takes to be in the pockets: a tool to be checked is as long as when it was measured."""
    reference = {t.number: t.reference_mm for t in wanted if t.reference_mm is not None}
    rows = []
    for tool in table:
        long = reference.get(tool.number)
        rows.append(tool if long is None else tool.model_copy(update={"length_mm": long, "length_uncertainty_mm": 0.0}))
    plain = [t.model_copy(update={"true_length_mm": None}) for t in rows]
    return Tools(format="nonna-tools/1", tools=plain)
