"""The tray as one frozen value: tools, marks, what is to be measured, results waiting. Qt-free; undo is the one
before.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from nonna.bench.book.results_that_hold import HeldResults
from nonna.bench.sheet.judging import Judged, suspected
from nonna.errors import NonnaError
from nonna.procedures import offers
from nonna.programs.dialects.listing import USUAL
from nonna.programs.language.dialect import Dialect
from nonna.shop.cards.job import JobTool, Measure
from nonna.shop.cards.machine import Tool
from nonna.shop.links.history import Entry, Standing
from nonna.shop.links.subjects import Subject
from nonna.stations.touched_tools import ACCURACY_MM, Wish

PROTECTED = ("probe", "master")  #: rows that "clear all" leaves alone
TOLERANCE_MM = 0.2  #: of a breakage check until a threshold was worked out
MEASURES: tuple[Measure, ...] = ("length", "diameter", "breakage", "teeth")


@dataclass(frozen=True, slots=True)
class Tray:
    """Everything a person can change in the tray."""

    tools: tuple[Tool, ...] = ()
    marked: frozenset[int] = frozenset()
    measures: Mapping[int, frozenset[Measure]] = field(default_factory=dict)  #: by tool; length where nothing stands
    wishes: Mapping[int, Wish] = field(default_factory=dict)
    results: tuple[Judged, ...] = ()  #: measured, not accepted yet
    touches: int = 3
    accuracy_mm: float = ACCURACY_MM
    dialect: Dialect = USUAL
    go_on: bool = True  #: after a failure

    def tool(self, number: int) -> Tool | None:
        """Return a tool by its number."""
        return next((t for t in self.tools if t.number == number), None)

    def measures_of(self, number: int) -> frozenset[Measure]:
        """Return what is to be measured of a tool."""
        return self.measures.get(number, frozenset({"length"}))

    def toggled(self, number: int) -> Tray:
        """Mark a tool or leave it out."""
        return replace(self, marked=self.marked ^ {number})

    def with_marks(self, numbers: Iterable[int]) -> Tray:
        """Mark these tools and no others."""
        return replace(self, marked=frozenset(numbers) & {t.number for t in self.tools})

    def with_measure(self, numbers: Collection[int], what: Measure) -> Tray:
        """Turn one thing to be measured on for these tools, or off where all have it; something always stays."""
        on = not all(what in self.measures_of(n) for n in numbers)
        made = dict(self.measures)
        for number in numbers:
            now = self.measures_of(number) | {what} if on else self.measures_of(number) - {what}
            made[number] = now or frozenset({"length"})
        return replace(self, measures=made)

    def with_tool(self, tool: Tool, instead_of: int | None = None) -> Tray:
        """Put a tool in, or in the place of another. Raises: NonnaError (its number is taken by a third)."""
        if tool.number != instead_of and self.tool(tool.number) is not None:
            raise NonnaError("out-of-range", "number: T{number} is in the tray already.", "number", number=tool.number)
        if instead_of is None:
            return self._and([tool])
        return replace(
            self, tools=tuple(_at_its_place(tool, instead_of) if t.number == instead_of else t for t in self.tools)
        )

    def with_rows(self, rows: Iterable[tuple[Tool | None, Tool]]) -> Tray:
        """Put tools in, each in the place of what it was before, or new; numbers may change hands among them.

        Raises: NonnaError (a number is taken by a tool that is not among the rows).
        """
        pairs = list(rows)
        moved = {old.number: tool for old, tool in pairs if old is not None}
        kept = [t for t in self.tools if t.number not in moved]
        taken = {t.number for t in kept}
        for _, tool in pairs:
            if tool.number in taken:
                raise NonnaError(
                    "out-of-range", "number: T{number} is in the tray already.", "number", number=tool.number
                )
        made = tuple(_at_its_place(moved[t.number], t.number) if t.number in moved else t for t in self.tools)
        return replace(self, tools=made)._and(tool for old, tool in pairs if old is None)

    def without(self, numbers: Collection[int]) -> Tray:
        """Take tools out; probe and masters stay."""
        gone = {t.number for t in self.tools if t.number in numbers and t.kind not in PROTECTED}
        return replace(self, tools=tuple(t for t in self.tools if t.number not in gone), marked=self.marked - gone)

    def cleared(self) -> Tray:
        """Forget every length in the table but the probe's and the masters' own."""
        tools = tuple(t if t.kind in PROTECTED else t.model_copy(update={"length_mm": None}) for t in self.tools)
        return replace(self, tools=tools)

    def merged(self, tools: Sequence[Tool]) -> Tray:
        """Take tools of a file over: rows of the same number are replaced, the rest stays.

        What a row of the same kind and diameter does not say, such as the holder, stays too.
        """
        new = {t.number: _filled(t, self.tool(t.number)) for t in tools}
        ids = {t.number: t.id for t in self.tools}
        kept = [new.pop(t.number, t) for t in self.tools]
        kept = [t if t.id else t.model_copy(update={"id": ids[t.number]}) for t in kept]
        return replace(self, tools=tuple(kept))._and(new.values())

    def loaded(self, tools: Sequence[Tool], wishes: Mapping[int, Wish]) -> Tray:
        """Take the machine's tools as the file has them; marks stay."""
        numbers = {t.number for t in tools}
        return replace(self, tools=tuple(tools), marked=self.marked & numbers, wishes=wishes)

    def arrived(self, row: Judged, entries: Standing | tuple[Entry, ...]) -> Tray:
        """Take one result in, in the place of an earlier one of the same; it is compared with the tool's past."""
        others = tuple(r for r in self.results if (r.subject, r.name) != (row.subject, row.name))
        (judged,) = suspected((row,), {t.subject: t for t in self.tools}, entries)
        return replace(self, results=(*others, judged))

    def sound(self) -> tuple[Judged, ...]:
        """Return the results that may be signed all at once: nothing speaks against them."""
        return tuple(r for r in self.results if r.evaluation and not r.doubtful)

    def of(self, subjects: Collection[Subject]) -> tuple[Judged, ...]:
        """Return the results of these that can be signed."""
        return tuple(r for r in self.results if r.evaluation and r.subject in subjects)

    def signed(self, rows: Collection[Judged]) -> Tray:
        """Leave out what was signed; a tool of which nothing waits is no longer marked."""
        left = tuple(r for r in self.results if r not in rows)
        done = {r.subject for r in rows} - {r.subject for r in left}
        numbers = {tool.number for tool in self.tools if tool.subject in done}
        return replace(self, results=left, marked=self.marked - numbers)

    def _and(self, more: Iterable[Tool]) -> Tray:
        """Add new tools, each with an id that no other has: one that moved away keeps what this pocket would give."""
        taken, tools = {t.subject for t in self.tools}, list(self.tools)
        for tool in more:
            made = tool.of_its_own(taken) if tool.subject in taken else tool
            taken.add(made.subject)
            tools.append(made)
        return replace(self, tools=tuple(tools))


def numbers_in(text: str) -> tuple[range, ...] | None:
    """Return the numbers that a text such as ``2-9, 14`` or ``T3`` names, None where it names none."""
    if not re.fullmatch(r"\s*[tT]?\d+\s*(?:-\s*[tT]?\d+\s*)?(?:,\s*[tT]?\d+\s*(?:-\s*[tT]?\d+\s*)?)*", text):
        return None
    ends = ([int(n) for n in re.findall(r"\d{1,7}", part)] for part in text.split(","))
    return tuple(range(pair[0], pair[-1] + 1) for pair in ends)


def tolerance_of(results: HeldResults) -> float:
    """Return the tolerance of a breakage check, mm: the newest threshold worked out, or the usual one."""
    return results.value_offered(offers.BREAKAGE_TOLERANCE) or TOLERANCE_MM


def job_tools(tray: Tray, numbers: Collection[int], results: HeldResults) -> list[JobTool]:
    """Return tools as a job has them, in the order of their pockets, which costs the changer least.

    A breakage check takes its reference from the newest measured length (else the table's), its tolerance from the
    newest threshold worked out. Raises: NonnaError (a check of a tool of which no length is known).
    """
    tolerance = tolerance_of(results)
    made = []
    for tool in sorted((t for t in tray.tools if t.number in numbers), key=lambda t: t.number):
        wanted = [m for m in MEASURES if m in tray.measures_of(tool.number)]
        more: dict[str, float] = {}
        if "breakage" in wanted:
            measured = results.value_offered(offers.TOOL_LENGTH, tool.subject)
            reference = measured if measured is not None else tool.length_mm
            if reference is None:
                raise NonnaError(
                    "missing-field",
                    "T{number} was never measured: measure its length before it is checked.",
                    "tools",
                    number=tool.number,
                )
            more = {"reference_mm": reference, "tolerance_short_mm": tolerance, "tolerance_long_mm": tolerance}
        made.append(JobTool.model_validate({**tool.model_dump(), "measure": wanted, **more}))
    return made


def _filled(tool: Tool, before: Tool | None) -> Tool:
    if before is None or (tool.kind, tool.diameter_mm) != (before.kind, before.diameter_mm):
        return tool
    said = {name: getattr(tool, name) for name in tool.model_fields_set}
    if tool.length_mm is not None and tool.length_mm != before.length_mm:
        said = {"true_length_mm": None, "length_uncertainty_mm": 0.0, **said}  # the old one's
        if sum(part.length_mm for part in before.holder) >= tool.length_mm:
            said = {"holder": [], **said}  # a holder that the length of the file does not reach out of
    return before.model_copy(update=said)


def _at_its_place(tool: Tool, before: int) -> Tool:
    """Return a tool that stood in a pocket; one that moves to another keeps its records: they stay its own."""
    return tool if tool.number == before or tool.id else tool.model_copy(update={"id": f"T{before}"})
