"""Opens the desk."""

from __future__ import annotations

import os
import sys
import tempfile
from functools import partial
from pathlib import Path

from PySide6.QtCore import QSize
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import QApplication, QWidget

from nonna import wiring
from nonna.bench import clock
from nonna.bench.ports import ShopFiles
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.frame.window import DeskWindow
from nonna.desk.look import style
from nonna.desk.look.palette import DARK, LIGHT
from nonna.desk.start.fault_watch import tell_of_crash, watch
from nonna.desk.start.window_making import make_window
from nonna.errors import NonnaError

TITLE_BAR_PX = 40  #: what a window manager puts on top, at most
GLOVED_MS = 1000  #: between the digits of one number typed in a list


def has_display() -> bool:
    """Say whether a window could be shown."""
    if os.environ.get("QT_QPA_PLATFORM"):
        return True
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")) or sys.platform == "darwin"


def open_desk(*, demo: bool, shop: Path | None, tour: Path | None) -> int:
    """Open the window on a shop, or run the tour where there is no display.

    Raises: NonnaError (no shop there, or nothing to show it on).
    """
    if not has_display():
        if tour is None:
            raise NonnaError(
                "unreadable",
                "There is no display to open the desk on. The commands work without: nonna --help",
                "DISPLAY",
            )
        print("There is no display, so the desk shows itself offscreen: a guided tour through the main job.")
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
        from nonna.desk.start.tour import run

        return run(tour)
    settings = DeskSettings(wiring.settings_file())
    if settings.text_percent != 100:
        os.environ.setdefault(
            "QT_SCALE_FACTOR", f"{settings.text_percent / 100:g}"
        )  # read when the application is made
    app = QApplication.instance() or QApplication([sys.argv[0]])
    if not isinstance(app, QApplication):
        raise TypeError("a Qt application without windows is running already")
    app.setApplicationName("Nonna")
    app.setDesktopFileName("nonna")
    app.setKeyboardInputInterval(GLOVED_MS)
    style.load_fonts()
    style.apply(app, DARK if settings.dark else LIGHT)
    _set_icon(app)
    folder = _folder(demo, shop, settings)
    if folder is None:
        return 0
    window = make_window(folder, settings)
    journal = wiring.journal()
    crashed = journal.begin(folder.root, clock.now)
    unwatch = watch(window)
    if crashed:
        window.ready.connect(lambda: tell_of_crash(window, crashed[-1]))
    window.ready.connect(partial(_tell_of_copy, window))
    if settings.geometry is None:
        fit_to_screen(window)
    window.show()
    try:
        return int(app.exec())
    finally:
        unwatch()
        journal.end()


def fit_to_screen(window: QWidget) -> None:
    """Make a window no larger than its screen has room for, its title bar included, and put it there."""
    free = window.screen().availableGeometry()
    size = window.size().boundedTo(free.size() - QSize(0, TITLE_BAR_PX))
    window.resize(size)
    window.move(
        free.left() + (free.width() - size.width()) // 2,
        free.top() + (free.height() - TITLE_BAR_PX - size.height()) // 2,
    )


def _folder(demo: bool, shop: Path | None, settings: DeskSettings) -> ShopFiles | None:
    """Return the shop to open; where none is named and none is there, ask. None: the person left."""
    if demo:
        return _demo()
    root = shop or wiring.usual_shop()
    if (root / "shop.json").is_file():
        return wiring.shop_files(root)
    if shop is not None:
        words = "There is no shop in {name!r} (no shop.json). See it with the demo shop: nonna --demo"
        raise NonnaError("unreadable", words, "shop", name=root.name)
    from nonna.desk.start.welcome import Welcome

    found = Welcome(root, settings.recent)
    if found.exec() != Welcome.DialogCode.Accepted:
        return None
    return _demo() if found.demo else found.folder


def _tell_of_copy(window: DeskWindow) -> None:
    from nonna.desk.actions.copies import tell_of_another_computer

    tell_of_another_computer(window)


def _demo() -> ShopFiles:
    place = Path(tempfile.mkdtemp(prefix="nonna-demo-"))
    print(f"The demo shop is a copy; spoil it freely: {place}")
    return wiring.demo_shop(place)


def _set_icon(app: object) -> None:
    if isinstance(app, QApplication):
        app.setWindowIcon(QIcon(QPixmap(str(Path(__file__).parents[1] / "look" / "nonna.png"))))
