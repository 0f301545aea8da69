"""A square code that names a record, drawn on a PDF's canvas."""

from __future__ import annotations

import segno
from reportlab.pdfgen.canvas import Canvas

from nonna.adapters.papers.figure_pdf import INKS


def draw_code(canvas: Canvas, record_hash: str, x: float, y: float, size: float) -> None:
    """Draw the code of a record by its hash. Parameters: x, y of its lower left corner and size, points."""
    matrix = [list(row) for row in segno.make(f"nonna:{record_hash}", error="m").matrix]
    cell = size / len(matrix)
    canvas.setFillColor(INKS["ink"])
    for r, row in enumerate(matrix):
        for c, dark in enumerate(row):
            if dark:
                canvas.rect(x + c * cell, y + size - (r + 1) * cell, cell, cell, stroke=0, fill=1)
