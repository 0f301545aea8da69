"""What a load program stores, and how the card of its control says it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from nonna.errors import NonnaError
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.phrases import StorePattern, axis_of, filled, number_words
from nonna.programs.language.tables import USUAL_RESULTS, Cell, clear_of_tables, decimals_of
from nonna.shop.cards.control_card import ControlCard
from nonna.wording.lengths import MM_PER_INCH

FURTHER_DIGITS = 3  #: of a value of which the control itself takes a share


@dataclass(frozen=True, slots=True)
class LoadRow:
    """One number that goes into a table."""

    what: str  #: as the card's lines are named
    meant_mm: float  #: as it was measured: a diameter as one, a sign as measured
    tool: int | None = None
    offset: int | None = None
    axis: str = ""
    record: int = 0  #: that it stands in, 0 for none

    @property
    def asked(self) -> str:
        """As a program's header asks for it."""
        if self.what == "work":
            return f"work {self.offset} {self.axis}"
        if self.what.startswith("pocket-"):
            return f"pocket {self.offset} {self.what.removeprefix('pocket-')}"
        return f"T{self.tool} {self.what}" if self.tool else f"offset {self.offset} {self.what}"


@dataclass(frozen=True, slots=True)
class LoadPlan:
    """What a load program stores, and what is said beside."""

    machine: str
    card: ControlCard
    rows: tuple[LoadRow, ...]
    run: str  #: the name of this program's run, 4 to 12 letters and digits
    by_hand: tuple[str, ...] = ()  #: what it does not store, and why
    put_back: bool = False  #: whether the values that a load program kept are stored again

    @property
    def kept_in(self) -> int:
        """The first parameter that holds an old value, the others behind it."""
        return self._results[0]

    @property
    def read_into(self) -> int:
        """The first parameter that takes a value that was read back."""
        return self._results[0] + len(self.rows)

    @property
    def _results(self) -> tuple[int, int]:
        ranges = self.card.parameters.results if self.card.parameters is not None else None
        return (ranges[0], ranges[1]) if ranges is not None else USUAL_RESULTS

    def raw(self, row: LoadRow) -> float:
        """Return what stands in the table when a row is stored: in the control's units, its digits and its sign."""
        return round(self.exact(row), decimals_of(self.card))

    def exact(self, row: LoadRow) -> float:
        """Return the same before it is rounded to the table's digits."""
        return self.gain(row) * self._own(row)

    def cell(self, row: LoadRow) -> Cell:
        """Return where a row's line goes: by the offset where the line has that, else by the tool."""
        by_offset = "{offset" in self.card.stores.get(row.what, "")  # type: ignore[call-overload]
        return Cell(row.what, (row.offset if by_offset else row.tool) or 0, row.axis)

    def twice(self) -> int | None:
        """Return the first row that goes where one before it goes, None where there is none."""
        seen: set[Cell] = set()
        for i, row in enumerate(self.rows):
            if self.cell(row) in seen:
                return i
            seen.add(self.cell(row))
        return None

    def asked(self, row: LoadRow) -> str:
        """Return a row as the header asks for it: by its offset where the line knows no tool and they differ."""
        line = self.card.stores.get(row.what, "")  # type: ignore[call-overload]
        by_offset = "{tool" not in line and row.offset is not None and row.offset != row.tool
        return replace(row, tool=None).asked if by_offset else row.asked

    def check(self) -> None:
        """Raise NonnaError where it cannot be written: no line for one of its rows, or too few parameters."""
        for row in self.rows:
            if row.what not in self.card.stores:
                raise NonnaError(
                    "missing-field", "The card of {name} does not say how {what} is stored.",
                    f"machine.control.stores.{row.what}", name=self.machine, what=row.what
                )  # fmt: skip
        first, last = self._results
        clear_of_tables(self.card, first, 2 * len(self.rows), self.machine)
        if first + 2 * len(self.rows) - 1 > last:
            words = "{count} numbers need {need} parameters; the card of {name} has {few} for results."
            raise NonnaError(
                "out-of-range", words, "machine.control.parameters.results", count=len(self.rows),
                need=2 * len(self.rows), name=self.machine, few=last - first + 1
            )  # fmt: skip

    def stored_line(self, row: LoadRow, i: int) -> str:
        """Return the line that stores a row."""
        if self.put_back:
            return self.line_from(row, self.kept_in + i)
        pattern = self._pattern(row)
        factor = {"value": 1.0, "radius": 0.5, "negative": -1.0}[pattern.hole]
        digits = decimals_of(self.card) + (0 if abs(pattern.raw(1.0)) == 1.0 else FURTHER_DIGITS)
        given = number_words(factor * self._own(row), digits)
        return self._filled(self.card.stores[row.what], row, {pattern.hole: given})  # type: ignore[index]

    def line_from(self, row: LoadRow, parameter: int) -> str:
        """Return the line that stores a parameter's value, which is as the table has it."""
        pattern, own = self._pattern(row), f"#{parameter}"
        share = pattern.raw(1.0) if pattern.hole == "value" else 1.0
        given = own if share == 1.0 else f"[0 - {own}]" if share == -1.0 else f"[{own} / {share!r}]"
        return self._filled(self.card.stores[row.what], row, {pattern.hole: given})  # type: ignore[index]

    def gain(self, row: LoadRow) -> float:
        """Return what goes into the table for each unit of what is meant."""
        return self._pattern(row).gain

    def read_line(self, row: LoadRow, parameter: int) -> str:
        """Return the line that reads a row's cell into a parameter, "" where the card does not say how."""
        expression = self.card.reads.get(row.what)  # type: ignore[call-overload]
        return f"#{parameter} = {self._filled(expression, row, {})}" if expression else ""

    def _own(self, row: LoadRow) -> float:
        return row.meant_mm / (MM_PER_INCH if self.card.units == "inch" else 1.0)

    def _pattern(self, row: LoadRow) -> StorePattern:
        return next(each for each in phrases_of(self.card).stores if each.what == row.what)

    def _filled(self, line: str, row: LoadRow, value: Mapping[str, str]) -> str:
        letter = row.axis or axis_of(row.what)
        holes: dict[str, float | str] = {"axis": letter.upper(), "index": max("xyz".find(letter), 0), **value}
        holes |= {name: n for name, n in (("tool", row.tool), ("offset", row.offset)) if n is not None}
        try:
            return filled(line, **holes)
        except KeyError as error:
            words = "The card of {name} stores {what} by {hole}, and the result of {asked} names none."
            raise NonnaError(
                "missing-field", words, str(error.args[0]), name=self.machine, what=row.what, hole=str(error.args[0]),
                asked=row.asked
            ) from error  # fmt: skip
