"""Runs of our own programs on a machine's control: what was written, so that what it prints is known when it comes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from nonna.bench import clock
from nonna.bench.named_files import checked_in, named_file
from nonna.bench.ports import ShopFiles
from nonna.programs.writing.load_plan import LoadPlan, LoadRow
from nonna.programs.writing.printed import Printout, Program, has_lines_of, program_of, read_printout
from nonna.shop.cards.machine import Tool
from nonna.shop.texts.given import Document, Given, Plain
from nonna.shop.texts.strict_model import Number, Strict

RUNS = "control-runs.json"
MOST = 20  #: of a machine, the newest
Purpose = Literal["measure", "load", "put-back"]


class _Row(Strict):
    what: str
    meant_mm: Number
    tool: int | None = None
    offset: int | None = None
    axis: str = ""
    record: int = 0


class _Run(Strict):
    run: str
    at: str
    purpose: Purpose
    text: str
    subjects: dict[str, str] = {}
    rows: list[_Row] = []


@dataclass(frozen=True, slots=True)
class WrittenRun:
    """A program that was written for a control and prints."""

    name: str  #: of its run
    at: str  #: when it was written, ISO
    purpose: Purpose
    text: str
    subjects: dict[int, str]  #: which tool was in which pocket then
    rows: tuple[LoadRow, ...] = ()  #: what it stores

    @property
    def program(self) -> Program:
        """What it prints."""
        return program_of(self.text)


@dataclass(frozen=True, slots=True)
class CameBack:
    """What a control printed of one of our runs."""

    run: WrittenRun
    printed: Printout


def note_measuring(folder: ShopFiles, machine: str, text: str, tools: Sequence[Tool]) -> None:
    """Keep a measuring program that prints; one that does not is none of ours here. Raises: NonnaError."""
    if has_lines_of(text):
        _note(folder, machine, "measure", program_of(text).run, text, tools, ())


def note_loading(folder: ShopFiles, plan: LoadPlan, text: str, tools: Sequence[Tool]) -> None:
    """Keep a load program. Raises: NonnaError."""
    _note(folder, plan.machine, "put-back" if plan.put_back else "load", plan.run, text, tools, plan.rows)


def _note(
    folder: ShopFiles, machine: str, purpose: Purpose, run: str, text: str, tools: Sequence[Tool],
    rows: Sequence[LoadRow],
) -> None:  # fmt: skip
    kept: list[Plain] = [
        {"what": r.what, "meant_mm": r.meant_mm, "tool": r.tool, "offset": r.offset, "axis": r.axis, "record": r.record}
        for r in rows
    ]
    made: dict[str, Plain] = {
        "run": run, "at": clock.stamp(), "purpose": purpose, "text": text,
        "subjects": {str(tool.number): str(tool.subject) for tool in tools}, "rows": kept,
    }  # fmt: skip

    def noted(document: Given) -> Document:
        before = document.get(machine)
        rows = list(before) if isinstance(before, list) else []
        return {**document, machine: [*rows, made][-MOST:]}

    folder.change((RUNS,), noted, {})


def runs_of(folder: ShopFiles, machine: str) -> tuple[WrittenRun, ...]:
    """Return what was written for a machine's control, oldest first. Raises: NonnaError naming the file."""
    rows = named_file(folder, RUNS).get(machine)
    found = [checked_in(RUNS, _Run, row) for row in rows] if isinstance(rows, list) else []
    return tuple(
        WrittenRun(
            each.run, each.at, each.purpose, each.text, {int(k): v for k, v in each.subjects.items()},
            tuple(LoadRow(r.what, r.meant_mm, r.tool, r.offset, r.axis, r.record) for r in each.rows),
        )
        for each in found
    )  # fmt: skip


def run_in(text: str) -> str:
    """Return the run that a program of ours prints, "" where it prints none."""
    return program_of(text).run if has_lines_of(text) else ""


def newest_in(text: str, runs: Sequence[WrittenRun]) -> CameBack | None:
    """Return what came of the newest run that a print-out has lines of, None where it has none of ours.

    Raises: NonnaError (its lines contradict each other or the program).
    """
    for each in reversed(runs):
        if has_lines_of(text, each.name):
            return CameBack(each, read_printout(text, each.program))
    return None
