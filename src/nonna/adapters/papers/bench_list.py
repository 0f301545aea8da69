"""The bench list: the next jobs on one sheet of paper, with boxes to tick."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from pathlib import Path

from reportlab.lib.pagesizes import A5
from reportlab.pdfgen.canvas import Canvas

from nonna.adapters.files.safe_write import write_bytes
from nonna.adapters.papers.figure_pdf import INKS
from nonna.adapters.papers.pdf_letters import ready
from nonna.bench import clock
from nonna.shop.links.judge import NextJob
from nonna.stations.telling import job_words, reason_words

MARGIN = 36.0
LINE = 17.0


def write(path: Path, where: str, jobs: Sequence[NextJob], named: Mapping[str, str], kept: Mapping[str, str]) -> None:
    """Write the jobs in order with minutes, and what to fetch and where it lies.

    Parameters: where, machine and shop in words; named, what the placeholders among things to fetch stand
    for; kept, where things lie, by name. Raises: NonnaError (the file cannot be written).
    """
    ready()
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pagesize=A5, invariant=1)
    y = A5[1] - MARGIN

    def say(words: str, size: float, ink: str = "ink", *, bold: bool = False, indent: float = 0.0) -> None:
        nonlocal y
        if y < MARGIN:
            canvas.showPage()
            y = A5[1] - MARGIN
        canvas.setFont("Nonna-Bold" if bold else "Nonna", size)
        canvas.setFillColor(INKS[ink])  # type: ignore[index]
        canvas.drawString(MARGIN + indent, y, words)
        y -= LINE

    now = [job for job in jobs if not job.can_wait]
    say(f"Next on {where}", 15, bold=True)
    say(f"{sum(job.minutes for job in now):.0f} minutes in all; {clock.now():%d %b %Y %H:%M}", 10, "muted")
    y -= 6
    for number, job in enumerate(now, 1):
        canvas.rect(MARGIN, y - 2, 10, 10)
        say(f"{number}  {job_words(job)}, {job.minutes:.0f} min", 12, bold=True, indent=18)
        say(reason_words(job.reason), 10, "muted", indent=34)
    if not now:
        say("Nothing has to be done now.", 12)
    things = dict.fromkeys(named.get(thing, thing) for job in now for thing in job.link.fetch)
    if things:
        y -= 6
        say("Fetch first", 12, bold=True)
    for thing in things:
        canvas.rect(MARGIN, y - 2, 10, 10)
        say(f"{thing}{f', {kept[thing]}' if thing in kept else ''}", 11, indent=18)
    later = [job for job in jobs if job.can_wait]
    if later:
        y -= 6
        say("Can wait", 12, bold=True)
    for job in later:
        say(f"{job_words(job)}: {reason_words(job.reason)}", 10, "muted")
    canvas.save()
    write_bytes(path, buffer.getvalue())
