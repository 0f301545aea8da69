"""Pieces of a measuring program to be put into a part program: measure a tool before a line, check it after one."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from nonna.errors import NonnaError
from nonna.metrology.safe_feeds import SHORTEST_SEARCH_MM
from nonna.programs.writing.touches import Touch
from nonna.programs.writing.writer import Writer
from nonna.shop.cards.machine import Machine
from nonna.stations.mill.planning.touches import plan_for
from nonna.stations.touched_tools import ToolPlan

Purpose = Literal["measure", "check"]
LABELS, APART, MOST = (
    90_000,
    10,
    900,
)  #: labels of a piece's stops: first, from piece to piece, how many before they repeat

BEYOND_MM = 0.01  #: the tolerance a blind check searches, so that a tool just within it is found


def snippet(plan: ToolPlan, machine: Machine, purpose: Purpose, writer: Writer | None = None) -> str:
    """Return the lines for one tool, to be put in by hand; they start and end at the safe height with G90 and G54 as
    found.

    What they switch off stands at their end, for the host to switch on again. A check in a dialect that cannot compare
    searches no further than the tolerance: it stops at a tool that is too short, and says that it sees no pulled-out
    one. Rehearse it inside a host program before it is used (`standin.trial.tried_piece`). Raises: NonnaError (the tool
    is refused, or the shop's template cannot be used).
    """
    if plan.refused:
        raise NonnaError(
            "out-of-range", "T{number} is refused: {refused}", "tools", number=plan.tool.number, refused=plan.refused
        )
    written, number = writer or Writer(), plan.tool.number
    blind = purpose == "check" and not written.dialect.jumps
    touches = tuple(_no_further(touch) for touch in plan.touches) if blind else plan.touches
    whole = plan_for(
        machine, _title(number, purpose, blind), _words(plan, machine, touches, blind), plan.feeds, touches
    )
    labels = LABELS + APART * ((2 * number + (purpose == "check")) % MOST)
    lines = written.write(replace(whole, first_label=labels)).splitlines()
    body = [line for line in lines if line.strip() not in ("%", "")]
    if "M2" not in body:
        raise NonnaError(
            "wrong-format", "The shop's template ends its program without an M2 of its own line.", "program.j2"
        )
    end = body.index("M2")
    main, stops = body[:end], body[end + 1 :]
    if stops:  # the stops stand behind a jump, so that a sound tool goes past them
        main += [f"GOTO {labels + 9}", *stops, f"N{labels + 9}"]
    again = (
        f"(SWITCH ON AGAIN WHAT COMES NEXT NEEDS: LENGTH OF T{number} SUCH AS G43 H{number}, SPEED AND "
        "SPINDLE, COOLANT)"
    )
    return "\n".join([*main, again, f"(--- end of what was put in for T{number} ---)"]) + "\n"


def _title(number: int, purpose: Purpose, blind: bool) -> str:
    if purpose == "measure":
        return f"Measures T{number}: put this BEFORE its first line"
    verb = "Stops at a T{} that is too short to touch" if blind else "Checks T{}"
    return f"{verb.format(number)}: put this AFTER its last line"


def _words(plan: ToolPlan, machine: Machine, touches: tuple[Touch, ...], blind: bool) -> tuple[str, ...]:
    """Return the header's lines: for which machine, resting on which numbers, what it does not see."""
    lines = [f"For {machine.name}; it leaves its own modes, no length taken off, the spindle stopped"]
    tool, setter = plan.tool, machine.setter
    if setter is not None:
        about = tool.reference_mm if tool.reference_mm is not None else tool.length_mm
        known = "not known" if about is None else f"{about:.4f}"
        lines.append(f"RESTS ON: T{tool.number} {known}, trigger plane {setter.trigger_plane_mm:.4f}")
    if blind:
        tolerance = tool.tolerance_short_mm or 0.0
        lines.append(f"THIS DIALECT CANNOT COMPARE: it stops where the tool is over {tolerance:g} mm shorter")
        lines.append("A tool that has PULLED OUT is NOT seen")
    return tuple(lines)


def _no_further(touch: Touch) -> Touch:
    """Let a search end where the tool would be too short: no trigger by there is its break."""
    if touch.least is None or touch.feeds is None:
        return touch
    feeds = replace(touch.feeds, last_back_mm=max(touch.feeds.again_mm, SHORTEST_SEARCH_MM))
    return replace(touch, search_to=max(touch.search_to, touch.least - BEYOND_MM), feeds=feeds)
