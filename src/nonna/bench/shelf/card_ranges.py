"""What a number on a card can be at all: a slip is refused where hands type, with what would be usual."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import NamedTuple

from nonna.errors import NonnaError
from nonna.shop.texts.given import Given, Plain
from nonna.stations.kind import kind_of
from nonna.stations.questions import SetUpQuestion


class Range(NamedTuple):
    """The least and the most that is believed, and what is usual."""

    least: float
    most: float
    usual: str = ""


_OF_A_CARD = {
    "cte_per_k": Range(-1e-5, 1e-4, "Steel has 11.5e-6"),
    "cte_u_per_k": Range(0.0, 1e-4, "1e-6 is usual"),
    "k": Range(1.0, 5.0, "2 is usual"),
    "reference_c": Range(-20.0, 60.0, "20 is usual"),
    "length_mm": Range(0.0, 5_000.0),
    "diameter_mm": Range(0.05, 2_000.0),
    "U_length_mm": Range(0.0, 1.0, "Papers have it in micrometres: 0.8um"),
    "U_diameter_mm": Range(0.0, 1.0, "Papers have it in micrometres: 0.8um"),
    "roundness_mm": Range(0.0, 1.0),
    "resolution_mm": Range(0.0, 1.0),
    "mpe_mm": Range(0.0, 1.0),
    "range_mm": Range(0.0, 500.0),
    "ball_mm": Range(0.0, 60.0),
}
_ASKED = {  #: fields of a machine's card by the question that its set-up asks for the same thing
    "rapid_xy_mm_min": ("rapid_xy", "rapid_x"), "rapid_z_mm_min": ("rapid_z",), "acceleration_xy_mm_s2": ("brakes",),
    "acceleration_z_mm_s2": ("brakes",), "tool_change_s": ("change",), "max_rpm": ("rpm",),
    "pocket_count": ("pockets", "stations"),
    "width_x_mm": ("pad",), "width_y_mm": ("pad",), "height_mm": ("setter_height",), "overtravel_mm": ("overtravel",),
    "chuck_radius_mm": ("chuck_radius",), "chuck_length_mm": ("chuck_length",), "arm_x_mm": ("arm_x",),
    "arm_z_mm": ("arm_z",),
    "arm_width_mm": ("arm_width",), "arm_overtravel_mm": ("arm_overtravel",), "arm_swing_mm": ("swing",),
    "turret_x_mm": ("turret_x",), "turret_z_mm": ("turret_z",), "turret_radius_mm": ("turret_radius",),
    "turret_swing_mm": ("turret_swing",),
}  # fmt: skip


def must_be_likely(group: str, card: Mapping[str, Plain], changed: Iterable[str], titles: Mapping[str, str]) -> None:
    """Raises: NonnaError naming a field that was changed to what cannot be.

    Parameters: card, as it would be kept; titles, of the fields, for the words.
    """
    fields = set(changed)
    ranges = _of_machine(str(card.get("kind", ""))) if group == "machines" else _OF_A_CARD
    for name in sorted(fields & ranges.keys()):
        value = card.get(name)
        if isinstance(value, (int, float)) and value != 0:  # nothing, or not known
            _must_be_within(name, float(value), ranges[name], titles.get(name, name))
    if group == "machines":
        _must_stand_inside(Given(card), fields)


def _must_be_within(name: str, value: float, allowed: Range, title: str) -> None:
    if not allowed.least <= value <= allowed.most:
        usual = f" {allowed.usual}." if allowed.usual else ""
        words = "{title}: {value:g} cannot be, {least:g} to {most:g} can.{usual}"
        raise NonnaError(
            "out-of-range", words, name, title=title, value=value, least=allowed.least, most=allowed.most, usual=usual
        )


def _of_machine(kind: str) -> dict[str, Range]:
    found = kind_of(kind)
    later = found.open_questions(Given({"kind": kind, "assumed": []})) if found.open_questions is not None else ()
    asked: dict[str, SetUpQuestion] = {q.key: q for q in (*later, *found.questions)}
    return {
        name: Range(asked[key].least, asked[key].most) for name, keys in _ASKED.items() for key in keys if key in asked
    }


def _must_stand_inside(card: Given, changed: set[str]) -> None:
    """A setter beyond the travel is a slip: no plan could reach it."""
    if not card.get("has_setter"):
        return
    for axis, name in (("x", "setter_x_mm"), ("y", "setter_y_mm"), ("z", "trigger_plane_mm")):
        ends = (f"{axis}_from_mm", f"{axis}_to_mm")
        low, high, at = (card.number(each, 0.0) for each in (*ends, name))
        if changed & {name, *ends, "has_setter"} and low < high and not low <= at <= high:
            words = "{axis} {at:g} of the setter is outside the travel, {low:g} to {high:g}. Is its sign right?"
            raise NonnaError("out-of-range", words, name, axis=axis.upper(), at=at, low=low, high=high)
