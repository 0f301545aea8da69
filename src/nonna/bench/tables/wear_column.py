"""The wear column of a machine's table: what signed parts say it should be, written with a diff, and taken back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nonna.bench.book.results_that_hold import HeldResults
from nonna.bench.ports import ShopFiles
from nonna.errors import NonnaError
from nonna.figures.run_chart import PartPoint
from nonna.procedures.shown import XShows, real_per_shown
from nonna.shop.cards.machine import Tool, Tools
from nonna.shop.links.subjects import Subject
from nonna.shop.records.values import as_measurement
from nonna.shop.texts.given import Document, Given
from nonna.shop.texts.strict_model import checked
from nonna.stations.kind import Parts

MOST_PARTS = 40  #: of a run that are drawn
DIGITS = 4  #: of a wear column: no machine takes more
NEAR_MM = 1e-9  #: two numbers that went through a file


@dataclass(frozen=True, slots=True)
class WearChange:
    """What one record makes of the wear of the tool that cut its part; mm, as the machine shows X."""

    record: int
    tool: int
    name: str
    before: float
    after: float
    error: float  #: of the part, real mm
    now: float  #: what the table holds
    failed: bool = False  #: whether its part was out of its tolerance: somebody looks first

    @property
    def waits(self) -> bool:
        """Whether it is not written yet."""
        return abs(self.now - self.before) <= NEAR_MM and abs(self.after - self.before) > NEAR_MM

    @property
    def written(self) -> bool:
        """Whether the table holds it, so that it may be taken back."""
        return abs(self.now - self.after) <= NEAR_MM and abs(self.after - self.before) > NEAR_MM


@dataclass(frozen=True, slots=True)
class Run:
    """The parts that one tool cut to one size, oldest first, and what comes next; mm."""

    points: tuple[PartPoint, ...]
    limits: tuple[float, float] | None
    following: float | None  #: about what the next part will be off by, with the wear that is advised


def run_of(results: HeldResults, parts: Parts, tool: Tool, shows: XShows) -> Run:
    """Return the parts a tool cut, as far back as they have the newest one's nominal size; none is a run without
    points.

    Raises: NonnaError (a record is damaged).
    """
    points: list[PartPoint] = []
    limits: tuple[float, float] | None = None
    nominal = None
    for entry in results.entries.measured(parts.procedure):
        record = as_measurement(results.read(entry.number))
        setup = record.setup
        if Subject.of(setup.word("tool")) != tool.subject:
            continue
        lower, upper = setup.number("lower_mm"), setup.number("upper_mm")
        if nominal is None:
            nominal = setup.number("nominal_mm")
            limits = (lower, upper) if lower is not None and upper is not None else None
        if setup.number("nominal_mm") != nominal or len(points) == MOST_PARTS:
            break
        error, new = record.result.results["error_mm"], record.row(parts.wear)
        step = new.value - setup.number("wear_mm", 0.0) if new else 0.0
        points.append(PartPoint(error.value, error.expanded or 0.0, record.own().word("state"), step))
    following = None
    if points and points[0].state in ("correct", "leave"):
        following = points[0].error + 2.0 * real_per_shown("x", shows) * points[0].step
    return Run(tuple(reversed(points)), limits, following)


def wear_changes(results: HeldResults, parts: Parts, tools: Sequence[Tool]) -> tuple[WearChange, ...]:
    """Return what the newest part of each tool says of its wear, by number; parts that name no tool say nothing.

    Raises: NonnaError (a record is damaged).
    """
    found: dict[str, WearChange] = {}
    by_subject = {str(tool.subject): tool for tool in tools}
    for entry in results.entries.measured(parts.procedure):
        record = as_measurement(results.read(entry.number))
        tool, new = by_subject.get(str(Subject.of(record.setup.word("tool")))), record.row(parts.wear)
        if tool is None or new is None or str(tool.subject) in found:
            continue
        found[str(tool.subject)] = WearChange(
            entry.number, tool.number, tool.description, record.setup.number("wear_mm", 0.0), round(new.value, DIGITS),
            record.result.results["error_mm"].value, tool.wear_x_mm or 0.0, record.result.verdict == "fail",
        )  # fmt: skip
    return tuple(sorted(found.values(), key=lambda change: change.tool))


def write_wear(folder: ShopFiles, station: str, changes: Sequence[WearChange], *, back: bool = False) -> None:
    """Write wear into the table's file, all of it or nothing; ``back`` puts what stood there before.

    Raises: NonnaError (the table holds something else by now: nothing is written over what a person typed).
    """
    wanted = {c.tool: (c.after, c.before) if back else (c.before, c.after) for c in changes}

    def made(old: Given) -> Document:
        checked(Tools, old)  # first: nothing of a damaged table is left out in silence
        rows: list[Document] = []
        for row in old.rows("tools"):
            if (number := int(row.number("number", 0.0))) in wanted:
                stands, new = wanted[number]
                if abs(row.number("wear_x_mm", 0.0) - stands) > NEAR_MM:
                    words = "T{number}: the table holds another wear by now. Look again."
                    raise NonnaError("out-of-range", words, "wear_x_mm", number=number)
                rows.append({**row, "wear_x_mm": new})
            else:
                rows.append(row)
        whole = {**old, "tools": rows}
        checked(Tools, whole)
        return whole

    folder.change(("tools", f"{station}.json"), made)
