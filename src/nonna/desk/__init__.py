"""The Qt desk: loop, sheets, tape, tools, book. No arithmetic."""

import gc

import nonna.desk.start.plain_imports  # noqa: F401 - for its effect, before anything else of the binding is loaded
from nonna.desk.start.qt_plugins import find_plugins

# the desk collects garbage by itself, on one thread (`threads.garbage_collection`); until its window stands there is
# none
gc.disable()
find_plugins()  # here, for every way to open a window comes by
