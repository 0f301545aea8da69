"""Programs as texts, without a tray: written for a job, rehearsed as somebody wrote them, read back."""

from __future__ import annotations

from typing import TypeAlias

from nonna.bench.job.planning import program_of
from nonna.programs.dialects.listing import USUAL, dialect_of, dialects
from nonna.programs.language.dialect import Dialect
from nonna.programs.writing.results import LeftIn, Touched, from_json, from_log, from_parameters, read_csv
from nonna.programs.writing.writer import Writer
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.job import Job
from nonna.shop.cards.machine import Machine, Tool, Tools
from nonna.shop.texts.csv_rows import RowsRead
from nonna.standin.rehearsal import Rehearsal
from nonna.stations.tool_program import ToolsAsked, Written

USUAL_DIALECT = USUAL.key
Results: TypeAlias = RowsRead[Touched]  #: of a machine's file, and what was wrong in it


def dialect_named(key: str) -> Dialect:
    """Return a dialect. Raises: NonnaError (there is none of that name)."""
    return dialect_of(key)


def dialect_words() -> tuple[tuple[str, str], ...]:
    """Return each dialect's name and words, the usual one first."""
    return tuple((each.key, each.words) for each in dialects())


def written(machine: Machine, job: Job, dialect: str, *, store: bool = False) -> Written:
    """Plan a job and write its program; ``store``: it stores by itself.

    Raises: NonnaError (no such dialect; this kind writes none so).
    """
    writer = Writer(dialect=dialect_of(dialect))
    asked = ToolsAsked(machine, (), tuple(job.tools), writer, job.touches, job.accuracy_mm, store=store)
    return program_of(machine).written(asked)


def rehearsed(
    text: str, machine: Machine, tools: Tools, dialect: str, *, sweep: bool, seed: int,
    kept: ControlTablesFile | None = None, held: Tool | None = None,
) -> Rehearsal:  # fmt: skip
    """Rehearse any program, ``kept`` the control's tables as they are, ``held`` in the spindle. Raises: NonnaError."""
    program, spoken = program_of(machine), dialect_of(dialect)
    return program.rehearse(text, machine, tools, spoken, sweep=sweep, seed=seed, kept=kept, held=held)


def results_in(name: str, data: bytes, pattern: str, left: tuple[LeftIn, ...]) -> Results | None:
    """Return what a machine's file holds: JSON, a log by a pattern, what our own program left, CSV; None for none.

    Parameters: left, where our last program left its results. Raises: NonnaError.
    """
    if name.lower().endswith(".json"):
        return RowsRead(from_json(data))
    text = data.decode("utf-8", "replace")
    if pattern:
        return RowsRead(from_log(text, pattern))
    ours = from_parameters(text, left)  # first: what our own program leaves
    return ours or (read_csv(data) if name.lower().endswith(".csv") else None)
