"""A machine's tools typed in rows, as in a spreadsheet: what stands in the cells, what is wrong with it, what it
becomes.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Self

from nonna.bench.tables.kinds import said_kind
from nonna.bench.tables.tool_texts import tool_of, tool_texts
from nonna.bench.tray.tray import Tray
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Tool
from nonna.stations.tool_fields import Choices, ToolFields
from nonna.wording.lengths import Units

MOST_ROWS = 5000
Cells = tuple[str, ...]


@dataclass(frozen=True, slots=True)
class GridRow:
    """One row: what stands in it, and the tool that stood there before."""

    cells: Cells
    tool: Tool | None = None

    @property
    def empty(self) -> bool:
        """Whether nothing stands in it."""
        return not any(cell.strip() for cell in self.cells)


@dataclass(frozen=True, slots=True)
class Grid:
    """Rows of tools; one more, an empty one, always follows the last that holds something."""

    rows: tuple[GridRow, ...]
    units: Units
    asks: ToolFields

    @classmethod
    def of(cls, tools: Sequence[Tool], units: Units, asks: ToolFields) -> Self:
        """Return the rows of tools as they stand."""
        rows = (GridRow(_cells(tool, units, asks), tool) for tool in tools)
        return cls((*rows, GridRow(("",) * len(asks.grid))), units, asks)

    @property
    def columns(self) -> tuple[str, ...]:
        """Names of the fields, from the left."""
        return tuple(self.asks.grid)

    @property
    def changed(self) -> int:
        """How many rows are not as they were."""
        return sum(row.cells != self._before(row) if row.tool else not row.empty for row in self.rows)

    def _before(self, row: GridRow) -> Cells:
        return _cells(row.tool, self.units, self.asks) if row.tool else ("",) * len(self.columns)

    def with_cells(self, row: int, column: int, block: Iterable[Sequence[str]]) -> Self:
        """Put a block of texts in, its corner at a cell; what would stand right of the last column is left out.

        Raises: NonnaError (more rows than any changer holds).
        """
        rows, empty = list(self.rows), GridRow(("",) * len(self.columns))
        for i, texts in enumerate(block, row):
            if i >= MOST_ROWS:
                raise NonnaError("out-of-range", "At most {most} rows are taken.", "rows", most=MOST_ROWS)
            rows += [empty] * (i + 1 - len(rows))
            cells = list(rows[i].cells)
            for j, text in enumerate(texts[: len(self.columns) - column], column):
                cells[j] = " ".join(text.split())
            rows[i] = replace(rows[i], cells=tuple(cells))
        if not rows[-1].empty:
            rows.append(empty)
        return replace(self, rows=tuple(rows))

    def fault(self, row: int) -> NonnaError | None:
        """Return what is wrong with a row by itself, None where nothing is; ``where`` is its column's name."""
        try:
            self._read(self.rows[row])
        except NonnaError as error:
            return error
        return None

    def taken(self, tray: Tray) -> Tray:
        """Return a tray with what was changed: all of it, or nothing.

        Raises: NonnaError with the row (from 0) and the column in ``where``, such as ``2.diameter_mm``.
        """
        numbers: dict[int, int] = {}
        new: dict[int, Tool] = {}
        for i, row in enumerate(self.rows):
            try:
                tool = self._read(row)
            except NonnaError as error:
                words = "Row {row}. {words}"
                raise NonnaError(error.code, words, f"{i}.{error.where}", row=i + 1, words=error.message) from error
            if tool is None:
                continue
            if tool.number in numbers:
                words = "Row {row}. Number: T{number} stands in row {other} too."
                raise NonnaError(
                    "out-of-range", words, f"{i}.number", row=i + 1, number=tool.number, other=numbers[tool.number] + 1
                )
            numbers[tool.number], new[i] = i, tool
        return tray.with_rows((self.rows[i].tool, tool) for i, tool in new.items())

    def _read(self, row: GridRow) -> Tool | None:
        if row.empty:
            if row.tool is None:
                return None
            raise NonnaError(
                "missing-field",
                "T{number} stood here. Ctrl+Z brings it back; it is taken out with Delete in the list of tools.",
                "number",
                number=row.tool.number,
            )
        if row.tool is not None and row.cells == self._before(row):
            return row.tool
        texts = dict(zip(self.columns, row.cells, strict=True))
        texts["number"] = texts["number"].strip().lstrip("tT")
        kind = said_kind(texts["kind"]) or (said_kind(texts["description"]) if not texts["kind"].strip() else "")
        texts["kind"] = kind or texts["kind"].strip()
        if texts["kind"] and not kind:
            words = "Kind: {value!r} is none known here. Write end mill, drill, face mill, tap, reamer and so on."
            raise NonnaError("wrong-format", words, "kind", value=texts["kind"][:30])
        for name in ("number", "kind", "diameter_mm"):
            if not texts[name].strip():
                raise NonnaError("missing-field", "{title}: needed.", name, title=self.asks.titles[name])
        for name, choices in self.asks.choices.items():
            if name in texts and name != "kind":
                texts[name] = _meant(texts[name], choices, name, self.asks.titles[name])
        return tool_of(texts, row.tool, self.units, self.asks)


def block_of(text: str) -> list[list[str]]:
    """Return what a spreadsheet copied, row by row; a first line of headers, without any digit, is left out."""
    rows = [line.split("\t") for line in text.splitlines()]
    if len(rows) > 1 and not any(c.isdigit() for c in "".join(rows[0])) and any(cell.strip() for cell in rows[0]):
        rows = rows[1:]
    return rows


def _cells(tool: Tool, units: Units, asks: ToolFields) -> Cells:
    texts = tool_texts(tool, units, asks)
    said = {name: dict(choices) for name, choices in asks.choices.items()}
    return tuple((texts[name] and said.get(name, {}).get(texts[name], texts[name])) for name in asks.grid)


def _meant(text: str, choices: Choices, name: str, title: str) -> str:
    """Return the one choice that a text means: its value, its words or how they begin; "" for nothing.

    Raises: NonnaError (none, or more than one).
    """
    plain = text.strip().lower()
    if not plain:
        return ""
    exact = [value for value, words in choices if plain in (value, words.lower())]
    begin = exact or [value for value, words in choices if words.lower().startswith(plain)]
    if len(begin) != 1:
        words = "; ".join(words for value, words in choices if value and (not begin or value in begin))
        raise NonnaError(
            "wrong-format",
            "{title}: {value!r} may mean one of these: {words}.",
            name,
            title=title,
            value=text[:40],
            words=words,
        )
    return begin[0]
