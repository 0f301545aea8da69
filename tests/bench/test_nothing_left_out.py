"""A damaged file is refused whole: nothing in it is passed over, and nothing of it is lost when it is changed."""

import json

import pytest

from nonna.bench.book.writing import Signature
from nonna.bench.founding.one_more_station import add_station
from nonna.bench.job.breakage_checks import OPERATIONS, keep_operations, kept_operations
from nonna.bench.shelf.shelving import put
from nonna.bench.station.state import glanced_at
from nonna.bench.tables.wear_column import write_wear
from nonna.errors import NonnaError
from nonna.metrology.check_planning import Operation
from nonna.shop.texts.given import Given
from nonna.stations.questions import Founded

WHO = Signature("K. Amsel", "Larch", shop="Tarnholm Pump Works", invented=True)
GOOD = {"tool": "T2", "minutes": 3.0, "break_probability": 0.01, "loss": 40.0, "feature": "bore"}


def test_operations_come_back_as_they_were_kept(shop):
    assert kept_operations(shop) == ([], 0.4)
    keep_operations(shop, [Operation(**GOOD)], 0.7)
    assert kept_operations(shop) == ([Operation(**GOOD)], 0.7)


@pytest.mark.parametrize(
    "rows", [["junk"], [{**GOOD, "colour": "red"}], [{**GOOD, "loss": "40"}], [{"tool": "T2"}], [{**GOOD,
        "break_probability": 2.0}], {}, "none"],
)  # fmt: skip
def test_operations_that_nobody_wrote_are_refused_by_the_files_name(shop, rows):
    (shop.root / OPERATIONS).write_text(json.dumps({"check_cost": 0.4, "operations": rows}))
    with pytest.raises(NonnaError, match=r"operations\.json"):
        kept_operations(shop)


def spoilt(shop, *parts, group):
    """Put something among a file's rows that is none, and return what the file holds then."""
    path = shop.root.joinpath(*parts)
    body = json.loads(path.read_text())
    body[group] = [*body[group], "junk"]
    path.write_text(json.dumps(body))
    return path.read_bytes()


def test_no_change_of_a_file_leaves_out_what_is_damaged_in_it(shop):
    card = {**shop.gear().probes[0].model_dump(), "kept": "drawer"}
    machine = {**shop.document("machines", "larch.json"), "name": "Yew"}
    tools = spoilt(shop, "tools", "willow.json", group="tools")
    gear = spoilt(shop, "gear.json", group="probes")
    for change in (
        lambda: write_wear(shop, "willow", ()),
        lambda: put(shop, "probes", card, WHO),
        lambda: add_station(shop, Founded(machine, {"probes": ({"name": "New"},)}), WHO),
        lambda: glanced_at(shop, "larch"),
    ):
        with pytest.raises(NonnaError):
            change()
    assert (shop.root / "tools" / "willow.json").read_bytes() == tools
    assert (shop.root / "gear.json").read_bytes() == gear


def test_a_list_gives_all_it_holds_or_nothing():
    assert Given({"rows": [{"a": 1}], "numbers": [1, 2.5]}).rows("rows") == (Given({"a": 1}),)
    assert Given({"numbers": [1, 2.5]}).numbers("numbers") == (1.0, 2.5)
    for ask in (Given.rows, Given.objects, Given.numbers):
        with pytest.raises(TypeError):
            ask(Given({"x": [{"a": 1}, None]}), "x")
    with pytest.raises(TypeError):
        Given({"x": [1]}).part("x")
