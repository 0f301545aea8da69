"""The tables of a control that nobody used yet: what the papers say of each tool."""

from __future__ import annotations

from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.phrases import WORK
from nonna.programs.language.table_file import file_of
from nonna.programs.language.tables import FIRST_WORK, Cell, decimals_of
from nonna.programs.writing.units import unit_of
from nonna.shop.cards.control_card import ControlCard
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.machine import Machine, Tools


def first_tables(machine: Machine, tools: Tools) -> ControlTablesFile:
    """Return a control's tables as the papers have its tools; work offsets all 0."""
    card = machine.control or ControlCard()
    phrases, unit, digits = phrases_of(card), unit_of(card), decimals_of(card)
    cells: dict[Cell, float] = {Cell(WORK, FIRST_WORK, axis): 0.0 for axis in "xyz"}
    for tool in tools.tools:
        stated = {
            "length": tool.length_mm, "diameter": tool.diameter_mm, "offset-x": tool.offset_x_mm,
            "offset-z": tool.offset_z_mm, "wear-x": tool.wear_x_mm, "wear-z": tool.wear_z_mm,
        }  # fmt: skip
        by_offsets = tool.offset_x_mm is not None or tool.offset_z_mm is not None
        for what, value in stated.items():
            if value is not None and not (by_offsets and what in ("length", "diameter")):
                cells[Cell(what, tool.number)] = round(unit.of(value) * phrases.gain(what), digits)
    return file_of(card.units, cells, {})
