"""What a procedure is done on, what an event befalls: a kind of thing, and which one by an id that never changes.

A tool is not its pocket's number: it keeps its id when it moves to another pocket. In records a subject stands as one
short text; texts of older records are read here too, and never rewritten.
"""

from __future__ import annotations

from enum import StrEnum
from typing import NamedTuple


class SubjectKind(StrEnum):
    """The kinds of things a shop's records are about."""

    STATION = "station"
    SPINDLE = "spindle"
    SETTER = "setter"
    BEAM_SETTER = "beam-setter"
    PROBE = "probe"
    SETTER_AND_PROBE = "setter-and-probe"
    PRESETTER = "presetter"
    MASTER = "master"
    ARTEFACT = "artefact"  #: one that no calibration has used
    TOOL = "tool"
    RACK = "rack"  #: all pockets of a router together
    POCKET = "pocket"
    REFERENCE_TOOL = "reference-tool"  #: of a lathe: the one that sets its arm
    ARM = "arm"  #: a lathe's swing-arm setter
    CHUCK = "chuck"
    PART = "part"
    DAILY_CHECK = "daily-check"  #: the short check of the setter; where it fails it breaks what it touched
    OTHER = "other"  #: named by hand
    ANY = ""  #: a record that says nothing is of whatever its procedure is usually done on


_TEXTS = {  # as records have had them from the first release on
    SubjectKind.STATION: "Machine",
    SubjectKind.SPINDLE: "Spindle",
    SubjectKind.SETTER: "Setter",
    SubjectKind.BEAM_SETTER: "Beam setter",
    SubjectKind.PROBE: "Probe",
    SubjectKind.SETTER_AND_PROBE: "Setter and probe",
    SubjectKind.PRESETTER: "Presetter",
    SubjectKind.RACK: "Rack",
    SubjectKind.REFERENCE_TOOL: "Reference tool",
    SubjectKind.ARM: "Arm",
    SubjectKind.CHUCK: "Chuck",
    SubjectKind.ARTEFACT: "Artefact",
    SubjectKind.PART: "Part",
    SubjectKind.DAILY_CHECK: "Daily check",
    SubjectKind.ANY: "",
}
_KINDS = {text: kind for kind, text in _TEXTS.items()}


class Subject(NamedTuple):
    """One thing; without an id the one of its kind that the station has."""

    kind: SubjectKind
    id: str = ""

    @classmethod
    def of(cls, text: str) -> Subject:
        """Return the subject that a record's text, or a person, means: ``Setter``, ``T4``, ``setter:pad-2``,
        ``pocket:3``.
        """
        if text in _KINDS:
            return cls(_KINDS[text])
        if text[:1] == "T" and text[1:].isascii() and text[1:].isdecimal():
            return cls(SubjectKind.TOOL, text)
        kind, mark, name = text.partition(":")
        if mark and name and kind in _SPELT:
            return cls(SubjectKind(kind), name)
        return cls(SubjectKind.OTHER, text)

    def __str__(self) -> str:
        """Give the text a record has for it; `of` reads it back."""
        if not self.id:
            return _TEXTS.get(self.kind, self.kind.value)
        plain = self.kind is SubjectKind.OTHER or (self.kind is SubjectKind.TOOL and Subject.of(self.id) == self)
        return self.id if plain else f"{self.kind.value}:{self.id}"

    @property
    def words(self) -> str:
        """What it is called on a screen."""
        kind = _TEXTS.get(self.kind, self.kind.value.replace("-", " ").capitalize())
        if not self.id or self.kind in (SubjectKind.OTHER, SubjectKind.TOOL, SubjectKind.MASTER):
            return self.id or kind
        return f"{kind} {self.id}"


_SPELT = {kind.value for kind in SubjectKind} - {"", SubjectKind.OTHER.value}
ANY = Subject(SubjectKind.ANY)
STATION, SPINDLE, SETTER, PROBE = (
    Subject(kind) for kind in (SubjectKind.STATION, SubjectKind.SPINDLE, SubjectKind.SETTER, SubjectKind.PROBE)
)
REFERENCE_TOOL, ARM, CHUCK = (
    Subject(kind) for kind in (SubjectKind.REFERENCE_TOOL, SubjectKind.ARM, SubjectKind.CHUCK)
)
PRESETTER, RACK = Subject(SubjectKind.PRESETTER), Subject(SubjectKind.RACK)
SETTER_AND_PROBE, ARTEFACT, PART, DAILY_CHECK = (
    Subject(kind)
    for kind in (SubjectKind.SETTER_AND_PROBE, SubjectKind.ARTEFACT, SubjectKind.PART, SubjectKind.DAILY_CHECK)
)
A_TOOL, A_MASTER = Subject(SubjectKind.TOOL), Subject(SubjectKind.MASTER)  #: which one is named when it matters


def tool(number_or_id: int | str) -> Subject:
    """Return a tool by its id, or by the number of the pocket that gave it its id."""
    return Subject(SubjectKind.TOOL, f"T{number_or_id}" if isinstance(number_or_id, int) else number_or_id)


def station(name: str) -> Subject:
    """Return a station by its name."""
    return Subject(SubjectKind.STATION, name)


def master(id_: str) -> Subject:
    """Return a master by its card's id."""
    return Subject(SubjectKind.MASTER, id_)
