"""Tools that arrive from the shop's presetter, line by line, for the machine that is going to use them."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cache
from typing import TYPE_CHECKING, NamedTuple

from nonna.bench.sheet.from_presetter import card_of_presetter, presetter_of
from nonna.bench.sheet.instruments import Instrument
from nonna.bench.sheet.judging import Judged, judge
from nonna.bench.sheet.opening import open_sheet
from nonna.bench.sheet.standin_jobs import job_of
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.procedures import offers
from nonna.procedures.instrument_line import LineReading
from nonna.procedures.listing import one_offering
from nonna.procedures.presetter_tool.procedure import TOUCHES
from nonna.procedures.session import Session
from nonna.shop.cards.machine import Tool
from nonna.shop.texts.given import Given
from nonna.stations.kind import kind_of

if TYPE_CHECKING:
    from nonna.standin.wishes import SheetWish
    from nonna.standin.world import World

LOOKS = 20  #: at the screen, before the stand-in's hands press once more because nothing happened
SAME_MM = 0.05  #: two tools are hardly ever as equal as this by chance
_DOUBT = "That reads like T{last} again. If T{number} really is as {how}, send it once more."


class ReadsLikeTheLast(NonnaError):  # noqa: N818 - a doubt, answered by sending the line again
    """The line was not taken; ``then`` is what holds after it."""

    def __init__(self, template: str, then: Arrivals, **facts: object) -> None:
        super().__init__("out-of-range", template, "tool", **facts)
        self.then = then


@dataclass(frozen=True, slots=True)
class Arrivals:
    """What came so far; machine and shop stay the same from the first line to the signature."""

    site: Site
    presetter: str
    instrument: Instrument
    tools: Mapping[int, Tool]  #: of the machine's tray and of the presetter's table, by number
    wanted: tuple[int, ...]  #: numbers, in the order they are asked for
    wide: frozenset[int] = frozenset()  #: of which the diameter is wanted too
    readings: Mapping[int, tuple[Given, ...]] = field(default_factory=dict)
    asked: int | None = None  #: the tool of a line that names none
    last: int | None = None  #: the tool that was whole last
    doubted: tuple[int, str] | None = None  #: tool and axis whose first line read like the last tool's: not taken

    @property
    def named(self) -> bool:
        """Whether its lines say which tool they are of."""
        return "{tool}" in self.instrument.pattern

    @property
    def left(self) -> tuple[int, ...]:
        """The wanted tools that are not all there yet."""
        return tuple(number for number in self.wanted if not self.whole(number))

    def whole(self, number: int) -> bool:
        """Say whether all that is wanted of a tool is there."""
        counts = self._counts(number)
        return counts["z"] >= TOUCHES and (number not in self.wide or counts["x"] >= TOUCHES)

    def take(self, line: LineReading) -> tuple[Arrivals, int]:
        """Take one line; return what is there then and the tool it was of. Raises: NonnaError (why nothing was
        taken).
        """
        number = int(line.tool) if line.tool else self.asked
        if number is None:
            raise NonnaError("missing-field", "Which tool was that? Put the cursor on it, and send it again.", "tool")
        if number not in self.tools:
            words = "T{number} is neither in this tray nor in {presetter}'s table. Nothing was taken."
            raise NonnaError("out-of-range", words, "tool", number=number, presetter=self.presetter)
        axis = line.axis or "z"
        if self._counts(number)[axis] >= TOUCHES:
            words = "Nothing more is wanted in {upper} of T{number}. Nothing was taken."
            raise NonnaError("out-of-range", words, "axis", upper=axis.upper(), number=number)
        if not line.tool and (number, axis) != self.doubted and self._still_the_last(number, axis, float(line)):
            then, how = replace(self, doubted=(number, axis)), "long" if axis == "z" else "wide"
            raise ReadsLikeTheLast(_DOUBT, then, last=self.last, number=number, how=how)
        rows = (*self.readings.get(number, ()), Given({"axis": axis, "value_mm": float(line)}))
        wanted = self.wanted if number in self.wanted else (*self.wanted, number)
        new = replace(self, readings={**self.readings, number: rows}, wanted=wanted, doubted=None)
        if new.whole(number):
            new = replace(new, last=number)
        return new.ask(new.left[0] if new.whole(number) and new.left else number), number

    def _still_the_last(self, number: int, axis: str, value: float) -> bool:
        """Whether the first line of a tool reads like the one before: did the old one still stand in the spindle?"""
        if (
            self.last is None
            or self.last == number
            or any(r.word("axis") == axis for r in self.readings.get(number, ()))
        ):
            return False
        before = [r.number("value_mm", 0.0) for r in self.readings.get(self.last, ()) if r.word("axis") == axis]
        return any(abs(value - other) <= SAME_MM for other in before)

    def ask(self, number: int | None) -> Arrivals:
        """Ask for a tool: a line that names none is that tool's."""
        return replace(self, asked=number if number in self.tools else None)

    def words(self) -> str:
        """Say what is waited for."""
        number = self.asked
        if number is None:
            return "Press its button: the line names its tool." if self.named else "Put the cursor on the tool."
        counts = self._counts(number)
        more = f", diameter {min(counts['x'] + 1, TOUCHES)} of {TOUCHES}" if number in self.wide else ""
        done = len(self.wanted) - len(self.left)
        how = "" if self.named else " The line is that of the tool under the cursor."
        return (
            f"T{number}: length {min(counts['z'] + 1, TOUCHES)} of {TOUCHES}{more}. {done} of "
            f"{len(self.wanted)} are there.{how}"
        )

    def judged(self, number: int) -> Judged:
        """Evaluate a tool as its sheet would, for the machine that takes it; of an axis read but once nothing is
        said.
        """
        counts, subject = self._counts(number), self.tools[number].subject
        rows = [row for row in self.readings[number] if counts[row.word("axis")] >= TOUCHES]
        return judge(self.site, subject, one_offering(offers.FROM_PRESETTER), rows, f"presetter {self.presetter}")

    def _counts(self, number: int) -> dict[str, int]:
        rows = self.readings.get(number, ())
        return {axis: sum(row["axis"] == axis for row in rows) for axis in ("z", "x")}


def arrivals(site: Site, tray: Sequence[Tool], marked: Sequence[int], wide: frozenset[int]) -> Arrivals:
    """Begin to take tools from the shop's presetter for a station.

    Parameters: tray, the station's tools; marked, those that are asked for, before those of the presetter's table that
    the tray does not have yet; wide, those of which the diameter is wanted.
    Raises: NonnaError (no presetter, or what a length would rest on is missing).
    """
    there, card = presetter_of(site), card_of_presetter(site)
    if there is None or card is None:
        words = "There is no presetter in this shop: put its card and its station on the shelf (F10)."
        raise NonnaError("missing-field", words, "presetter")
    own = {tool.number: tool for tool in tray}
    new = {tool.number: tool for tool in there.tools if tool.number not in own}
    wanted = (*marked, *new)
    if not wanted:
        words = "Mark the tools that are measured on the presetter (Space), then F12."
        raise NonnaError("missing-field", words, "tools")
    tools = {**new, **own}
    open_sheet(
        site, one_offering(offers.FROM_PRESETTER), tools[wanted[0]].subject
    )  # says what it would rest on and is not there
    instrument = Instrument(card.pattern, card.connection, sends=True)
    return Arrivals(site, there.machine.name, instrument, tools, wanted, wide, asked=wanted[0])


class Screen(NamedTuple):
    """What the stand-in's hands see between two presses."""

    asked: int | None  #: the tool that is asked for: it stands in the spindle
    heard: int  #: lines that were taken or refused so far
    looks: int  #: times that the window was alive so far


def lines_of_standin(found: Arrivals, world: World, screen: Callable[[], Screen]) -> Callable[[], str]:
    """Return what the stand-in presetter prints for these tools, one after the other; "" while nobody presses.

    Where lines name no tool, hands wait for what a press does before they press again: a slow window never gets two
    lines of one tool for one. Notes: files are read with the first line; that raises NonnaError where it cannot be
    done.
    """

    @cache
    def lines() -> Callable[[SheetWish, World, str], Callable[[], str]]:
        there = presetter_of(found.site)
        printed = kind_of(there.machine.kind).measured_by().lines if there is not None else None
        if printed is None:
            raise NonnaError("missing-field", "There is no presetter in this shop.", "presetter")
        return printed

    def job(number: int) -> SheetWish:
        opening = open_sheet(found.site, one_offering(offers.FROM_PRESETTER), found.tools[number].subject)
        one = job_of(found.site, Session(one_offering(offers.FROM_PRESETTER), opening.facts))
        return replace(one, tools=tuple(found.tools.values()), run=one.run + number)

    def of(wish: SheetWish) -> Callable[[], str]:
        return lines()(wish, world, found.instrument.pattern)

    def in_turn() -> Iterator[str]:
        while True:
            for number in found.wanted:
                printed = of(wish := job(number))
                yield from (printed() for _ in wish.slots)

    def by_hand() -> Iterator[str]:
        printed: dict[int, Callable[[], str]] = {}
        while True:
            seen = screen()
            if seen.asked is None:
                yield ""
                continue
            if seen.asked not in printed:
                printed[seen.asked] = of(job(seen.asked))
            yield printed[seen.asked]()
            while (now := screen()).heard == seen.heard and now.looks < seen.looks + LOOKS:
                yield ""

    rows = in_turn() if found.named else by_hand()
    return lambda: next(rows)
