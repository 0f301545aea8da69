"""Programs of a kind of station that writes its own: exactly the text that was rehearsed is written, run and judged."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nonna.bench import clock
from nonna.bench.sheet.judging import Judged, judge
from nonna.bench.sheet.signing import STANDIN
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.procedures.catalogue import procedure
from nonna.programs.dialects.listing import USUAL, stopping
from nonna.programs.language.dialect import Dialect
from nonna.shop.cards.machine import Tools
from nonna.shop.texts.given import Plain
from nonna.standin.rehearsal import Rehearsal
from nonna.stations.kind import kind_of

if TYPE_CHECKING:
    from nonna.standin.world import World

HOST = "G21 G90 G94\n"  #: what a part program has said before the piece
Readings = Mapping[int, Sequence[Mapping[str, Plain]]]  #: by tool, as its sheet takes them


@dataclass(frozen=True, slots=True)
class OwnProgram:
    """A program and what its rehearsal found; it stops nowhere."""

    text: str
    rehearsal: Rehearsal
    tools: tuple[int, ...]
    dialect: Dialect = USUAL
    results: Mapping[int, tuple[int, str]] = field(
        default_factory=dict
    )  #: by parameter: the tool's number and the axis


def tools_program(site: Site, numbers: Sequence[int], dialect: Dialect, rounds: int = 1) -> OwnProgram:
    """Write the program that measures tools, each so many times, and rehearse it.

    Raises: NonnaError (this kind writes none, a tool cannot be measured by one, or it does not rehearse clean).
    """
    write = kind_of(site.machine.kind).writes_tools()
    if write is None:
        raise NonnaError(
            "out-of-range", "{name}: its tools are measured on their sheets.", "machine", name=site.machine.name
        )
    tools = [tool for tool in site.tools if tool.number in set(numbers)]
    if not tools:
        raise NonnaError("missing-field", "Mark tools first: then there is a program to write.", "tools")
    made = write(site.machine, tools, dialect=dialect, rounds=rounds)
    found = _clean(site, made.text, dialect=dialect)
    return OwnProgram(made.text, found, tuple(tool.number for tool in tools), dialect, made.results)


def tool_check(site: Site, number: int, tolerance_mm: float) -> OwnProgram:
    """Write a piece that checks a tool, for a part program, and rehearse it inside one.

    Raises: NonnaError as `tools_program`, and for a tolerance that looks like a slip.
    """
    write = kind_of(site.machine.kind).checks_tool()
    tool = next((t for t in site.tools if t.number == number), None)
    if write is None or tool is None:
        raise NonnaError(
            "missing-field", "Put the cursor on a tool of a machine that checks tools by program.", "tools"
        )
    text = write(site.machine, tool, tolerance_mm).text
    return OwnProgram(text, _clean(site, f"{HOST}{text}M30\n", dialect=stopping()), (number,))


def run_on_standin(
    site: Site, made: OwnProgram, world: World, told: Callable[[int, int, str], None]
) -> tuple[Judged, ...]:
    """Run a program on the stand-in machine and judge what it found; whatever ``told`` raises stops it.

    Where it stops at a tool, that has the reason for a result, and those after it none. Raises: NonnaError (there is no
    stand-in that runs one).
    """
    run = kind_of(site.machine.kind).runs_tools()
    if run is None:
        words = "{name}: its stand-in runs no program; its tools are measured on their sheets."
        raise NonnaError("out-of-range", words, "machine", name=site.machine.name)

    def watch(line: int, of: int, _: float) -> None:
        told(line, of, f"{site.machine.name}, block {line}")

    found, stopped = run(
        made.text,
        made.results,
        site.machine,
        site.tools,
        world,
        clock.run_number(),
        dialect=made.dialect,
        watch=watch,
    )
    each, names = kind_of(site.machine.kind).loop.each, {tool.number: tool.subject for tool in site.tools}
    failed = tuple(
        Judged(names[number], each.procedure if each else "", failed=words, program=made.text, site=site)
        for number, words in stopped.items()
        if number in names
    )
    return (*judged_each(site, found, STANDIN, made.text), *failed)


def judged_each(site: Site, readings: Readings, source: str, program: str = "") -> tuple[Judged, ...]:
    """Evaluate each tool's readings as its sheet would.

    Raises: NonnaError (a tool that is not here, or tools here have no sheet; nothing is taken then).
    """
    each = kind_of(site.machine.kind).loop.each
    by_number = {tool.number: tool for tool in site.tools}
    strange = [number for number in readings if number not in by_number]
    if strange or each is None:
        words = "T{number} is not in this tray; nothing was taken."
        raise NonnaError("out-of-range", words, "tools", number=min(strange, default=0))
    made, sheet = [], procedure(each.procedure)
    for number, rows in readings.items():
        tool = by_number[number]
        if sheet.variants and tool.edge not in {
            way.key for way in sheet.variants
        }:  # the planes of another way would be taken for its own
            words = "say first which way it cuts (E edits the tool)."
            made.append(Judged(tool.subject, each.procedure, failed=words, program=program, site=site))
        else:
            made.append(judge(site, tool.subject, each.procedure, rows, source, program=program, variant=tool.edge))
    return tuple(made)


def _clean(site: Site, text: str, *, dialect: Dialect) -> Rehearsal:
    """Rehearse a text. Raises: NonnaError (it stops: it is written nowhere)."""
    rehearse = kind_of(site.machine.kind).rehearsal()
    if rehearse is None:
        raise NonnaError("out-of-range", "{name}: programs are not rehearsed here.", "machine", name=site.machine.name)
    whole = Tools(format="nonna-tools/1", tools=list(site.tools))
    found: Rehearsal = rehearse(text, site.machine, whole, dialect=dialect)
    stop = next((p for p in found.problems if p.severity == "stop"), None)
    if stop is not None:
        words = "It does not rehearse clean, so it is not written. Block {line}, T{tool}: {message}."
        raise NonnaError("out-of-range", words, "program", line=stop.line, tool=stop.tool, message=stop.message)
    return found
