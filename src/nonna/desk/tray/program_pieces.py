"""Pieces for part programs, and a shop's own templates: tried in the background before they are believed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QApplication

from nonna import wiring
from nonna.bench.job.planning import asked_of, piece_of, program_of
from nonna.desk.threads.work import behind
from nonna.desk.tray.own_program import ask_check

if TYPE_CHECKING:
    from nonna.desk.frame.window import DeskWindow
    from nonna.standin.rehearsal import Trial
    from nonna.stations.tool_program import Finding


def piece(window: DeskWindow) -> None:
    """Put a piece for a part program on the clipboard: check the tool under the cursor, or measure it.

    It is rehearsed inside a part program first; one that stops there is not handed out.
    """
    view, c = window.tools, window.tools.controller
    if c.one_by_one:
        ask_check(window)
        return
    tool = c.tray.tool(view.table.number or 0)
    plan, machine, results = (c.plan_of(tool) if tool else None), c.machine, c.results
    if plan is None or machine is None or results is None:
        view.say("Put the cursor on a tool first.", "plain")
        return
    folder, tray = window.folder, c.tray

    def put(trial: Trial) -> None:
        QApplication.clipboard().setText(trial.text)
        check = "breakage" in plan.tool.measure
        purpose, where = ("check", "after the last line of") if check else ("measure", "before the first line of")
        view.say(
            f"On the clipboard: {len(trial.text.splitlines())} blocks that {purpose} T{plan.tool.number}, rehearsed "
            "inside a "
            f"part program. Put them {where} its operation.",
            "good",
        )

    behind(
        window,
        lambda: piece_of(asked_of(tray, {plan.tool.number}, machine, results, folder)),
        put,
        lambda error: view.say(error.message, "bad"),
    )


def templates(window: DeskWindow) -> None:
    """Try the shop's own templates, or lay out a copy of ours to be changed."""
    view, machine = window.tools, window.tools.controller.machine
    if machine is None:
        return
    shop = window.folder
    if not shop.has("templates", "program.j2"):
        words = (
            "A copy of the templates now lies in the shop's folder templates/. Change it there, then run this again."
        )
        behind(
            window,
            lambda: wiring.lay_out_templates(shop),
            lambda _: view.say(words, "good"),
            lambda error: view.say(error.message, "bad"),
        )
        return

    def told(found: tuple[Finding, ...]) -> None:
        if found:
            f = found[0]
            view.say(
                f"{len(found)} wrong in the shop's templates. First: {f.dialect}, line {f.line}: {f.words}.", "bad"
            )
        else:
            view.say("The shop's templates are sound: all dialects rehearse clean at all lengths.", "good")

    behind(
        window,
        lambda: program_of(machine).template_faults(shop.templates, machine),
        told,
        lambda error: view.say(error.message, "bad"),
    )
