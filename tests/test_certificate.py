"""Certificates: everything an auditor asks for, nothing left out for want of room, nothing invented twice."""

import xml.etree.ElementTree as ET

import pypdfium2
import pytest

from nonna.adapters.certificate_pdf import write
from nonna.adapters.certificate_xml import NAMESPACE
from nonna.adapters.certificate_xml import write as write_xml
from nonna.adapters.ledger import Ledger
from nonna.bench.record_body import Evidence, Signature, event
from nonna.bench.signing import prepare
from nonna.desk.install import install
from nonna.errors import NonnaError
from nonna.procedures.session import TapeRow
from nonna.shop.subjects import SETTER


@pytest.fixture
def book(tmp_path):
    ledger = Ledger(tmp_path / "ledger.sqlite")
    yield ledger
    ledger.close()


def text_of(path):
    document = pypdfium2.PdfDocument(path)
    pages = [page.get_textpage().get_text_range() for page in document]
    document.close()
    return len(pages), " ".join(" ".join(pages).split())


def certificate(book, document, path, **evidence):
    signature = Signature("K. Amsel", "Larch", SETTER, "Tarnholm Pump Works", invented=True)
    book.sign(prepare(document, signature, Evidence(title="Setter calibration", **evidence))[0])
    write(book.get(1), path)
    return text_of(path)


def test_it_says_what_was_found_by_whom_and_on_what_grounds(book, setter, tmp_path):
    card = {
        "name": "Master tool",
        "certificate": "TP-4471",
        "due": "2026-12-09",
        "length_mm": 140.0032,
        "U_length_mm": 0.0008,
        "k": 2,
    }
    struck = TapeRow(
        {"face": "top", "position_mm": -312.5}, "top", "2026-11-23T10:00:00+01:00", "typed", "chip on the pad"
    )
    rows = [struck.to_document()] + [{"values": r, "struck": ""} for r in setter["readings"]]
    pages, words = certificate(book, setter, tmp_path / "c.pdf", cards={"master": card}, tape=rows)
    assert pages == 2
    for wanted in (
        "Setter calibration",
        "No. 1",
        "Tarnholm Pump Works",
        "Larch",
        "K. Amsel",
        "Pass",
        "guarded",
        "Trigger plane",
        "touch repeatability",
        "TP-4471",
        "chip on the pad",
        "Invented demonstration data",
        book.get(1).hash,
        "21.4 °C",
        "to scale",
        "−312.5000 (out)",
    ):
        assert wanted in words, wanted


def test_nothing_is_left_out_of_a_long_tape(book, repeat, tmp_path):
    repeat["readings"] = [{"value_mm": 0.001 * (i % 7) + 1e-4 * i} for i in range(400)]
    rows = [{"values": r, "struck": f"reason {i}" if i % 3 == 0 else ""} for i, r in enumerate(repeat["readings"])]
    live = [r["values"] for r in rows if not r["struck"]]
    pages, words = certificate(book, {**repeat, "readings": live}, tmp_path / "c.pdf", tape=rows)
    assert pages > 2 and f"page 1 of {pages}" in words and f"page {pages} of {pages}" in words
    for i in range(400):
        assert f"{i + 1} {0.001 * (i % 7) + 1e-4 * i:.4f}" in words
        assert f"struck out: reason {i}." in words or i % 3
    long = "a very long note on why this reading cannot be believed, " * 60
    pages, words = certificate(Ledger(tmp_path / "b.sqlite"), repeat, tmp_path / "d.pdf",
                               tape=[{**rows[1], "struck": long}, *rows[2:]])  # fmt: skip
    assert words.count("cannot be believed") == 60  # over the edge of a page


def test_the_same_record_gives_the_same_file(book, tool, tmp_path):
    certificate(book, tool, tmp_path / "a.pdf")
    write(book.get(1), tmp_path / "b.pdf")
    assert (tmp_path / "a.pdf").read_bytes() == (tmp_path / "b.pdf").read_bytes()


def test_xml_holds_the_same_facts(book, tool, tmp_path):
    certificate(book, tool, tmp_path / "c.pdf")
    write_xml(book.get(1), tmp_path / "c.xml")
    root = ET.parse(tmp_path / "c.xml").getroot()
    assert root.tag == f"{{{NAMESPACE}}}certificate"
    assert root.get("sha256") == book.get(1).hash
    fields = {f.get("name"): f for f in root}
    assert float(fields["value_mm"].text) == book.get(1).body["value_mm"]


def test_an_event_has_no_certificate(book, tmp_path):
    book.sign(event("crash", Signature("K. Amsel")))
    with pytest.raises(NonnaError, match="no measurement"):
        write(book.get(1), tmp_path / "c.pdf")


def test_the_desktop_entry_points_at_the_program(tmp_path):
    program = tmp_path / "venv" / "nonna"
    with pytest.raises(FileNotFoundError):
        install(tmp_path, program)
    program.parent.mkdir()
    program.write_text("#!/bin/sh\n")
    launcher, icon, entry = install(tmp_path, program)
    assert launcher.resolve() == program
    assert icon.read_bytes().startswith(b"<svg")
    assert f"Exec={launcher}" in entry.read_text()
    assert install(tmp_path, program)[0] == launcher  # again does no harm
