"""What a kind of station brings along, and where the kinds are found: a folder here is one."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cache
from importlib import import_module
from typing import TYPE_CHECKING, Any, NamedTuple, TypeAlias, cast

from nonna.errors import NonnaError
from nonna.folders import brought_by
from nonna.shop.cards.kinds import station_kinds
from nonna.shop.cards.seen import CardSeen
from nonna.shop.links.loop import Loop
from nonna.shop.texts.given import Document, Given, Plain

if TYPE_CHECKING:
    from nonna.figures.figure import Figure, Stroke
    from nonna.shop.cards.machine import Machine
    from nonna.standin.wishes import Standin
    from nonna.stations.questions import Answer, Founded, SetUpQuestion
    from nonna.stations.tool_fields import ToolFields
    from nonna.stations.tool_program import ToolProgram
    from nonna.wording.lengths import Units

USUAL = "mill"  #: what a station is taken for whose kind has no folder yet

Tools = Sequence[tuple[str, float, float]]  #: kind, diameter and length of some tools, for their scene
Scene: TypeAlias = "Callable[[float, Tools], list[Stroke]]"  #: draws a link at a place along its branch


class Chain(NamedTuple):
    """A result at the end of the loop whose doubt is looked into."""

    procedure: str
    result: str
    words: str  #: what it is the doubt of, ``{}`` for the subject
    times: float = 1.0  #: a radius that goes into a diameter counts twice
    own: bool = False  #: whether what its own record adds is of the subject alone, not common to all


class Parts(NamedTuple):
    """How a kind learns the wear of its tools: from what they cut."""

    procedure: str  #: measures a part and says which tool cut it
    wear: str  #: its result: what the table's wear should be for the next one


class Around(NamedTuple):
    """What a station's loop may grow by: what stands on it, and the shop's other stations."""

    setters: Sequence[CardSeen] = ()  #: cards of those that stand on it
    machines: Sequence[tuple[str, str]] = ()  #: the shop's other stations: name and kind
    probe: bool = True  #: whether it has a probe, or ever had one


@dataclass(frozen=True, slots=True)
class StationKind:
    """A kind of station."""

    key: str  #: as the machine's file names it
    words: str
    loop: Loop
    scenes: Mapping[str, Scene] = field(default_factory=dict)  #: by link; a link without one is drawn plainly
    chains: tuple[Chain, ...] = ()  #: the first one is what the weakest link is named for
    grown: Callable[[Loop, Around], Loop] | None = None  #: the loop as one station has it
    parts: Parts | None = None  #: None where no wear is kept
    standin: str = ""  #: ``module:object`` that is its stand-in; "" where there is none
    program: str = ""  #: ``module:object`` that has its tools measured by program; "" where nothing does
    #: module with ``QUESTIONS``, ``founded`` and perhaps ``drawn``, ``open_questions``, ``taught``, ``answers_of``; ""
    #: where none can be set up yet
    set_up: str = ""
    tool_fields: str = (
        "nonna.stations.tool_fields:usual"  #: ``module:function`` that says what is asked of a machine's tools
    )
    by_probe: frozenset[str] = frozenset()  #: links that are no links of a station without a probe
    by_line: frozenset[str] = frozenset()  #: ways of taking readings (`Procedure.taken`) that such an instrument sends

    def at(self, around: Around) -> StationKind:
        """Return the kind as one station has it."""
        loop = self.loop if self.grown is None else self.grown(self.loop, around)
        return replace(self, loop=loop if around.probe else loop.without(self.by_probe))

    def changed(self, changes: Mapping[str, Mapping[str, Plain]]) -> StationKind:
        """Return the kind with what a shop changed of its links, by their keys."""
        return replace(self, loop=self.loop.changed(changes)) if changes else self

    def measured_by(self) -> Standin:
        """Return its stand-in. Raises: NonnaError ``unknown-procedure`` (there is none yet)."""
        if not self.standin:
            raise NonnaError(
                "unknown-procedure", "There is no stand-in of a {words} yet.", "procedure", words=self.words
            )
        return cast("Standin", self._found(self.standin))

    def asks_of_tools(self, machine: Machine | None) -> ToolFields:
        """What is asked of the tools of a machine of this kind; None before it is read."""
        return cast("Callable[[Machine | None], ToolFields]", self._found(self.tool_fields))(machine)

    def tool_program(self) -> ToolProgram | None:
        """What has its tools measured by programs, None where each is measured by hand alone."""
        return cast("ToolProgram", self._found(self.program)) if self.program else None

    @property
    def questions(self) -> tuple[SetUpQuestion, ...]:
        """What setting one up asks, in the order a person can answer."""
        found: tuple[SetUpQuestion, ...] = self._of_set_up("QUESTIONS") or ()
        return found

    @property
    def founded(self) -> Callable[[str, str, Mapping[str, Answer | None]], Founded] | None:
        """What makes files of (kind, name, answers)."""
        found: Callable[[str, str, Mapping[str, Answer | None]], Founded] | None = self._of_set_up("founded")
        return found

    @property
    def drawn(self) -> Callable[[Mapping[str, object], str, Units], Figure] | None:
        """What draws one while it is set up, from (answers, key of what is asked, units)."""
        found: Callable[[Mapping[str, object], str, Units], Figure] | None = self._of_set_up("drawn")
        return found

    @property
    def open_questions(self) -> Callable[[Given], tuple[SetUpQuestion, ...]] | None:
        """What a machine (its file) is asked when a plan first needs it."""
        found: Callable[[Given], tuple[SetUpQuestion, ...]] | None = self._of_set_up("open_questions")
        return found

    @property
    def taught(self) -> Callable[[Given, Mapping[str, Answer | None]], Document] | None:
        """What puts answers into a machine's file."""
        found: Callable[[Given, Mapping[str, Answer | None]], Document] | None
        found = self._of_set_up("taught")
        return found

    @property
    def answers_of(self) -> Callable[[Given], Mapping[str, Answer]] | None:
        """What gives the answers that a machine's file amounts to, for its drawing."""
        found: Callable[[Given], Mapping[str, Answer]] | None = self._of_set_up("answers_of")
        return found

    def _of_set_up(self, name: str) -> Any:
        return getattr(import_module(self.set_up), name, None) if self.set_up else None

    def _found(self, place: str) -> object:
        module, _, name = place.partition(":")
        return getattr(import_module(module), name)


def kind_of(key: str) -> StationKind:
    """Return a kind of station by its name in the machine's file."""
    return _loaded(key if key in station_kinds() else USUAL)


def event_words(name: str) -> str:
    """Return what an event of any kind of station is called; its name where no kind knows it."""
    found = (kind_of(key).loop.event(name) for key in station_kinds())
    return next((event.words for event in found if event is not None), name)


@cache
def _loaded(key: str) -> StationKind:
    return brought_by("nonna.stations", key, "KIND", StationKind)
