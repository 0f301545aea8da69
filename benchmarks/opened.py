"""A desk on the demo shop for the benchmarks that need one."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory

from PySide6.QtWidgets import QApplication

from nonna.adapters.shop_files.practice import make
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.frame.window import DeskWindow
from nonna.desk.look import style
from nonna.desk.look.palette import LIGHT
from nonna.desk.start.window_making import make_window

LOADS_S = 5.0  #: pages are loaded between events behind a window that stands


@contextmanager
def desk() -> Iterator[tuple[QApplication, DeskWindow]]:
    """Open a window of the usual size on a fresh demo shop, everything loaded."""
    app = QApplication.instance() or QApplication([])
    assert isinstance(app, QApplication)
    style.load_fonts()
    style.apply(app, LIGHT)
    with TemporaryDirectory() as place:
        window = make_window(make(Path(place) / "shop"), DeskSettings(Path(place) / "desk.ini"))
        window.resize(1280, 800)
        window.show()
        until(app, lambda: window.site is not None)
        loaded = time.monotonic() + LOADS_S
        until(app, lambda: time.monotonic() > loaded)
        yield app, window
        window.hide()


def until(app: QApplication, true: Callable[[], object]) -> None:
    """Turn the event loop until something is so. Raises: TimeoutError after a minute."""
    end = time.monotonic() + 60
    while not true():
        if time.monotonic() > end:
            raise TimeoutError
        app.processEvents()
        time.sleep(0.001)
