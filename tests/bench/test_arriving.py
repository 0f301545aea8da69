"""Tools from the presetter: put right for the machine that takes them, over a line, compared with the machine's own."""

import math
from collections import deque
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication
from scipy import special

from nonna.bench.book.difference import difference
from nonna.bench.book.writing import Signature
from nonna.bench.job.arriving import LOOKS, ReadsLikeTheLast, Screen, arrivals, lines_of_standin
from nonna.bench.session.tray import presetter_lines
from nonna.bench.sheet.from_presetter import presetter_of
from nonna.bench.sheet.judging import suspected
from nonna.bench.sheet.opening import open_sheet, prepared
from nonna.bench.sheet.signing import recorded
from nonna.bench.shelf.shelving import cards, put
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.metrology.doubt.coverage import Source, coverage_factor
from nonna.procedures.catalogue import evaluate
from nonna.procedures.instrument_line import parse_line
from nonna.procedures.session import Session
from nonna.procedures.telling import words_of
from nonna.shop.links.subjects import PRESETTER, station, tool
from nonna.shop.records.text import body_of
from nonna.shop.texts.line_pattern import line_pattern
from nonna.standin.bodies import body
from nonna.standin.indicator import IndicatorServer
from nonna.standin.world import World
from tests.support.hands import settle, shown_text
from tests.support.instruments import listen

SIGNED = Signature("K. Amsel")

SETUP = {
    "z_offset_mm": 0.012, "z_offset_u_mm": 0.001, "z_pivot_mm": 100.0, "z_scale_ppm": 40.0, "z_scale_u_ppm": 5.0,
    "transfer_mm": -0.005, "transfer_u_mm": 0.002, "transfer_dof": 4.0, "trigger_plane_u_mm": 0.001,
}  # fmt: skip


def from_presetter(readings, **more):
    rows = [{"axis": axis, "value_mm": value} for axis, value in readings]
    document = {
        "format": "nonna-readings/1", "procedure": "tool-from-presetter", "setup": {**SETUP, **more}, "readings": rows,
    }  # fmt: skip
    return evaluate(document).to_document()


def test_a_length_from_the_presetter_by_hand():
    got = from_presetter([("z", 150.0), ("z", 150.002)])
    length = got["results"]["length_mm"]
    assert length["value"] == pytest.approx(150.001 + 0.012 + 40e-6 * 50.001 - 0.005)
    assert length["u"] == pytest.approx(math.hypot(0.002, 0.001))
    assert {row["source"] for row in got["budget"]["length_mm"]} == {"one more tool of the transfer", "trigger plane"}
    line = from_presetter([("z", 150.0)] * 2, transfer_pivot_mm=90.0, transfer_slope_ppm=-100.0)
    right = 150.0 + 0.012 + 40e-6 * 50.0
    assert line["results"]["length_mm"]["value"] == pytest.approx(right - 0.005 - 100e-6 * (right - 90.0))
    again = from_presetter([("z", 150.0)] * 2, setter_recalibrated=True)
    assert again["results"]["length_mm"]["u"] == pytest.approx(math.sqrt(0.002**2 + 2 * 0.001**2))
    own = from_presetter([("z", 150.0)] * 2, own_length_mm=150.02, own_length_u_mm=0.0015)
    assert own["results"]["from_own_mm"]["u"] == pytest.approx(math.sqrt(0.002**2 + 0.0015**2 - 0.001**2))
    assert "more than the doubt" in " ".join(own["advice"])
    for gone in ("transfer_mm", "transfer_u_mm", "z_offset_mm"):
        with pytest.raises(NonnaError, match=gone):
            from_presetter([("z", 150.0)] * 2, **{gone: None})
    with pytest.raises(NonnaError, match="not read yet"):
        from_presetter(
            [("x", 8.0)] * 2, x_offset_mm=0.0, x_offset_u_mm=0.001, x_pivot_mm=10.0, x_scale_ppm=0.0, x_scale_u_ppm=1.0
        )


@pytest.mark.parametrize(("n", "line"), [(3, False), (5, False), (5, True)])
def test_one_more_tool_from_the_presetter_is_covered(n, line):
    """Whole chain: transfer from n tools on both, then one more tool; the machine's own plane is part of the truth."""
    dice, hits, trials = np.random.default_rng(n + 100 * line), 0, 2000
    plane_u, apart, slope = 0.0008, -0.006, (60e-6 if line else 0.0)
    for _ in range(trials):
        plane = dice.normal(0.0, plane_u)  # of the machine's setter: in all its lengths alike
        truth = np.sort(dice.uniform(60.0, 200.0, n))
        d = apart + slope * (truth - 120.0) + plane + dice.normal(0.0, 0.002, n)
        rows = [
            {"tool": i + 1, "presetter_mm": float(t), "machine_mm": float(t + x)}
            for i, (t, x) in enumerate(zip(truth, d, strict=True))
        ]
        found = evaluate(
            {
                "format": "nonna-readings/1",
                "procedure": "presetter-transfer",
                "setup": {"model": "line" if line else "offset"},
                "readings": rows,
            }
        ).to_document()["results"]
        transfer = found["transfer_mm"]
        length = float(dice.uniform(truth[0], truth[-1]))
        true_on_machine = length + apart + slope * (length - 120.0) + dice.normal(0.0, 0.002)  # this tool's own seating
        more = (
            {"transfer_pivot_mm": found["pivot_mm"]["value"], "transfer_slope_ppm": found["trend_ppm"]["value"]}
            if line
            else {}
        )
        got = from_presetter(
            [("z", length)] * 2, z_offset_mm=0.0, z_scale_ppm=0.0, transfer_mm=transfer["value"],
            transfer_u_mm=found["corrected_U_mm"]["value"] / transfer["k"], transfer_dof=transfer["dof"],
            trigger_plane_u_mm=plane_u, **more,
        )["results"]["length_mm"]  # fmt: skip
        hits += abs(got["value"] - true_on_machine) <= got["U"]
    luck = 2.5 * math.sqrt(0.05 * 0.95 / trials)
    assert 0.94 - luck <= hits / trials <= 0.96 + luck


def test_one_reading_against_means_of_five_and_a_plane_measured_anew_are_covered():
    """What the machine's own setter says later stands on another plane, and one reading scatters more than a mean."""
    dice, hits, trials, many = np.random.default_rng(29), 0, 1000, 5
    plane_u, one_u, seat = 0.0008, 0.002, 0.001
    bare = 0
    for _ in range(trials):
        then, now = dice.normal(0.0, plane_u, 2)
        d = 0.01 + then + dice.normal(0.0, seat, many) - dice.normal(0.0, one_u / math.sqrt(many), many)
        rows = [
            {"tool": i, "presetter_mm": 80.0 + 20.0 * i, "machine_mm": 80.0 + 20.0 * i + x} for i, x in enumerate(d)
        ]
        document = {"format": "nonna-readings/1", "procedure": "presetter-transfer", "setup": {}, "readings": rows}
        found = evaluate(document).to_document()["results"]
        setup = {
            "z_offset_mm": 0.0, "z_scale_ppm": 0.0, "transfer_mm": found["transfer_mm"]["value"],
            "transfer_u_mm": found["corrected_U_mm"]["value"] / found["transfer_mm"]["k"],
            "transfer_dof": found["transfer_mm"]["dof"], "trigger_plane_mm": 0.0, "trigger_plane_u_mm": plane_u,
            "setter_recalibrated": True,
        }  # fmt: skip
        reading = [("z", 120.0 + dice.normal(0.0, one_u))]
        known = {"repeatability_mm": one_u * math.sqrt(dice.chisquare(24) / 24), "repeatability_dof": 24}
        own = 120.01 + now + dice.normal(0.0, seat)
        for means, more in ((many, known), (None, {})):
            got = from_presetter(reading, transfer_means_of=means, **setup, **more)["results"]["length_mm"]
            hit = abs(got["value"] - own) <= got["U"]
            hits, bare = (hits + hit, bare) if means else (hits, bare + hit)
    luck = 2.5 * math.sqrt(0.05 * 0.95 / trials)
    assert 0.94 - luck <= hits / trials <= 0.97 + luck
    assert bare / trials < 0.90  # without it: what the transfer says of means only


@pytest.mark.parametrize("n", [3, 4, 5, 8])
@pytest.mark.parametrize("plane", [0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.7, 1.0, 2.0])
def test_one_more_tool_is_covered_whatever_its_plane_is_good_for(n, plane):
    """By quadrature over the scatter's own distribution, in units of the true scatter: no luck in it."""
    share = (np.arange(20_000) + 0.5) / 20_000
    scatter = np.sqrt(special.chdtri(n - 1, share) / (n - 1) * (1 + 1 / n))
    reach = [
        coverage_factor([Source("transfer", float(s), n - 1), Source("trigger plane", plane, math.inf)])
        * math.hypot(s, plane)
        for s in scatter[::20]
    ]
    held = float(np.mean(special.erf(np.array(reach) / math.sqrt(1 + 1 / n + plane**2) / math.sqrt(2))))
    assert 0.94 <= held <= 0.96


def test_what_it_rests_on_is_carried_from_the_presetters_own_records(shop):
    site = Site.load(shop)
    opening = open_sheet(site, "tool-from-presetter", tool(2))
    setup, there = opening.facts.setup, presetter_of(site).results()
    zero = there.held("presetter-calibration", "z_offset_mm")
    transfer = there.held("presetter-transfer", "transfer_mm", station("Larch"))
    rows = body_of(transfer.record)["result"]["results"]
    assert setup["z_offset_mm"] == zero.value and setup["transfer_mm"] == transfer.value
    assert setup["transfer_u_mm"] * rows["transfer_mm"]["k"] == pytest.approx(rows["corrected_U_mm"]["value"])
    assert opening.carried["setup.transfer_mm"].record == transfer.record.number
    assert opening.carried["setup.trigger_plane_mm"].link == "setter"
    assert setup["setter_recalibrated"] is True and "transfer_pivot_mm" not in setup
    own = there.held("repeatability", "s_mm", PRESETTER)  # the mill's is another thing
    assert (setup["repeatability_mm"], setup["repeatability_dof"]) == (own.value, own.readings - 1)
    other = prepared(Site.load(shop, "rowan"), "tool-from-presetter", tool(2))
    assert any(m.field == "transfer_mm" and "is of another: Machine Larch" in m.why for m in other.missing)


def signed(site, name, subject, readings):
    session = Session(name, open_sheet(site, name, subject).facts).take_all(
        readings, "typed", "2026-11-23T10:00:00+00:00"
    )
    found = session.evaluate()
    return site.folder.book.sign([recorded(site, session, open_sheet(site, name, subject), found, "K. Amsel")])[0]


def test_a_presetter_calibrated_after_its_transfer_is_not_taken(shop):
    alder = Site.load(shop, "alder")
    facts = prepared(alder, "presetter-calibration", PRESETTER).facts
    size = {"low": (60.0011, 10.0003), "high": (230.0027, 32.0004), "proof": (140.0032, 16.0006)}
    readings = [
        {"master": role, "axis": axis, "value_mm": size[role]["zx".index(axis)] + off}
        for role in facts.masters for axis in ("z", "x") for off in (0.0, 0.001)
    ]  # fmt: skip
    signed(alder, "presetter-calibration", PRESETTER, readings)
    with pytest.raises(NonnaError, match="measure the transfer again"):
        open_sheet(Site.load(shop), "tool-from-presetter", tool(2))


def test_two_tools_from_the_presetter_share_the_plane(shop):
    site = Site.load(shop)
    read = shop.book.reader()
    first, second = (
        read(signed(site, "tool-from-presetter", tool(n), [{"axis": "z", "value_mm": v}] * 2).number) for n,
        v in ((2, 112.44), (3, 98.79))
    )  # fmt: skip
    apart = difference(first, second, "length_mm", read)
    alone = body_of(first)["result"]["results"]["length_mm"]["u"]
    assert not any("trigger plane," in row.source for row in apart.budget) and apart.u < 1.5 * alone


def test_lines_are_taken_for_the_tool_they_name_or_the_one_asked_for(shop):
    site = Site.load(shop)
    now = arrivals(site, site.tools, (2, 5), frozenset({5}))
    assert now.wanted[:2] == (2, 5) and len(now.wanted) == 24 and not now.named and now.asked == 2

    def line(text, pattern="{axis} {value}"):
        return parse_line(text, line_pattern(pattern, ("value",)))

    now, number = now.take(line("Z 112.44"))
    now, _ = now.take(line("Z 112.441"))
    assert number == 2 and now.whole(2) and now.asked == 5
    with pytest.raises(NonnaError, match="Nothing more is wanted in Z of T2"):
        now.ask(2).take(line("Z 112.44"))
    for text in ("Z 92.07", "X 16.001", "Z 92.071"):
        now, _ = now.take(line(text))
    assert not now.whole(5) and "diameter 2 of 2" in now.words()
    now, _ = now.take(line("X 16.0"))
    assert now.whole(5) and [q.name for q in now.judged(5).evaluation.quantities][:2] == ["length_mm", "diameter_mm"]
    named = "T{tool} {axis} {value}"
    with pytest.raises(NonnaError, match="neither in this tray nor in Alder's table"):
        now.take(line("T99 Z 100", named))
    now, number = now.take(line("T21 Z 105.3", named))
    assert number == 21
    with pytest.raises(NonnaError, match="Put the cursor on it"):
        now.ask(None).take(line("Z 100"))


def test_a_line_of_the_tool_before_is_not_taken_for_the_next(shop):
    site = Site.load(shop)
    now = arrivals(site, site.tools, (2, 5), frozenset())

    def line(text):
        return parse_line(text, line_pattern("{axis} {value}", ("value",)))

    for text in ("Z 112.440", "Z 112.441"):
        now, _ = now.take(line(text))
    with pytest.raises(ReadsLikeTheLast, match="reads like T2 again") as doubt:
        now.take(line("Z 112.442"))  # pressed once more before the tool was changed
    other, number = doubt.value.then.take(line("Z 92.07"))
    assert number == 5 and len(other.readings[5]) == 1
    same, number = doubt.value.then.take(line("Z 112.443"))  # it really is as long
    assert number == 5 and len(same.readings[5]) == 1
    with pytest.raises(ReadsLikeTheLast):  # insisting is forgotten with the next tool's first line
        replace(other, readings={2: other.readings[2]}).take(line("Z 112.44"))


def test_a_doubt_about_one_axis_is_not_answered_by_another(shop):
    now = arrivals(Site.load(shop), Site.load(shop).tools, (5, 7), frozenset({5, 7}))

    def take(now, text):
        return now.take(parse_line(text, line_pattern("{axis} {value}", ("value",))))[0]

    for text in ("Z 92.07", "X 16.001", "Z 92.071", "X 16.0"):
        now = take(now, text)
    for text, how in (("Z 92.07", "long"), ("X 16.001", "wide")):  # two presses too many before the tool was changed
        with pytest.raises(ReadsLikeTheLast, match=f"If T7 really is as {how}") as doubt:
            take(now, text)
        now = doubt.value.then
    assert 7 not in now.readings and len(take(now, "X 16.001").readings[7]) == 1  # it really is as wide


@settings(deadline=None, max_examples=10, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.integers(0, 3 * LOOKS), max_size=12), st.integers(0, 2))
def test_a_slow_window_never_takes_a_press_for_the_next_tool(shop, stalls, lost):
    site = Site.load(shop)
    now = replace(arrivals(site, site.tools, (2, 5, 7), frozenset({5})), wanted=(2, 5, 7))
    seen, stalls, sent = Screen(now.asked, 0, 0), iter(stalls), deque()
    printed = lines_of_standin(now, World.from_seed(1), lambda: seen)
    held = next(stalls, 0)
    for _ in range(3000):  # turns of the stand-in; the window is alive in those between its stalls
        if text := printed():
            sent.append((now.asked, text))
        if held:
            held -= 1
            continue
        heard = 0
        if sent and lost:
            lost, _ = lost - 1, sent.popleft()  # the wire ate it: hands press again
        elif sent:
            meant, text = sent.popleft()
            line = parse_line(text, line_pattern(now.instrument.pattern or "{axis} {value}", ("value",)))
            now, number = now.take(line)
            assert number == meant
            heard, held = 1, next(stalls, 0)
        if not now.left:
            break
        seen = Screen(now.asked, seen.heard + heard, seen.looks + 1)
    assert not now.left and not sent


def test_readings_of_two_tools_never_make_one_sound_length(shop):
    site = Site.load(shop)
    tools = {t.subject: t for t in site.tools}
    rows = []
    for second in (92.071, 105.6):  # the second time the tool was changed in between
        now = arrivals(site, site.tools, (5,), frozenset())
        for value in (92.07, second):
            now, _ = now.take(parse_line(f"Z {value}", line_pattern("{axis} {value}", ("value",))))
        rows += suspected((now.judged(5),), tools, ())
    assert "scatter-above-history" not in rows[0].evaluation.flags
    assert "scatter-above-history" in rows[1].evaluation.flags and rows[1].suspicion.code == "tray.apart"
    assert "Measure it again" in words_of(rows[1].suspicion)


def test_thirty_tools_arrive_typed_nowhere(desk, hands, monkeypatch):
    monkeypatch.setattr(presetter_lines, "LINES_HZ", 100.0)  # quicker hands
    monkeypatch.setattr(presetter_lines, "LOOK_MS", 10)
    hands.mend("level", "setter")
    c = listen(desk, hands, 2, 3, 4, 5, 7, 9, 11, 14)
    hands.until(lambda: c.arrivals.now is None)
    hands.until(lambda: len(c.tray.results) == 30)
    assert len(c.tray.tools) == 30 and "All 30 are there" in shown_text(desk.tools)
    truth = {str(t.subject): body(t, desk.site.shop.standin_seed).length for t in presetter_of(desk.site).tools}
    for row in c.tray.results:
        assert row.name == "tool-from-presetter" and not row.failed
        assert abs(row.value_mm - truth[str(row.subject)]) < 2.0 * row.expanded_mm
    before = len(desk.state.entries)
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: len(desk.state.entries) == before + 30)
    hands.until(lambda: sum(row.accepted for row in desk.tools.model.rows) == 30)
    holds = {row.number: row for row in desk.tools.model.rows if row.accepted}
    assert len(holds) == 30 and holds[2].expanded < 0.02


def test_hands_at_the_presetter_see_that_a_line_was_heard(desk, hands, monkeypatch):
    screens, printed, taken = [], [], []

    def watched(found, world, screen):
        screens.append(screen)
        lines = lines_of_standin(found, world, screen)

        def line():
            text = lines()
            printed.extend([text] if text else [])
            return text

        return line

    monkeypatch.setattr(presetter_lines, "lines_of_standin", watched)
    desk.tools.controller.arrivals.came.connect(taken.append)
    c = listen(desk, hands, 2, 5)
    hands.until(lambda: c.arrivals.now is None and bool(screens))
    assert 2 * 20 < len(taken) <= screens[0]().heard <= len(printed)


def test_a_pulled_cable_and_garbage_lose_no_tool(desk, hands, shop):
    card = cards(shop)["presetters"][0]
    lines = iter(["?", "~~", "T2 Z +112.440", "T99 Z +1.0", "T2 Z +112.441", "garbage", "T5 Z +92.0"])
    server = IndicatorServer(lambda: next(lines, ""), rate_hz=20)
    put(shop, "presetters", {**card, "pattern": "T{tool} {axis} {value}", "port": server.url}, SIGNED, card)
    desk.look_again()
    hands.until(lambda: desk.site is not None and desk.site.gear.presetters[0].port == server.url)
    said = []
    desk.tools.controller.said.connect(lambda words, tone: said.append(words))  # before the first line can come
    c = listen(desk, hands, 2, 5)
    hands.until(lambda: c.arrivals.now is not None and 5 in c.arrivals.now.readings)
    server.close()
    hands.until(lambda: c.arrivals.now is None)
    QApplication.processEvents()
    assert any("What came before is there" in words for words in said) and any("T99" in words for words in said)
    assert [str(r.subject) for r in c.tray.results] == ["T2"]


def test_f12_says_what_is_missing_and_stops_again(desk, hands, shop):
    c = listen(desk, hands, 2)
    hands.until(lambda: c.arrivals.now is not None and "Listening to Alder" in shown_text(desk.tools))
    hands.press(Qt.Key.Key_F12)
    assert c.arrivals.now is None
    card = cards(shop)["presetters"][0]
    put(shop, "presetters", {**card, "retired": True}, SIGNED, card)
    desk.look_again()
    hands.until(lambda: desk.site is not None and desk.site.gear.presetters[0].retired)
    hands.press(Qt.Key.Key_F12)
    hands.until(lambda: "There is no presetter" in shown_text(desk.tools))


def test_a_window_that_listens_to_the_presetter_stays_on_its_machine(desk, hands, shop):
    hands.mend("level", "setter")
    lines = iter(["T2 Z +112.440"])
    server = IndicatorServer(lambda: next(lines, ""), rate_hz=20)
    card = cards(shop)["presetters"][0]
    put(shop, "presetters", {**card, "pattern": "T{tool} {axis} {value}", "port": server.url}, SIGNED, card)
    desk.look_again()
    settle(desk)
    before = {key: shop.document("tools", f"{key}.json") for key in ("larch", "rowan")}
    c = listen(desk, hands, 2)
    hands.until(lambda: c.arrivals.now is not None)
    desk.show_station("rowan")
    settle(desk)
    assert desk.state.key == "larch" and "presetter is listened to" in shown_text(desk)
    server.close()
    c.cancel()
    here, tray = c._root, c.tray
    desk.show_station("rowan")
    settle(desk)
    c._root, c.tray = here, tray  # as it is until somebody looks at the tray of the machine shown now
    c.change(tray.with_tool(tray.tools[0].model_copy(update={"number": 77, "id": ""})))
    settle(desk)
    assert desk.state.key == "rowan" and {k: shop.document("tools", f"{k}.json") for k in before} == before
