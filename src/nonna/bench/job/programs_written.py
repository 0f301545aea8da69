"""Where the program that was written last for a machine leaves its results, so that they are read back without a
question.
"""

from __future__ import annotations

from nonna.bench.named_files import checked_in, named_file
from nonna.bench.ports import ShopFiles
from nonna.programs.writing.results import LeftIn
from nonna.shop.texts.given import Document, Given, Plain
from nonna.shop.texts.strict_model import Strict
from nonna.stations.tool_program import ToolsPlan

WRITTEN = "programs-written.json"


class _Spot(Strict):
    """One spot of a program, as it is kept."""

    tool: int
    axis: str
    first: int
    count: int
    name: str = ""


class _Program(Strict):
    """A program, as it is kept."""

    spots: list[_Spot]


def note_written(folder: ShopFiles, machine: str, plan: ToolsPlan) -> None:
    """Keep where a program leaves its results. Raises: NonnaError (the file cannot be read or written)."""
    spots: list[Plain] = [
        {"tool": s.tool, "axis": s.axis, "first": s.first, "count": s.count, "name": s.name} for s in plan.spots
    ]

    def noted(document: Given) -> Document:
        return {**document, machine: {"spots": spots}}

    folder.change((WRITTEN,), noted, {})


def left_in(folder: ShopFiles, machine: str) -> tuple[LeftIn, ...]:
    """Return where the last program of a machine leaves its results, nothing where none was written.

    Raises: NonnaError naming the file.
    """
    row = named_file(folder, WRITTEN).get(machine)
    if row is None:
        return ()
    return tuple(LeftIn(s.tool, s.axis, s.first, s.count, s.name) for s in checked_in(WRITTEN, _Program, row).spots)
