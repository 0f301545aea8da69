"""The calibration certificate of a record, as PDF: two pages at most."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

import segno
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Paragraph, Table

from nonna import fonts
from nonna.metrology.errors import NonnaError
from nonna.metrology.words import Units, number, small, with_doubt
from nonna.procedures.catalogue import procedure
from nonna.procedures.evaluation import FLAG_WORDS, Evaluation, Quantity
from nonna.procedures.sheet import Bench
from nonna.procedures.wording import check_words, doubt_words, reading_name, reading_words, value_words
from nonna.records.entry_body import recalled
from nonna.records.figure_pdf import INKS, PdfPainter
from nonna.records.ledger import Record

WIDTH, HEIGHT = A4
MARGIN = 48.0
INNER = WIDTH - 2 * MARGIN
SHOWN_READINGS = 50
PER_ROW = 5
SHOWN_BUDGETS = 5


def write(record: Record, path: Path, withdrawn_by: int | None = None) -> None:
    """Write the certificate of a measurement record; one that was taken back says so in red.

    Raises: NonnaError ``wrong-format`` (an event has no certificate), OSError (the file cannot be written).
    """
    if record.body["kind"] != "measurement":
        raise NonnaError("wrong-format", f"Record {record.number} is no measurement; it has no certificate.", "record")
    pages = _Pages(record, withdrawn_by)
    path.write_bytes(pages.finished())


def register_fonts() -> None:
    """Make the shipped typeface known to the PDF library."""
    for name, file in (("Nonna", fonts.REGULAR), ("Nonna-Bold", fonts.BOLD)):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(file)))


class _Pages:
    """Two pages, filled from the top."""

    def __init__(self, record: Record, withdrawn_by: int | None) -> None:
        register_fonts()
        self._record, self._body, self._withdrawn_by = record, record.body, withdrawn_by
        self._evaluation = recalled(self._body)
        self._buffer = io.BytesIO()
        self._canvas = Canvas(self._buffer, pagesize=A4, invariant=1)
        self._canvas.setTitle(f"Certificate {record.number}: {self._body['title']}")
        self._canvas.setAuthor(self._body["operator"])
        self._y = HEIGHT - MARGIN

    def finished(self) -> bytes:
        """Paint both pages and return the file."""
        self._heading()
        self._verdict()
        self._results()
        self._figure()
        self._foot(1)
        self._canvas.showPage()
        self._y = HEIGHT - MARGIN
        self._budgets()
        self._masters()
        self._readings()
        self._flags()
        self._foot(2)
        self._canvas.save()
        return self._buffer.getvalue()

    def _heading(self) -> None:
        body = self._body
        self._words("Calibration certificate", 11, "muted", after=2)
        subject = f" · {body['subject']}" if body["subject"] else ""
        self._words(f"{body['title']}{subject}", 22, bold=True, after=8)
        at = body["signed_at"].replace("T", " ")
        conditions = body["input"].get("conditions", {})
        temperature = f"{conditions.get('temperature_c', 20.0):g} °C ± {2 * conditions.get('temperature_u_c', 0.0):g}"
        rows = [
            ("Certificate", f"No. {self._record.number}"), ("Shop", body["shop"] or "not named"),
            ("Machine", body["machine"] or "not named"), ("Measured and signed", f"{body['operator']}, {at} {body['zone']}"),
            ("Temperature", temperature), ("Made with", f"{body['made_with']['name']} {body['made_with']['version']}"),
        ]  # fmt: skip
        self._table([[a, b] for a, b in rows], [120, INNER - 120 - 74])
        self._qr()
        if body.get("invented"):
            self._words(
                "Invented demonstration data: not a certificate of any real thing.", 10, "bad", bold=True, after=4
            )

        if self._withdrawn_by is not None:
            words = f"Taken back by record {self._withdrawn_by}: this result no longer counts."
            self._words(words, 10, "bad", bold=True, after=4)

    def _qr(self) -> None:
        code = segno.make(f"nonna:{self._record.hash}", error="m")
        matrix = [list(row) for row in code.matrix]
        cell, x, y = 68.0 / len(matrix), WIDTH - MARGIN - 68, HEIGHT - MARGIN - 78
        self._canvas.setFillColor(INKS["ink"])
        for r, row in enumerate(matrix):
            for c, dark in enumerate(row):
                if dark:
                    self._canvas.rect(x + c * cell, y + 68 - (r + 1) * cell, cell, cell, stroke=0, fill=1)

    def _verdict(self) -> None:
        result = self._evaluation
        words = {"pass": "Pass", "fail": "Fail", "undecided": "Undecided", "none": "No limit was set"}[
            result.verdict.value
        ]
        ink = {"pass": "accent", "fail": "bad", "undecided": "due", "none": "ink"}[result.verdict.value]
        self._words(words, 16, ink, bold=True, before=8, after=3)
        self._paragraph(result.headline.render())
        for check in result.checks:
            self._paragraph(
                f"{check.title}: {value_words(check.value, check.unit, Units.MM)}, {check_words(check, Units.MM)}: "
                f"{check.verdict.value}."
            )
        self._paragraph(f"Decision rule {result.rule.words()}.", "muted")

    def _results(self) -> None:
        rows = [["Result", "Value ± U", "k", "dof", "u"]]
        rows += [_row(quantity) for quantity in self._evaluation.quantities]
        self._table(rows, [150, 175, 50, 60, INNER - 435], header=True)
        self._paragraph("U is the expanded uncertainty: value ± U holds the truth 95 times in 100.", "muted")

    def _figure(self) -> None:
        figure = _figure(self._body, self._evaluation)
        room = self._y - MARGIN - 60
        if room < 100:
            return
        self._words(f"{figure.title} ({figure.scale_note})", 10, "muted", before=6, after=4)
        PdfPainter(self._canvas, "Nonna", "Nonna-Bold").paint(figure, MARGIN, MARGIN + 34, INNER, room)

    def _budgets(self) -> None:
        shown = [q for q in self._evaluation.quantities if q.estimate is not None]
        self._words("Uncertainty budget", 13, bold=True, after=4)
        rows = [["Result", "Source", "u", "dof", "Share"]]
        for quantity in shown[:SHOWN_BUDGETS]:
            for i, line in enumerate(quantity.estimate.budget if quantity.estimate else ()):
                dof = "∞" if line.dof == float("inf") else number(line.dof, 1)
                rows.append(
                    [quantity.title if i == 0 else "", line.source, _small(line.u), dof, f"{line.share * 100:.1f} %"]
                )
        self._table(rows, [110, 190, 70, 50, INNER - 420], header=True)

    def _masters(self) -> None:
        for card in (self._body["masters"] or self._body["input"].get("masters", {})).values():
            said = [str(card.get("name", "master")), str(card.get("certificate") or "no certificate")]
            for key, word in (("length_mm", "length"), ("diameter_mm", "diameter")):
                if card.get(key):
                    said.append(
                        f"{word} {with_doubt(card[key], card.get(f'U_{key}', 0.0), Units.MM)} (k = {card.get('k', 2):g})"
                    )
            said.append(f"due {card['due']}" if card.get("due") else "no due date")
            said.append("traceable" if card.get("traceable", True) else "not traceable: self-consistent only")
            self._paragraph(f"Master: {', '.join(said)}.")
        for name, carried in self._body["carried"].items():
            self._paragraph(
                f"{name.removeprefix('setup.')} carried from record {carried['record']} ({carried['hash'][:12]})."
            )

    def _readings(self) -> None:
        tape = self._body["tape"] or [{"values": r} for r in self._body["input"]["readings"]]
        self._words("Readings", 13, bold=True, before=8, after=4)
        keys = procedure(self._body["name"]).model.value_fields
        cells = [_reading(i, row, keys) for i, row in enumerate(tape[:SHOWN_READINGS], 1)]
        cells += [""] * (-len(cells) % PER_ROW)
        self._table([cells[i : i + PER_ROW] for i in range(0, len(cells), PER_ROW)], [INNER / PER_ROW] * PER_ROW)
        if len(tape) > SHOWN_READINGS:
            self._paragraph(f"The first {SHOWN_READINGS} of {len(tape)}; all are in the record.", "muted")
        for i, row in enumerate(tape[:SHOWN_READINGS], 1):
            if row.get("struck"):
                self._paragraph(f"Reading {i} was struck out: {row['struck']}.", "muted")

    def _flags(self) -> None:
        for flag in self._evaluation.flags:
            self._paragraph(f"Note: {FLAG_WORDS.get(flag, flag)}")

    def _foot(self, page: int) -> None:
        self._canvas.setFont("Nonna", 7)
        self._canvas.setFillColor(INKS["muted"])
        self._canvas.drawString(MARGIN, MARGIN - 16, f"SHA-256 {self._record.hash}")
        self._canvas.drawRightString(WIDTH - MARGIN, MARGIN - 16, f"page {page} of 2")

    def _words(
        self, words: str, size: float, ink: Any = "ink", *, bold: bool = False, before: float = 0.0, after: float = 0.0
    ) -> None:
        self._y -= before + size
        self._canvas.setFont("Nonna-Bold" if bold else "Nonna", size)
        self._canvas.setFillColor(INKS[ink])
        self._canvas.drawString(MARGIN, self._y, words)
        self._y -= after

    def _paragraph(self, words: str, ink: Any = "ink") -> None:
        style = ParagraphStyle("plain", fontName="Nonna", fontSize=9.5, leading=13, textColor=INKS[ink])
        self._flow(Paragraph(escape(words), style), INNER)

    def _table(self, rows: list[list[str]], widths: list[float], *, header: bool = False) -> None:
        style: list[tuple[Any, ...]] = [
            ("FONT", (0, 0), (-1, -1), "Nonna", 9), ("TEXTCOLOR", (0, 0), (-1, -1), INKS["ink"]),
            ("TOPPADDING", (0, 0), (-1, -1), 2), ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
            ("LEFTPADDING", (0, 0), (-1, -1), 0), ("LINEBELOW", (0, 0), (-1, -1), 0.4, INKS["faint"]),
        ]  # fmt: skip
        if header:
            style += [("TEXTCOLOR", (0, 0), (-1, 0), INKS["muted"])]
        table = Table(rows, colWidths=widths)
        table.hAlign = "LEFT"
        table.setStyle(style)
        self._flow(table, INNER)
        self._y -= 4

    def _flow(self, part: Any, width: float) -> None:
        _, height = part.wrapOn(self._canvas, width, self._y)
        if self._y - height < MARGIN:
            return  # the page is full; the record itself holds everything
        part.drawOn(self._canvas, MARGIN, self._y - height)
        self._y -= height + 2


def _row(quantity: Quantity) -> list[str]:
    e = quantity.estimate
    if e is None:
        return [quantity.title, value_words(quantity.value, quantity.unit, Units.MM), "", "", ""]
    dof = "∞" if e.dof == float("inf") else number(e.dof, 1)
    value = (
        with_doubt(e.value, e.expanded, Units.MM)
        if quantity.unit == "mm" and abs(e.value) >= 0.01
        else f"{value_words(e.value, quantity.unit, Units.MM)} {doubt_words(quantity, Units.MM)}"
    )
    return [quantity.title, value, number(e.k, 2), dof, value_words(e.u, quantity.unit, Units.MM)]


def _small(mm: float) -> str:
    return small(mm, Units.MM)


def _reading(index: int, row: dict[str, Any], keys: Sequence[str]) -> str:
    values = row["values"]
    struck = " (out)" if row.get("struck") else ""
    return f"{reading_name(values, keys, index)}  {' / '.join(reading_words(values, keys, Units.MM))}{struck}"


def _figure(body: dict[str, Any], evaluation: Evaluation) -> Any:
    file = body["input"]
    bench = Bench(
        setup=file.get("setup", {}), masters=file.get("masters", {}), conditions=file.get("conditions", {}),
        subject=body["subject"], **body.get("bench", {}),
    )  # fmt: skip
    return procedure(body["name"]).figure(bench, file["readings"], evaluation)
