"""What can happen to a machine, and which links each event breaks (with all that hang below)."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class EventKind:
    """A kind of event: its name in records, its words, and the links it breaks."""

    name: str
    words: str
    breaks: frozenset[str]
    subject: str = "Machine"  #: what it befalls; a tool or a master is named when it is logged


def _kind(name: str, words: str, *breaks: str, subject: str = "Machine") -> EventKind:
    return EventKind(name, words, frozenset(breaks), subject)


_SPINDLE = ("runout", "ring", "probe")
EVENTS: tuple[EventKind, ...] = (
    _kind("crash", "Crash", "level", "repeatability", "setter", "tools", *_SPINDLE),
    _kind("setter-knocked", "Setter knocked", "level", "setter", subject="Setter"),
    _kind("setter-moved", "Setter moved or re-mounted", "level", "setter", subject="Setter"),
    _kind("stylus-changed", "Stylus changed", *_SPINDLE, subject="Probe"),
    _kind("probe-bumped", "Probe bumped or re-screwed", *_SPINDLE, subject="Probe"),
    _kind("spindle-work", "Spindle or drawbar work", "repeatability", "setter", "tools", *_SPINDLE, subject="Spindle"),
    _kind("machine-moved", "Machine moved", "level", "setter", "ring"),
    _kind("rehomed", "Axes re-homed beyond their repeatability", "setter"),
    _kind("temperature", "Temperature moved more than allowed", "setter", "probe"),
    _kind("master-recalled", "Master recalled", "master", "ring"),
    _kind("master-calibrated", "Master back from calibration"),
    _kind("tool-regripped", "Tool re-gripped", "tools"),
    _kind("insert-changed", "Insert changed", "tools"),
)
OVERRIDE = _kind("program-override", "Program written though it stops")  #: logged by the tray, never by hand
BY_NAME = {event.name: event for event in (*EVENTS, OVERRIDE)}
DAILY = "Daily check"  #: subject of the short check; where it fails it breaks what it touched
DAILY_BREAKS = ("setter",)
