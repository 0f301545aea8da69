"""A control that runs programs by itself: its tables and parameters stay, what it prints and stores leaves at once."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Protocol

from nonna.programs.language.blocks import Block, parse
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.control_state import ControlState
from nonna.programs.language.dialect import Dialect
from nonna.programs.language.drive import Drive
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.guarding import run_guarded
from nonna.programs.language.table_file import cells_of, file_of, parameters_of
from nonna.programs.language.tables import Cell, ControlTables
from nonna.programs.language.tool_calls import calls_of
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.machine import Machine
from nonna.standin.contact import Problem

OWN_BELOW = 5000  #: parameters from here on are the machine's places and offsets, and not kept with the programs' own


class Watched(Drive, Protocol):
    """A stand-in machine: a drive that says what went wrong."""

    problems: list[Problem]


class Outside(Protocol):
    """What is beyond a control's cabinet."""

    def printed(self, line: str) -> None:
        """Take a line that leaves the control."""

    def stored(self, tables: ControlTablesFile) -> None:
        """Keep the tables as they are now."""

    def passed(self, seconds: float) -> None:
        """Let so many seconds of the machine pass; what it raises stops the machine where it is."""


class AlarmError(Exception):
    """The control stopped a program, in the words of its screen."""


@dataclass(slots=True)
class StandinControl:
    """A control with the tables it keeps."""

    machine: Machine
    dialect: Dialect
    kept: ControlTablesFile
    turret: bool = False  #: whether tools are called as on a lathe
    forgets: frozenset[int] = frozenset()  #: which of the numbers stored from now on it does not keep, by their order
    _stored: int = field(default=0, init=False)

    def run(self, text: str, drive: Watched, outside: Outside) -> None:
        """Run a program to its end.

        Raises: AlarmError (it cannot be read or run, or something was met), and what ``outside`` raises.
        """
        card = self.machine.control
        try:
            blocks = parse(text, jumps=self.dialect.jumps, phrases=phrases_of(card))
        except ProgramError as error:
            raise AlarmError(f"block {error.line}: {error.message}") from error
        state = ControlState(calls=calls_of(card, turret=self.turret))
        state.use(ControlTables.of(card, cells_of(self.kept)), parameters_of(self.kept))
        follow = _Follow(self, state, drive, outside)
        try:
            run_guarded(blocks, drive, follow.before, skip=self.dialect.skip_at, state=state, lifts=not self.turret)
        except ProgramError as error:
            raise AlarmError(f"block {error.line}: {error.message}") from error
        finally:
            follow.catch_up()
        if drive.problems:
            raise AlarmError(_words(drive.problems[0]))
        if state.missed:
            raise AlarmError(f"block {state.missed[0]}: the sensor never triggered")

    def keeps_next(self) -> bool:
        """Count a number that is stored, and say whether it stays."""
        self._stored += 1
        return self._stored not in self.forgets


@dataclass(slots=True)
class _Follow:
    """Tells the outside what one run prints and stores, as soon as it has."""

    control: StandinControl
    state: ControlState
    drive: Watched
    outside: Outside
    _printed: int = 0
    _stored: int = 0
    _clock: float = 0.0

    def before(self, block: Block) -> None:
        """Look up before each block. Raises: AlarmError (something was met)."""
        del block
        self.catch_up()
        if self.drive.problems:
            raise AlarmError(_words(self.drive.problems[0]))

    def catch_up(self) -> None:
        """Tell what came since the last time."""
        tables = self.state.tables
        if tables is not None and len(tables.stored) > self._stored:
            for each in tables.stored[self._stored :]:
                if not self.control.keeps_next():
                    self._forget(tables, each.cell, each.old)
            self._stored = len(tables.stored)
            self._keep(tables)
        while self._printed < len(self.state.printed):
            self._printed += 1
            self.outside.printed(self.state.printed[self._printed - 1])
        now = self.drive.clock_s
        if now > self._clock:
            passed, self._clock = now - self._clock, now
            self.outside.passed(passed)
        if tables is not None and self.state.ended:
            self._keep(tables)

    def _forget(self, tables: ControlTables, cell: Cell, old: float | None) -> None:
        if old is None:
            empty = ControlTables.of(tables.card, {cell: 0.0}).parameters()
            del tables.cells[cell]
            self.state.parameters.update(empty)
        else:
            tables.cells[cell] = old
        self.state.parameters.update(tables.parameters())

    def _keep(self, tables: ControlTables) -> None:
        of_tables = tables.parameters()
        own = {
            number: value
            for number, value in self.state.parameters.items()
            if number < OWN_BELOW and number not in of_tables
        }
        made = file_of(self.control.kept.units, tables.cells, own)
        self.control.kept = made
        self.outside.stored(made)


def _words(problem: Problem) -> str:
    return f"block {problem.line}: {problem.message}"
