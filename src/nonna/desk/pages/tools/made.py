"""The tray of a window: its page with what happens on it."""

from __future__ import annotations

from nonna.desk.pages.tools.controller import TrayController
from nonna.desk.pages.tools.tray_host import TrayHost
from nonna.desk.pages.tools.view import ToolsView


def made(host: TrayHost) -> ToolsView:
    """Return the page for a window."""
    return ToolsView(TrayController(host))
