"""The measuring loop as a table: which link hangs on which, how long it holds, what it takes to mend it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, slots=True)
class Link:
    """One link of the loop."""

    key: str
    title: str
    job: str  #: what mending it is called
    procedure: str  #: "" for a certificate
    subject: str  #: what its records are about, "" for each tool
    hangs_on: tuple[str, ...]
    holds_days: int
    minutes: float  #: until the technician's own times are known
    fetch: tuple[str, ...]
    branch: Literal["setter", "probe"]  #: the row of the loop it stands in
    master_kind: str = ""  #: kind of master whose certificate it rests on directly


MASTER = "master"  #: stands in ``fetch`` for the master the loop rests on
RING = "ring"  #: ... for the ring
DIAL = "indicator"  #: ... for the indicator
ARTEFACT = "artefact"  #: ... for an artefact not used in any calibration
NOTICE_DAYS = 7  # due is said this long beforehand
CLOTH = "Lint-free cloth, taper wiper"

LINKS: tuple[Link, ...] = (
    Link("master", "Master", "Send the master for calibration", "", "", (), 365, 0, (), "setter", "master-tool"),
    Link("level", "Level", "Level the setter", "face-level", "Setter", (), 180, 8, (DIAL, "Key for the levelling screws"), "setter"),
    Link("repeatability", "Repeatability", "Setter repeatability", "repeatability", "Setter", (), 90, 4, (MASTER, CLOTH), "setter"),
    Link("setter", "Setter", "Setter calibration", "setter-calibration", "Setter", ("master", "level", "repeatability"), 30, 6, (MASTER, CLOTH), "setter"),
    Link("runout", "Run-out", "Dial in the stylus", "tip-runout", "Probe", (), 90, 8, (DIAL, "Key for the stylus screws"), "probe"),
    Link("ring", "Ring", "Probe in the ring", "probe-ring", "Probe", ("runout",), 90, 6, (RING, CLOTH), "probe", "ring"),
    Link("probe", "Length", "Probe length", "probe-length", "Probe", ("setter",), 30, 3, (CLOTH,), "probe"),
    Link("closure", "Closure", "Setter against probe", "loop-closure", "Setter and probe", ("setter", "probe"), 90, 5, (), "probe"),
    Link("proof", "Proof", "Prove it on an artefact", "artefact-check", "Artefact", ("closure", "ring"), 90, 4, (ARTEFACT,), "probe"),
    Link("tools", "Tools", "Tools", "tool-length", "", ("setter",), 30, 1.5, ("Brush for the tips",), "setter"),
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
