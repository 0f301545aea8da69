"""Changing between the stations of a shop, as long as the window takes for it."""

from __future__ import annotations

import time
from collections.abc import Iterator

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QApplication

from benchmarks.opened import desk, until
from nonna.desk.frame.window import DeskWindow
from nonna.desk.pages.loop.station import Station

TIMES = 15


class Painted(QObject):
    """Sees when the links of the station wanted stand on the screen."""

    def __init__(self, app: QApplication, window: DeskWindow) -> None:
        super().__init__()
        self._window, self._wanted = window, ""
        self._links: set[QObject] = set()
        app.installEventFilter(self)

    def want(self, station: str) -> None:
        """Look for the links of another station."""
        self._wanted = station
        self._links.clear()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:  # noqa: N802 - Qt's name
        """Take note of what is painted."""
        if event.type() == QEvent.Type.Paint and isinstance(watched, Station) and self._shown:
            self._links.add(watched)
        return False

    @property
    def there(self) -> bool:
        """Whether all of them were painted."""
        return (
            self._shown
            and self._window.settled
            and len(self._links) >= len(self._window.loop.findChildren(Station)) > 0
        )

    @property
    def _shown(self) -> bool:
        return self._window.state is not None and self._window.state.key == self._wanted


def figures() -> Iterator[str]:
    """Give how long a change takes until the other station's loop stands there, painted."""
    with desk() as (app, window):
        spent: dict[str, list[float]] = {}
        painted = Painted(app, window)
        for _ in range(TIMES):
            for station in ("rowan", "larch", "alder"):
                painted.want(station)
                begun = time.perf_counter()
                window.show_station(station)
                until(app, lambda: painted.there)
                spent.setdefault(station, []).append(time.perf_counter() - begun)
    words = ", ".join(f"{name} {1e3 * sorted(each)[len(each) // 2]:.0f} ms" for name, each in spent.items())
    yield f"changing the station (median of {TIMES}): {words} (wanted <= 100)"
