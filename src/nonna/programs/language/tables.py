"""The tables of a control while a program runs: what stands in them, and what the program stores."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

from nonna.errors import NonnaError
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.expressions import Scanner, resolve
from nonna.programs.language.phrases import WORK, Phrases, Store, filled
from nonna.programs.language.shifts import SYSTEMS, WORK_OFFSETS
from nonna.shop.cards.control_card import ControlCard
from nonna.wording.lengths import MM_PER_INCH

FIRST_WORK = 54  #: the number of the first work offset
LIKELY_ROWS = 99  #: of a table where its parameters reach into those that our programs use unasked
MOST_ROWS = 999  #: of a table: a number beyond it is no tool's and no offset's
USUAL_RESULTS, _USUAL_SCRATCH = (1001, 4999), (101, 119)  #: parameters of programs, where the card names no others


class Cell(NamedTuple):
    """A place in a table."""

    what: str
    number: int  #: of the tool, or of the offset where the table is of offsets
    axis: str = ""


@dataclass(frozen=True, slots=True)
class Stored:
    """One number that a program stored, in the control's units."""

    line: int
    cell: Cell
    tool: int | None
    offset: int | None
    old: float | None
    new: float


class _Places(NamedTuple):
    """Parameters that hold one column of a table: ``first + number * step + axis * between``."""

    what: str
    first: float
    step: float
    between: float
    of_offsets: bool  #: whether its rows are offsets; else tools

    def parameter(self, number: int, axis: int = 0) -> int:
        """Return the parameter of a row."""
        return round(self.first + self.step * number + self.between * axis)

    def row(self, parameter: int, axis: int) -> int:
        """Return the row that a parameter is, 0 where it is none."""
        row = (parameter - self.first - self.between * axis) / self.step
        return int(row) if row == int(row) and 1 <= row <= MOST_ROWS else 0


@dataclass(slots=True)
class ControlTables:
    """What a control keeps; numbers stand in it as its own tables have them, in its own units."""

    card: ControlCard = field(default_factory=ControlCard)
    cells: dict[Cell, float] = field(default_factory=dict)
    stored: list[Stored] = field(default_factory=list)
    _places: tuple[_Places, ...] = ()

    @classmethod
    def of(cls, card: ControlCard | None, cells: Mapping[Cell, float]) -> ControlTables:
        """Return the tables of a control as they stand."""
        own = card or ControlCard()
        return cls(own, dict(cells), [], tuple(_places_of(own)))

    @property
    def decimals(self) -> int:
        """How many decimals its tables keep."""
        return decimals_of(self.card)

    @property
    def unit_mm(self) -> float:
        """Millimetres in one of its units."""
        return MM_PER_INCH if self.card.units == "inch" else 1.0

    @property
    def phrases(self) -> Phrases:
        """The lines that its card gives words for."""
        return phrases_of(self.card)

    def parameters(self) -> dict[int, float]:
        """Return the parameters in which its tables can be read."""
        found: dict[int, float] = {}
        for cell, value in self.cells.items():
            axis = "xyz".find(cell.axis) if cell.axis else 0
            for place in self._places:
                if place.what == cell.what and (axis == 0 or place.between):
                    found[place.parameter(cell.number, axis)] = value
            if cell.what == WORK and axis >= 0 and 0 <= cell.number - FIRST_WORK < SYSTEMS:
                found[WORK_OFFSETS + 20 * (cell.number - FIRST_WORK) + axis] = value
        return found

    def length_mm(self, number: int) -> float | None:
        """Return what is taken off for a tool, wear included; None where its table holds none."""
        cell = self.cells.get(Cell("length", number))
        if cell is None:
            return None
        wear = self.cells.get(Cell("length-wear", number), 0.0)
        return (cell / self.phrases.gain("length") + wear / self.phrases.gain("length-wear")) * self.unit_mm

    def meant_mm(self, stored: Stored, value: float) -> float:
        """Return what a number in a table means, mm: the sign that the card turns turned back, a radius doubled."""
        return value / self.phrases.gain(stored.cell.what) * self.unit_mm

    def store(self, store: Store, parameters: dict[int, float], per_unit: float, line: int) -> None:
        """Carry out a line that stores.

        Parameters: per_unit, how many of the control's units one of the program's is. Raises: ProgramError.
        """
        tool, offset = (
            None if each is None else _row(resolve(each, parameters), line) for each in (store.tool, store.offset)
        )
        number = offset if offset is not None else tool
        if number is None:
            raise ProgramError("unsupported", "a line that stores without saying for what", line)
        value = round(resolve(store.value, parameters) * per_unit, self.decimals)
        self._keep(Cell(store.what, number, store.axis), tool, offset, value, line)
        parameters.update(self.parameters())

    def noticed(self, new: Iterable[tuple[int, float]], line: int) -> None:
        """Take parameters that a program set: some of them are cells of a table."""
        for number, value in new:
            found = self._cell(number)
            if found is not None:
                cell, of_offsets = found
                tool, offset = (None, cell.number) if of_offsets else (cell.number, None)
                self._keep(cell, tool, offset, round(value, self.decimals), line)

    def _keep(self, cell: Cell, tool: int | None, offset: int | None, value: float, line: int) -> None:
        self.stored.append(Stored(line, cell, tool, offset, self.cells.get(cell), value))
        self.cells[cell] = value

    def is_cell(self, parameter: int) -> bool:
        """Say whether a parameter is a cell of one of its tables."""
        return self._cell(parameter) is not None

    def _cell(self, parameter: int) -> tuple[Cell, bool] | None:
        """Return the cell that is a parameter, and whether it is an offset's."""
        if WORK_OFFSETS <= parameter < WORK_OFFSETS + 20 * SYSTEMS:
            system, axis = divmod(parameter - WORK_OFFSETS, 20)
            return (Cell(WORK, FIRST_WORK + system, "xyz"[axis]), True) if axis < 3 else None
        own, said = _own_parameters(self.card, parameter)
        if own and said:
            return None
        found = [
            (row, axis, place)
            for place in self._places
            for axis in range(3 if place.between else 1)
            if (row := place.row(parameter, axis))
        ]
        if not found:
            return None
        if own and min(found)[0] > LIKELY_ROWS:
            return None  # our own results, as nobody said where they go: no table of tools is that long
        row, axis, place = min(found, key=lambda each: each[:2])  # columns that lie behind each other: the nearest one
        return Cell(place.what, row, "xyz"[axis] if place.between else ""), place.of_offsets

    def copied(self) -> ControlTables:
        """Return the same tables, to go on from another way."""
        return ControlTables(self.card, dict(self.cells), [], self._places)


def decimals_of(card: ControlCard) -> int:
    """Return how many decimals a control's tables keep."""
    if card.decimals is not None:
        return card.decimals
    return 4 if card.units == "inch" else 3


def _row(value: float, line: int) -> int:
    number = round(value)
    if abs(value - number) > 1e-6 or not 1 <= number <= 1_000_000:
        raise ProgramError("syntax", "{value:g} is no number of a tool or an offset", line, value=value)
    return number


def _own_parameters(card: ControlCard, parameter: int) -> tuple[bool, bool]:
    """Say whether a parameter is one that programs of ours write, and whether the card says so."""
    ranges = card.parameters
    for said, usual in (
        (ranges.results if ranges is not None else None, USUAL_RESULTS),
        (ranges.scratch if ranges is not None else None, _USUAL_SCRATCH),
    ):
        first, last = (said[0], said[1]) if said is not None else usual
        if first <= parameter <= last:
            return True, said is not None
    return False, False


def clear_of_tables(card: ControlCard | None, first: int, count: int, name: str) -> None:
    """Check that results of ours do not lie in the control's own tables.

    Raises: NonnaError ``missing-field`` (they would: the card has to say where they may go).
    """
    tables = ControlTables.of(card, {})
    for parameter in range(first, first + count):
        if tables.is_cell(parameter):
            words = "Results in #{at} would lie in the tables of {name}: say on its card which parameters are free."
            raise NonnaError("missing-field", words, "machine.control.parameters.results", at=parameter, name=name)


def _places_of(card: ControlCard) -> list[_Places]:
    """Return the columns that stand in parameters: by what reads them, and by what sets them."""
    patterns: list[tuple[str, str]] = list(card.reads.items())
    patterns += [(each.what, each.parameter) for each in phrases_of(card).stores if each.parameter]
    found = [each for each in (_line_of(what, text) for what, text in patterns) if each is not None and each.step]
    whose: dict[_Places, str] = {}
    for each in found:
        other = whose.setdefault(each._replace(what=""), each.what)
        if other != each.what:
            words = "control: {one} and {other} stand in one place: nobody could tell which was meant."
            raise NonnaError("wrong-format", words, f"control.reads.{each.what}", one=each.what, other=other)
    return list(dict.fromkeys(found))


def _line_of(what: str, text: str) -> _Places | None:
    """Return an expression such as ``#[700 + {tool}]`` as a column; None where it is no single parameter of a row."""
    words = text.strip()
    while words.startswith("[") and words.endswith("]"):
        words = words[1:-1].strip()
    if not words.startswith("#"):
        return None
    try:
        at = [_number(words[1:], number, axis) for number, axis in ((1, 0), (2, 0), (3, 0), (1, 1), (2, 1))]
    except (ProgramError, KeyError):
        return None
    step, between = at[1] - at[0], at[3] - at[0]
    straight = at[2] - at[1] == step and at[4] - at[1] == between
    return _Places(what, at[0] - step, step, between, "{offset" in words) if straight else None


def _number(words: str, number: int, axis: int) -> float:
    scanner = Scanner(filled(words, tool=number, offset=number, index=axis).lower(), 0)
    value = scanner.value()
    if scanner.skip() or not isinstance(value, float):
        raise ProgramError("syntax", "no plain number", 0)
    return value
