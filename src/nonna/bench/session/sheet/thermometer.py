"""The first line of a day's first sheet with a master: what the thermometer at the machine shows."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from nonna.bench import clock
from nonna.bench.sheet.temperature import note_temperature, parse_temperature
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.bench.book.chain import Receipt
    from nonna.bench.session.front import Front
    from nonna.bench.session.signals import Signal
    from nonna.bench.station.site import Site
    from nonna.procedures.session import Session


class _Sheet(Protocol):
    """What it needs of the sheet it stands on."""

    site: Site
    session: Session
    receipt: Receipt | None
    front: Front
    changed: Signal[[]]
    said: Signal[[str, str]]

    def set_temperature(self, celsius: float) -> None:
        """Use it on this sheet."""


class Thermometer:
    """Asks once a day, before the first reading is typed; Enter alone keeps the temperature that is assumed."""

    prompt = "Temperature at the machine, °C"
    todo = "Read the thermometer beside the master. Enter alone keeps what is assumed, and the record says so."

    def __init__(self, sheet: _Sheet) -> None:
        self._sheet, self._passed = sheet, False

    @property
    def asked(self) -> bool:
        """Whether it is asked for now."""
        sheet = self._sheet
        return (
            not self._passed and sheet.session.temperature_assumed and not sheet.session.rows and sheet.receipt is None
        )

    @property
    def expected(self) -> str:
        """What stands there until somebody reads it."""
        celsius, day = (
            self._sheet.session.facts.conditions["temperature_c"],
            self._sheet.site.shop.temperature_at,
        )
        return f"Enter keeps {celsius:g}, " + (f"read {day}" if day else "never read here")

    def enter(self, text: str) -> bool:
        """Take what was typed; says whether the line may be cleared."""
        sheet = self._sheet
        try:
            if text:
                self.read(parse_temperature(text))
        except NonnaError as error:
            sheet.said.emit(error.message, "bad")
            return False
        self._passed = True
        sheet.changed.emit()
        return True

    def read(self, celsius: float) -> None:
        """Use what was read on this sheet, and today on the others."""
        sheet = self._sheet
        sheet.set_temperature(celsius)
        folder, today = sheet.site.folder, clock.now().date()
        if sheet.site.shop.invented:
            return
        sheet.front.behind(
            lambda _: note_temperature(folder, celsius, today),
            lambda _: None,
            lambda error: sheet.said.emit(f"It is used here, but not kept for other sheets: {error.message}", "due"),
            file=True,
        )
