"""A tool as a person types it: a text a field, in the units shown."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.bench.tables.csv_table import LENGTHS
from nonna.bench.tables.holders import holder_from, holder_text
from nonna.bench.tables.rough import read_length
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_length, parse_number
from nonna.shop.cards.machine import Tool
from nonna.shop.texts.given import Given
from nonna.shop.texts.strict_model import checked
from nonna.stations.tool_fields import ToolFields
from nonna.wording.lengths import Units

_WHOLE = ("number", "flutes")
_AS_IT_IS = ("kind", "description", "hand", "material", "edge")
_TRUE = ("centre_cutting", "repeats")
_MAY_BE_NOTHING = ("diameter_mm", "offset_x_mm", "offset_z_mm")  #: a 0 there was typed


def tool_texts(tool: Tool | None, units: Units, asks: ToolFields) -> dict[str, str]:
    """Return a tool's fields as texts, those of a new one where there is none."""
    shown = Given(tool.model_dump() if tool else asks.new)

    def text(name: str) -> str:
        if name not in LENGTHS:
            return shown.word(name)
        value = shown.number(name)
        return "" if value is None or (value == 0.0 and name not in _MAY_BE_NOTHING) else f"{value * units.scale:.7g}"

    made = {name: text(name) for name in asks.titles}
    made |= {name: "yes" if shown.flag(name, True) else "no" for name in _TRUE if name in made}
    if "holder" in made:
        made["holder"] = holder_text(tool.holder) if tool else ""
    if "length_mm" in made and tool is not None and tool.length_mm is not None and tool.length_uncertainty_mm > 0.0:
        made["length_mm"] += f" ± {tool.length_uncertainty_mm * units.scale:.7g}"
    return made


def tool_of(texts: Mapping[str, str], old: Tool | None, units: Units, asks: ToolFields) -> Tool:
    """Return the tool that texts mean; what they do not say stays as the old one has it.

    Raises: NonnaError with the field that is wrong in ``where``, in words that begin with its title.
    """
    made = {} if old is None else {k: v for k, v in old.model_dump().items() if v is not None}
    for name, text in asks.settled(texts).items():
        made.pop(name, None)
        title = asks.titles[name]
        if name in _AS_IT_IS:
            if text or name not in asks.choices:  # nothing chosen: as it usually is
                made[name] = text
        elif name in _TRUE:
            made[name] = text == "yes"
        elif name == "holder":
            made[name] = holder_from(text)
        elif name == "edge_deg":
            made[name] = parse_number(text or "0", title, name)
        elif name == "length_mm":
            made.pop("length_uncertainty_mm", None)
            made |= _length(text, units)
        elif text:
            made[name] = _whole(name, text, title) if name in _WHOLE else _long(name, text, units, title)
    return checked(Tool, made)


def _whole(name: str, text: str, title: str) -> int:
    whole = parse_number(text, title, name)
    if whole != int(whole):
        raise NonnaError("not-a-number", "{title}: a whole number is wanted.", name, title=title)
    return int(whole)


def _long(name: str, text: str, units: Units, title: str) -> float:
    try:
        return parse_length(text, units)
    except NonnaError as error:
        raise NonnaError(error.code, "{title}: {words}", name, title=title, words=error.message) from error


def _length(text: str, units: Units) -> dict[str, object]:
    try:
        found = read_length(text, "," in text, 1.0 / units.scale)
    except NonnaError as error:
        raise NonnaError(error.code, "Length: {words}", "length_mm", words=error.message) from error
    if found.value_mm is None:
        return {}
    return {"length_mm": found.value_mm, "length_uncertainty_mm": found.doubt_mm or 0.0}
