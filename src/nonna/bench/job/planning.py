"""What the tray works out behind the screen: plan, program, rehearsal; frozen requests, frozen answers, no Qt.

How is the kind's (`stations/tool_program`); here stands what every kind goes through.
"""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from nonna.bench.book.results_that_hold import HeldResults, Nothing
from nonna.bench.job.piece_age import older_numbers
from nonna.bench.tray.tray import Tray, job_tools
from nonna.errors import NonnaError
from nonna.procedures import offers
from nonna.procedures.listing import measuring
from nonna.programs.dialects.listing import dialect_for
from nonna.programs.writing.writer import Writer
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, Tools
from nonna.standin.course import Course, course_of
from nonna.stations.kind import kind_of
from nonna.stations.tool_program import ToolProgram, ToolsAsked, ToolsPlan

if TYPE_CHECKING:
    from nonna.bench.ports import ShopFiles
    from nonna.programs.language.dialect import Dialect
    from nonna.standin.rehearsal import Rehearsal, Trial
    from nonna.stations.touched_tools import ToolPlan


@dataclass(frozen=True, slots=True)
class Answer:
    """A plan with its program and what rehearsing that found; answers to older wishes are dropped."""

    number: int
    plan: ToolsPlan
    results: HeldResults  #: what the plan rests on

    @property
    def text(self) -> str:
        """The program, exactly as it was rehearsed."""
        return self.plan.trial.text

    @property
    def rehearsal(self) -> Rehearsal:
        """What rehearsing the text found."""
        return self.plan.trial.rehearsal

    @property
    def course(self) -> Course | None:
        """Its rehearsed path, to be looked at."""
        return self.plan.course

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


def program_of(machine: Machine) -> ToolProgram:
    """Return what has a machine's tools measured by program. Raises: NonnaError (its kind has nothing of that)."""
    found = kind_of(machine.kind).tool_program()
    if found is None:
        raise NonnaError(
            "out-of-range", "{name}: its tools are measured on their sheets.", "machine", name=machine.name
        )
    return found


def asked_of(
    tray: Tray, numbers: Collection[int], machine: Machine, results: HeldResults, folder: ShopFiles
) -> ToolsAsked:
    """Return what is asked of a machine: these tools of the tray, by its settings.

    Raises: NonnaError (something is to be measured first, or the shop's own template is wrong).
    """
    writer, program = Writer(folder.templates(), tray.dialect), program_of(machine)
    if not program.live:
        tools = [JobTool.model_validate(t.model_dump()) for t in tray.tools if t.number in numbers]
        return ToolsAsked(machine, tray.tools, tuple(tools), writer, tray.touches)
    return ToolsAsked(
        calibrated(machine, results), tray.tools, tuple(job_tools(tray, numbers, results)), writer, tray.touches,
        tray.accuracy_mm, dict(tray.wishes),
    )  # fmt: skip


def look_at(tray: Tray, number: int, machine: Machine, results: HeldResults) -> ToolPlan | None:
    """Return the plan of one tool alone, None where nothing can be planned: the tray itself says what is wrong with
    it.

    Parameters: machine, as it was calibrated last.
    """
    program = kind_of(machine.kind).tool_program()
    if machine.setter is None or program is None:
        return None
    try:
        wanted = tuple(job_tools(tray, {number}, results)[:1])
        asked = ToolsAsked(machine, tray.tools, wanted, Writer(), tray.touches, tray.accuracy_mm, tray.wishes)
        return program.look(asked)
    except NonnaError:
        return None


def work_out(
    number: int,
    asked: ToolsAsked,
    results: HeldResults,
    check: Callable[[], None],
    progress: Callable[[int, int], None],
) -> Answer:
    """Plan, write and rehearse at every length.

    ``check`` raises when the work is no longer wanted. Raises: NonnaError (also where the shop's own template is
    wrong).
    """

    def told(done: int, of: int) -> None:
        check()
        progress(done, of)

    return Answer(number, program_of(asked.machine).plan(asked, told, check), results)


def try_text(
    name: str, data: bytes, machine: Machine, tray: Tray, check: Callable[[], None], results: HeldResults
) -> Tried:
    """Rehearse a file's text at all lengths of the tray's tools; a piece in it that rests on older numbers is said.

    Raises: NonnaError (it cannot be read, its setter is to be calibrated first, or a record that would be used is
    damaged).
    """
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError as error:
        raise NonnaError("unreadable", "{name} is not UTF-8 text.", name=name) from error
    program, dialect = program_of(machine), dialect_for(text, tray.dialect)
    stated = [tool.model_copy(update={"true_length_mm": None}) for tool in tray.tools]
    tools = Tools(format="nonna-tools/1", tools=stated)
    found = program.rehearse(text, machine, tools, dialect, check=check)
    found = replace(found, problems=(*found.problems, *older_numbers(text, machine, tray.tools, results)))
    return Tried(text, found, dialect, course_of(found.path, machine))


def tried_on(machine: Machine, results: HeldResults) -> Machine:
    """Return the machine that any program is tried on. Raises: NonnaError (its setter is to be calibrated first)."""
    return calibrated(machine, results) if program_of(machine).live else machine


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
            "The setter's trigger plane is not known. {why} Calibrate the setter first.",
            "setter",
            why=plane.why,
        )
    setter = machine.setter.model_copy(update={"trigger_plane_mm": plane.value})
    return machine.model_copy(update={"setter": setter})


def piece_of(asked: ToolsAsked, tolerance_mm: float | None = None) -> Trial:
    """Write the piece for a part program that measures or checks a tool, and rehearse it inside one.

    Raises: NonnaError (the tool is refused, the template cannot be used, or the piece does not rehearse clean).
    """
    return program_of(asked.machine).piece(asked, tolerance_mm)
