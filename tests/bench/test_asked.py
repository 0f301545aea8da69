"""One way to ask for a field: made from a model's titles and units, read in any unit, refused by name."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.bench.form_fields import Asked, Sort, asked_in
from nonna.bench.shelf.shelving import GROUPS, cards
from nonna.errors import NonnaError
from nonna.procedures.catalogue import procedure
from nonna.procedures.listing import PROCEDURES
from nonna.wording.lengths import Units


def test_every_card_of_the_shop_reads_back_as_it_is_shown(shop):
    read = 0
    for group in GROUPS:
        for card in cards(shop)[group.key]:
            for asked in asked_in(group.card):
                value = card.get(asked.name)
                if asked.sort is not Sort.SHOWN and value is not None:
                    assert asked.read(asked.text(value), Units.MM) == value, (group.key, asked.name)
                    read += 1
    assert read > 150


def test_every_field_of_every_sheet_and_card_has_a_title_and_knows_what_it_takes():
    fields = [a for name in PROCEDURES for a in asked_in(procedure(name).setup_model)]
    fields = [a for a in fields if a.unit in ("mm", "1") or a.sort is Sort.CHOICE]  # the others are carried, not typed
    for asked in (*fields, *(a for group in GROUPS for a in asked_in(group.card) if a.name not in ("id", "retired"))):
        assert asked.title and asked.title != asked.name, asked
        if asked.name.endswith("_mm") and asked.sort is not Sort.NUMBERS:
            assert asked.sort is Sort.LENGTH, asked
        assert bool(asked.choices) == (asked.sort is Sort.CHOICE), asked


@given(st.floats(-3e4, 3e4), st.sampled_from((Units.MM, Units.INCH)))
def test_a_length_is_read_in_the_units_shown_and_in_its_own(value, units):
    asked = Asked("length_mm", "Length", sort=Sort.LENGTH)
    assert math.isclose(asked.read(f"{value:.9f}", units), float(f"{value:.9f}") / units.scale, abs_tol=1e-12)
    assert math.isclose(asked.read(f"{value:.9f} mm", units), value, abs_tol=1e-9)


@pytest.mark.parametrize(
    ("sort", "text"), [(Sort.LENGTH, "eight"), (Sort.NUMBER, "0x10"), (Sort.WHOLE, "2.5"), (Sort.NUMBERS, "0; ninety")]
)
def test_what_is_no_number_is_refused_by_the_fields_name_and_title(sort, text):
    with pytest.raises(NonnaError, match="Its width") as refused:
        Asked("width", "Its width", sort=sort).read(text, Units.MM)
    assert refused.value.where == "width"


def test_nothing_typed_is_nothing_said():
    assert Asked("length_mm", "Length", sort=Sort.LENGTH).read("  ", Units.MM) is None
    assert Asked("screws_deg", "Screws", sort=Sort.NUMBERS).read("", Units.MM) == []
