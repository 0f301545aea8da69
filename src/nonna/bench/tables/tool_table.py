"""The tool table: what the machine holds, what was measured, the difference, and the file to load."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nonna.bench.book.results_that_hold import HeldResults
from nonna.bench.tables.files import text_of
from nonna.procedures.catalogue import procedure
from nonna.procedures.evaluation import Evaluation
from nonna.shop.cards.machine import Tool
from nonna.shop.cards.seen import ToolSeen
from nonna.shop.links.history import Standing
from nonna.shop.links.judge import LinkState, State
from nonna.shop.links.loop import Link
from nonna.shop.links.subjects import Subject
from nonna.shop.texts.csv_rows import rows_csv

LENGTH = "length_mm"
ROUGH_MM = 1.0  #: a length known no better than this is said to be about so


@dataclass(frozen=True, slots=True)
class ToolRow:
    """One tool with its old and new length, mm."""

    subject: Subject
    number: int
    kind: str
    diameter: float
    name: str
    was: float | None
    now: float | None
    expanded: float | None
    state: State
    record: int | None
    verdict: str
    doubt_mm: float = 0.0  #: of the old length: 0 as it stands there

    @property
    def rough(self) -> bool:
        """Whether the old length was only about so."""
        return self.doubt_mm >= ROUGH_MM

    @property
    def change(self) -> float | None:
        """New length less the table's."""
        return None if self.was is None or self.now is None else self.now - self.was

    @property
    def accepted(self) -> bool:
        """Whether the new length may go into the table: the link holds and the result is no failure."""
        return self.state is State.HOLDS and self.now is not None


def rows(tools: Sequence[ToolSeen], entries: Standing, link: LinkState) -> tuple[ToolRow, ...]:
    """Return a row a tool, from the machine's table and the newest records."""
    states = dict(link.subjects)
    long = procedure(link.link.procedure).main[0] == LENGTH  # a lathe's offset is no length, and never written as one
    made = []
    for tool in tools:
        entry = entries.newest(link.link.procedures, tool.subject)
        made.append(
            ToolRow(
                tool.subject, tool.number, tool.kind, tool.diameter_mm, tool.name, tool.length_mm,
                entry.value_mm if entry and long else None, entry.expanded_mm if entry and long else None,
                states.get(tool.subject, State.NEVER), entry.number if entry else None, entry.verdict if entry else "",
                tool.doubt_mm,
            )
        )  # fmt: skip
    return tuple(made)


def offsets(results: HeldResults, link: Link, subject: Subject) -> tuple[tuple[str, float], ...]:
    """Return what a record that is no length says of a tool, by its titles there; () where it is one, or none holds.

    Raises: NonnaError (the record is damaged).
    """
    names = procedure(link.procedure).main
    if names[0] == LENGTH:
        return ()
    held = [found for name in names if (found := results.held(link.procedure, name, subject)) is not None]
    titles = {name: title for found in held for name, title in found.record.order}
    return tuple((titles[found.name], found.value) for found in held)


def offsets_of(evaluation: Evaluation) -> tuple[tuple[str, float], ...]:
    """Return the same of a result that is not signed yet."""
    found = {q.name: q for q in evaluation.quantities}
    return tuple(
        (found[name].title, found[name].value) for name in procedure(evaluation.procedure).main if name in found
    )


def csv_text(table: Iterable[ToolRow]) -> str:
    """Return the table as CSV: the length to load, the one before, the difference, the doubt and its record."""
    made: list[list[object]] = [
        ["tool", "description", "length_mm", "was_mm", "difference_mm", "U_mm", "record", "source"]
    ]
    for row in table:
        new = row.accepted
        length = row.now if new else row.was
        made.append(
            [
                row.number, row.name, _mm(length), _mm(row.was), _mm(row.change) if new else "",
                _mm(row.expanded) if new else "",
                row.record if new else "", "measured" if new else "kept",
            ]
        )  # fmt: skip
    return rows_csv(made)


OFFSETS = ("offset_x_mm", "offset_z_mm", "wear_x_mm", "wear_z_mm")


def has_offsets(tools: Iterable[Tool]) -> bool:
    """Whether these are tools of a lathe whose table holds anything: offsets in place of lengths."""
    return any(getattr(tool, name) is not None for tool in tools for name in OFFSETS)


def offsets_csv(tools: Iterable[Tool]) -> str:
    """Return a lathe's table as CSV: offsets and wear as its tools have them, X as the machine shows it."""
    made: list[list[object]] = [["tool", "description", *OFFSETS]]
    for tool in tools:
        made.append([tool.number, tool.description or tool.kind, *(_mm(getattr(tool, name)) for name in OFFSETS)])
    return rows_csv(made)


def table_text(suffix: str, rows: Sequence[ToolRow], tools: Sequence[Tool], machine: str) -> str:
    """Return the table to load into the machine: measured lengths that hold, the rest as it was.

    CSV has the difference and the record of each length; JSON and XML have the whole tool. Parameters: suffix, the
    ending of the file it is for.
    """
    if suffix.lower() not in (".json", ".xml"):
        return offsets_csv(tools) if has_offsets(tools) else csv_text(rows)
    new = {r.number: r.now for r in rows if r.accepted}
    made = [t.model_copy(update={"length_mm": new[t.number]}) if t.number in new else t for t in tools]
    return text_of(made, suffix, machine)


def _mm(value: float | None) -> str:
    return "" if value is None else f"{value:.4f}"
