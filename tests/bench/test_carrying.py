"""What is carried from link to link: by name, from records that hold, of this station and setter, with its freedom."""

import json
import math

import pytest

from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench.book.results_that_hold import Nothing
from nonna.bench.book.writing import Grounds, Signature
from nonna.bench.job.planning import calibrated
from nonna.bench.sheet.opening import open_sheet, prepared
from nonna.bench.sheet.signing import prepare, withdraw
from nonna.bench.station.site import Site, open_site
from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.metrology.doubt.coverage import carried_dof
from nonna.procedures.catalogue import evaluate
from nonna.shop.links.subjects import Subject
from nonna.shop.records.text import body_of
from tests.support.chains import CHAINS, share
from tests.support.documents import REPEAT, SETTER, TOOL
from tests.support.ledgers import Ledger

SIDES_ONLY = {**SETTER, "readings": [r for r in SETTER["readings"] if r["face"] != "top"]}
OVER = {**SETTER, "setup": {"limit_range_mm": 0.0001}}
LARCH = Signature("K. Amsel", "Larch", Subject.of("Setter"))


@pytest.fixture
def bare(tmp_path):
    return ShopFolder(tmp_path / "bare")


def signed(folder, document, signature=LARCH):
    book = Ledger(folder.ledger)
    return book.add(prepare(document, signature)[0]).number


def plane_of(folder, station="Larch"):
    found = open_site(folder, station).results().find("setter-calibration", "trigger_plane_mm")
    return found if isinstance(found, Nothing) else found.record.number


def test_a_calibration_without_top_touches_gives_no_plane(shop):
    site = Site.load(shop)
    before = plane_of(shop)
    signed(shop, SIDES_ONLY)
    assert plane_of(shop) == before  # the last that holds one
    assert open_sheet(site, "tool-length", Subject.of("T2")).facts.setup["trigger_plane_mm"] < -400
    assert Site.load(shop).standing()[-1].value_mm is None  # and no other result stands in for it


def test_nothing_is_planned_or_measured_on_a_plane_nobody_found(bare, shop):
    signed(bare, SIDES_ONLY)
    why = plane_of(bare)
    assert "does not hold that result (trigger_plane_mm)" in why.why
    site = Site.load(shop)
    empty = open_site(bare, "Larch").results()
    with pytest.raises(NonnaError, match="trigger plane is not known"):
        calibrated(site.machine, empty)
    with pytest.raises(NonnaError, match="Setter calibration comes first"):
        open_sheet(open_site(bare, "Larch"), "tool-length", Subject.of("T2"))


@pytest.mark.parametrize(
    ("document", "signature", "words"),
    [
        (OVER, LARCH, "over its limit"),
        (SETTER, Signature("K. Amsel", "Rowan", Subject.of("Setter")), "no setter calibration"),
        (SETTER, Signature("K. Amsel", "Larch", "Beam setter"), "is of another: Beam setter"),
    ],
)
def test_what_is_not_of_this_setter_or_failed_is_not_carried(bare, document, signature, words):
    signed(bare, TOOL, Signature("K. Amsel", "Larch", Subject.of("T2")))
    signed(bare, document, signature)
    assert words in plane_of(bare).why
    good = signed(bare, SETTER)
    signed(bare, document, signature)
    assert plane_of(bare) == good


def test_a_setter_that_was_replaced_takes_its_plane_along(bare, shop):
    signed(shop, SETTER, Signature("K. Amsel", "Larch", Subject.of("Setter"), setter="another-pad"))
    site = Site.load(shop)
    assert site.setter == "pad-1"
    found = site.results().find("setter-calibration", "trigger_plane_mm")
    assert body_of(found.record)["setter"] == "pad-1"


def test_a_withdrawn_record_is_passed_over_and_an_undecided_one_flagged(bare):
    first = signed(bare, SETTER)
    loose = {**SETTER, "readings": [r for i, r in enumerate(SETTER["readings"]) if i not in (1, 2)]}
    second = signed(bare, loose)  # one touch on top has no range: undecided
    opening = open_sheet(open_site(bare, "Larch"), "tool-length", Subject.of("T2"))
    assert opening.carried["setup.trigger_plane_mm"].record == second
    assert opening.undecided == (second,) and opening.carried["setup.trigger_plane_mm"].verdict == "undecided"
    withdraw(bare.book, second, "K. Amsel", "slipped")
    with pytest.raises(NonnaError, match="taken back already"):
        withdraw(bare.book, second, "K. Amsel", "again")
    assert plane_of(bare) == first


def test_unnamed_records_belong_to_the_first_station_alone(shop):
    signed(shop, SETTER, Signature("K. Amsel", "", Subject.of("Setter")))
    larch = Site.load(shop)
    assert larch.standing()[-1].machine == ""
    shop.root.joinpath("machines", "rowan.json").write_text(
        json.dumps({**shop.document("machines", "larch.json"), "name": "Beech"})
    )
    rowan = Site.load(shop, "Beech")
    assert (rowan.key, rowan.home) == ("rowan", "Larch")
    assert [e for e in rowan.standing() if e.kind == "measurement"] == []
    with pytest.raises(NonnaError, match="no station"):
        Site.load(shop, "Elm")


def test_value_doubt_and_freedom_go_together(bare):
    number = signed(bare, SETTER)
    opening = prepared(open_site(bare, "Larch"), "tool-length", Subject.of("T2"))
    row = body_of(Ledger(bare.ledger).get(number))["result"]["results"]["trigger_plane_mm"]
    setup = opening.facts.setup
    assert (setup["trigger_plane_mm"], setup["trigger_plane_u_mm"]) == (row["value"], row["u"])
    assert setup["trigger_plane_dof"] == pytest.approx(carried_dof(row["k"]))
    few = {**SETTER, "readings": [r for r in SETTER["readings"] if r["face"] == "top"][:2]}
    few["masters"] = {"master": {"length_mm": 140.0, "diameter_mm": 16.0}}
    k = evaluate(few).quantity("trigger_plane_mm").estimate.k
    signed(bare, {**few, "setup": {}})
    assert k > 12 and prepared(open_site(bare, "Larch"), "tool-length", Subject.of("T2")).facts.setup[
        "trigger_plane_dof"
    ] == pytest.approx(1, abs=0.01)


def test_a_check_of_a_tool_measured_on_the_same_plane_leaves_the_plane_out(bare):
    signed(bare, SETTER)
    site = open_site(bare, "Larch")
    setup = prepared(site, "tool-length", Subject.of("T2")).facts.setup
    carried = prepared(site, "tool-length", Subject.of("T2")).carried
    from nonna.bench.book.writing import Grounds

    rows = [{"position_mm": -340.0 + 1e-4 * i} for i in (1, -1, 2)]
    document = {"format": "nonna-readings/1", "procedure": "tool-length", "setup": dict(setup), "readings": rows}
    book = Ledger(bare.ledger)
    body, found = prepare(document, Signature("K. Amsel", "Larch", Subject.of("T2")), Grounds(carried=carried))
    book.add(body)
    check = open_sheet(open_site(bare, "Larch"), "breakage", Subject.of("T2")).facts.setup
    own = found.quantity("length_mm").estimate.part("setup.trigger_plane_mm")
    assert check["same_plane"] is True and check["reference_u_mm"] == pytest.approx(math.hypot(*(s.u for s in own)))


@pytest.mark.parametrize("use", [False, True])
@pytest.mark.parametrize("chain", sorted(CHAINS))
def test_whole_chains_hold_the_truth(chain, use):
    assert 0.92 <= share(chain, 3, use, 500) <= 0.985


# -- the command line over the same functions


def said(capfd, *arguments):
    status = run([str(a) for a in arguments], lambda given: 99)
    out, err = capfd.readouterr()
    assert "Traceback" not in err
    return status, [json.loads(line) for line in out.splitlines() if line.strip()]


def test_a_prepared_file_is_filled_in_and_signed(tmp_path, capfd):
    shop, file = tmp_path / "shop", tmp_path / "r.json"
    file.write_text(json.dumps(REPEAT))
    assert said(capfd, "record", file, "--shop", shop, "--operator", "K. Amsel", "--station", "Larch")[0] == 0
    status, (made,) = said(capfd, "prepare", "tool-length", "--shop", shop)
    assert status == 0 and made["readings"] == []
    assert [(m["field"], m["from"]) for m in made["missing"]] == [("trigger_plane_mm", "setter-calibration")]
    assert "no setter calibration" in made["missing"][0]["why"]
    file.write_text(json.dumps(SETTER))
    assert said(capfd, "record", file, "--shop", shop, "--operator", "K. Amsel", "--station", "Larch")[0] == 0
    (made,) = said(capfd, "prepare", "tool-length", "--shop", shop, "--subject", "T2")[1]
    assert made["missing"] == [] and {"trigger_plane_mm", "trigger_plane_u_mm", "repeatability_mm"} <= set(
        made["setup"]
    )
    made["readings"] = TOOL["readings"]
    file.write_text(json.dumps(made))
    assert said(capfd, "evaluate", file)[0] == 0
    status, (receipt,) = said(
        capfd, "record", file, "--shop", shop, "--operator", "K. Amsel", "--station", "Larch", "--subject", "T2"
    )
    assert (status, receipt["record"]) == (0, 3)
    status, (loop,) = said(capfd, "loop", "--shop", shop)
    assert (loop["format"], loop["station"], loop["kind"]) == ("nonna-loop/1", "Larch", "mill")
    states = {link["key"]: link for link in loop["links"]}
    assert states["setter"]["record"] == 2 and states["tools"]["record"] == 3 and states["setter"]["hangs_on"]
    assert {row["state"] for row in loop["links"]} <= {"holds", "due", "broken", "never"}
    assert loop["weakest"]["link"] in ("setter", "tools") and 0 < loop["weakest"]["share"] <= 1
    assert all(job["minutes"] >= 0 and job["link"] in states for job in loop["next"])
    assert said(capfd, "ledger", "withdraw", "2", "--shop", shop, "--operator", "J. Finch", "--why", "slipped")[0] == 0
    (made,) = said(capfd, "prepare", "tool-length", "--shop", shop)[1]
    assert [m["field"] for m in made["missing"]] == ["trigger_plane_mm"]
    for bad in (["77"], ["x"], ["4"], [""]):
        assert said(capfd, "ledger", "withdraw", *bad, "--shop", shop, "--operator", "J. Finch", "--why", "no")[0] == 2
    assert said(capfd, "ledger", "withdraw", "1", "--shop", shop, "--operator", "J. Finch")[0] == 2  # no reason
    assert said(capfd, "ledger", "verify", "--shop", shop)[0] == 0


def test_stations_are_named_where_there_are_several(tmp_path, capfd, shop):
    bare, file = tmp_path / "two", tmp_path / "r.json"
    file.write_text(json.dumps(SETTER))
    for station in ("Larch", "Rowan"):
        said(capfd, "record", file, "--shop", bare, "--operator", "K. Amsel", "--station", station)
    status, (error,) = said(capfd, "prepare", "tool-length", "--shop", bare)
    assert (status, error["error"]["where"]) == (2, "station")
    assert said(capfd, "loop", "--shop", bare, "--station", "Rowan")[1][0]["station"] == "Rowan"
    assert said(capfd, "prepare", "tool-length", "--shop", bare, "--station", "Elm")[1][0]["missing"]
    assert said(capfd, "record", file, "--shop", shop.root, "--operator", "K. Amsel", "--station", "Elm")[0] == 2
    assert said(capfd, "prepare", "nonsense", "--shop", bare)[0] == 2
    assert said(capfd, "loop", "--shop", tmp_path / "nothing")[0] == 2
    status, (ready,) = said(capfd, "prepare", "setter-calibration", "--shop", shop.root)
    assert status == 0 and ready["masters"]["master"]["k"] == 2.0 and ready["missing"] == []


def test_a_check_pools_its_touches_with_those_of_the_reference(bare):
    site = open_site(bare, "Larch")
    signed(bare, SETTER)
    setup = dict(prepared(site, "tool-length", Subject.of("T2")).facts.setup)
    setup.pop("repeatability_mm", None), setup.pop("repeatability_dof", None), setup.pop("resolution_mm", None)
    touches = [{"position_mm": -340.0 + 1e-4 * i} for i in (1, -1, 2)]
    file = {
        "format": "nonna-readings/1",
        "procedure": "tool-length",
        "setup": {**setup, "limit_mm": None},
        "readings": touches,
    }
    file["setup"] = {k: v for k, v in file["setup"].items() if v is not None}
    carried = prepared(site, "tool-length", Subject.of("T2")).carried
    book = Ledger(bare.ledger)
    body, _ = prepare(file, Signature("K. Amsel", "Larch", Subject.of("T2")), Grounds(carried=carried))
    book.add(body)
    check = open_sheet(open_site(bare, "Larch"), "breakage", Subject.of("T2")).facts.setup
    assert (check["same_plane"], check["reference_touches"], check["reference_dof"]) == (True, 3, 2.0)
    rows = [{"position_mm": -340.0 + 1e-4 * i} for i in (0, 3)]
    wanted = {k: v for k, v in check.items() if k not in ("repeatability_mm", "repeatability_dof", "resolution_mm")}
    found = (
        evaluate({**file, "procedure": "breakage", "setup": wanted, "readings": rows}).quantity("change_mm").estimate
    )
    s = math.sqrt((4.6667 + 4.5) / 3) * 1e-4  # both variances, two degrees of freedom and one
    assert found.u == pytest.approx(s * math.sqrt(1 / 3 + 1 / 2), rel=1e-4)
    assert found.dof == pytest.approx(3) and found.k == pytest.approx(3.182, abs=1e-3)
    assert sum(row.share for row in found.budget) == pytest.approx(1)
    for other in ({"same_plane": False}, {"repeatability_mm": 0.0001}, {"reference_dof": 5.0}):
        alone = evaluate({**file, "procedure": "breakage", "setup": {**wanted, **other}, "readings": rows})
        assert alone.quantity("change_mm").estimate.dof != pytest.approx(3)
