"""The measuring loop as a table: which link hangs on which, how long it holds, what it takes to mend it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Link:
    """One link of the loop."""

    key: str
    title: str
    job: str  #: what mending it is called
    procedure: str  #: "" for a certificate
    hangs_on: tuple[str, ...]
    holds_days: int
    minutes: float
    fetch: tuple[str, ...]


MASTER = "master"  #: stands in ``fetch`` for the master the loop rests on
NOTICE_DAYS = 7  # due is said this long beforehand

LINKS: tuple[Link, ...] = (
    Link("master", "Master", "Send the master for calibration", "", (), 365, 0, ()),
    Link(
        "repeatability", "Repeatability", "Setter repeatability", "repeatability", (), 90, 4,
        (MASTER, "Lint-free cloth, taper wiper"),
    ),
    Link(
        "setter", "Setter", "Setter calibration", "setter-calibration", ("master", "repeatability"), 30, 6,
        (MASTER, "Lint-free cloth, taper wiper"),
    ),
    Link("tools", "Tools", "Tools", "tool-length", ("setter",), 30, 1.5, ("Brush for the tips",)),
)  # fmt: skip
BY_KEY = {link.key: link for link in LINKS}


def upstream(key: str) -> tuple[str, ...]:
    """Return every link the given one hangs on, nearest first."""
    found: list[str] = []
    waiting = list(BY_KEY[key].hangs_on)
    while waiting:
        at = waiting.pop(0)
        if at not in found:
            found.append(at)
            waiting.extend(BY_KEY[at].hangs_on)
    return tuple(found)
