"""Rehearse any program on a lathe: what it would meet, what it leaves behind, and the slip that would explain it."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace

from nonna.errors import NonnaError
from nonna.figures.figure import Figure, Ink, Label, Line, Stroke, box
from nonna.programs.dialects.listing import USUAL
from nonna.programs.language.blocks import Block, parse
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.dialect import Dialect
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.expressions import Value, resolve
from nonna.programs.language.guarding import run_guarded
from nonna.programs.language.tool_calls import calls_of
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.machine import Machine, Tools
from nonna.standin.contact import Problem
from nonna.standin.rehearsal import (
    Rehearsal,
    StoppedError,
    add_problems,
    judged,
    left_otherwise,
    other_units,
    problem_of,
    state_for,
)
from nonna.standin.stores import Asked, asked_in, store_problems
from nonna.stations.lathe.turret import Lathe, Leg, Thing
from nonna.wording.lengths import MM_PER_INCH

AROUND_MM = 30.0
_INKS: dict[str, Ink] = {"chuck": "steel-dark", "part": "master", "tailstock": "steel", "arm": "pad"}


def way_figure(way: Sequence[Leg], things: Sequence[Thing], stops: Sequence[Problem]) -> Figure:
    """Draw the way of a program; Z to the right (the chuck stands left), X upwards from the spindle's axis, to
    scale.
    """
    places = [place for leg in way for place in (leg.start, leg.end)] or [(0.0, 0.0)]
    solid = [thing for thing in things if thing.name in ("part", "arm")]
    xs = [p[0] for p in places] + [v for t in solid for v in (t.box.low[0], t.box.high[0])]
    zs = [p[1] for p in places] + [v for t in solid for v in (t.box.low[2], t.box.high[2])]
    low, high = (min(*zs, 0.0) - AROUND_MM, min(*xs, -20.0) - AROUND_MM), (max(zs) + AROUND_MM, max(xs) + AROUND_MM)
    strokes: list[Stroke] = []
    for thing in things:
        a, b = thing.box.low, thing.box.high
        left, right = max(a[2], low[0]), min(b[2], high[0])
        bottom, top = max(a[0], low[1]), min(b[0], high[1])
        if left < right and bottom < top:
            strokes.append(box(left, bottom, right, top, _INKS.get(thing.name, "steel"), None))
            strokes.append(Label(((left + right) / 2, top), thing.name, "muted", 13, dy=-6))
    strokes.append(Line((low[0], 0.0), (high[0], 0.0), "muted", 1.0, dashed=True))
    for leg in way:
        ink: Ink = (
            "bad" if leg.stopped else "accent" if leg.way == "search" else "ink" if leg.way == "feed" else "muted"
        )
        width = 3.0 if leg.stopped or leg.way == "search" else 1.5
        strokes.append(Line(leg.start[::-1], leg.end[::-1], ink, width, dashed=leg.way == "rapid"))
    said = stops[0].message if stops else "dashed: rapid; bold: searching for the arm"
    return Figure("The way of the tips, from the front", (*low, *high), tuple(strokes), f"to scale; {said}")


def rehearse(
    text: str, machine: Machine, tools: Tools, *, dialect: Dialect = USUAL, kept: ControlTablesFile | None = None
) -> Rehearsal:
    """Run a program on the lathe as its papers have it. Problems are found, never raised.

    Parameters: kept, the control's tables as they are. Raises: NonnaError (the machine's file does not say what
    stands in it).
    """
    if machine.lathe is None:
        words = "{name}: say what stands in it first (lathe: chuck, turret, arm); nothing can be rehearsed before that."
        raise NonnaError("missing-field", words, "machine.lathe", name=machine.name)
    try:
        blocks = parse(text, jumps=dialect.jumps, phrases=phrases_of(machine.control))
    except ProgramError as error:
        return Rehearsal(0.0, (), (problem_of(error),), {})
    asked = asked_in(text)
    found = _one(blocks, machine, tools, dialect=dialect, kept=kept, asked=asked)
    problems = [*other_units(machine, kept), *found.problems]
    if any(block.deleted for block in blocks):
        slashed = _one(blocks, machine, tools, dialect=dialect, slashed=True, kept=kept, asked=asked)
        add_problems(problems, slashed.problems, "with the blocks behind a slash run, too")
    more = _slips(blocks, machine, tools, found, dialect=dialect)
    return replace(found, problems=(*problems, *more))


def _one(
    blocks: Sequence[Block],
    machine: Machine,
    tools: Tools,
    *,
    dialect: Dialect,
    units: float = 1.0,
    slashed: bool = False,
    kept: ControlTablesFile | None = None,
    asked: Collection[Asked] | None = None,
) -> Rehearsal:
    if machine.lathe is None:
        raise NonnaError("missing-field", "Nothing stands in this lathe.", "machine.lathe")
    lathe = Lathe(machine, machine.lathe, tools)

    def watch(_: Block) -> None:
        if lathe.problems:
            raise StoppedError

    problems: list[Problem] = []
    state = state_for(blocks, calls_of(machine.control, turret=True), machine, kept)
    state.uses_length = False  # a lathe's offsets come with the call of a tool
    try:
        run_guarded(blocks, lathe, watch, units, dialect.skip_at, state, slashed=slashed, lifts=False)
        problems = list(lathe.problems)
        if not problems:
            problems += judged(state, lathe.tool, "the arm never triggered on this move", by_hand=True)
        if not problems:
            line = blocks[-1].line if blocks else 0
            if lathe.arm_out:
                problems.append(
                    Problem("arm-left-out", "stop", line, lathe.tool, "the arm is left out: the next program meets it")
                )
            problems += left_otherwise(state, line, lathe.tool)
    except StoppedError:
        problems = list(lathe.problems)
    except ProgramError as error:
        problems = [*lathe.problems, replace(problem_of(error), tool=lathe.tool)]
    if asked is not None:  # None: only a slip is looked for
        problems += store_problems(state, asked, machine, tools.tools)
    stores = tuple(state.tables.stored) if state.tables is not None else None
    figure = way_figure(lathe.way, lathe.everything(), [p for p in problems if p.severity == "stop"])
    return Rehearsal(lathe.clock_s, tuple(lathe.contacts), tuple(problems), {}, stores=stores, figure=figure)


def _slips(
    blocks: Sequence[Block], machine: Machine, tools: Tools, found: Rehearsal, *, dialect: Dialect
) -> list[Problem]:
    """Where a program stops as it stands and runs clean read another way, that is what is wrong."""
    stops = [p for p in found.problems if p.severity == "stop"]
    if not stops:
        return []
    inch = any(word.letter == "g" and word.value == 20.0 for block in blocks for word in block.words)
    told = []
    shown = machine.x_shows
    other = "radius" if shown == "diameter" else "diameter"
    factor = 2.0 if shown == "diameter" else 0.5
    if _runs(_x_times(blocks, factor), machine, tools, dialect=dialect):
        told.append(("x-shows", f"the X values look like a {other}, and this machine shows X as a {shown}"))
    scale, words = (
        (1.0 / MM_PER_INCH, "millimetres in an inch program")
        if inch
        else (MM_PER_INCH, "inches in a millimetre program")
    )
    if _runs(blocks, machine, tools, dialect=dialect, units=scale):
        told.append(("units", f"the values look like {words}"))
    return [Problem(code, "stop", stops[0].line, stops[0].tool, words) for code, words in told]


def _runs(blocks: Sequence[Block], machine: Machine, tools: Tools, *, dialect: Dialect, units: float = 1.0) -> bool:
    other = _one(blocks, machine, tools, dialect=dialect, units=units)
    return bool(other.contacts) and other.clean


def _x_times(blocks: Sequence[Block], factor: float) -> list[Block]:
    """Return the blocks with every X so many times as large."""
    return [
        replace(block, words=tuple(w._replace(value=_times(w.value,
            factor)) if w.letter == "x" else w for w in block.words))
        for block in blocks
    ]  # fmt: skip


def _times(value: Value, factor: float) -> Value:
    return value * factor if isinstance(value, float) else lambda parameters: resolve(value, parameters) * factor
