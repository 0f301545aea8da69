"""Certificates: everything an auditor asks for, nothing left out for want of room, nothing invented twice."""

import base64
import hashlib
import re
import xml.etree.ElementTree as ET
from datetime import datetime
from pathlib import Path

import pytest

import nonna
from nonna.adapters.papers.certificate_pdf import write
from nonna.adapters.papers.certificate_xml import write as write_xml
from nonna.bench.book.writing import Grounds, Signature, event
from nonna.bench.sheet.signing import prepare
from nonna.desk.start.install import install, remove
from nonna.errors import NonnaError
from nonna.procedures.session import TapeRow
from nonna.shop.links.subjects import SETTER
from nonna.shop.records.text import body_of
from nonna.shop.texts.given import Given
from tests.support.examples import EXAMPLES
from tests.support.ledgers import Ledger
from tests.support.papers import text_of

HELP = Path(nonna.__file__).parent / "cli" / "help.txt"
COMMANDS_THERE_ARE = re.findall(r"^    ([a-z]+)  ", HELP.read_text(), re.M)


@pytest.fixture
def book(tmp_path):
    ledger = Ledger(tmp_path / "ledger.sqlite")
    yield ledger


def certificate(book, document, path, **evidence):
    signature = Signature("K. Amsel", "Larch", SETTER, "Tarnholm Pump Works", invented=True)
    book.add(prepare(document, signature, Grounds(title="Setter calibration", **evidence))[0])
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
        Given({"face": "top", "position_mm": -312.5}), "top", "2026-11-23T10:00:00+01:00", "typed", "chip on the pad"
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
        "Compared plainly",
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


NAMES = {"dcc": "https://ptb.de/dcc", "si": "https://ptb.de/si"}


def xml_of(record, path, withdrawn_by=None):
    write_xml(record, path, withdrawn_by)
    return ET.parse(path).getroot()


def quantities(root):
    """As anybody reads them who knows the open schema and nothing of this program."""
    found = {}
    for result in root.iterfind(".//dcc:results/dcc:result", NAMES):
        real = result.find("dcc:data/dcc:quantity/si:real", NAMES)
        if real is not None:
            doubt = real.find("si:measurementUncertaintyUnivariate/si:expandedMU", NAMES)
            more = (
                {n: float(doubt.findtext(f"si:{n}", None, NAMES)) for n in ("valueExpandedMU", "coverageFactor")}
                if doubt is not None
                else {}
            )
            found[result.get("id")] = (
                float(real.findtext("si:value", None, NAMES)),
                real.findtext("si:unit", None, NAMES),
                more,
            )
    return found


@pytest.mark.parametrize("document", EXAMPLES.values(), ids=EXAMPLES)
def test_xml_gives_an_independent_reader_the_same_values(book, document, tmp_path):
    book.add(prepare(document, Signature("K. Amsel", "Larch", shop="Tarnholm Pump Works"), Grounds(title="A sheet"))[0])
    record = book.get(1)
    root = xml_of(record, tmp_path / "c.xml")
    assert root.tag == "{https://ptb.de/dcc}digitalCalibrationCertificate" and root.get("schemaVersion") == "3.3.0"
    assert [part.tag.partition("}")[2] for part in root] == ["administrativeData", "measurementResults"]
    units = {
        "mm": r"\milli\metre",
        "mm/touch": r"\milli\metre",
        "deg": r"\degree",
        "ppm": r"\ppm",
        "s": r"\second",
        "1": r"\one",
    }
    signed = body_of(record)["result"]["results"]
    assert quantities(root) == {
        name: (
            row["value"],
            units[row["unit"]],
            {"valueExpandedMU": row["U"], "coverageFactor": row["k"]} if "u" in row else {},
        )
        for name, row in signed.items()
    }
    conformity = root.findtext(".//dcc:conformity", "none", NAMES)
    assert conformity == (body_of(record)["verdict"] if body_of(record)["verdict"] in ("pass", "fail") else "none")
    whole = base64.b64decode(root.findtext(".//dcc:byteData/dcc:dataBase64", None, NAMES))
    assert hashlib.sha256(whole).hexdigest() == record.hash == root.findtext(".//dcc:uniqueIdentifier", None, NAMES)


def test_xml_says_who_what_when_and_what_no_longer_counts(book, tool, tmp_path):
    tool["conditions"] = {"temperature_c": 21.4, "temperature_u_c": 0.3}
    card = {"name": "Ring\x0b 50", "certificate": "TP-4471"}
    signature = Signature("K. Amsel", "Larch", SETTER, "Tarnholm Pump Works", invented=True)
    rows = [{"values": r, "struck": "", "at": f"2026-11-2{i}T10:00:00+01:00"} for i, r in enumerate(tool["readings"])]
    book.add(prepare(tool, signature, Grounds(title="Tool length", cards={"master": card}, tape=rows))[0])
    root = xml_of(book.get(1), tmp_path / "c.xml", withdrawn_by=7)
    words = [content.text for content in root.iterfind(".//dcc:content", NAMES)]
    for wanted in (
        "K. Amsel",
        "Setter, Larch",
        "Tarnholm Pump Works",
        "Taken back by record 7.",
        "Ring\ufffd 50",
        "Temperature",
    ):
        assert wanted in words, wanted
    assert root.findtext(".//dcc:beginPerformanceDate", None, NAMES) == "2026-11-20"
    assert root.findtext(".//dcc:endPerformanceDate", None, NAMES) == f"2026-11-2{len(rows) - 1}"
    assert root.findtext(".//dcc:measuringEquipment//dcc:value", None, NAMES) == "TP-4471"
    listed = root.findtext(".//si:realListXMLList/si:valueXMLList", None, NAMES).split()
    assert [float(value) for value in listed] == [row["position_mm"] for row in tool["readings"]]


def test_an_event_has_no_certificate(book, tmp_path):
    book.add(event("crash", Signature("K. Amsel")))
    for wrote in (write, write_xml):
        with pytest.raises(NonnaError, match="no measurement"):
            wrote(book.get(1), tmp_path / "c")


def test_the_desktop_entry_points_at_the_program(tmp_path):
    program = tmp_path / "venv" / "nonna"
    with pytest.raises(FileNotFoundError):
        install(tmp_path, program)
    program.parent.mkdir()
    program.write_text("#!/bin/sh\n")
    launcher, icon, entry, manual = install(tmp_path, program)
    assert launcher.resolve() == program
    assert icon.read_bytes().startswith(b"<svg")
    assert f"Exec={launcher}" in entry.read_text()
    assert install(tmp_path, program)[0] == launcher  # again does no harm
    told = manual.read_text()
    for command in COMMANDS_THERE_ARE:
        assert f".B {command}\n" in told, command
    (tmp_path / "shop").mkdir()
    assert set(remove(tmp_path)) == {launcher, icon, entry, manual}
    assert remove(tmp_path) == () and (tmp_path / "shop").is_dir()
    launcher.write_text("somebody else's")
    assert remove(tmp_path) == () and launcher.exists()


def test_when_it_was_signed_and_what_it_rests_on_are_said_in_words(shop, tmp_path):
    """No field's name and no thousandth of a second: a value's doubt and freedom go with it."""
    record = next(shop.book.get(e.number) for e in reversed(shop.book.entries()) if e.name == "tool-length")
    write(record, tmp_path / "c.pdf")
    _, words = text_of(tmp_path / "c.pdf")
    source = body_of(record)["carried"]["setup.trigger_plane_mm"]
    assert f"From record {source['record']} ({source['hash'][:12]}): Trigger plane." in words
    assert "_mm" not in words and "_dof" not in words
    at = datetime.fromisoformat(body_of(record)["signed_at"])
    assert f", {at:%Y-%m-%d %H:%M:%S} {body_of(record)['zone']}" in words
    assert ("(UTC" in words) is bool(at.utcoffset())
