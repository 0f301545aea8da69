"""The temperature masters are used at: read once a day, carried through the day, said where nobody read it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from nonna.bench.ports import ShopFiles
from nonna.bench.station.state import temperature_unread
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_number
from nonna.shop.cards.masters import Shop
from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import checked

COLDEST_C, HOTTEST_C = -20.0, 50.0  #: a workshop; beyond, a reading was typed into the wrong line


def climate_of(shop: Shop, used: bool, today: date) -> dict[str, float]:
    """Return the conditions a sheet starts with; where a master is used (``used``) and nobody read it, it is
    assumed.
    """
    climate: dict[str, float] = {"temperature_c": shop.temperature_c, "temperature_u_c": shop.temperature_u_c}
    if used and temperature_unread(shop.invented, shop.temperature_at, today):
        climate["temperature_assumed"] = True
    return climate


def parse_temperature(text: str) -> float:
    """Return what was typed, °C. Raises: NonnaError (no number, or no temperature of a workshop)."""
    celsius = parse_number(text.removesuffix("C").removesuffix("°"), "Temperature", "temperature")
    if not COLDEST_C <= celsius <= HOTTEST_C:
        words = "Temperature: {low:g} to {high:g} °C is expected here."
        raise NonnaError("out-of-range", words, "temperature", low=COLDEST_C, high=HOTTEST_C)
    return celsius


def note_temperature(folder: ShopFiles, celsius: float, today: date) -> None:
    """Keep today's temperature for all sheets of the shop. Raises: NonnaError (the file cannot be read or written)."""

    def noted(document: Mapping[str, Plain]) -> dict[str, Plain]:
        made = {**document, "temperature_c": celsius, "temperature_at": today.isoformat()}
        checked(Shop, made)
        return made

    folder.change(("shop.json",), noted)
