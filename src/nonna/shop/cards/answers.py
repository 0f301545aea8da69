"""What a person answered when a shop was set up (``nonna-answers/1``)."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from nonna.shop.cards.machine import Tool
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

Said = (
    float | str | bool | None
)  #: a number in the shop's units, words with a unit ("0.55 in"), yes or no; null: not known yet


class StationAnswers(Strict):
    """One station: what it is, and what was answered."""

    name: str = Field(..., min_length=1, max_length=60)
    kind: str
    answers: dict[str, Said] = {}
    tools: list[Tool] = []


class Answers(Strict):
    """A new shop."""

    format: Literal["nonna-answers/1"]
    shop: str = Field(..., min_length=1, max_length=80)
    operators: list[str] = Field(..., min_length=1, max_length=50)
    units: Literal["mm", "inch"] = "mm"
    temperature_c: Number = 20.0
    temperature_u_c: NotNegative = 1.0
    stations: list[StationAnswers] = Field(..., min_length=1, max_length=50)
    masters: list[dict[str, Any]] = []  #: cards as in ``nonna-masters/1``, without an id
    indicators: list[dict[str, Any]] = []  #: cards as in ``nonna-gear/1``, without an id
