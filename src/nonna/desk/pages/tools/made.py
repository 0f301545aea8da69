"""The tray of a window: its page with what happens on it."""

from __future__ import annotations

from nonna.desk.commands.page import PageHost
from nonna.desk.pages.tools.view import ToolsView


def made(host: PageHost) -> ToolsView:
    """Return the page for a window."""
    return ToolsView(host.session.open_tray())
