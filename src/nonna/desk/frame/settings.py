"""What the desk remembers: window, units, theme, who signs."""

from __future__ import annotations

import os
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QByteArray, QCryptographicHash, QSettings, Qt
from PySide6.QtGui import QGuiApplication

from nonna.wording.lengths import Units

MOST_RECENT = 3
THEMES = ("light", "dark", "desktop")
SMALLEST_PERCENT, LARGEST_PERCENT = 90, 160


class DeskSettings:
    """Remembered between starts, in one small file."""

    def __init__(self, file: Path) -> None:
        self._store = QSettings(str(file), QSettings.Format.IniFormat)

    @property
    def units(self) -> Units:
        """Millimetres or inches, and how many digits of them."""
        units = Units.INCH if self._store.value("units") == Units.INCH.value else Units.MM
        return replace(units, coarse=self._store.value("digits") == "coarse")

    @units.setter
    def units(self, units: Units) -> None:
        self._store.setValue("units", units.value)
        self._store.setValue("digits", "coarse" if units.coarse else "fine")

    @property
    def theme(self) -> str:
        """The colours wished for: ``light``, ``dark``, or ``desktop`` for those of the desktop."""
        found = self._store.value("theme")
        return str(found) if found in THEMES else THEMES[0]

    @theme.setter
    def theme(self, theme: str) -> None:
        self._store.setValue("theme", theme)

    @property
    def dark(self) -> bool:
        """Whether the colours are dark now."""
        if self.theme == "desktop":
            return QGuiApplication.styleHints().colorScheme() is Qt.ColorScheme.Dark
        return self.theme == "dark"

    @property
    def programs(self) -> str:
        """The folder that programs go to, "" to be asked each time."""
        return str(self._store.value("programs") or "")

    @programs.setter
    def programs(self, folder: str) -> None:
        self._store.setValue("programs", folder)

    @property
    def printed(self) -> str:
        """The file, or the folder of files, that machines print into; "" to be asked each time."""
        return str(self._store.value("printed") or "")

    @printed.setter
    def printed(self, place: str) -> None:
        self._store.setValue("printed", place)

    @property
    def text_percent(self) -> int:
        """How large everything is shown, in per cent of the usual."""
        try:
            found = int(str(self._store.value("text") or 100))
        except ValueError:
            return 100
        return min(max(found, SMALLEST_PERCENT), LARGEST_PERCENT)

    @text_percent.setter
    def text_percent(self, percent: int) -> None:
        self._store.setValue("text", percent)

    def tell_once(self, what: str) -> bool:
        """Say whether something was never told on this computer; from now on it was."""
        new = self._store.value(f"told/{what}") is None
        self._store.setValue(f"told/{what}", "yes")
        return new

    @property
    def operator(self) -> str:
        """Who signed last."""
        return str(self._store.value("operator") or "")

    @operator.setter
    def operator(self, name: str) -> None:
        self._store.setValue("operator", name)

    @property
    def indicator(self) -> str:
        """Where the live indicator is, a port or an address; "" is the stand-in's."""
        return str(self._store.value("indicator") or "")

    @indicator.setter
    def indicator(self, url: str) -> None:
        self._store.setValue("indicator", url)

    @property
    def log_pattern(self) -> str:
        """How a line of the machine's log reads."""
        return str(self._store.value("log_pattern") or "T{tool} {skip} Z{z}")

    @log_pattern.setter
    def log_pattern(self, pattern: str) -> None:
        self._store.setValue("log_pattern", pattern)

    def station(self, shop: Path) -> str:
        """Name of the files of the machine that was shown last of a shop, "" for its first."""
        return str(self._store.value(f"station/{_key(shop)}") or "")

    def set_station(self, shop: Path, station: str) -> None:
        """Remember which machine of a shop is shown."""
        self._store.setValue(f"station/{_key(shop)}", station)

    @property
    def recent(self) -> tuple[Path, ...]:
        """Shops that were opened last and are still there, the newest first."""
        found = self._store.value("recent") or []
        paths = [Path(name) for name in ([found] if isinstance(found, str) else found)]
        return tuple(path for path in paths if (path / "shop.json").is_file())

    def remember_shop(self, shop: Path) -> None:
        """Remember that a shop was opened."""
        rest = [path for path in self.recent if path != shop.absolute()]
        self._store.setValue("recent", [str(path) for path in (shop.absolute(), *rest)][:MOST_RECENT])

    @property
    def geometry(self) -> QByteArray | None:
        """Place and size of the window."""
        value = self._store.value("geometry")
        return value if isinstance(value, QByteArray) else None

    @geometry.setter
    def geometry(self, value: QByteArray) -> None:
        self._store.setValue("geometry", value)


def _key(shop: Path) -> str:
    whole = QCryptographicHash.hash(os.fsencode(shop.absolute()), QCryptographicHash.Algorithm.Sha256)
    return bytes(whole.data()).hex()[:16]
