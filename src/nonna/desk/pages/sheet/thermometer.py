"""The first line of a day's first sheet with a master: what the thermometer at the machine shows."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from PySide6.QtCore import QObject, SignalInstance

from nonna.bench import clock
from nonna.bench.sheet.temperature import note_temperature, parse_temperature
from nonna.desk.threads.work import behind
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.bench.book.chain import Receipt
    from nonna.bench.station.site import Site
    from nonna.procedures.session import Session


class _Sheet(Protocol):
    """What it needs of the sheet it stands on."""

    site: Site
    session: Session
    receipt: Receipt | None
    changed: SignalInstance
    said: SignalInstance

    def set_temperature(self, celsius: float) -> None:
        """Use it on this sheet."""


class Thermometer(QObject):
    """Asks once a day, before the first reading is typed; Enter alone keeps the temperature that is assumed."""

    prompt = "Temperature at the machine, °C"
    todo = "Read the thermometer beside the master. Enter alone keeps what is assumed, and the record says so."

    def __init__(self, controller: _Sheet, parent: QObject) -> None:
        super().__init__(parent)
        self._controller, self._passed = controller, False

    @property
    def asked(self) -> bool:
        """Whether it is asked for now."""
        c = self._controller
        return not self._passed and c.session.temperature_assumed and not c.session.rows and c.receipt is None

    @property
    def expected(self) -> str:
        """What stands there until somebody reads it."""
        celsius, day = (
            self._controller.session.facts.conditions["temperature_c"],
            self._controller.site.shop.temperature_at,
        )
        return f"Enter keeps {celsius:g}, " + (f"read {day}" if day else "never read here")

    def enter(self, text: str) -> bool:
        """Take what was typed; says whether the line may be cleared."""
        c = self._controller
        try:
            if text:
                self.read(parse_temperature(text))
        except NonnaError as error:
            c.said.emit(error.message, "bad")
            return False
        self._passed = True
        c.changed.emit()
        return True

    def read(self, celsius: float) -> None:
        """Use what was read on this sheet, and today on the others."""
        c = self._controller
        c.set_temperature(celsius)
        folder, today = c.site.folder, clock.now().date()
        if c.site.shop.invented:
            return
        behind(
            self,
            lambda: note_temperature(folder, celsius, today),
            lambda _: None,
            lambda error: c.said.emit(f"It is used here, but not kept for other sheets: {error.message}", "due"),
        )
