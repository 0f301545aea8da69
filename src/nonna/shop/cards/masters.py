"""Masters on the shelf, as their certificates have them (``nonna-masters/1``)."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict

MasterKind = Literal["master-tool", "ring", "block", "spindle-face", "part"]


class MasterCard(Strict):
    """One master with its certificate."""

    id: str
    name: str = Field(..., title="Name")
    kind: MasterKind = Field(..., title="Kind")
    length_mm: Number | None = Field(None, title="Length at reference, mm")
    U_length_mm: NotNegative = Field(0.0, title="U of the length, mm")
    diameter_mm: Positive | None = Field(None, title="Diameter at reference, mm")
    U_diameter_mm: NotNegative = Field(0.0, title="U of the diameter, mm")
    k: Positive = Field(2.0, title="k of both U")
    cte_per_k: Number = Field(0.0, title="Expansion, 1/K")
    cte_u_per_k: NotNegative = Field(0.0, title="Its standard uncertainty, 1/K")
    traceable: bool = Field(True, title="Traceable certificate")
    reference_c: Number = Field(20.0, title="Certificate holds at, °C")  #: temperature the certificate's values hold at
    roundness_mm: NotNegative = Field(0.0, title="Roundness, mm")
    certificate: str = Field("", title="Certificate number")
    due: str = Field("", title="Due, year-month-day")  #: ISO date; empty: no due date
    kept: str = Field("", title="Where it lies")  #: where it lies
    retired: bool = False

    def as_input(self) -> dict[str, Plain]:
        """Return what a readings file holds of this master: its values at 20 °C."""
        to_20 = 1.0 / (1.0 + self.cte_per_k * (self.reference_c - 20.0))
        fields = (
            "length_mm",
            "U_length_mm",
            "diameter_mm",
            "U_diameter_mm",
            "k",
            "cte_per_k",
            "cte_u_per_k",
            "traceable",
        )
        values = {name: getattr(self, name) for name in fields}
        for name in ("length_mm", "diameter_mm"):
            if values[name] is not None and self.reference_c != 20.0:
                values[name] *= to_20
        return {name: value for name, value in values.items() if value is not None}


class Shelf(Strict):
    """All masters of a shop."""

    format: Literal["nonna-masters/1"]
    masters: list[MasterCard]


class Shop(Strict):
    """A shop: its name, who signs, its machines, and the seed of its stand-in machine."""

    format: Literal["nonna-shop/1"]
    name: str
    operators: list[str]
    machines: list[str]
    temperature_c: Number = 20.0
    temperature_u_c: NotNegative = 0.5
    temperature_at: str = ""  #: the day it was read last; "": nobody ever read it
    standin_seed: int = 1
    invented: bool = False  #: a demo shop: certificates say so
