"""A machine as a flat card: what a person must say of it and its setter, put back into its file."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Literal

from pydantic import Field

from nonna.bench.ports import ShopFiles
from nonna.bench.shelf.control_fields import control_of, control_shown
from nonna.errors import NonnaError
from nonna.shop.cards.control_card import LONGEST
from nonna.shop.cards.machine import Machine, StationKindName, Tools
from nonna.shop.texts.given import Given, Plain
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict, checked

_SIDES = ("+x", "-x", "+y", "-y")


class MachineCard(Strict):
    """One machine; obstacles stay in its file."""

    id: str
    name: str = Field(..., title="Name")
    kind: StationKindName = Field("mill", title="Kind")
    x_from_mm: Number = Field(0.0, title="X travel from, mm")
    x_to_mm: Number = Field(800.0, title="X travel to, mm")
    y_from_mm: Number = Field(0.0, title="Y travel from, mm")
    y_to_mm: Number = Field(500.0, title="Y travel to, mm")
    z_from_mm: Number = Field(-500.0, title="Z travel from, mm")
    z_to_mm: Number = Field(0.0, title="Z travel to, mm")
    rapid_xy_mm_min: Positive = Field(20000.0, title="Rapid in X and Y, mm/min")
    rapid_z_mm_min: Positive = Field(15000.0, title="Rapid in Z, mm/min")
    acceleration_xy_mm_s2: Positive = Field(2500.0, title="Acceleration X and Y, mm/s²")
    acceleration_z_mm_s2: Positive = Field(2000.0, title="Acceleration Z, mm/s²")
    tool_change_s: NotNegative = Field(6.0, title="Tool change takes, s")
    tool_change_z_mm: Number = Field(0.0, title="Tool change at Z, mm")
    max_rpm: Positive = Field(8000.0, title="Top speed, rpm")
    spindle_run_down_s: NotNegative = Field(2.0, title="From top speed it stands after, s")
    pocket_count: NotNegative = Field(24, title="Pockets")
    nose_diameter_mm: NotNegative = Field(0.0, title="Spindle nose, diameter, mm (0: not known)")
    nose_length_mm: NotNegative = Field(0.0, title="... and length, mm")
    bore_mm: NotNegative = Field(0.0, title="... and how wide it is open, mm (0: not known)")
    spindle_orient: bool = Field(False, title="Spindle can be oriented")
    x_shows: Literal["diameter", "radius"] = Field("diameter", title="X is shown as (lathe)")
    has_setter: bool = Field(True, title="Has a setter")
    setter_x_mm: Number = Field(0.0, title="Setter at X, mm")
    setter_y_mm: Number = Field(0.0, title="Setter at Y, mm")
    trigger_plane_mm: Number = Field(-400.0, title="Trigger plane at about Z, mm")
    shape: Literal["disc", "square"] = Field("disc", title="Pad")
    width_x_mm: Positive = Field(14.0, title="Pad in X, mm")
    width_y_mm: Positive = Field(14.0, title="Pad in Y, mm")
    height_mm: Positive = Field(60.0, title="Setter's height, mm")
    overtravel_mm: Positive = Field(4.0, title="Overtravel, mm")
    clear_sides: str = Field("+x -x +y -y", title="Clear sides, such as +x -y")
    trigger_latency_s: NotNegative = Field(0.002, title="Trigger late by, s")
    trigger_jitter_s: NotNegative = Field(0.0002, title="... give or take, s")
    repeatability_mm: NotNegative = Field(0.001, title="Repeats within (1 s), mm")
    control_units: Literal["mm", "inch"] = Field("mm", title="The control's programs and tables are in")
    tool_call: str = Field("", title="A tool is called by (empty: T{tool} M6)", max_length=LONGEST)
    spindle_stopped: str = Field("", title="Confirms that the spindle stands (empty: it waits)", max_length=LONGEST)
    results_from: int = Field(0, title="Results in parameters from (0: ours)", ge=0, le=99_999)
    results_to: int = Field(0, title="... to", ge=0, le=99_999)
    prints: str = Field("", title="Prints a line, {text} in it (empty: it prints none)", max_length=LONGEST)
    prints_value: str = Field("", title="... a value in it, by its {parameter}", max_length=LONGEST)
    store_length: str = Field("", title="Stores a length, with {tool} and {value}", max_length=LONGEST)
    read_length: str = Field("", title="... and it is read back as", max_length=LONGEST)
    store_diameter: str = Field("", title="Stores a diameter, with {tool}, {value} or {radius}", max_length=LONGEST)
    read_diameter: str = Field("", title="... and it is read back as", max_length=LONGEST)
    store_offset_x: str = Field("", title="Stores an X offset, with {offset} and {value}", max_length=LONGEST)
    read_offset_x: str = Field("", title="... and it is read back as", max_length=LONGEST)
    store_offset_z: str = Field("", title="Stores a Z offset, with {offset} and {value}", max_length=LONGEST)
    read_offset_z: str = Field("", title="... and it is read back as", max_length=LONGEST)
    chuck_radius_mm: NotNegative = Field(0.0, title="Jaws reach out from the axis, mm (0: not known)")
    chuck_length_mm: NotNegative = Field(0.0, title="Jaws end from the spindle's face, mm")
    turret_x_mm: Number = Field(0.0, title="Turret's middle from the axis at X 0, mm")
    turret_z_mm: Number = Field(0.0, title="... from the spindle's face at Z 0, mm")
    turret_radius_mm: Positive = Field(90.0, title="Turret's radius, mm")
    turret_swing_mm: Positive = Field(220.0, title="... and what it sweeps with its tools, mm")
    arm_out_m: int = Field(0, title="Arm swings out by M (0: there is none)", ge=0, le=999)
    arm_in_m: int = Field(0, title="... and in by M", ge=0, le=999)
    arm_x_mm: Number = Field(0.0, title="Its stylus from the axis, swung out, mm")
    arm_z_mm: Number = Field(0.0, title="... and from the spindle's face, mm")
    arm_width_mm: Positive = Field(10.0, title="Stylus is wide, mm")
    arm_overtravel_mm: Positive = Field(2.0, title="Stylus gives beyond its trigger, mm")
    arm_swing_mm: Positive = Field(60.0, title="Free round it while it swings, mm")


_TURNING = (
    "chuck_radius_mm", "chuck_length_mm", "turret_x_mm", "turret_z_mm", "turret_radius_mm", "turret_swing_mm",
)  # fmt: skip
_ARM = ("arm_out_m", "arm_in_m", "arm_x_mm", "arm_z_mm", "arm_width_mm", "arm_overtravel_mm", "arm_swing_mm")
_OF_SETTER = (
    "has_setter", "setter_x_mm", "setter_y_mm", "trigger_plane_mm", "shape", "width_x_mm", "width_y_mm", "height_mm",
    "overtravel_mm", "clear_sides", "trigger_latency_s", "trigger_jitter_s",
)  # fmt: skip
_LENGTHS = ("store_length", "read_length", "store_diameter", "read_diameter")
_OFFSETS = ("store_offset_x", "read_offset_x", "store_offset_z", "read_offset_z")
_OF_SPINDLE = ("nose_diameter_mm", "nose_length_mm", "bore_mm", "spindle_orient", "tool_change_z_mm")
_ANYWHERE = ("name", "kind", "x_from_mm", "x_to_mm", "y_from_mm", "y_to_mm", "z_from_mm", "z_to_mm", "repeatability_mm")


def asked_of_kind(kind: str, name: str) -> bool:
    """Whether a machine of some kind has a field of the card."""
    if kind == "lathe":
        return name not in (*_OF_SETTER, *_OF_SPINDLE, *_LENGTHS)
    if kind == "presetter":
        return name in (*_ANYWHERE, "x_shows")
    return name not in (*_TURNING, *_ARM, *_OFFSETS, "x_shows")


def card_of(key: str, machine: Machine) -> dict[str, Plain]:
    """Return a machine's card; ``key`` is the name of its file."""
    t, s = machine.travel_mm, machine.setter
    flat: dict[str, Plain] = {
        "id": key, "name": machine.name, "kind": machine.kind, "has_setter": s is not None,
        "rapid_xy_mm_min": machine.rapid_mm_min.xy, "rapid_z_mm_min": machine.rapid_mm_min.z,
        "acceleration_xy_mm_s2": machine.acceleration_mm_s2.xy, "acceleration_z_mm_s2": machine.acceleration_mm_s2.z,
    }  # fmt: skip
    for axis, (low, high) in (("x", t.x), ("y", t.y), ("z", t.z)):
        flat |= {f"{axis}_from_mm": low, f"{axis}_to_mm": high}
    for name in (
        "tool_change_s",
        "tool_change_z_mm",
        "max_rpm",
        "spindle_run_down_s",
        "pocket_count",
        "trigger_latency_s",
        "trigger_jitter_s",
        "repeatability_mm",
    ):
        flat[name] = getattr(machine, name)
    flat |= {"spindle_orient": machine.spindle_orient, "x_shows": machine.x_shows}
    if machine.spindle is not None:
        flat |= machine.spindle.model_dump()
    flat |= control_shown(machine.control)
    if machine.lathe is not None:
        flat |= {name: getattr(machine.lathe, name) for name in _TURNING}
        arm = machine.lathe.arm
        flat |= {} if arm is None else {name: getattr(arm, name.removeprefix("arm_")) for name in _ARM}
    if s is not None:
        flat |= {"setter_x_mm": s.x_mm, "setter_y_mm": s.y_mm, "clear_sides": " ".join(s.clear_sides)}
        for name in ("trigger_plane_mm", "shape", "width_x_mm", "width_y_mm", "height_mm", "overtravel_mm"):
            flat[name] = getattr(s, name)
    return MachineCard.model_validate(flat).model_dump()


def machine_of(card: MachineCard, old: Given) -> dict[str, Plain]:
    """Return the machine's document that a card means, all else as it was.

    Raises: NonnaError naming the card's field that is wrong.
    """
    for axis in "xyz":
        if getattr(card, f"{axis}_from_mm") >= getattr(card, f"{axis}_to_mm"):
            raise NonnaError(
                "out-of-range",
                "{upper}: the travel goes from the lower to the higher position.",
                f"{axis}_to_mm",
                upper=axis.upper(),
            )
    sides = re.split(r"[\s,;]+", card.clear_sides.strip()) if card.clear_sides.strip() else []
    strange = [side for side in sides if side not in _SIDES]
    if strange:
        raise NonnaError(
            "out-of-range", "Clear sides: {value!r} is none of +x -x +y -y.", "clear_sides", value=strange[0]
        )
    setter = {
        "x_mm": card.setter_x_mm, "y_mm": card.setter_y_mm, "trigger_plane_mm": card.trigger_plane_mm,
        "shape": card.shape,
        "width_x_mm": card.width_x_mm, "width_y_mm": card.width_y_mm, "height_mm": card.height_mm,
        "overtravel_mm": card.overtravel_mm, "clear_sides": sides,
    }  # fmt: skip
    nose = {
        "nose_diameter_mm": card.nose_diameter_mm, "nose_length_mm": card.nose_length_mm, "bore_mm": card.bore_mm,
    }  # fmt: skip
    made = {
        **old, "format": "nonna-machine/1", "name": card.name, "kind": card.kind,
        "travel_mm": {a: [getattr(card, f"{a}_from_mm"), getattr(card, f"{a}_to_mm")] for a in "xyz"},
        "rapid_mm_min": {"xy": card.rapid_xy_mm_min, "z": card.rapid_z_mm_min},
        "acceleration_mm_s2": {"xy": card.acceleration_xy_mm_s2, "z": card.acceleration_z_mm_s2},
        **{n: getattr(card, n) for n in ("tool_change_s", "tool_change_z_mm", "max_rpm", "pocket_count")},
        "spindle_run_down_s": card.spindle_run_down_s, "control": control_of(card, old.part("control")),
        **{n: getattr(card, n) for n in ("trigger_latency_s", "trigger_jitter_s", "repeatability_mm")},
        "setter": setter if card.has_setter else None,
        "spindle": nose if card.nose_diameter_mm and card.nose_length_mm else None,
        "spindle_orient": card.spindle_orient, "x_shows": card.x_shows,
    }  # fmt: skip
    if card.kind == "lathe":
        made["lathe"] = _lathe_of(card, old.part("lathe"))
    if old.get("assumed"):  # what was typed now is known
        made["assumed"] = [name for name in old.words("assumed") if made.get(name) == old.get(name)]
    checked(Machine, made)
    return only_new(old, checked(Machine, dict(old)).model_dump() if old else {}, made)


def only_new(old: Mapping[str, Plain], meant: Mapping[str, Plain], new: Mapping[str, Plain]) -> dict[str, Plain]:
    """Return a card as its file had it, with what is new: what nobody changed stays as somebody wrote it, or left it
    out.

    Parameters: meant, ``old`` with all that it leaves to the usual.
    """
    return {**old, **{name: value for name, value in new.items() if name not in meant or meant[name] != value}}


def _lathe_of(card: MachineCard, old: Mapping[str, Plain]) -> dict[str, Plain] | None:
    """Return what stands in a lathe, all else of it as it was; None where nobody knows its chuck."""
    if not (card.chuck_radius_mm and card.chuck_length_mm):
        return None
    arm = {name.removeprefix("arm_"): getattr(card, name) for name in _ARM} if card.arm_out_m else None
    return {**old, **{name: getattr(card, name) for name in _TURNING}, "arm": arm}


def rows(folder: ShopFiles) -> list[dict[str, Plain]]:
    """Return the cards of a shop's machines. Raises: NonnaError naming the file."""
    return [card_of(key, folder.machine(key)) for key in folder.shop().machines]


def store(folder: ShopFiles, cards: list[dict[str, Plain]]) -> None:
    """Write the machines' files, with an empty tray for a new one, and the shop's list of them.

    Raises: NonnaError naming the field, nothing is written then; or a file that cannot be written.
    """
    documents: dict[str, dict[str, Plain]] = {}
    for row in cards:
        card = checked(MachineCard, row)
        file = ("machines", f"{card.id}.json")
        documents[card.id] = machine_of(card, folder.document(*file) if folder.has(*file) else Given({}))
    for key, document in documents.items():
        folder.change(("machines", f"{key}.json"), lambda _, new=document: new, {})  # type: ignore[misc]
        if not folder.has("tools", f"{key}.json"):
            folder.change(
                ("tools", f"{key}.json"), lambda old: old, Tools(format="nonna-tools/1", tools=[]).model_dump()
            )
    folder.change(
        ("shop.json",), lambda shop: {**shop, "machines": list(dict.fromkeys([*shop.words("machines"), *documents]))}
    )
