"""Measure marked tools by the program that their kind of machine writes, on the stand-in."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nonna.bench.job.tools_program import run_on_standin, tools_program

if TYPE_CHECKING:
    from nonna.bench.sheet.judging import Judged
    from nonna.bench.station.site import Site
    from nonna.bench.tray.tray import Tray
    from nonna.desk.threads.work import Task
    from nonna.standin.world import World


def measured(site: Site, tray: Tray, world: World, work: Task) -> tuple[Judged, ...]:
    """Write the program of the marked tools, rehearse it, run it on the stand-in and judge what it found.

    Raises: NonnaError (it cannot be written, or does not rehearse clean).
    """

    def told(done: int, of: int, words: str) -> None:
        work.check()
        work.tell((done, of, words))

    made = tools_program(site, sorted(tray.marked), tray.dialect, tray.touches)
    return run_on_standin(site, made, world, told)
