"""The Qt desk: loop, sheets, tape, tools, book. No arithmetic."""

from nonna.desk.qt_plugins import find_plugins

find_plugins()  # here, for every way to open a window comes by
