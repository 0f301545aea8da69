"""A job: tools to be measured on a machine (``nonna-job/1``)."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from nonna.shop.cards.machine import Tool
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict

Measure = Literal["length", "diameter", "breakage", "teeth"]


class JobTool(Tool):
    """A tool with what is to be measured of it."""

    measure: list[Measure] = ["length"]
    reference_mm: Number | None = None
    tolerance_short_mm: NotNegative | None = None
    tolerance_long_mm: NotNegative | None = None


class Job(Strict):
    """A list of tools on a machine; the machine as an object, or the name of its file beside the job."""

    format: Literal["nonna-job/1"]
    machine: Any
    tools: list[JobTool]
    touches: int = Field(3, ge=1, le=100)
    accuracy_mm: Positive = 0.002
