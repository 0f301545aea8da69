"""Run a program on the stand-in mill and read its results back from the parameters, as one would by hand."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.errors import NonnaError
from nonna.programs.dialects.listing import USUAL
from nonna.programs.language.blocks import Block, parse
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.dialect import Dialect
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.guarding import run_guarded
from nonna.programs.language.tool_calls import calls_of
from nonna.programs.writing.touches import Touch, TouchPlan
from nonna.standin.contact import Contact
from nonna.standin.rehearsal import state_for
from nonna.standin.wishes import MachineStoppedError, Watch
from nonna.stations.mill.standin.mill import Mill


@dataclass(frozen=True, slots=True)
class RunReport:
    """What a run gave: positions by touch name, in the order touched."""

    results: tuple[tuple[str, float], ...]
    seconds: float
    contacts: tuple[Contact, ...]
    stopped: NonnaError | None = None  #: why it did not come to its end
    left_at: int = 0  #: the tool that was in the spindle then

    def of(self, touch: Touch) -> tuple[float, ...]:
        """Return the positions of one touch."""
        return tuple(value for name, value in self.results if name == touch.name)


def run_program(
    text: str, plan: TouchPlan, mill: Mill, watch: Watch | None = None, *, dialect: Dialect = USUAL
) -> RunReport:
    """Run a program's text; results come from the parameters its header documents.

    Raises: ProgramError (bad block, or no trigger), MachineStoppedError; whatever ``watch`` raises.
    """
    report = try_program(text, plan, mill, watch, dialect=dialect)
    if report.stopped is not None:
        raise report.stopped
    return report


def try_program(
    text: str, plan: TouchPlan, mill: Mill, watch: Watch | None = None, *, dialect: Dialect = USUAL
) -> RunReport:
    """Run a program's text as far as it goes; what was touched before it stopped is kept.

    Raises: ProgramError (a block that cannot be read); whatever ``watch`` raises.
    """
    control = mill.machine.control
    blocks = parse(text, jumps=dialect.jumps, phrases=phrases_of(control))
    state = state_for(blocks, calls_of(control), mill.machine)
    stopped: NonnaError | None = None

    def progress(block: Block) -> None:
        if mill.problems:
            raise MachineStoppedError(mill.problems[0])
        if watch is not None:
            watch(block.line, len(blocks), mill.clock_s)

    try:
        run_guarded(blocks, mill, progress, skip=dialect.skip_at, state=state)
        if mill.problems:
            raise MachineStoppedError(mill.problems[0])
        if state.missed:
            raise ProgramError("no-trigger", "the sensor never triggered on this move", state.missed[0])
    except (MachineStoppedError, ProgramError) as error:
        stopped = error
    results = tuple(
        (touch.name, state.parameters[touch.first_parameter + i] * plan.unit.mm)
        for touch in plan.touches
        for i in range(touch.count)
        if touch.first_parameter + i in state.parameters
    )
    return RunReport(results, mill.clock_s, tuple(mill.contacts), stopped, mill.tool)
