"""The router's loop: all hangs on the home that the axes find, and the rack on every clip in it."""

from __future__ import annotations

from nonna.shop.links.history import DIFFERS, STORED
from nonna.shop.links.loop import EventKind, Link, LinkSort, Loop
from nonna.shop.links.subjects import A_TOOL, PART, RACK, SETTER, STATION

_LINKS = (
    Link("home", "Home", "Check the home", "home-check", STATION, (), 1, 2, ("Pin that never changes",), "machine",
         shows="moved"),
    Link("plate", "Plate", "Calibrate the touch plate", "setter-calibration", SETTER, ("home",), 30, 4,
         ("Lint-free cloth",), "machine"),
    Link("rack", "Rack", "Measure the rack", "rack-pockets", RACK, ("home",), 90, 6,
         ("Bare holder", "Rod of known diameter", "Two leads"), "machine", shows="off"),
    Link("tools", "Tools", "Tools", "tool-length", hangs_on=("plate",), holds_days=7, minutes=1.0,
         fetch=("Brush for the tips",), branch="work", sort=LinkSort.EACH, also=("tool-from-presetter",)),
    Link("surface", "Surface", "Find the work surface", "work-offset", PART, ("plate",), 7, 3, ("Touch block",),
        "work"),
)  # fmt: skip
_EVENTS = (
    EventKind("crash", "Crash", frozenset({"home", "plate", "rack", "tools"})),
    EventKind("home-lost", "Home lost, or power failed", frozenset({"home"})),
    EventKind("clip-changed", "Clip broken, bent or replaced", frozenset({"rack"}), RACK),
    EventKind("plate-moved", "Touch plate knocked or moved", frozenset({"plate"}), SETTER),
    EventKind("collet-changed", "Collet or nut changed", frozenset({"tools"}), A_TOOL),
    EventKind("tool-regripped", "Tool re-gripped", frozenset({"tools"}), A_TOOL),
    EventKind("board-resurfaced", "Spoil board resurfaced", frozenset({"surface"}), PART),
    EventKind("machine-moved", "Machine moved", frozenset({"home", "plate", "rack"})),
    EventKind("hours-read", "Hour meter read (its number in the note)"),
    EventKind("program-override", "Program written though it stops", by_hand=False),
    EventKind(STORED, "Stored in the control", subject=A_TOOL, by_hand=False),
    EventKind(DIFFERS, "Differs in the control", subject=A_TOOL, by_hand=False),
    EventKind("rules-changed", "Limits or rules changed", by_hand=False),
)
LOOP = Loop({"machine": "The machine", "work": "What is done with it"}, _LINKS, _EVENTS)
