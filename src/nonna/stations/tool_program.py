"""The port of a kind of station whose tools are measured by programs: plan, rehearse, run, read back.

A tray goes through the same steps whatever the kind; how each is done is the kind's.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Protocol

from nonna.programs.language.dialect import Dialect
from nonna.programs.writing.printed import Sheet
from nonna.programs.writing.results import LeftIn, Touched
from nonna.programs.writing.touches import TouchPlan
from nonna.programs.writing.writer import Writer
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, Tool, Tools
from nonna.shop.texts.given import Plain, Row
from nonna.standin.control import Watched
from nonna.standin.course import Course
from nonna.standin.rehearsal import Rehearsal, Trial
from nonna.standin.world import World
from nonna.stations.touched_tools import ToolPlan, Wish

Told = Callable[[int, int], None]  #: tools planned, of how many; what it raises stops the work
Running = Callable[[int, int, str], None]  #: how far, of how much, what is done now; what it raises stops it


@dataclass(frozen=True, slots=True)
class ToolsAsked:
    """Tools that are to be measured by one program."""

    machine: Machine  #: as it was calibrated last
    table: tuple[Tool, ...]  #: all tools of the machine
    tools: tuple[JobTool, ...]  #: those to be measured, and what of each
    writer: Writer
    touches: int = 1
    accuracy_mm: float = 0.0
    wishes: Mapping[int, Wish] = field(default_factory=dict)  #: touches decided by hand, by number
    store: bool = False  #: whether the program stores by itself what lies inside its window

    @property
    def dialect(self) -> Dialect:
        """In which the program is written."""
        return self.writer.dialect


@dataclass(frozen=True, slots=True)
class ToolsPlan:
    """A program for tools with what rehearsing it found: exactly this text is written, run and judged."""

    asked: ToolsAsked
    trial: Trial
    spots: tuple[LeftIn, ...]  #: where it leaves what it measures
    tools: tuple[ToolPlan, ...] = ()  #: each tool's, where a kind plans tool by tool
    program: TouchPlan | None = None  #: what the text was written of, where that is a plan of touches
    course: Course | None = None  #: the rehearsed way, where it can be scrubbed

    @property
    def numbers(self) -> tuple[int, ...]:
        """The tools that are touched."""
        return tuple(dict.fromkeys(spot.tool for spot in self.spots))


@dataclass(frozen=True, slots=True)
class Written:
    """A program that nobody rehearsed yet."""

    text: str
    tools: tuple[ToolPlan, ...]
    seconds: float  #: about what it takes


@dataclass(frozen=True, slots=True)
class Taken:
    """Readings as one sheet takes them."""

    procedure: str
    rows: Sequence[Mapping[str, Plain]]
    setup: Mapping[str, Plain] = field(default_factory=dict)
    variant: str = ""


@dataclass(frozen=True, slots=True)
class Outcome:
    """What measuring one tool gave: readings for its sheets, or why it did not."""

    number: int
    taken: tuple[Taken, ...] = ()
    failed: str = ""
    procedure: str = ""  #: the sheet a failure is told of
    program: str = field(default="", repr=False)


@dataclass(frozen=True, slots=True)
class Standin:
    """A stand-in machine for a control of its own."""

    drive: Watched
    turret: bool = False  #: whether tools are called as on a lathe


class ToolProgram(Protocol):
    """How one kind of station has its tools measured by programs."""

    @property
    def live(self) -> bool:
        """Whether tools are planned as soon as they are marked; else when a program is asked for."""

    def plan(self, asked: ToolsAsked, told: Told, check: Callable[[], None]) -> ToolsPlan:
        """Plan, write and rehearse a program; what stops it is in its rehearsal.

        ``check`` is called often, and raises when nobody wants it any more. Raises: NonnaError (there is none).
        """

    def written(self, asked: ToolsAsked) -> Written:
        """Plan and write a program, not rehearsed. Raises: NonnaError (this kind writes none so)."""

    def look(self, asked: ToolsAsked) -> ToolPlan | None:
        """Return how the first tool would be touched, None where this kind does not say. Raises: NonnaError."""

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
        """Rehearse any program; ``sweep``: at all lengths of the tools. What ``check`` raises stops it.

        Parameters: kept, the control's tables as they are; held, what the spindle holds at the start.

        Raises: NonnaError (the machine's file does not say what stands on it).
        """

    def standin(self, machine: Machine, tools: Tools, seed: int) -> Standin:
        """Return a stand-in that a control can drive: the machine as its papers have it, only its touches scatter.

        Raises: NonnaError (its file does not say what stands on it).
        """

    def run(
        self, plan: ToolsPlan, papers: Machine, world: World, number: int, go_on: bool, told: Running
    ) -> tuple[Outcome, ...]:
        """Run a plan's text on the stand-in of a machine.

        Parameters: papers, the machine as its file has it; number, of the run; go_on, after a tool that failed.
        Raises: NonnaError (it did not rehearse clean, or there is no stand-in).
        """

    def read_back(
        self, touches: Sequence[Touched], plan: ToolsPlan | None, tools: Sequence[Tool]
    ) -> tuple[Outcome, ...]:
        """Return what a real machine measured. Raises: NonnaError (touches that fit no tool or no plan)."""

    def printed_back(self, taken: Sequence[tuple[Sheet, Sequence[Row]]], tools: Sequence[Tool]) -> tuple[Outcome, ...]:
        """Return what a control printed of a run, as its sheets take it."""

    def dry_run(self, plan: ToolsPlan) -> str | None:
        """Return the same way with nothing touched, rehearsed clean; None where this kind has none.

        Raises: NonnaError (even so something is met, or a shop's template is wrong).
        """

    def template_faults(
        self, templates: Callable[[], Mapping[str, str] | None], machine: Machine
    ) -> tuple[Finding, ...]:
        """Try a shop's own templates in every dialect. Raises: NonnaError (nothing can be tried on this machine)."""

    def piece(self, asked: ToolsAsked, tolerance_mm: float | None) -> Trial:
        """Write a piece for a part program that measures or checks the first tool, rehearsed inside one.

        Raises: NonnaError (it cannot be measured so, or the piece does not rehearse clean).
        """


@dataclass(frozen=True, slots=True)
class Finding:
    """What is wrong with a template, in which dialect and where."""

    dialect: str
    line: int
    words: str
