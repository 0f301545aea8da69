"""Masters on the shelf, as their certificates have them (``nonna-masters/1``)."""

from __future__ import annotations

from typing import Any, Literal

from nonna.shop.strict_model import NotNegative, Number, Positive, Strict

MasterKind = Literal["master-tool", "ring", "block", "spindle-face"]


class MasterCard(Strict):
    """One master with its certificate."""

    id: str
    name: str
    kind: MasterKind
    length_mm: Number | None = None
    U_length_mm: NotNegative = 0.0
    diameter_mm: Positive | None = None
    U_diameter_mm: NotNegative = 0.0
    k: Positive = 2.0
    cte_per_k: Number = 0.0
    cte_u_per_k: NotNegative = 0.0
    traceable: bool = True
    certificate: str = ""
    due: str = ""  #: ISO date; empty: no due date
    kept: str = ""  #: where it lies

    def as_input(self) -> dict[str, Any]:
        """Return what a readings file holds of this master."""
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
    standin_seed: int = 1
    invented: bool = False  #: a demo shop: certificates say so
