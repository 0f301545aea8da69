"""The Qt desk: loop, sheets, tape, tools, book. No arithmetic."""

# What the first picture needs and has no Qt comes first: once it is there, the binding reads the source of every module
# imported, some six per cent of the whole start.
import gc

import nonna.bench.rounds
import nonna.bench.state
import nonna.bench.worlds
import nonna.plugged
import nonna.stations.branch
import nonna.stations.telling  # noqa: F401 - all of these are for their effect alone
from nonna.desk.qt_plugins import find_plugins

gc.disable()  # the desk collects garbage by itself, on one thread (`garbage_collection`); until its window stands there is none
find_plugins()  # here, for every way to open a window comes by
