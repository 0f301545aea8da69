"""Results of a job: what a change may mean, and signing all or none."""

from datetime import datetime, timedelta

import pytest

from nonna.bench.sheet.judging import Judged, judge, sign_all, suspected
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.procedures.telling import words_of
from nonna.shop.cards.machine import Tool
from nonna.shop.links.history import Entry
from nonna.shop.links.subjects import tool
from nonna.shop.records.text import body_of
from tests.support.documents import START
from tests.support.ledgers import Ledger

NOW = datetime(2026, 11, 25, 12, tzinfo=START.tzinfo)


@pytest.fixture
def site(shop):
    return Site.load(shop)


def plane(site):
    return judge(site, tool(2), "tool-length", [{"position_mm": 0.0}], "typed").session.facts.setup["trigger_plane_mm"]


def length_of(site, number, value, **more):
    z = plane(site) + value
    return judge(
        site, tool(number), "tool-length", [{"position_mm": z + d} for d in (0.0, 2e-4, -2e-4)], "stand-in", **more
    )


def past(number, *values):
    return [
        Entry(
            i + 1,
            "measurement",
            "tool-length",
            "Larch",
            tool(number),
            "pass",
            NOW - timedelta(days=90 - 10 * i),
            value_mm=v,
        )
        for i, v in enumerate(values)
    ]


def said(site, rows, tools=None, entries=()):
    table = {t.subject: t for t in (tools or site.tools)}
    return {str(r.subject): words_of(r.suspicion) if r.suspicion else "" for r in suspected(rows, table, entries)}


def test_what_a_change_may_mean(site):
    sound = length_of(site, 2, 112.4185)
    assert (sound.failed, sound.verdict.value) == ("", "pass")
    assert sound.value_mm == pytest.approx(112.4185) and sound.expanded_mm > 0
    assert said(site, [sound]) == {"T2": ""}
    assert "wrong tool in the pocket" in said(site, [length_of(site, 2, 115.0)])["T2"]
    rough = [t.model_copy(update={"length_uncertainty_mm": 2.0}) if t.number == 2 else t for t in site.tools]
    assert "rough length" in said(site, [length_of(site, 2, 118.0)], rough)["T2"]
    assert "insert changed, or not seated" in said(site, [length_of(site, 4, 61.30)])["T4"]
    drifting = past(3, 98.80, 98.83, 98.86, 98.89)
    assert "slow drift" in said(site, [length_of(site, 3, 98.92)], entries=drifting)["T3"]
    assert said(site, [length_of(site, 3, 98.95)], entries=past(3, 98.77, 98.77, 98.77))["T3"] == ""


def test_all_tools_changed_alike_point_at_the_setter(site):
    table = {2: 112.418, 3: 98.77, 9: 71.888, 11: 64.002}
    rows = [length_of(site, n, long + 0.021 + 2e-4 * i) for i, (n, long) in enumerate(table.items())]
    words = said(site, rows)
    assert all("look at the setter" in w for w in words.values())
    rows[0] = length_of(site, 2, 112.418)
    assert not any(said(site, rows[:2]).values())  # two are too few to say so


def test_what_cannot_be_judged_is_kept_in_words(site):
    lost = judge(site, tool(2), "tool-length", [], "stand-in")
    assert "No touch" in lost.failed and lost.value_mm is None and lost.verdict.value == "fail"
    assert lost.state == "" and lost.expanded_mm is None
    assert said(site, [lost, Judged(tool(99), "tool-length", failed="gone")]) == {"T2": "", "T99": ""}
    check = judge(site, tool(2), "breakage", [{"no_trigger": True, "lowest_mm": -350.0}], "stand-in")
    assert check.state == "missing"


def test_signing_is_all_or_none(site, shop):
    before = Ledger(shop.ledger).verify().count
    good = length_of(site, 2, 112.4185, program="G21")
    with pytest.raises(NonnaError, match="no result to sign"):
        sign_all([good, Judged(tool(3), "tool-length", failed="it stopped", site=site)], "K. Amsel")
    assert Ledger(shop.ledger).verify().count == before
    receipts = sign_all([good, length_of(site, 3, 98.771)], "K. Amsel")
    assert [r.number for r in receipts] == [before + 1, before + 2]
    book = Ledger(shop.ledger)
    body = body_of(book.get(before + 1))
    assert (body["subject"], body["operator"], body["measuring_program"]) == ("T2", "K. Amsel", "G21")
    assert body["carried"]["setup.trigger_plane_mm"]["link"] == "setter"
    assert book.verify().sound


def test_a_tool_with_a_length_in_no_table_has_no_change(site):
    bare = [Tool(number=2, kind="drill", diameter_mm=8.5)]
    assert said(site, [length_of(site, 2, 112.4)], bare) == {"T2": ""}
