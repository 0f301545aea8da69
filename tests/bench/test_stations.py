"""Presetter and router beside the mill: their loops, their sheets, their stand-ins, and nothing that leaks."""

import json
from dataclasses import replace

import pytest
from PySide6.QtCore import Qt

from nonna import wiring
from nonna.bench.book.writing import Signature, event
from nonna.bench.job.unseen import not_looked_at
from nonna.bench.sheet.opening import open_sheet, prepared
from nonna.bench.sheet.signing import prepare
from nonna.bench.sheet.standin_jobs import job_of, measured
from nonna.bench.sheet.transfer_pairs import pairs
from nonna.bench.station.site import Site
from nonna.bench.station.state import read_state
from nonna.bench.station.worlds import Worlds
from nonna.bench.tables.labels import labels
from nonna.cli.main import run
from nonna.desk.actions.papers import write_labels
from nonna.desk.commands.ids import CommandId
from nonna.errors import NonnaError
from nonna.figures.figure import Label
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures.catalogue import evaluate, procedure
from nonna.procedures.evaluation import Quantity
from nonna.procedures.facts import SheetFacts, asked_face
from nonna.procedures.listing import PROCEDURES
from nonna.procedures.session import Session, SetupField
from nonna.procedures.wording import doubt_words
from nonna.shop.links.subjects import ARM, PRESETTER, RACK, SETTER, STATION, Subject, tool
from nonna.shop.records.text import body_of
from nonna.standin.world import World
from nonna.stations.branch import NOTE, branch_figure
from nonna.stations.kind import Around, kind_of
from nonna.wording.lengths import Units, feed
from tests.support.documents import START
from tests.support.examples import PRESETTER as A_CALIBRATION
from tests.support.hands import settle, shown_text
from tests.support.stations import on_standin


def states(shop, station):
    return {s.link.key: s.state.value for s in read_state(shop, START, station).links}


def test_the_presetters_loop_has_a_transfer_for_each_machine_that_takes_its_tools(shop):
    links = read_state(shop, START, "alder").kind.loop.links
    assert [link.key for link in links] == [
        "master", "runout", "repeatability", "calibration", "transfer-Larch", "transfer-Rowan", "tools",
    ]  # fmt: skip
    assert kind_of("presetter").loop.links[-2].key == "calibration"  # none where the shop has no machine
    alone = kind_of("presetter").at(Around((), (("Birch", "presetter"),)))
    assert [link.key for link in alone.loop.links] == [link.key for link in kind_of("presetter").loop.links]


@pytest.mark.parametrize("key", ["presetter", "router"])
def test_every_link_has_a_scene_a_procedure_and_an_event_that_breaks_it(key, shop):
    kind = kind_of(key).at(Around((), (("Larch", "mill"),)))
    for link in kind.loop.links:
        assert kind.scenes.get(link.key) or kind.scenes.get(link.like)
        assert link.procedure in PROCEDURES or link.sort.value == "certificate"
    broken = {name for each in kind.loop.events for name in each.breaks}
    assert broken <= {link.key for link in kind.loop.links}
    measured_links = {link.key for link in kind.loop.links if link.procedure and not link.like}
    assert measured_links <= broken
    for branch in kind.loop.branches:
        keys = [link.key for link in kind.loop.links if link.branch == branch]
        drawn = branch_figure(kind, "x", keys, [("drill", 8.0, 90.0)])
        assert drawn.strokes and drawn.scale_note == NOTE


def test_three_masters_are_cast_by_their_length(shop):
    opened = open_sheet(Site.load(shop, "alder"), "presetter-calibration", PRESETTER)
    assert {role: card["id"] for role, card in opened.cards.items()} == {
        "low": "presetter-low", "high": "presetter-high", "proof": "master-tool",
    }  # fmt: skip
    assert set(opened.facts.masters) == {"low", "high", "proof"}
    cast = procedure("presetter-calibration").cast
    assert cast(opened.choices[:1], opened.choices[0])["low"].id == opened.choices[0].id


def test_a_presetters_tool_rests_on_its_own_calibration_alone(shop):
    opened = open_sheet(Site.load(shop, "alder"), "presetter-tool", tool(2))
    calibration = Site.load(shop, "alder").standing().latest("presetter-calibration")
    assert opened.carried["setup.z_offset_mm"].record == calibration.number
    assert {"setup.z_pivot_mm", "setup.z_scale_u_ppm", "setup.x_offset_u_mm"} <= set(opened.carried)
    with pytest.raises(NonnaError, match="Presetter calibration comes first"):
        open_sheet(Site.load(shop, "rowan"), "presetter-tool", tool(2))


def test_nothing_of_one_station_leaks_into_another(shop):
    before = {key: states(shop, key) for key in ("larch", "rowan", "alder")}
    site = Site.load(shop, "alder")
    body, _ = prepare(A_CALIBRATION, Signature("K. Amsel", "Alder", PRESETTER, "Tarnholm Pump Works", True, START))
    shop.book.sign(
        [body, event("dropped", Signature("K. Amsel", "Alder", PRESETTER, "", True, START), "off the bench")]
    )
    after = {key: states(shop, key) for key in ("larch", "rowan", "alder")}
    assert (after["larch"], after["rowan"]) == (before["larch"], before["rowan"])
    assert after["alder"]["calibration"] == "broken" and after["alder"]["transfer-Larch"] == "broken"
    assert site.results().value("setter-calibration", "trigger_plane_mm") is None
    assert Site.load(shop).results().value("presetter-calibration", "z_offset_mm") is None


def test_the_stand_in_presetter_is_found_out_by_its_masters(shop):
    """Whatever its zero and scale, what the calibration leaves on the proof master is within what is stated."""
    site = Site.load(shop, "alder")
    inside = cases = 0
    for seed in range(60):
        found = on_standin(site, "presetter-calibration", PRESETTER, seed=seed)
        assert found.quantity("z_proof_en").value < 1.5
        error = found.quantity("z_proof_error_mm").estimate
        inside += abs(error.value) <= error.expanded + 0.0008  # of the proof's own certificate
        cases += 1
    assert inside / cases > 0.9


def test_the_rack_of_the_stand_in_has_one_bent_clip(shop):
    site = Site.load(shop, "rowan")
    for seed in range(8):
        found = on_standin(site, "rack-pockets", RACK, seed=seed, holder_diameter_mm=38.0, rod_diameter_mm=8.0)
        worst = max(found.extras["pockets"], key=lambda p: abs(p["across_mm"]))
        assert worst["set_aside"] and sum(p["set_aside"] for p in found.extras["pockets"]) <= 2
        assert found.quantity("pitch_mm").value == pytest.approx(80.0, abs=0.1)
        assert found.quantity("diameter_mm").value == pytest.approx(38.0, abs=0.01)


def test_the_rack_is_asked_for_holder_and_rod_before_it_is_measured(desk, hands):
    desk.show_station("rowan")
    settle(desk)
    desk.open_link("rack")
    sheet = hands.sheet("Rack")
    c = sheet.controller
    c.session = c.session.with_setup(holder_diameter_mm=None)  # as where no rack was measured before
    hands.press(Qt.Key.Key_F7)
    hands.until(lambda: "how wide the bare holder" in shown_text(sheet))
    assert sheet.controller.session.rows == ()


def test_a_home_is_held_against_the_pin_as_it_was_first_found(shop):
    site = Site.load(shop, "rowan")
    chain = [e for e in site.standing() if e.name == "home-check"]
    first, last = (body_of(shop.book.get(e.number)) for e in (chain[0], chain[-1]))
    pin = first["result"]["results"]["pin_z_mm"]["value"]
    assert "moved_z_mm" not in first["result"]["results"]
    assert last["result"]["results"]["pin_z_mm"]["value"] == pytest.approx(pin)
    opened = open_sheet(site, "home-check", STATION)
    assert opened.facts.setup["pin_z_mm"] == pytest.approx(pin)
    moved = on_standin(site, "home-check", STATION, limit_mm=0.001)
    assert moved.verdict in ("fail", "undecided") and moved.quantity("moved_x_mm").estimate.u > 0
    calm = on_standin(site, "home-check", STATION, limit_mm=0.5)
    assert calm.verdict == "pass"
    drawn = procedure("home-check").figure(opened.facts, [], moved)
    assert drawn.strokes and "exaggerated" in drawn.scale_note


def test_new_tools_of_a_presetter_and_what_it_cannot_do_are_said(shop):
    site = Site.load(shop, "alder")
    with pytest.raises(NonnaError, match="not among this presetter's tools"):
        on_standin(site, "presetter-tool", tool(99), z_offset_mm=0.0)
    with pytest.raises(NonnaError, match="cannot do"):
        measured(job_of(site, Session("face-level", prepared(site, "face-level", PRESETTER).facts)), World.from_seed(1))
    assert Worlds().of(site).seed == site.shop.standin_seed


def test_loop_and_prepare_know_the_stations_by_name(shop, capfd):
    assert run(["loop", "--shop", str(shop.root), "--station", "Alder"], lambda _: 9) == 0
    told = json.loads(capfd.readouterr().out)
    assert (told["kind"], told["station"]) == ("presetter", "Alder")
    assert {"transfer-Larch", "calibration"} <= {link["key"] for link in told["links"]}
    command = ["prepare", "presetter-calibration", "--shop", str(shop.root), "--station", "Alder"]
    assert run(command, lambda _: 9) == 0
    ready = json.loads(capfd.readouterr().out)
    assert set(ready["masters"]) == {"low", "high", "proof"} and ready["readings"] == []


def test_a_morning_on_presetter_and_router_by_keyboard(desk, hands, tmp_path):
    desk.show_station("alder")
    settle(desk)
    assert "presetter" in shown_text(desk) and "Transfer to Rowan" in shown_text(desk.loop)
    desk.open_link("calibration")
    hands.sheet("Presetter")
    hands.standin()
    assert "what is put right" in desk.sheet.controller.picture().figure.title
    hands.enter()
    receipt = desk.sheet.controller.receipt
    hands.enter()
    hands.until(lambda: desk.sheet is None)
    wiring.write_certificate(desk.folder.book.get(receipt.number), tmp_path / "c.pdf", None)
    assert (tmp_path / "c.pdf").read_bytes().startswith(b"%PDF")
    hands.press(Qt.Key.Key_F3)
    hands.until(lambda: desk.places.at(CommandId.TOOLS))
    hands.until(lambda: "one at a time" in shown_text(desk.tools))
    assert "no setter" not in shown_text(desk.tools)
    desk.tools.table.go_to(3)
    desk.measure((tool(3),))
    sheet = hands.sheet("T3")
    assert sheet.controller.session.name == "presetter-tool"
    hands.standin()
    hands.enter()
    hands.enter()
    hands.until(lambda: desk.sheet is None)
    settle(desk)
    assert states(desk.folder, "alder")["calibration"] == "holds"
    desk.open_link("transfer-Rowan")
    hands.sheet("station:Rowan")
    hands.standin()
    hands.enter()
    hands.enter()
    hands.until(lambda: desk.sheet is None)
    settle(desk)
    assert next(s for s in desk.state.links if s.link.key == "transfer-Rowan").state.value == "holds"
    desk.show_station("rowan")
    settle(desk)
    assert len(desk.loop.stations) == 5 and "To Larch" not in shown_text(desk.loop)
    desk.open_link("rack")
    sheet = hands.sheet("Rack")
    for field, value in (("holder_diameter_mm", 38.0), ("rod_diameter_mm", 8.0)):
        sheet.controller.set_field(SetupField(field), value)
    hands.standin()
    assert "out of the row" in sheet.controller.picture().headline
    desk.show_station("larch")
    settle(desk)
    assert "vertical mill" in shown_text(desk) and len(desk.loop.stations) == 10


def test_the_transfer_is_a_record_about_one_machine(shop):
    assert str(Subject.of("station:Larch")) == "station:Larch"
    entry = Site.load(shop, "alder").standing().latest("presetter-transfer")
    assert str(entry.subject) == "station:Larch"


def test_a_transfer_starts_from_what_both_have_measured(desk, hands):
    """Nobody types a length that the book holds; a tool of the same number that is another tool is none of them."""
    site = Site.load(desk.folder, "alder")
    found = pairs(site, "Larch")
    assert [pair.name for pair in found] == ["T9", "T14", "T2"]
    assert pairs(site, "Rowan") == ()  # its T2 is a spiral cutter, not the presetter's drill
    desk.show_station("alder")
    settle(desk)
    desk.open_link("transfer-Larch")
    sheet = hands.sheet("station:Larch")
    c = sheet.controller
    assert [row.values["tool"] for row in c.session.rows] == ["T9", "T14", "T2"]
    first = found[0]
    assert c.session.rows[0].source == f"records {first.presetter.record.number}, {first.machine.record.number}"
    assert not c.unsigned and desk.sheets.waiting == ""  # nothing is lost with it
    for length in ("120.010", "120.020", "140.010", "140.021"):
        hands.enter(length)
    assert c.unsigned and c.session.next_slot is None
    assert c.session.evaluate().quantity("transfer_mm").estimate.dof == 4
    assert c.session.facts.setup["presetter_means_of"] == max(p.means_of for p in found) >= 2
    desk.sheets.let_go()  # left unsigned and taken up again: the tools' names are still those of the slots
    settle(desk)
    desk.open_link("transfer-Larch")
    c = hands.sheet("station:Larch").controller
    assert len(c.session.rows) == 5 and c.session.next_slot is None
    hands.enter()
    body = body_of(desk.folder.book.get(c.receipt.number))
    assert [row["source"] for row in body["tape"]].count("typed") == 2
    carried = open_sheet(Site.load(desk.folder), "tool-from-presetter", Subject.of("T2")).facts.setup
    assert carried["transfer_means_of"] == c.session.facts.setup["presetter_means_of"]
    assert evaluate(body["input"]).to_document() == body["result"]


def test_labels_of_what_holds_with_the_code_of_their_record(desk, hands, tmp_path):
    state = read_state(desk.folder, START, "alder")
    made = labels(state, state.results.read)
    assert [label.number for label in made] == [2, 5, 9, 14]
    record = desk.folder.book.get(made[0].record)
    assert made[0].hash == record.hash
    assert made[0].length_mm == pytest.approx(body_of(record)["result"]["results"]["length_mm"]["value"])
    many = [replace(made[0], name="<b>&" * 40)] * 30  # more than a page, a stranger's name
    wiring.write_labels(tmp_path / "many.pdf", many, "Alder, Tarnholm Pump Works", Units.INCH)
    text = (tmp_path / "many.pdf").read_bytes()
    assert text.startswith(b"%PDF") and text.count(b"/Type /Page\n") == 2
    write_labels(desk, tmp_path / "none.pdf")  # nothing holds on the mill: its setter was knocked
    hands.until(lambda: "measure them first" in shown_text(desk))
    assert not (tmp_path / "none.pdf").exists()
    desk.show_station("alder")
    settle(desk)
    write_labels(desk, tmp_path / "labels.pdf")
    hands.until(lambda: "4 labels" in shown_text(desk))
    assert (tmp_path / "labels.pdf").read_bytes().startswith(b"%PDF")


def test_a_look_at_what_changed_never_swallows_a_move_to_another_station(desk, hands, shop):
    settle(desk)
    signature = Signature("K. Amsel", "Larch", STATION, "Tarnholm Pump Works", True)
    desk.show_station("rowan")
    shop.book.sign([event("cleaned", signature, "by another program")])
    desk.look_again()  # as the window does when it is come back to, or a while after a change
    hands.until(lambda: desk.machine_name == "Rowan")
    desk.show_station("birch")  # it is not there: the one before stays, with what was signed meanwhile
    shop.book.sign([event("cleaned", signature, "and once more")])
    hands.until(lambda: "is not opened" in shown_text(desk))
    hands.until(lambda: desk.state.entries[-1].note == "and once more")
    assert desk.machine_name == "Rowan"


@pytest.mark.parametrize(
    ("station", "gone"),
    [("larch", {"runout", "ring", "probe", "closure", "proof"}), ("willow", {"alignment", "ring", "parts"})],
)
def test_a_station_without_a_probe_is_not_asked_for_one(shop, station, gone):
    there = {state.link.key for state in read_state(shop, station=station).links}
    assert gone <= there
    gear = json.loads((shop.root / "gear.json").read_text())
    (shop.root / "gear.json").write_text(json.dumps({**gear, "probes": []}))
    assert gone <= {state.link.key for state in read_state(shop, station=station).links}  # it had one: its records stay
    (shop.root / "ledger.sqlite").unlink()
    state = read_state(wiring.shop_files(shop.root), station=station)
    assert {s.link.key for s in state.links} == there - gone
    assert all(job.link.key not in gone for job in state.jobs)
    assert all(event.breaks <= there - gone for event in state.kind.loop.events)
    assert all(set(link.hangs_on) <= there - gone for link in state.kind.loop.links)


def test_the_arm_is_no_taper_and_a_doubt_has_one_unit():
    facts = SheetFacts(subject=ARM)
    words = " ".join(step.words for step in procedure("repeatability").steps(facts))
    assert "taper" not in words and "arm" in words
    influences = Influences()
    found = Quantity.of("x", "X", influences.estimate(influences.add("touch", 12.0, 0.34)))
    assert doubt_words(found, Units.MM).startswith("± 6") and doubt_words(found, Units.MM).endswith("µm")
    assert feed(0.3, Units.INCH) == "0.012" and feed(600.0, Units.MM) == "600" and feed(3.0, Units.INCH) == "0.12"


def test_clean_says_in_the_same_breath_what_nobody_described(shop):
    site = Site.load(shop)
    whole = [t for t in site.tools if t.holder]
    assert not_looked_at(site.machine, whole[:1]) == ""
    bare = [t.model_copy(update={"holder": []}) for t in whole][:2]
    machine = site.machine.model_copy(update={"spindle": None, "obstacles": []})
    said = not_looked_at(machine, bare)
    assert all(w in said for w in ("spindle nose", f"T{bare[0].number}", "clamped on the table"))


def test_the_face_that_is_asked_for_is_lit_from_above(shop):
    for station, name, subject, first in (
        ("larch", "setter-calibration", SETTER, "+x"),
        ("willow", "lathe-arm", ARM, "+x"),
    ):
        facts = prepared(Site.load(shop, station), name, subject).facts
        found, readings = procedure(name), []
        for slot in found.slots(facts):
            face = slot.fields["face"]
            figure = found.figure(facts, readings, None)
            lit = [s.words for s in figure.strokes if isinstance(s, Label) and s.ink == "accent" and s.bold]
            assert face == "top" or face in lit, (name, face, lit)
            assert face != first or "rom above" in figure.title or station == "willow"
            readings.append({"face": face, "position_mm": 1.0})
        assert asked_face(found.slots(facts), readings) == ""
