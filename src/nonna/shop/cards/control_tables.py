"""What stands in a control's own tables, as a file (``nonna-control/1``); numbers as the control has them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from nonna.shop.texts.strict_model import Number, Strict

MOST = 99_999
RowNumber = Annotated[int, Field(ge=1, le=1_000_000)]


def _numbered(parameters: dict[str, float]) -> dict[str, float]:
    for key in parameters:
        if not (key.isascii() and key.isdigit() and 1 <= int(key) <= MOST and key == str(int(key))):
            raise ValueError(f"{key[:20]!r} is no parameter: 1 to {MOST} are")
    return parameters


class TableRow(Strict):
    """What is kept of one tool, or of one of a lathe's offsets."""

    number: RowNumber
    length: Number | None = None
    diameter: Number | None = None
    length_wear: Number | None = None
    diameter_wear: Number | None = None
    offset_x: Number | None = None
    offset_z: Number | None = None
    wear_x: Number | None = None
    wear_z: Number | None = None


class Place(Strict):
    """A work offset by its number (54 and up), or a place of the rack by its pocket."""

    number: RowNumber
    x: Number | None = None
    y: Number | None = None
    z: Number | None = None


class ControlTablesFile(Strict):
    """The tables of a control."""

    format: Literal["nonna-control/1"]
    units: Literal["mm", "inch"] = "mm"
    tools: list[TableRow] = Field([], max_length=10_000)
    work_offsets: list[Place] = Field([], max_length=100)
    pockets: list[Place] = Field([], max_length=1000)
    parameters: Annotated[dict[str, Number], AfterValidator(_numbered)] = {}
