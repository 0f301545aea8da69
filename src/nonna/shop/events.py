"""What can happen to a machine, and which links each event breaks (with all that hang below)."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class EventKind:
    """A kind of event: its name in records, its words, and the links it breaks."""

    name: str
    words: str
    breaks: frozenset[str]


def _kind(name: str, words: str, *breaks: str) -> EventKind:
    return EventKind(name, words, frozenset(breaks))


EVENTS: tuple[EventKind, ...] = (
    _kind("crash", "Crash", "setter", "repeatability", "tools"),
    _kind("setter-knocked", "Setter knocked", "setter"),
    _kind("setter-moved", "Setter moved or re-mounted", "setter"),
    _kind("spindle-work", "Spindle or drawbar work", "setter", "repeatability", "tools"),
    _kind("machine-moved", "Machine moved", "setter"),
    _kind("rehomed", "Axes re-homed beyond their repeatability", "setter"),
    _kind("temperature", "Temperature moved more than allowed", "setter"),
    _kind("master-recalled", "Master recalled", "master"),
    _kind("tool-regripped", "Tool re-gripped", "tools"),
    _kind("insert-changed", "Insert changed", "tools"),
)
BY_NAME = {event.name: event for event in EVENTS}
