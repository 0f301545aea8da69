"""The control's part of a machine's flat card: its lines, a field each, put back into the machine's file."""

from __future__ import annotations

from typing import Protocol

from nonna.errors import NonnaError
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.tables import ControlTables
from nonna.shop.cards.control_card import ControlCard, Stored, Word
from nonna.shop.texts.given import Given, Plain
from nonna.shop.texts.strict_model import checked

TABLES: tuple[Stored, ...] = ("length", "diameter", "offset-x", "offset-z")  #: what the flat card has a line for
_STOPPED: Word = "spindle-stopped"


class Filled(Protocol):
    """A flat card; one more line for each of `TABLES`, stored and read."""

    @property
    def control_units(self) -> str:
        """``mm`` or ``inch``."""

    @property
    def tool_call(self) -> str:
        """How a tool is called."""

    @property
    def spindle_stopped(self) -> str:
        """What confirms that the spindle stands."""

    @property
    def prints(self) -> str:
        """What prints a line."""

    @property
    def prints_value(self) -> str:
        """What puts a parameter's value into it."""

    @property
    def results_from(self) -> int:
        """The first parameter for results."""

    @property
    def results_to(self) -> int:
        """The last one."""


def field_of(kind: str, what: str) -> str:
    """Return the card's field for a line that stores (``store``) or reads (``read``) something."""
    return f"{kind}_{what.replace('-', '_')}"


def control_shown(control: ControlCard | None) -> dict[str, Plain]:
    """Return what a card shows of a control."""
    if control is None:
        return {}
    span = control.parameters.results if control.parameters is not None else None
    first, last = span or (0, 0)
    shown: dict[str, Plain] = {
        "control_units": control.units, "tool_call": control.tool_call or "",
        "spindle_stopped": control.words.get(_STOPPED, ""), "prints": control.prints or "",
        "prints_value": control.prints_value or "", "results_from": first, "results_to": last,
    }  # fmt: skip
    for what in TABLES:
        shown[field_of("store", what)] = control.stores.get(what, "")
        shown[field_of("read", what)] = control.reads.get(what, "")
    return shown


def control_of(card: Filled, old: Given) -> dict[str, Plain] | None:
    """Return what the control's card becomes, all else of it as it was; None where it says nothing.

    Raises: NonnaError naming the card's field (a line that no control could mean, or that would do something else).
    """
    words = {name: line for name, line in old.part("words").items() if name != _STOPPED}
    ranges = {name: span for name, span in old.part("parameters").items() if name != "results" and span}
    if card.spindle_stopped.strip():
        words[_STOPPED] = card.spindle_stopped.strip()
    if card.results_from or card.results_to:
        ranges["results"] = [card.results_from, card.results_to]
    made: dict[str, Plain] = {
        **old, "tool_call": card.tool_call.strip() or None, "words": words, "parameters": ranges or None,
        "prints": card.prints.strip() or None, "prints_value": card.prints_value.strip() or None,
        "stores": _lines(card, old.part("stores"), "store"), "reads": _lines(card, old.part("reads"), "read"),
    }  # fmt: skip
    if card.control_units != "mm" or old.get("units"):
        made["units"] = card.control_units
    if not any(value for name, value in made.items() if name != "units") and card.control_units == "mm":
        return None
    try:
        found = checked(ControlCard, made)
        phrases_of(found)
        ControlTables.of(found, {})
    except NonnaError as error:
        raise NonnaError(error.code, "{words}", _field_at(error.where), words=error.message) from error
    return made


def _lines(card: Filled, old: Given, kind: str) -> dict[str, Plain]:
    kept = {what: line for what, line in old.items() if what not in TABLES}
    typed = {what: str(getattr(card, field_of(kind, what))).strip() for what in TABLES}
    return {**kept, **{what: line for what, line in typed.items() if line}}


def _field_at(where: str) -> str:
    """Return the card's field for a place in the control's card."""
    parts = where.removeprefix("control.").split(".")
    if parts[0] in ("stores", "reads") and len(parts) > 1 and parts[1] in TABLES:
        return field_of(parts[0][:-1], parts[1])
    if parts[0] == "parameters":
        return "results_from"
    return {"units": "control_units", "words": "spindle_stopped"}.get(parts[0], parts[0])
