"""Pieces of a measuring program to be put into a part program: measure a tool before a line, check it after one."""

from __future__ import annotations

from typing import Literal

from nonna.errors import NonnaError
from nonna.programs.plan import ToolPlan
from nonna.programs.touches import TouchPlan
from nonna.programs.writer import Writer
from nonna.shop.machine import Machine

Purpose = Literal["measure", "check"]


def snippet(plan: ToolPlan, machine: Machine, purpose: Purpose, writer: Writer | None = None) -> str:
    """Return the lines for one tool, to be put in by hand; they start and end at the safe height with G90 and G54 as found.

    Rehearse it inside a host program before it is used (`standin.trial.tried_piece`).
    Raises: NonnaError (the tool is refused, or the shop's template cannot be used).
    """
    if plan.refused:
        raise NonnaError(
            "out-of-range", "T{number} is refused: {refused}", "tools", number=plan.tool.number, refused=plan.refused
        )
    where = "BEFORE its first line" if purpose == "measure" else "AFTER its last line"
    verb = "Measures" if purpose == "measure" else "Checks"
    whole = TouchPlan(
        f"{verb} T{plan.tool.number}: put this {where}", (f"For {machine.name}, with the modes it sets left as they are here",),
        machine.tool_change_z_mm, plan.feeds, plan.touches,
    )  # fmt: skip
    lines = (writer or Writer()).write(whole).splitlines()
    body = [line for line in lines if line.strip() not in ("%", "")]
    if "M2" not in body:
        raise NonnaError(
            "wrong-format", "The shop's template ends its program without an M2 of its own line.", "program.j2"
        )
    end = body.index("M2")
    main, stops = body[:end], body[end + 1 :]
    if stops:  # the stops stand behind a jump, so that a sound tool goes past them
        main += ["GOTO 9009", *stops, "N9009"]
    return "\n".join([*main, f"(--- end of what was put in for T{plan.tool.number} ---)"]) + "\n"
