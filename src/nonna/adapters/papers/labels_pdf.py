"""Labels for tools on sheets of A4, three by eight, each with a code that names its record."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from nonna.adapters.files.safe_write import write_bytes
from nonna.adapters.papers.figure_pdf import INKS
from nonna.adapters.papers.pdf_code import draw_code
from nonna.adapters.papers.pdf_letters import ready
from nonna.bench.tables.labels import ToolLabel
from nonna.wording.lengths import Units, length, small

ACROSS, DOWN = 3, 8
WIDE, HIGH = A4[0] / ACROSS, A4[1] / DOWN
EDGE, CODE = 5.0 * mm, 19.0 * mm


def write(path: Path, labels: Sequence[ToolLabel], where: str, units: Units) -> None:
    """Write a label a tool. Parameters: where, station and shop in words. Raises: NonnaError (the file cannot be
    written).
    """
    ready()
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pagesize=A4, invariant=1)
    for i, label in enumerate(labels):
        place = i % (ACROSS * DOWN)
        if i and place == 0:
            canvas.showPage()
        _one(canvas, label, where, units, WIDE * (place % ACROSS), A4[1] - HIGH * (place // ACROSS + 1))
    canvas.save()
    write_bytes(path, buffer.getvalue())


def _one(canvas: Canvas, label: ToolLabel, where: str, units: Units, x: float, y: float) -> None:
    canvas.setStrokeColor(INKS["faint"])
    canvas.setDash(1, 3)
    canvas.rect(x, y, WIDE, HIGH)
    canvas.setDash()
    room = WIDE - 3 * EDGE - CODE
    rows = (
        (f"T{label.number}", 17.0, "ink", True), (label.name, 9.0, "ink", False),
        (length(label.length_mm, units), 13.0, "ink", True),
        (f"± {small(label.expanded_mm, units)}", 9.0, "ink", False),
        (f"{label.measured:%d %b %Y}, record {label.record}", 7.0, "muted", False), (where, 7.0, "muted", False),
    )  # fmt: skip
    at = y + HIGH - EDGE
    for words, size, ink, bold in rows:
        at -= size * 1.18
        face = "Nonna-Bold" if bold else "Nonna"
        wide = stringWidth(words, face, size)
        canvas.setFont(face, size if wide <= room else size * room / wide)  # smaller, never cut
        canvas.setFillColor(INKS[ink])  # type: ignore[index]
        canvas.drawString(x + EDGE, at, words)
    draw_code(canvas, label.hash, x + WIDE - EDGE - CODE, y + HIGH - EDGE - CODE, CODE)
