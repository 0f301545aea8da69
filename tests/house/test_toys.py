"""A kind of station, and a procedure, are a folder and a line: proved with ones that exist here alone."""

import json
import shutil
from pathlib import Path

import pytest
from PySide6.QtCore import Qt

import nonna.desk.pages
import nonna.procedures
import nonna.stations
from nonna import wiring
from nonna.bench.guide_pages import about, topics
from nonna.bench.job.measuring import judged_of, read_back
from nonna.bench.job.programs_written import left_in, note_written
from nonna.bench.sheet.judging import sign_all
from nonna.bench.sheet.opening import prepared
from nonna.bench.station.site import Site
from nonna.bench.station.state import read_state
from nonna.cli.main import run
from nonna.desk.actions.choices import choices
from nonna.desk.actions.helping import topic_of
from nonna.desk.commands.page_keys import keys_of
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.look import style
from nonna.desk.look.palette import LIGHT
from nonna.desk.start.window_making import make_window
from nonna.procedures import listing
from nonna.procedures.catalogue import evaluate
from nonna.procedures.listing import PROCEDURES
from nonna.programs.writing.results import from_parameters
from nonna.shop.links.subjects import Subject
from nonna.shop.records.text import body_of
from nonna.standin.world import World
from nonna.stations.branch import branch_figure, plain_scene
from tests.support.documents import START
from tests.support.hands import Hands, settle, shown_text
from tests.support.tool_programs import run_on_standin, tools_program

TOYS = Path(__file__).parents[1] / "toys"
STATIONS = TOYS / "stations"
OAK = {
    "format": "nonna-machine/1", "name": "Oak", "kind": "feeler",
    "travel_mm": {"x": [0, 1], "y": [0, 1], "z": [-50, 0]},
    "rapid_mm_min": {"xy": 100, "z": 100}, "acceleration_mm_s2": {"xy": 10, "z": 10},
}  # fmt: skip
BLOCK = {"id": "b", "name": "Block 20", "kind": "block", "length_mm": 20.0001, "U_length_mm": 0.0002, "k": 2.0,
    "due": "2027-12-01"}  # fmt: skip


@pytest.fixture
def toys():
    """Put the folder of toys beside the real kinds, as if it lay there."""
    nonna.stations.__path__.append(str(STATIONS))
    topics.cache_clear()
    yield
    nonna.stations.__path__.remove(str(STATIONS))
    topics.cache_clear()


@pytest.fixture
def stand(toys, tmp_path):
    root = tmp_path / "stand"
    for name, document in {
        "shop.json": {
            "format": "nonna-shop/1", "name": "Toy shop", "operators": ["K. Amsel"], "machines": ["oak"],
            "invented": True,
        },
        "masters.json": {"format": "nonna-masters/1", "masters": [BLOCK]},
        "machines/oak.json": OAK,
        "tools/oak.json": {"format": "nonna-tools/1", "tools": []},
    }.items():  # fmt: skip
        (root / name).parent.mkdir(parents=True, exist_ok=True)
        (root / name).write_text(json.dumps(document))
    return wiring.shop_files(root)


def words(shop):
    return {s.link.key: s.state.value for s in read_state(shop, START).links}


def test_a_toy_station_is_a_folder(stand, tmp_path, qtbot, qapp, capfd):
    style.load_fonts()
    style.apply(qapp, LIGHT)
    assert words(stand) == {"block": "holds", "zero": "never", "check": "never"}
    window = make_window(stand, DeskSettings(tmp_path / "d.ini"))
    qtbot.addWidget(window)
    hands = Hands(window, qtbot)
    window.show()
    hands.until(lambda: window.site is not None)
    assert "feeler stand" in shown_text(window) and "Set the feeler to zero" in shown_text(window.loop)
    for link in ("zero", "check"):
        window.open_link(link)
        hands.sheet("Feeler")
        hands.standin()
        hands.enter()
        receipt = window.sheet.controller.receipt
        hands.enter()
        hands.until(lambda: window.sheet is None)
    settle(window)
    assert words(stand) == {"block": "holds", "zero": "holds", "check": "holds"}
    again = prepared(Site.load(stand), "feeler-zero", Subject.of("Feeler"))
    assert again.carried["setup.repeatability_mm"].record == receipt.number  # from the check, without its name
    assert about("pricks")[0].title == "Feeler zero"
    first, cards, last = stand.book.all()
    assert body_of(cards)["kind"] == "card" and receipt.number == last.number  # how they stood, signed with the first
    record = stand.book.get(first.number)
    assert body_of(record)["result"]["results"]["zero_mm"]["value"] == pytest.approx(1.2346, abs=1e-4)
    assert body_of(record)["result"] == json.loads(json.dumps(evaluate(body_of(record)["input"]).to_document()))
    wiring.write_certificate(record, tmp_path / "c.pdf", None)
    assert (tmp_path / "c.pdf").read_bytes().startswith(b"%PDF")
    hands.window.grab().save(str(tmp_path / "loop.png"))
    kind = window.state.kind
    drawn = branch_figure(kind, "Oak", ["block", "zero", "check"], ())
    assert any(getattr(stroke, "words", "") == "0" for stroke in drawn.strokes)
    for key in ("block", "check"):  # without a scene of their own: drawn plainly, never as nothing
        assert set(map(repr, plain_scene(228.0 * (0.5 + 2 * (key == "check")), kind.loop.link(key).title))) <= set(
            map(repr, drawn.strokes)
        )
    assert run(["loop", "--shop", str(stand.root)], lambda _: 9) == 0
    told = json.loads(capfd.readouterr().out)
    assert (told["kind"], [link["key"] for link in told["links"]]) == ("feeler", ["block", "zero", "check"])
    assert told["weakest"]["link"] == "zero"
    window.sheets.let_go()
    window.close()


def test_a_toy_station_programs_its_own_tools(stand, tmp_path, capfd):
    stand.change(("machines", "oak.json"), lambda old: {**old, "kind": "prober"})
    tools = [{"number": n, "kind": "drill", "diameter_mm": 8.0, "length_mm": 90.0} for n in (1, 2)]
    stand.change(("tools", "oak.json"), lambda old: {**old, "tools": tools})
    site = Site.load(stand)
    plan = tools_program(site, (1, 2))
    assert plan.trial.text.splitlines()[::10] == ["P1", "P2"] and plan.numbers == (1, 2)
    rows = run_on_standin(site, plan, World.from_seed(1))
    assert [(str(row.subject), row.name) for row in rows] == [("T1", "repeatability"), ("T2", "repeatability")]
    assert all(row.evaluation is not None for row in rows)
    note_written(stand, "Oak", plan)
    printed = "".join(f"#{200 + i} = {0.001 * (i % 2)}\n" for i in range(10))
    back = read_back(from_parameters(printed, left_in(stand, "Oak")).rows, None, site)
    (row,) = judged_of(back, site, "file print-out.txt")
    assert sign_all((row,), "K. Amsel")[0].number and row.subject.id == "T2"
    (tmp_path / "p.nc").write_text(plan.trial.text)
    files = [str(stand.root / name / "oak.json") for name in ("machines", "tools")]
    asked = ["rehearse", str(tmp_path / "p.nc"), "--machine", files[0], "--tools", files[1]]
    assert run(asked, lambda _: 9) == 0 and json.loads(capfd.readouterr().out)["duration_s"] == 20.0


@pytest.fixture
def wall():
    """Put the toy page beside the real ones, as if it lay there."""
    nonna.desk.pages.__path__.append(str(TOYS / "pages"))
    topics.cache_clear()
    yield
    nonna.desk.pages.__path__.remove(str(TOYS / "pages"))
    topics.cache_clear()


def test_a_toy_page_is_a_folder(stand, wall, tmp_path, qtbot, qapp):
    style.load_fonts()
    window = make_window(stand, DeskSettings(tmp_path / "d.ini"))
    qtbot.addWidget(window)
    hands = Hands(window, qtbot)
    window.show()
    hands.until(lambda: window.site is not None and window.state is not None and window.settled)
    assert "Wall" in shown_text(window.rail) and topic_of(window) == "loop"
    hands.until(lambda: any(a.text() == "Go to the wall" for a in window.actions()))
    hands.press(Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    hands.until(lambda: window.places.at("wall"))
    assert "This is Oak" in shown_text(window) and topic_of(window) == "wall"
    assert next(t for t in topics() if t.key == "wall").text.startswith("Says from across")
    assert ("Enter", "Back to the loop") in dict.fromkeys(keys_of("wall"))
    assert any(offer.words == "Go to the wall" for offer in choices(window.state))
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: window.places.at("loop"))
    window.close()


def test_without_its_folder_a_kind_is_refused_by_name(stand, toys):
    nonna.stations.__path__.remove(str(STATIONS))
    try:
        assert "feeler-zero" not in PROCEDURES
        with pytest.raises(Exception, match="'mill', 'router'"):
            stand.machine("oak")
    finally:
        nonna.stations.__path__.append(str(STATIONS))


def test_a_toy_procedure_is_a_folder_and_a_word(monkeypatch, tmp_path, capfd):
    shutil.copytree(STATIONS / "feeler" / "procedures" / "zero", tmp_path / "toy_gap")
    for file in (tmp_path / "toy_gap").glob("*.py"):
        made = file.read_text().replace("stations.feeler.procedures.zero", "procedures.toy_gap")
        file.write_text(made.replace("feeler-zero", "toy-gap").replace('Subject.of("Feeler")', "Subject.of('')"))
    monkeypatch.setattr(nonna.procedures, "__path__", [*nonna.procedures.__path__, str(tmp_path)])
    monkeypatch.setattr(listing, "SHARED", (*listing.SHARED, "toy_gap"))
    document = {
        "format": "nonna-readings/1", "procedure": "toy-gap", "setup": {"height_mm": 5.0, "resolution_mm": 0.001},
        "readings": [{"position_mm": v} for v in (5.1, 5.101, 5.099)],
    }  # fmt: skip
    (tmp_path / "r.json").write_text(json.dumps(document))
    assert run(["evaluate", str(tmp_path / "r.json")], lambda _: 9) == 0
    assert json.loads(capfd.readouterr().out)["results"]["zero_mm"]["value"] == pytest.approx(0.1, abs=1e-3)
    assert run(["schema", "toy-gap"], lambda _: 9) == 0
    assert "height_mm" in capfd.readouterr().out
    shop = tmp_path / "shop"
    assert run(["record", str(tmp_path / "r.json"), "--shop", str(shop), "--operator", "K. Amsel"], lambda _: 9) == 0
    assert run(["certificate", "1", "--shop", str(shop), "-o", str(tmp_path / "c.pdf")], lambda _: 9) == 0
    assert (tmp_path / "c.pdf").read_bytes().startswith(b"%PDF")
