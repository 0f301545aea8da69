"""What a lathe asks of its tools: which way a tip cuts, and what the machine's table holds for it."""

from __future__ import annotations

from nonna.procedures.shown import as_shown
from nonna.shop.cards.machine import Machine
from nonna.stations.lathe.ways import WAYS
from nonna.stations.tool_fields import ToolFields, kinds

_ON_THE_LINE = ("drill", "spot-drill", "tap", "reamer")  #: kinds that stand on the centre line
_NOT_SAID = ("", "not said yet")


def tool_fields(machine: Machine | None) -> ToolFields:
    """Return what is asked of the tools in a turret."""
    x = as_shown("x", machine.x_shows if machine else "diameter")
    return ToolFields(
        titles={
            "number": "Station",
            "kind": "Kind",
            "description": "Name",
            "edge": "Cuts",
            "offset_x_mm": f"{x} offset",
            "offset_z_mm": "Z offset",
            "wear_x_mm": f"{x} wear",
            "wear_z_mm": "Z wear",
            "corner_radius_mm": "Nose radius",
            "diameter_mm": "Shank ⌀",
        },
        grid={
            "number": 76,
            "kind": 112,
            "description": 0,
            "edge": 234,
            "offset_x_mm": 124,
            "offset_z_mm": 108,
            "corner_radius_mm": 130,
            "diameter_mm": 100,
        },
        choices={
            "kind": kinds("turning-tool", "boring-bar", *_ON_THE_LINE, "end-mill", "probe", "master"),
            "edge": (_NOT_SAID, *((key, way.words) for key, way in WAYS.items())),
        },
        behind={
            "offset_x_mm": "{unit}, as the table has it",
            "offset_z_mm": "{unit}, as the table has it",
            "wear_x_mm": "{unit}, more makes a diameter larger",
            "wear_z_mm": "{unit}",
            "corner_radius_mm": "{unit}",
            "diameter_mm": "{unit}, or of the bar, drill or cutter",
        },
        new={"kind": "turning-tool"},
        from_kind={"edge": dict.fromkeys(_ON_THE_LINE, "drill")},
        hint="Station, kind and shank are enough; which way it cuts and about its offsets before a program touches "
        "it on the arm.",
    )
