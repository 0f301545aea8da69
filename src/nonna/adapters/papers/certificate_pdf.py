"""The calibration certificate of a record, as PDF: everything that was signed, on as many pages as it takes."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator, Sequence
from functools import partial
from pathlib import Path
from typing import Any

from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    KeepTogether,
    LongTable,
    PageBreak,
    Paragraph,
    SimpleDocTemplate,
)

from nonna.adapters.files.safe_write import write_bytes
from nonna.adapters.papers.figure_pdf import INKS, PdfPainter
from nonna.adapters.papers.pdf_code import draw_code
from nonna.adapters.papers.pdf_letters import is_plain, ready, set_in, unprintable
from nonna.bench.book.recalling import must_be_measured, read_back
from nonna.figures.figure import Figure, Ink
from nonna.procedures.catalogue import procedure
from nonna.procedures.evaluation import FLAG_WORDS, Evaluation, Quantity
from nonna.procedures.facts import SheetFacts
from nonna.procedures.telling import words_of
from nonna.procedures.wording import check_words, reading_name, reading_words, result_words, u_words, value_words
from nonna.shop.links.subjects import ANY
from nonna.shop.records.values import Measurement, Record, TapeReading
from nonna.shop.texts.given import Given
from nonna.wording.lengths import Units, number, with_doubt

WIDTH, HEIGHT = A4
MARGIN = 48.0
INNER = WIDTH - 2 * MARGIN
PER_ROW = 5
QR = 68.0
FIGURE_HEIGHT = 230.0
_BESIDE = ("_u_mm", "_dof", "_u_ppm", "_u_s")  #: ends of fields that go with a value


def write(record: Record, path: Path, withdrawn_by: int | None = None) -> None:
    """Write the certificate of a measurement record; one that was taken back says so in red.

    Raises: NonnaError ``wrong-format`` (an event has no certificate), ``unreadable`` (the file cannot be written).
    """
    write_bytes(path, made(must_be_measured(record), withdrawn_by))


def made(record: Measurement, withdrawn_by: int | None = None) -> bytes:
    """Return the certificate's file. The same record gives the same bytes."""
    ready()
    story = [*_first_page(record, withdrawn_by), PageBreak(), *_grounds(record)]
    pages = _build(record, list(story), 0)[1]  # once to count the pages, for each says how many there are
    return _build(record, [*_first_page(record, withdrawn_by), PageBreak(), *_grounds(record)], pages)[0]


def _build(record: Measurement, story: list[Flowable], pages: int) -> tuple[bytes, int]:
    buffer = io.BytesIO()
    document = SimpleDocTemplate(
        buffer, pagesize=A4, leftMargin=MARGIN, rightMargin=MARGIN, topMargin=MARGIN, bottomMargin=MARGIN, invariant=1,
        title=f"Certificate {record.number}: {record.title}", author=record.operator,
    )  # fmt: skip
    foot = partial(_foot, record, pages)
    document.build(story, onFirstPage=partial(_first, record, foot), onLaterPages=foot)
    return buffer.getvalue(), document.page


Foot = Callable[[Canvas, BaseDocTemplate], None]


def _first(record: Measurement, foot: Foot, canvas: Canvas, document: BaseDocTemplate) -> None:
    foot(canvas, document)
    draw_code(canvas, record.hash, WIDTH - MARGIN - QR, HEIGHT - MARGIN - QR - 10, QR)


def _foot(record: Measurement, pages: int, canvas: Canvas, document: BaseDocTemplate) -> None:
    canvas.setFont("Nonna", 7)
    canvas.setFillColor(INKS["muted"])
    canvas.drawString(MARGIN, MARGIN - 16, f"SHA-256 {record.hash}")
    canvas.drawRightString(WIDTH - MARGIN, MARGIN - 16, f"page {document.page} of {pages}")


def _first_page(record: Measurement, withdrawn_by: int | None) -> Iterator[Flowable]:
    """What was found: who, where, verdict, results, the drawing."""
    evaluation = read_back(record)
    yield _words("Calibration certificate", 11, "muted")
    subject = f" · {record.subject.words}" if record.subject != ANY else ""
    yield _words(f"{record.title}{subject}", 22, bold=True, after=8, width=INNER - QR - 12)
    yield _facts(record)
    if record.invented:
        yield _words(
            "Invented demonstration data: not a certificate of any real thing.", 10, "bad", bold=True, before=4
        )
    if withdrawn_by is not None:
        words = f"Taken back by record {withdrawn_by}: this result no longer counts."
        yield _words(words, 10, "bad", bold=True, before=4)
    yield from _verdict(evaluation)
    rows = [["Result", "Value ± U", "k", "dof", "u"], *(_row(quantity) for quantity in evaluation.quantities)]
    yield _table(rows, [150, 175, 50, 60, INNER - 435], header=True)
    yield _paragraph("U is the expanded uncertainty: value ± U holds the truth 95 times in 100.", "muted")
    figure = _figure(record, evaluation)
    yield KeepTogether([_words(f"{figure.title} ({figure.scale_note})", 10, "muted", before=6), _Drawing(figure)])


def _facts(record: Measurement) -> Flowable:
    at = record.signed_at
    away = f" (UTC{at.isoformat()[-6:]})" if at.utcoffset() else ""  # the zone's own name says little far from it
    temperature = _temperature(Given(record.input.conditions or {}))
    rows = [
        ("Certificate", f"No. {record.number}"), ("Shop", record.shop or "not named"),
        ("Machine", record.machine or "not named"),
        ("Measured and signed", f"{record.operator}, {at:%Y-%m-%d %H:%M:%S} {record.zone}{away}"),
        ("Temperature", temperature), ("Made with", f"{record.made_with.name} {record.made_with.version}"),
    ]  # fmt: skip
    return _table([[a, b] for a, b in rows], [120, INNER - 120 - QR - 6])


def _temperature(conditions: Given) -> str:
    """Return the temperature as it was measured; what nobody measured is not printed as if it were."""
    temperature = conditions.number("temperature_c")
    if temperature is None:
        return "not measured; 20 °C is assumed"
    doubt = 2 * conditions.number("temperature_u_c", 0.0)
    words = f"{temperature:g} °C" + (f" ± {doubt:g} °C" if doubt else ", its doubt not stated")
    return words + (", assumed: nobody read it that day" if conditions.get("temperature_assumed") else "")


def _verdict(result: Evaluation) -> Iterator[Flowable]:
    words = {"pass": "Pass", "fail": "Fail", "undecided": "Undecided", "none": "No limit was set"}[result.verdict.value]
    inks: dict[str, Ink] = {"pass": "accent", "fail": "bad", "undecided": "due", "none": "ink"}
    yield _words(words, 16, inks[result.verdict.value], bold=True, before=8, after=3)
    yield _paragraph(words_of(result.headline))
    for check in result.checks:
        yield _paragraph(
            f"{check.title}: {value_words(check.value, check.unit, Units.MM)}, {check_words(check, Units.MM)}: "
            f"{check.verdict.value}."
        )
    banded = [check for check in result.checks if check.guard_high > check.guard_low]
    plain = [check.title for check in result.checks if check not in banded]
    if banded or not result.checks:
        yield _paragraph(f"Decision rule {result.rule.words()}.", "muted")
    if plain:
        yield _paragraph(f"Compared plainly, without a doubt of its own: {', '.join(plain)}.", "muted")


def _grounds(record: Measurement) -> Iterator[Flowable]:
    """On what grounds: budgets, masters, what was carried, every reading, what is to be noted."""
    evaluation = read_back(record)
    rows = [["Result", "Source", "u", "dof", "Share"]]
    for quantity in evaluation.quantities:
        for i, line in enumerate(quantity.estimate.budget if quantity.estimate else ()):
            dof = "∞" if line.dof == float("inf") else number(line.dof, 1)
            rows.append(
                [
                    quantity.title if i == 0 else "",
                    line.source,
                    u_words(line.u, quantity.unit, Units.MM),
                    dof,
                    f"{line.share * 100:.1f} %",
                ]
            )
    if len(rows) > 1:
        yield _words("Uncertainty budget", 13, bold=True, after=4)
        yield _table(rows, [110, 190, 70, 50, INNER - 420], header=True)
    for card in (record.masters or record.input.masters).values():
        yield _paragraph(f"Master: {_master(Given(card))}.")
    for (source, hash_, open_), titles in _carried(record).items():
        left = ", which left its verdict open" if open_ else ""
        yield _paragraph(f"From record {source} ({hash_}){left}: {', '.join(titles)}.")
    yield from _readings(record)
    lost = unprintable(f"{record.operator} {record.shop} {record.machine} {record.subject}")
    if lost:
        letters = ", ".join(f"U+{ord(letter):04X}" for letter in lost)
        yield _paragraph(f"Note: letters that this paper's typefaces do not have: {letters}.")
    for flag in evaluation.flags:
        yield _paragraph(f"Note: {FLAG_WORDS.get(flag, flag)}")


def _carried(record: Measurement) -> dict[tuple[int, str, bool], list[str]]:
    """Return what was carried in words, by the record it came from; a value's own doubt and freedom go with it
    unsaid.
    """
    fields = procedure(record.name).setup_model.model_fields
    found: dict[tuple[int, str, bool], list[str]] = {}
    for name, row in record.carried.items():
        bare = name.removeprefix("setup.")
        titles = found.setdefault((row.record, row.hash[:12], row.verdict == "undecided"), [])
        if not bare.endswith(_BESIDE):
            titles.append(str(fields[bare].title or bare) if bare in fields else bare)
    return {key: titles or ["its doubt"] for key, titles in found.items()}


def _master(card: Given) -> str:
    said = [card.word("name", "master"), card.word("certificate") or "no certificate"]
    for key, word in (("length_mm", "length"), ("diameter_mm", "diameter")):
        if value := card.number(key):
            doubt, k = card.number(f"U_{key}", 0.0), card.number("k")
            stated = f" (k = {k:g})" if k and doubt else ""
            said.append(f"{word} {with_doubt(value, doubt, Units.MM)}{stated}")
    said.append(f"due {card.word('due')}" if card.word("due") else "no due date")
    said.append("traceable" if card.flag("traceable", True) else "not traceable: self-consistent only")
    return ", ".join(said)


def _readings(record: Measurement) -> Iterator[Flowable]:
    tape = record.tape or tuple(TapeReading(values=values) for values in record.input.readings)
    if not tape:
        return
    yield _words("Readings", 13, bold=True, before=8, after=4)
    keys = procedure(record.name).model.value_fields
    cells = [_reading(i, row, keys) for i, row in enumerate(tape, 1)]
    cells += [""] * (-len(cells) % PER_ROW)
    yield _table([cells[i : i + PER_ROW] for i in range(0, len(cells), PER_ROW)], [INNER / PER_ROW] * PER_ROW)
    for i, row in enumerate(tape, 1):
        if row.struck:
            yield _paragraph(f"Reading {i} was struck out: {row.struck}.", "muted")
        if row.doubted:
            yield _paragraph(f"Reading {i} was questioned and taken all the same: {row.doubted}", "muted")


class _Drawing(Flowable):  # type: ignore[misc]  # the library has no types
    """The procedure's drawing, as wide as the page."""

    def __init__(self, figure: Figure) -> None:
        super().__init__()
        self._drawn = figure
        x0, y0, x1, y1 = figure.window
        self.width, self.height = INNER, min(FIGURE_HEIGHT, INNER * (y1 - y0) / (x1 - x0))

    def wrap(self, *_room: float) -> tuple[float, float]:
        return self.width, self.height

    def draw(self) -> None:
        PdfPainter(self.canv, "Nonna", "Nonna-Bold").paint(self._drawn, 0, 0, self.width, self.height)


def _words(
    words: str, size: float, ink: Ink = "ink", *, bold: bool = False, before: float = 0.0, after: float = 2.0,
    width: float = INNER,
) -> Flowable:  # fmt: skip
    style = ParagraphStyle(
        "words", fontName="Nonna-Bold" if bold else "Nonna", fontSize=size, leading=size * 1.2, textColor=INKS[ink],
        spaceBefore=before, spaceAfter=after, rightIndent=INNER - width,
    )  # fmt: skip
    return Paragraph(set_in(words, style.fontName), style)


def _paragraph(words: str, ink: Ink = "ink") -> Flowable:
    style = ParagraphStyle("plain", fontName="Nonna", fontSize=9.5, leading=13, textColor=INKS[ink], spaceAfter=1)
    return Paragraph(set_in(words, style.fontName), style)


_CELL = ParagraphStyle("cell", fontName="Nonna", fontSize=9, leading=11, textColor=INKS["ink"])


def _table(rows: list[list[str]], widths: list[float], *, header: bool = False) -> Flowable:
    style: list[tuple[Any, ...]] = [
        ("FONT", (0, 0), (-1, -1), "Nonna", 9), ("TEXTCOLOR", (0, 0), (-1, -1), INKS["ink"]),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("TOPPADDING", (0, 0), (-1, -1), 2), ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
        ("RIGHTPADDING", (0, 0), (-1, -1), 4),
        ("LEFTPADDING", (0, 0), (-1, -1), 0), ("LINEBELOW", (0, 0), (-1, -1), 0.4, INKS["faint"]),
    ]  # fmt: skip
    if header:
        style += [("TEXTCOLOR", (0, 0), (-1, 0), INKS["muted"])]
    cells = [[_cell(words, width) for words, width in zip(row, widths, strict=True)] for row in rows]
    table = LongTable(cells, colWidths=widths, repeatRows=int(header), spaceAfter=4)
    table.hAlign = "LEFT"
    table.setStyle(style)
    return table


def _cell(words: str, width: float) -> object:
    """Return words, broken into lines where they are wider than their column."""
    if is_plain(words) and pdfmetrics.stringWidth(words, "Nonna", 9) <= width - 4:
        return words
    return Paragraph(set_in(words), _CELL)


def _row(quantity: Quantity) -> list[str]:
    e = quantity.estimate
    if e is None:
        return [quantity.title, result_words(quantity, Units.MM), "", "", ""]
    dof = "∞" if e.dof == float("inf") else number(e.dof, 1)
    return [
        quantity.title,
        result_words(quantity, Units.MM),
        number(e.k, 2),
        dof,
        u_words(e.u, quantity.unit, Units.MM),
    ]


def _reading(index: int, row: TapeReading, keys: Sequence[str]) -> str:
    values = row.values
    struck = " (out)" if row.struck else ""
    return f"{reading_name(values, keys, index)}  {' / '.join(reading_words(values, keys, Units.MM))}{struck}"


def _figure(record: Measurement, evaluation: Evaluation) -> Figure:
    file = record.input
    conditions = Given(file.conditions or {})
    facts = SheetFacts(
        setup=record.setup,
        masters={role: Given(card) for role, card in file.masters.items()},
        conditions={name: conditions.number(name, 0.0) for name in conditions},
        subject=record.subject,
        **record.bench.model_dump(exclude_unset=True),
    )
    return procedure(record.name).figure(facts, list(file.readings), evaluation)
