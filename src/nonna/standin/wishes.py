"""What a sheet wishes of a stand-in, and what comes back."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Protocol

from nonna.errors import NonnaError
from nonna.procedures.touching import Touching
from nonna.programs.writing.writer import Writer
from nonna.shop.cards.machine import Machine, Tool
from nonna.shop.links.subjects import ANY, Subject
from nonna.shop.texts.given import Given, Plain, Row
from nonna.standin.contact import Problem
from nonna.standin.world import World

Watch = Callable[[int, int, float], None]  #: block line, lines in all, machine seconds


class MachineStoppedError(NonnaError):
    """The stand-in stopped: something happened that must not happen on a real machine."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(
            problem.code,
            "The machine stopped at block {row}: {words}.",
            f"line {problem.line}",
            row=problem.line,
            words=problem.message,
        )
        self.problem = problem


SECONDS_A_READING = 4.0


@dataclass(frozen=True, slots=True)
class Measured:
    """Plain readings, and the program that was run for them ("" where hands did it)."""

    readings: list[Row]
    program: str
    setup: Mapping[str, float] = field(default_factory=dict)  #: what the program decided of the sheet's setup


@dataclass(frozen=True, slots=True)
class SheetWish:
    """One sheet's wish for the stand-in: the machine's papers, never its truth."""

    taking: str  #: how the readings are come by, as the sheet says; "" if it does not
    machine: Machine
    tools: tuple[Tool, ...]
    seed: int  #: of the machine: the same seed is the same machine
    run: int  #: of this run's scatter
    subject: Subject = ANY
    variant: str = ""
    master: Given = field(default_factory=lambda: Given({}))  #: as in a readings file; any mapping will do
    trigger_plane_mm: float | None = None
    slots: tuple[Mapping[str, Plain], ...] = ()  #: what stands beside each reading wanted
    setup: Given = field(default_factory=lambda: Given({}))
    known: Mapping[str, float] = field(default_factory=dict)  #: what the machine's tables hold, by result name
    writer: Writer = field(default_factory=Writer)  #: the shop's
    masters: Mapping[str, Given] = field(default_factory=dict)  #: all of them, by role
    title: str = ""  #: of the sheet, for a refusal
    touching: Touching | None = None  #: how a program takes its readings, None where hands do

    def __post_init__(self) -> None:
        """Take plain mappings too."""
        object.__setattr__(self, "master", Given(self.master or {}))
        object.__setattr__(self, "setup", Given(self.setup))

    def refused(self, kind: str = "") -> NonnaError:
        """Return the refusal of a sheet whose readings cannot be come by here."""
        words = "The {kind}stand-in cannot do {title} yet."
        return NonnaError("unknown-procedure", words, "procedure", kind=kind, title=self.title or self.taking)


class LiveDial(Protocol):
    """The dial of a sheet as it stands while hands turn or carry it."""

    def go_to(self, place: Mapping[str, Plain]) -> None:
        """The hand goes to where the next reading is taken."""

    def read(self) -> float:
        """Return what the dial shows now, mm."""


class Measures(Protocol):
    """Measures what a sheet wants."""

    def __call__(self, job: SheetWish, world: World, watch: Watch | None = None) -> Measured:
        """Raises: NonnaError (it cannot be done, with the reason; or it stopped); whatever ``watch`` raises."""


@dataclass(frozen=True, slots=True)
class Standin:
    """The stand-in of a kind of station: the one door to its truth."""

    measure: Measures
    #: what its instrument prints by a pattern, a line a reading
    lines: Callable[[SheetWish, World, str], Callable[[], str]] | None = None
    #: turns a screw (mm) as a sheet advises; degrees of key where somebody would know them
    adjust: Callable[[SheetWish, World, str, float], float | None] | None = None
    dial: Callable[[SheetWish, World], LiveDial] | None = None
