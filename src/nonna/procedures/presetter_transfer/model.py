"""Presetter transfer: what its readings file holds."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.shop.texts.strict_model import NotNegative, Number, Strict


class TransferSetup(Setup):
    """Setup of a transfer."""

    model: Literal["offset", "line"] = asked(
        "Correct by", "", "One offset for all tools, or a line over their length.", "offset"
    )
    limit_mm: NotNegative | None = asked(
        "Wanted for one more tool", help="Its expanded uncertainty, at most.", default=None, limit=True
    )
    presetter_means_of: Annotated[int, Field(ge=1, le=1000)] | None = asked(
        "Readings a tool on the presetter", "", "Of how many readings each presetter length is the mean.", None
    )


class BothReading(Strict):
    """One tool on both."""

    tool: int | str
    presetter_mm: Number
    machine_mm: Number


class TransferReadings(ReadingsFile):
    """Readings file of a transfer."""

    procedure: Literal["presetter-transfer"]
    setup: TransferSetup
    readings: list[BothReading]
    value_fields = ("presetter_mm", "machine_mm")
