"""The lathe's loop: the reference tool, the arm set by it, the tips set by the arm; beside it the probe and the
chuck.
"""

from __future__ import annotations

from nonna.shop.links.fetched import DIAL, RING
from nonna.shop.links.history import DIFFERS, STORED
from nonna.shop.links.loop import EventKind, Link, LinkSort, Loop
from nonna.shop.links.subjects import A_TOOL, ARM, CHUCK, PART, PROBE, REFERENCE_TOOL, STATION

_CLOTH = "Lint-free cloth"
_LINKS = (
    Link("reference", "Reference", "Reference tool by a test cut", "lathe-offset-cut", REFERENCE_TOOL, (), 90, 10,
         ("Micrometer", "Bar to cut"), "arm", also=("lathe-offset-master",)),
    Link("seating", "Seating", "Repeatability of the arm", "repeatability", ARM, (), 90, 6, (_CLOTH,), "arm",
         shows="scatter, 2 s,"),
    Link("arm", "Arm", "Calibrate the arm", "lathe-arm", ARM, ("reference", "seating"), 30, 8, (_CLOTH,), "arm"),
    Link("centre", "Centre line", "Centre line of the turret", "lathe-centre", STATION, (), 180, 8,
        (DIAL, "Ground bar"), "arm"),
    Link("tips", "Tips", "Tips", "lathe-tip", hangs_on=("arm",), holds_days=30, minutes=1.5,
        fetch=("Brush for the tips",),
         branch="arm", sort=LinkSort.EACH),
    Link("alignment", "Alignment", "Probe alignment by indicator", "tip-runout", PROBE, (), 180, 8, (DIAL,), "probe",
         shows="run-out"),
    Link("ring", "Ball", "Probe in the ring", "lathe-ring", PROBE, ("alignment",), 90, 6, (RING, _CLOTH), "probe",
        "ring"),
    Link("parts", "Parts", "Measure a part", "lathe-measure", PART, ("ring",), 1, 2, (), "probe"),
    Link("chuck", "Chuck", "Chuck run-out", "chuck-runout", CHUCK, (), 30, 4, ("Ground bar",), "probe",
        shows="run-out"),
)  # fmt: skip
_ARM, _PROBE = ("arm", "tips"), ("alignment", "ring")
_EVENTS = (
    EventKind("crash", "Crash", frozenset({"reference", "seating", "chuck", "centre", *_ARM, *_PROBE})),
    EventKind("insert-changed", "Insert changed", frozenset({"tips"}), A_TOOL),
    EventKind("tip-crashed", "Tip crashed", frozenset({"tips"}), A_TOOL),
    EventKind("arm-bumped", "Arm bumped", frozenset({"seating", "arm"}), ARM),
    EventKind("arm-stylus-changed", "Arm's stylus changed", frozenset({"seating", "arm"}), ARM),
    EventKind("turret-aligned", "Turret re-aligned", frozenset({"reference", "centre", *_ARM, *_PROBE})),
    EventKind("probe-bumped", "Probe bumped", frozenset(_PROBE), PROBE),
    EventKind("stylus-changed", "Probe's stylus changed", frozenset(_PROBE), PROBE),
    EventKind("battery-changed", "Probe battery changed", frozenset(), PROBE),
    EventKind("jaws-changed", "Jaws changed or bored", frozenset({"chuck"}), CHUCK),
    EventKind("headstock-warmed", "Headstock warmed up", frozenset({"arm"}), STATION),
    EventKind("machine-moved", "Machine moved", frozenset({"reference", "arm", "chuck"})),
    EventKind("hours-read", "Hour meter read (its number in the note)"),
    EventKind("program-override", "Program written though it stops", by_hand=False),
    EventKind(STORED, "Stored in the control", subject=A_TOOL, by_hand=False),
    EventKind(DIFFERS, "Differs in the control", subject=A_TOOL, by_hand=False),
    EventKind("rules-changed", "Limits or rules changed", by_hand=False),
)
LOOP = Loop({"arm": "Tools", "probe": "Probe, parts and chuck"}, _LINKS, _EVENTS)
