"""Cards leave a trail: each change signed with old and new; what was changed outside is found, said, taken over or put
back.
"""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt

from nonna.bench.book.writing import Signature
from nonna.bench.session.sheet.notices import warning
from nonna.bench.settings.house_rules import decide, keep, may_sign
from nonna.bench.sheet.opening import open_sheet
from nonna.bench.shelf.card_signing import put_back, signed_change, take_over
from nonna.bench.shelf.card_trail import as_signed, as_they_stand, changed_outside, flat, with_values
from nonna.bench.shelf.shelving import BY_KEY, cards, put
from nonna.bench.station.site import Site
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.signing.cards_outside import OutsideDialog
from nonna.errors import NonnaError
from nonna.shop.links.subjects import PROBE
from nonna.shop.records.text import body_of
from nonna.shop.records.values import CardChange
from tests.support.hands import settle, shown_dialog, shown_text

WHO = Signature("K. Amsel", "Larch", shop="Tarnholm Pump Works", invented=True)
RING = "masters.ring-50.diameter_mm"


def edited(shop, name, old, new):
    path = shop.root / name
    text = path.read_text()
    assert old in text
    path.write_text(text.replace(old, new, 1))


def last(shop):
    return body_of(list(shop.book.all())[-1])


def test_every_change_of_a_card_is_signed_with_old_and_new(shop):
    ring = next(c for c in cards(shop)["masters"] if c["id"] == "ring-50")
    put(shop, "masters", {**ring, "diameter_mm": 50.0025}, WHO, ring)
    assert {"file": "masters.json", "field": RING, "old": 50.0018, "new": 50.0025} in last(shop)["cards"]
    assert "50.0018 → 50.0025" in last(shop)["note"] and last(shop)["kind"] == "card"
    larch = next(c for c in cards(shop)["machines"] if c["id"] == "larch")
    put(shop, "machines", {**larch, "max_rpm": 9000.0}, WHO, larch)
    assert [row["new"] for row in last(shop)["cards"] if row["field"] == "max_rpm"] == [9000.0]
    keep(shop, "Larch", {"runout": {"holds_days": 9}}, WHO)
    assert [row["field"] for row in last(shop)["cards"]] == ["links.Larch.runout.holds_days"]
    decide(shop, {"tip-runout": {"limit_mm": 0.002}}, {}, WHO)
    assert (last(shop)["name"], last(shop)["cards"][0]["field"]) == ("rules-changed", "limits.tip-runout.limit_mm")
    may_sign(shop, ["K. Amsel", "L. Brand"], WHO)
    assert [row["field"] for row in last(shop)["cards"]] == ["operators"]
    assert changed_outside(shop) == () and shop.book.verify().sound


def test_what_cannot_be_signed_is_not_changed(shop, monkeypatch):
    before = as_they_stand(shop)
    ring = next(c for c in cards(shop)["masters"] if c["id"] == "ring-50")

    def refuse(_):
        raise NonnaError("unreadable", "The disk is full.", "ledger")

    with monkeypatch.context() as m:
        m.setattr(type(shop.book), "sign", lambda self, bodies: refuse(bodies))
        for act in (
            lambda: put(shop, "masters", {**ring, "diameter_mm": 50.1}, WHO, ring),
            lambda: decide(shop, {"tip-runout": {"limit_mm": 0.001}}, {}, WHO),
            lambda: may_sign(shop, ["L. Brand"], WHO),
        ):
            with pytest.raises(NonnaError, match="full"):
                act()
    assert {f: v for f, v in as_they_stand(shop).items() if v} == {f: v for f, v in before.items() if v}


@pytest.mark.parametrize(
    ("file", "old", "new", "field", "signed", "now"),
    [
        ("masters.json", "50.0018", "50.0118", RING, 50.0018, 50.0118),
        ("masters.json", '"ring-32"', '"ring-33"', "masters.ring-32.diameter_mm", 32.0006, None),
        ("machines/larch.json", '"max_rpm": 10000', '"max_rpm": 60000', "max_rpm", 10000, 60000),
        ("shop.json", '"invented": true', '"invented": false', "invented", True, False),
        ("gear.json", '"resolution_mm": 0.001', '"resolution_mm": 0.0001', None, 0.001, 0.0001),
    ],
)
def test_a_file_changed_outside_is_named_and_put_back(shop, cli, file, old, new, field, signed, now):
    assert cli("ledger", "verify", "--shop", shop.root)[1][0]["cards"] == []
    was = as_they_stand(shop)
    edited(shop, file, old, new)
    status, (told,), said = cli("ledger", "verify", "--shop", shop.root)
    assert status == 3 and not told["ok"] and told["first_damaged"] is None and "changed outside" in said
    assert any(
        (row["file"], row["signed"], row["now"]) == (file, signed, now) and field in (None, row["field"])
        for row in told["cards"]
    )
    put_back(shop, changed_outside(shop), WHO)
    assert as_they_stand(shop) == {**was, file: flat(shop.document(*file.split("/")))} and changed_outside(shop) == ()
    assert last(shop)["name"] == "card-put-back" and shop.book.verify().sound


def test_what_is_taken_over_is_what_was_shown(shop):
    edited(shop, "masters.json", "50.0018", "50.0118")
    shown = changed_outside(shop)
    edited(shop, "masters.json", "32.0006", "32.0106")
    for act in (take_over, put_back):
        with pytest.raises(NonnaError, match="once more"):
            act(shop, shown, WHO)
    take_over(shop, changed_outside(shop), WHO)
    assert changed_outside(shop) == () and as_signed(shop.book)["masters.json"][RING] == 50.0118
    (shop.root / "gear.json").write_text("{")
    (unread,) = changed_outside(shop)
    assert unread.field == "" and "gear.json" in unread.words
    with pytest.raises(NonnaError, match="copy"):
        take_over(shop, [unread], WHO)


def test_a_desks_own_change_does_not_sign_for_what_somebody_else_did(shop):
    edited(shop, "masters.json", "50.0018", "50.0118")
    ring = next(c for c in cards(shop)["masters"] if c["id"] == "ring-32")
    put(shop, "masters", {**ring, "diameter_mm": 32.001}, WHO, ring)
    assert [(c.field, c.old, c.new) for c in changed_outside(shop)] == [(RING, 50.0018, 50.0118)]


def test_a_sheet_says_what_was_changed_under_it(shop):
    def said(name, subject):
        return warning(open_sheet(Site.load(shop), name, subject), (), WHO.moment().date())

    assert said("probe-ring", PROBE) == ""
    edited(shop, "masters.json", "50.0018", "50.0118")
    assert "50.0018 → 50.0118" in said("probe-ring", PROBE)
    assert "outside" not in said("tip-runout", PROBE)  # no ring is used there


def test_a_shop_of_before_begins_its_trail_with_the_first_change(shop):
    from nonna.wiring import shop_files

    (shop.root / "ledger.sqlite").unlink()
    shop = shop_files(shop.root)
    edited(shop, "masters.json", "50.0018", "50.0118")  # nobody ever signed it: nothing to hold it against
    assert changed_outside(shop) == ()
    ring = next(c for c in cards(shop)["masters"] if c["id"] == "ring-50")
    put(shop, "masters", {**ring, "diameter_mm": 50.0018}, WHO, ring)
    begun, changed = (body_of(r) for r in shop.book.all())
    assert {"file": "masters.json", "field": RING, "old": None, "new": 50.0118} in begun["cards"]
    assert [row["old"] for row in changed["cards"] if row["field"] == RING] == [50.0118] and changed_outside(shop) == ()


PLAIN = st.none() | st.booleans() | st.floats(allow_nan=False) | st.text(max_size=5)
NAMES = st.text("abc. é", min_size=1, max_size=4)
CARDS = st.dictionaries(NAMES, st.dictionaries(NAMES.filter(lambda n: n != "id"), PLAIN, max_size=3), max_size=3)


@given(CARDS, st.dictionaries(NAMES, PLAIN, max_size=3))
def test_a_file_as_it_was_comes_back_from_its_fields(rows, plain):
    def document(rows, plain):
        return {"list": [{"id": name, **fields} for name, fields in rows.items()], "part": plain}

    was = flat(document(rows, plain))
    now = document({name: dict.fromkeys(fields, "other") for name, fields in rows.items()}, {})
    try:
        assert flat(with_values(now, {**dict.fromkeys(flat(now)), **was})) == was
    except NonnaError as error:
        assert "copy" in error.message  # two places of one name: refused, never half put back
        assert any("." in name for name in [*rows, *plain, *(n for f in rows.values() for n in f)])


def test_a_change_in_words_is_one_line_however_strange():
    assert CardChange(file="a\nb.json", field="x", old="\u2028" * 99, new=None).words.isprintable()


def test_the_desk_says_it_at_the_start_and_settles_it_by_keyboard(desk, hands, shop):
    settle(desk)
    edited(shop, "masters.json", "50.0018", "50.0118")
    desk.ready.emit()  # as at the next start
    hands.until(lambda: "Changed outside the desk" in shown_text(desk))
    desk.do(CommandId.CARDS_OUTSIDE)
    hands.until(lambda: shown_dialog(desk, OutsideDialog) is not None)
    hands.enter()  # Enter is neither
    assert "50.0018 → 50.0118" in shown_text(shown_dialog(desk, OutsideDialog))
    hands.press(Qt.Key.Key_B)
    hands.until(lambda: "Put back as it was signed" in shown_text(desk))
    assert changed_outside(shop) == () and shop.shelf().masters
    edited(shop, "masters.json", "50.0018", "50.0118")
    desk.do(CommandId.CARDS_OUTSIDE)
    hands.until(lambda: shown_dialog(desk, OutsideDialog) is not None)
    hands.press(Qt.Key.Key_T)
    hands.until(lambda: "Signed as it stands now" in shown_text(desk))
    settle(desk)
    desk.do(CommandId.CARDS_OUTSIDE)
    hands.until(lambda: "as it was signed last" in shown_text(desk))
    assert [e.name for e in shop.book.entries()][-2:] == ["card-put-back", "card-taken-over"]


def test_a_corrected_certificate_is_no_calibration(desk, hands, shop):
    settle(desk)
    desk.do(CommandId.SHELF)
    hands.until(lambda: desk.places.currentWidget() is desk.shelf)
    ring = next(c for c in cards(shop)["masters"] if c["id"] == "ring-50")

    def give(**changes):
        desk.shelf.form.show_card(BY_KEY["masters"], ring)
        desk.shelf.storing = True
        desk.shelf.put_asked.emit("masters", {**ring, **changes})

    give(certificate="C-4711")
    hands.until(lambda: shown_dialog(desk, QuestionDialog) is not None)
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: shown_dialog(desk, QuestionDialog) is None)
    settle(desk)
    assert [e.kind for e in shop.book.entries()][-1] == "card"
    ring = next(c for c in cards(shop)["masters"] if c["id"] == "ring-50")
    give(diameter_mm=50.002)  # a value alone is never a calibration
    settle(desk)
    assert [e.kind for e in shop.book.entries()][-2:] == ["card", "card"]
    assert shown_dialog(desk, QuestionDialog) is None


def test_nothing_changed_is_not_signed(shop):
    count = len(shop.book.entries())
    assert signed_change(shop, WHO, lambda folder: folder.change(("shop.json",), lambda old: old))[1] is None
    assert len(shop.book.entries()) == count
