"""The mill's loop: links, and what can happen to it."""

from __future__ import annotations

from dataclasses import replace

from nonna.shop.cards.seen import CardSeen
from nonna.shop.links.fetched import ARTEFACT, DIAL, MASTER, RING
from nonna.shop.links.history import DIFFERS, STORED
from nonna.shop.links.loop import EventKind, Link, LinkSort, Loop
from nonna.shop.links.subjects import (
    A_MASTER,
    A_TOOL,
    PROBE,
    SETTER,
    SETTER_AND_PROBE,
    SPINDLE,
    STATION,
    Subject,
    SubjectKind,
)
from nonna.shop.links.subjects import ARTEFACT as AN_ARTEFACT
from nonna.stations.kind import Around

_CLOTH = "Lint-free cloth, taper wiper"
_LINKS = (
    Link("master", "Master", "Send the master for calibration", holds_days=365, minutes=0, branch="setter",
         master_kind="master-tool", sort=LinkSort.CERTIFICATE),
    Link("level", "Level", "Level the setter", "face-level", SETTER, (), 180, 8, (DIAL, "Key for the levelling screws"),
         "setter", shows="rise"),
    Link("repeatability", "Repeatability", "Setter repeatability", "repeatability", SETTER, (), 90, 4, (MASTER, _CLOTH),
         "setter", shows="scatter, 2 s,"),
    Link("setter", "Setter", "Setter calibration", "setter-calibration", SETTER, ("master", "level", "repeatability"),
        30, 6,
         (MASTER, _CLOTH), "setter"),
    Link("runout", "Run-out", "Dial in the stylus", "tip-runout", PROBE, (), 90, 8, (DIAL, "Key for the stylus screws"),
         "probe", shows="run-out"),
    Link("ring", "Ring", "Probe in the ring", "probe-ring", PROBE, ("runout",), 90, 6, (RING, _CLOTH), "probe", "ring"),
    Link("probe", "Length", "Probe length", "probe-length", PROBE, ("setter",), 30, 3, (_CLOTH,), "probe"),
    Link("closure", "Closure", "Setter against probe", "loop-closure", SETTER_AND_PROBE, ("setter", "probe"), 90, 5, (),
         "probe", shows="apart"),
    Link("proof", "Proof", "Prove it on an artefact", "artefact-check", AN_ARTEFACT, ("closure", "ring"), 90, 4,
        (ARTEFACT,),
         "probe", shows="error"),
    Link("tools", "Tools", "Tools", "tool-length", hangs_on=("setter",), holds_days=30, minutes=1.5,
         fetch=("Brush for the tips",), branch="setter", sort=LinkSort.EACH, also=("tool-from-presetter",)),
)  # fmt: skip


def _event(name: str, words: str, *breaks: str, subject: Subject = STATION, by_hand: bool = True) -> EventKind:
    return EventKind(name, words, frozenset(breaks), subject, by_hand)


_ON_THE_SPINDLE = ("runout", "ring", "probe")
_EVENTS = (
    _event("crash", "Crash", "level", "repeatability", "setter", "tools", *_ON_THE_SPINDLE),
    _event("setter-knocked", "Setter knocked", "level", "setter", subject=SETTER),
    _event("setter-moved", "Setter moved or re-mounted", "level", "setter", subject=SETTER),
    _event("stylus-changed", "Stylus changed", *_ON_THE_SPINDLE, subject=PROBE),
    _event("probe-bumped", "Probe bumped or re-screwed", *_ON_THE_SPINDLE, subject=PROBE),
    _event("spindle-work", "Spindle or drawbar work", "repeatability", "setter", "tools", *_ON_THE_SPINDLE,
        subject=SPINDLE),
    _event("machine-moved", "Machine moved", "level", "setter", "ring"),
    _event("rehomed", "Axes re-homed beyond their repeatability", "setter"),
    _event("temperature", "Temperature moved more than allowed", "setter", "probe"),
    _event("master-recalled", "Master recalled", "master", "ring", subject=A_MASTER),
    _event("master-calibrated", "Master back from calibration", subject=A_MASTER),
    _event("tool-regripped", "Tool re-gripped", "tools", subject=A_TOOL),
    _event("insert-changed", "Insert changed", "tools", subject=A_TOOL),
    _event("collet-changed", "Collet or nut changed", "tools", subject=A_TOOL),
    _event("battery-changed", "Probe battery changed", subject=PROBE),
    _event("hours-read", "Hour meter read (its number in the note)"),
    _event("program-override", "Program written though it stops", by_hand=False),
    _event(STORED, "Stored in the control", subject=A_TOOL, by_hand=False),
    _event(DIFFERS, "Differs in the control", subject=A_TOOL, by_hand=False),
    _event("rules-changed", "Limits or rules changed", by_hand=False),
)  # fmt: skip
LOOP = Loop(
    {"setter": "The setter's branch", "probe": "The probe's branch"}, _LINKS, _EVENTS,
    trips={SubjectKind.DAILY_CHECK: ("setter",)},
)  # fmt: skip


BEAM_SETTER = Subject(SubjectKind.BEAM_SETTER)
BEAM = Link("beam", "Beam", "Level the beam setter", "beam-level", BEAM_SETTER, (), 180, 10,
    ("Master pin, short", "Key for the adjuster"),
            "setter", shows="rise")  # fmt: skip
_BEAM_EVENT = _event("beam-moved", "Beam setter knocked or moved", "beam", subject=BEAM_SETTER)
_ALSO_ON_THE_TABLE = ("crash", "machine-moved")


def grown(loop: Loop, around: Around) -> Loop:
    """Return the mill's loop with what else stands on its table.

    The first contact setter is the one in use; each further one is a link of its own, and so is a beam setter.
    """
    setters = around.setters
    for card in [card for card in setters if card.kind == "contact"][1:]:
        loop = _with(loop, "setter", *_further(loop, card))
    if any(card.kind == "beam" for card in setters):
        loop = _with(loop, "level", BEAM, _BEAM_EVENT)
    return loop


def _further(loop: Loop, card: CardSeen) -> tuple[Link, EventKind]:
    """Return the link of a further contact setter, and the event that breaks it alone."""
    name, subject, key = card.name, Subject(SubjectKind.SETTER, card.id), f"setter-{card.id}"
    link = replace(
        loop.link("setter"), key=key, title=name, job=f"Calibrate {name}", subject=subject, hangs_on=("master",),
        like="setter"
    )  # fmt: skip
    return link, _event(f"{key}-moved", f"{name} knocked or moved", key, subject=subject)


def _with(loop: Loop, after: str, link: Link, event: EventKind) -> Loop:
    """Return a loop with one link more; what shakes the whole table shakes it too."""
    at = next(i for i, other in enumerate(loop.links) if other.key == after) + 1
    events = tuple(e._replace(breaks=e.breaks | {link.key}) if e.name in _ALSO_ON_THE_TABLE else e for e in loop.events)
    return replace(loop, links=(*loop.links[:at], link, *loop.links[at:]), events=(*events, event))
