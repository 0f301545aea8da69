"""A ledger written before influences named their fields: it opens, verifies and carries, and keeps its numbers."""

import gzip
import hashlib
from pathlib import Path

import pytest

from nonna.adapters.papers import certificate_pdf, certificate_xml
from nonna.bench.book.difference import difference
from nonna.bench.sheet.opening import open_sheet
from nonna.bench.station.site import Site
from nonna.shop.links.subjects import tool
from nonna.shop.records.text import body_of
from tests.conftest import make
from tests.support.documents import START
from tests.support.ledgers import Ledger

OLD = Path(__file__).parents[1] / "data" / "ledger-of-november.sqlite.gz"
HASH_OF_45 = "03b8f483d35b44e566723bfc48a15cfaafdcc9e0eed6dd825922a92c95aa355d"


@pytest.fixture
def old(tmp_path):
    """Today's demo shop with the ledger that an earlier version left in it."""
    shop = make(tmp_path / "shop", START)
    for rest in tmp_path.glob("shop/ledger.sqlite*"):
        rest.unlink()
    shop.ledger.write_bytes(gzip.decompress(OLD.read_bytes()))
    return shop


def test_it_opens_and_verifies_unchanged(old):
    before = hashlib.sha256(old.ledger.read_bytes()).hexdigest()
    book = Ledger(old.ledger)
    found = book.verify()
    assert (found.sound, found.count) == (True, 46)
    assert book.get(45).hash == HASH_OF_45
    assert hashlib.sha256(old.ledger.read_bytes()).hexdigest() == before
    book = Ledger(old.ledger)
    assert book.verify().sound


def test_every_record_has_its_certificate_with_the_numbers_it_was_signed_with(old, tmp_path):
    book = Ledger(old.ledger)
    for record in book.all():
        if "result" in body_of(record):
            certificate_pdf.write(record, tmp_path / "c.pdf")
            certificate_xml.write(record, tmp_path / "c.xml")
            told = (tmp_path / "c.xml").read_text("utf-8")
            assert record.hash in told
            for row in body_of(record)["result"]["results"].values():
                assert f"{row['value']}" in told


def test_doubt_that_old_lengths_share_cancels_by_its_old_words(old):
    book = Ledger(old.ledger)
    two = [r for r in book.all() if body_of(r).get("name") == "tool-length"][:2]
    alone = [body_of(r)["result"]["results"]["length_mm"]["u"] for r in two]
    apart = difference(two[0], two[1], "length_mm", book.get)
    plane = [row["u"] for row in body_of(two[0])["influences"]["length_mm"] if row["source"] == "trigger plane"]
    assert plane and "field" not in body_of(two[0])["influences"]["length_mm"][0]
    assert apart.u == pytest.approx((alone[0] ** 2 + alone[1] ** 2 - 2 * plane[0] ** 2) ** 0.5, rel=1e-6)


def test_a_sheet_is_carried_from_it(old):
    site = Site.load(old)
    opened = open_sheet(site, "tool-length", tool(9))
    carried = opened.carried["setup.trigger_plane_mm"]
    book = Ledger(old.ledger)
    below = book.get(carried.record)
    plane = body_of(below)["result"]["results"]["trigger_plane_mm"]
    assert opened.facts.setup["trigger_plane_mm"] == plane["value"]
    assert opened.facts.setup["trigger_plane_u_mm"] == plane["u"]
