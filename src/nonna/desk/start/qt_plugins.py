"""Where Qt's plugins are, also where the path has quotes or commas in it.

The binding tells Qt its place by a line of an INI file, which quotes, commas and semicolons break.
"""

from __future__ import annotations

from pathlib import Path

import PySide6
from PySide6.QtCore import QCoreApplication, QLibraryInfo


def find_plugins() -> None:
    """Show Qt its plugins, if it does not see them by itself; before there is an application."""
    if not Path(QLibraryInfo.path(QLibraryInfo.LibraryPath.PluginsPath), "platforms").is_dir():
        QCoreApplication.addLibraryPath(str(Path(PySide6.__path__[0], "Qt", "plugins")))
