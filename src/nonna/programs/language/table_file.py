"""A control's tables as their file has them, and back."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import get_args

from nonna.programs.language.phrases import WORK
from nonna.programs.language.tables import Cell
from nonna.shop.cards.control_card import Stored
from nonna.shop.cards.control_tables import ControlTablesFile, Place, TableRow

AXES = "xyz"
_POCKET = "pocket-"
_OF_ROWS = tuple(what for what in get_args(Stored) if what != WORK and not what.startswith(_POCKET))


def cells_of(file: ControlTablesFile) -> dict[Cell, float]:
    """Return every number of a file as a cell. A row that stands twice: the last one counts."""
    return dict(_cells(file))


def parameters_of(file: ControlTablesFile) -> dict[int, float]:
    """Return a file's parameters by their numbers."""
    return {int(key): value for key, value in file.parameters.items()}


def _cells(file: ControlTablesFile) -> Iterator[tuple[Cell, float]]:
    for row in file.tools:
        for what in _OF_ROWS:
            value = getattr(row, what.replace("-", "_"))
            if value is not None:
                yield Cell(what, row.number), value
    for place in file.work_offsets:
        yield from ((Cell(WORK, place.number, axis), v) for axis in AXES if (v := getattr(place, axis)) is not None)
    for place in file.pockets:
        named = ((f"{_POCKET}{axis}", getattr(place, axis)) for axis in AXES)
        yield from ((Cell(what, place.number), v) for what, v in named if v is not None)


def file_of(units: str, cells: Mapping[Cell, float], parameters: Mapping[int, float]) -> ControlTablesFile:
    """Return cells and parameters as a file has them, rows in order of their numbers."""
    rows: dict[int, dict[str, float]] = {}
    work: dict[int, dict[str, float]] = {}
    pockets: dict[int, dict[str, float]] = {}
    for cell, value in cells.items():
        if cell.what == WORK:
            work.setdefault(cell.number, {})[cell.axis] = value
        elif cell.what.startswith(_POCKET):
            pockets.setdefault(cell.number, {})[cell.what.removeprefix(_POCKET)] = value
        else:
            rows.setdefault(cell.number, {})[cell.what.replace("-", "_")] = value
    return ControlTablesFile.model_validate(
        {
            "format": "nonna-control/1",
            "units": units,
            "tools": [TableRow.model_validate({"number": n, **rows[n]}) for n in sorted(rows)],
            "work_offsets": [Place.model_validate({"number": n, **work[n]}) for n in sorted(work)],
            "pockets": [Place.model_validate({"number": n, **pockets[n]}) for n in sorted(pockets)],
            "parameters": {str(n): parameters[n] for n in sorted(parameters)},
        }
    )
