"""Rehearse any program on a mill as its papers have it: contacts, problems, times, what it would measure."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Sequence
from dataclasses import replace
from functools import partial

from nonna.metrology.turning import lateness
from nonna.programs.dialects.listing import USUAL
from nonna.programs.language.blocks import Block, parse
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.dialect import Dialect
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.guarding import run_guarded
from nonna.programs.language.tool_calls import calls_of
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.machine import Machine, SetterSpec, Tool, Tools
from nonna.standin.bodies import as_body
from nonna.standin.contact import Contact, Problem
from nonna.standin.rehearsal import (
    SHORT_SURPRISE_MM,
    Rehearsal,
    StoppedError,
    add_problems,
    judged,
    left_otherwise,
    other_units,
    problem_of,
    state_for,
    uncompensated,
)
from nonna.standin.stores import Asked, asked_in, store_problems
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.truth import Truth
from nonna.wording.lengths import MM_PER_INCH


def rehearse(
    text: str,
    machine: Machine,
    tools: Tools,
    *,
    sweep: bool = False,
    seed: int = 0,
    dialect: Dialect = USUAL,
    trace: bool = False,
    check: Callable[[], None] | None = None,
    held: Tool | None = None,
    kept: ControlTablesFile | None = None,
) -> Rehearsal:
    """Run a program on the machine model; with ``sweep`` each tool also at its longest and shortest.

    ``kept`` are the control's tables as they are; ``held`` is in the spindle at the start, put there by hand; ``trace``
    keeps the path; ``check`` is called at each block, what it raises stops the rehearsal. Problems are found, never
    raised: also a block that cannot be read is one of them.
    """
    try:
        blocks = parse(text, jumps=dialect.jumps, phrases=phrases_of(machine.control))
    except ProgramError as error:
        return Rehearsal(0.0, (), (problem_of(error),), {})
    skip = dialect.skip_at
    run_one = partial(
        _one, blocks, machine, tools, seed=seed, skip=skip, check=check, held=held, kept=kept, asked=asked_in(text)
    )
    true = true_lengths(tools)
    nominal = run_one(true, trace=trace)
    found = [*other_units(machine, kept), *nominal.problems]
    if any(block.deleted for block in blocks):
        add_problems(found, run_one(true, slashed=True).problems, "with the blocks behind a slash run, too")
    if sweep and not any(p.severity == "stop" for p in found):
        for way, words in ((1.0, "longest"), (-1.0, "shortest")):
            lengths = {t.number: (t.length_mm or _true(t)) + way * t.length_uncertainty_mm for t in tools.tools}
            add_problems(found, run_one(lengths).problems, f"with the tools at their {words}")
    found += _doubtful_units(blocks, tools, found, run_one)
    return replace(nominal, problems=tuple(found))


def _one(
    blocks: Sequence[Block], machine: Machine, tools: Tools, lengths: dict[int, float], *, seed: int, skip: int,
    units: float = 1.0, slashed: bool = False, trace: bool = False, check: Callable[[], None] | None = None,
    held: Tool | None = None, kept: ControlTablesFile | None = None, asked: Collection[Asked] = (),
) -> Rehearsal:  # fmt: skip
    mill = Mill(machine, as_stated(machine, tools, lengths, held), tools, seed, trace=trace)
    problems: list[Problem] = []

    def watch(_: Block) -> None:
        if check is not None:
            check()
        if mill.problems:
            raise StoppedError

    state = state_for(blocks, calls_of(machine.control), machine, kept)
    try:
        run_guarded(blocks, mill, watch, units, skip, state, slashed=slashed)
        problems = list(mill.problems)
        if not problems:
            problems += judged(state, mill.tool, "the sensor never triggered on this skip move")
        if not problems:
            problems += left_otherwise(state, blocks[-1].line if blocks else 0, mill.tool)
    except StoppedError:
        problems = list(mill.problems)
    except ProgramError as error:
        problems = [*mill.problems, replace(problem_of(error), tool=mill.tool)]
    problems += uncompensated(state, problems)
    problems += store_problems(state, asked, machine, tools.tools)
    problems += _surprises(problems, tools, lengths)
    results = _results(mill.contacts, machine, tools)
    stores = tuple(state.tables.stored) if state.tables is not None else None
    return Rehearsal(mill.clock_s, tuple(mill.contacts), tuple(problems), results, mill.path, stores)


def as_stated(machine: Machine, tools: Tools, lengths: dict[int, float], held: Tool | None = None) -> Truth:
    """The machine exactly as its papers have it; only the touches scatter."""
    s = machine.setter
    bodies = {t.number: as_body(t, lengths[t.number]) for t in tools.tools}
    if held is not None:
        bodies[0] = as_body(held, _true(held))
    return Truth(
        x=s.x_mm if s else 0.0, y=s.y_mm if s else 0.0, plane=s.trigger_plane_mm if s else -1e6,
        width_x=s.width_x_mm if s else 0.0, width_y=s.width_y_mm if s else 0.0, pre_travel=0.0,
        repeatability=machine.repeatability_mm, resolution=1e-4, growth=0.0, growth_s=1.0,
        bodies=bodies,
    )  # fmt: skip


def true_lengths(tools: Tools) -> dict[int, float]:
    """Return how long each tool really is, as far as its papers say."""
    return {t.number: _true(t) for t in tools.tools}


def _true(tool: Tool) -> float:
    return tool.true_length_mm or tool.length_mm or 100.0


def _surprises(problems: Sequence[Problem], tools: Tools, lengths: dict[int, float]) -> list[Problem]:
    """A crash of a tool longer than stated for it has that as its cause; a search that found nothing may have the wrong
    tool.
    """
    made = []
    by_number = {t.number: t for t in tools.tools}
    for p in problems:
        tool = by_number.get(p.tool)
        if tool is None or tool.length_mm is None:
            continue
        over = lengths[p.tool] - tool.length_mm
        if (
            p.code in ("rapid-contact", "collision", "overtravel")
            and over > tool.length_uncertainty_mm + SHORT_SURPRISE_MM
        ):
            words = f"T{p.tool} is {over:.2f} mm longer than its table says"
            made.append(Problem("tool-too-long", "stop", p.line, p.tool, words))
        if p.code == "no-trigger" and -over > tool.length_uncertainty_mm + SHORT_SURPRISE_MM:
            words = f"T{p.tool} is {-over:.2f} mm shorter than its table says: is it the right tool, or broken?"
            made.append(Problem("wrong-tool", "stop", p.line, p.tool, words))
    return made


def _doubtful_units(
    blocks: Sequence[Block], tools: Tools, found: Sequence[Problem], run_one: Callable[..., Rehearsal]
) -> list[Problem]:
    """Where a program fails as it stands and runs clean with its values read in the other unit, that is what is
    wrong.
    """
    codes = {
        word.value for block in blocks for word in block.words if word.letter == "g" and isinstance(word.value, float)
    }
    moves = any(word.letter in "xyz" for block in blocks for word in block.words)
    made = []
    if moves and not codes & {20.0, 21.0}:
        made.append(
            Problem("units", "warn", 1, 0, "neither G20 nor G21 stands in the program: it trusts the machine's unit")
        )
    stops = [p for p in found if p.severity == "stop"]
    if not stops or not moves:
        return made
    factor, word = (1.0 / MM_PER_INCH, "millimetres in an inch program") if 20.0 in codes else (
        MM_PER_INCH, "inches in a millimetre program"
    )  # fmt: skip
    lengths = true_lengths(tools)
    other = run_one(lengths, units=factor)
    if other.contacts and not any(p.severity == "stop" for p in other.problems):
        made.append(Problem("units", "stop", stops[0].line, stops[0].tool, f"the values look like {word}"))
    return made


def _results(contacts: Sequence[Contact], machine: Machine, tools: Tools) -> dict[int, dict[str, float | None]]:
    """Work out what the touches measure: of each tool those at its slowest feed count."""
    s = machine.setter
    if s is None:
        return {}
    found: dict[int, dict[str, float | None]] = {}
    edges = {t.number: t.edges for t in tools.tools}
    for tool in dict.fromkeys(c.tool for c in contacts if c.probed):
        own = [c for c in contacts if c.tool == tool and c.probed and not c.edge]
        top = _slowest([c for c in own if c.face == "+z"])
        row: dict[str, float | None] = {"length_mm": None, "diameter_mm": None}
        if top:
            late = _late(top[0], machine, edges.get(tool, 0))
            row["length_mm"] = math.fsum(c.position[2] for c in top) / len(top) - s.trigger_plane_mm + late
        row["diameter_mm"] = _diameter(own, machine, s, edges.get(tool, 0))
        found[tool] = row
    return found


def _diameter(contacts: Sequence[Contact], machine: Machine, s: SetterSpec, edges: int) -> float | None:
    """Return a diameter from both faces of an axis, or from one face and the setter's centre; None without any."""
    lone: float | None = None
    for axis, i, centre, width in (("x", 0, s.x_mm, s.width_x_mm), ("y", 1, s.y_mm, s.width_y_mm)):
        sides = {sign: _slowest([c for c in contacts if c.face == f"{sign}{axis}"]) for sign in "+-"}
        means = {sign: math.fsum(c.position[i] for c in row) / len(row) for sign, row in sides.items() if row}
        if not means:
            continue
        touched = (sides["+"] or sides["-"])[0]
        late = 2.0 * _late(touched, machine, edges)
        if len(means) == 2:
            return means["+"] - means["-"] - width + late
        ((_, mean),) = means.items()
        lone = 2.0 * (abs(mean - centre) - width / 2.0) + late
    return lone


def _late(contact: Contact, machine: Machine, edges: int) -> float:
    """Return how far a touch ran on: until an edge passed, and between contact and trigger by the machine's papers."""
    turning = lateness(contact.feed_mm_min / contact.rpm, edges).late if contact.rpm else 0.0
    return turning + contact.feed_mm_min / 60.0 * machine.trigger_latency_s


def _slowest(contacts: Sequence[Contact]) -> list[Contact]:
    feed = min((c.feed_mm_min for c in contacts), default=0.0)
    return [c for c in contacts if c.feed_mm_min == feed]
