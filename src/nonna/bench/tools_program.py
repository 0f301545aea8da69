"""Programs of a kind of station that writes its own: exactly the text that was rehearsed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nonna.bench.site import Site
from nonna.errors import NonnaError
from nonna.shop.machine import Tools
from nonna.standin.rehearsal import Rehearsal
from nonna.stations.kind import kind_of

HOST = "G21 G90 G94\n"  #: what a part program has said before the piece


@dataclass(frozen=True, slots=True)
class OwnProgram:
    """A program and what its rehearsal found; it stops nowhere."""

    text: str
    rehearsal: Rehearsal
    tools: tuple[int, ...]


def tools_program(site: Site, numbers: Sequence[int], dialect: str) -> OwnProgram:
    """Write the program that measures tools, and rehearse it.

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
    branching = dialect == "branch"
    text = write(site.machine, tools, branching=branching).text
    return OwnProgram(text, _clean(site, text, branching=branching), tuple(tool.number for tool in tools))


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
    return OwnProgram(text, _clean(site, f"{HOST}{text}M30\n", branching=True), (number,))


def _clean(site: Site, text: str, *, branching: bool) -> Rehearsal:
    """Rehearse a text. Raises: NonnaError (it stops: it is written nowhere)."""
    rehearse = kind_of(site.machine.kind).rehearsal()
    if rehearse is None:
        raise NonnaError("out-of-range", "{name}: programs are not rehearsed here.", "machine", name=site.machine.name)
    whole = Tools(format="nonna-tools/1", tools=list(site.tools))
    found: Rehearsal = rehearse(text, site.machine, whole, branching=branching)
    stop = next((p for p in found.problems if p.severity == "stop"), None)
    if stop is not None:
        words = "It does not rehearse clean, so it is not written. Block {line}, T{tool}: {message}."
        raise NonnaError("out-of-range", words, "program", line=stop.line, tool=stop.tool, message=stop.message)
    return found
