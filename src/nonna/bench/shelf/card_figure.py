"""What a card on the shelf looks like while it is typed, and which of its fields its kind of thing has at all."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.bench.shelf.machine_card import asked_of_kind
from nonna.errors import NonnaError
from nonna.figures.cards import lathe_card, machine_card, master_card
from nonna.figures.figure import Figure
from nonna.procedures.entry import parse_length
from nonna.wording.lengths import Units

DRAWN = ("mill", "router")  #: kinds of machine that stand as X, Y and Z from the table


def figure_of(group: str, typed: Mapping[str, str], lit: str) -> Figure | None:
    """Return the drawing of a card, None where it is not drawn.

    Parameters: typed, what stands in its fields; lit, the field that stands out.
    """
    if group == "masters":
        return master_card(typed.get("kind", ""), lit)
    if group == "machines" and typed.get("kind") == "lathe":
        return lathe_card(lit)
    if group != "machines" or typed.get("kind") not in DRAWN:
        return None
    values = {}
    for name, text in typed.items():
        if name.endswith("_mm"):
            try:
                values[name] = parse_length(text, Units.MM)
            except NonnaError:
                continue  # half typed: drawn without it, and said when it is put on the shelf
    return machine_card(values, lit, setter=typed.get("has_setter") == "yes", square=typed.get("shape") == "square")


def asks_of(group: str, kind: str, name: str) -> bool:
    """Whether a card of such a thing has a field."""
    return asked_of_kind(kind, name) if group == "machines" else True
