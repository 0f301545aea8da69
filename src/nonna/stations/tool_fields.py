"""What a kind of station asks of its tools, in a form and in the grid."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import get_args

from nonna.procedures.wording import choice_words
from nonna.shop.cards.machine import Machine, ToolKind

Choices = tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class ToolFields:
    """Fields of a tool in the order they are asked for, by their names in the tools' file."""

    titles: Mapping[str, str]
    grid: Mapping[str, int]  #: columns with their widths in pixels; 0 takes what is left
    choices: Mapping[str, Choices]  #: value and words
    behind: Mapping[str, str] = field(default_factory=dict)  #: said behind a field; ``{unit}`` is the unit shown
    new: Mapping[str, str] = field(default_factory=dict)  #: of a new tool
    from_kind: Mapping[str, Mapping[str, str]] = field(
        default_factory=dict
    )  #: by field what a kind of tool makes of it
    hint: str = ""  #: above the grid

    def settled(self, texts: Mapping[str, str]) -> dict[str, str]:
        """Return texts with what nobody said and the kind of tool decides."""
        made = dict(texts)
        for name, by_kind in self.from_kind.items():
            if name in made and not made[name].strip():
                made[name] = by_kind.get(made.get("kind", ""), "")
        return made


def kinds(*names: str) -> Choices:
    """Return kinds of tools to be chosen from."""
    return tuple((name, choice_words(name)) for name in names)


def usual(machine: Machine | None) -> ToolFields:
    """Return what is asked of tools with a length, in a spindle."""
    return ToolFields(
        titles={
            "number": "Number",
            "kind": "Kind",
            "description": "Name",
            "diameter_mm": "Diameter",
            "length_mm": "Length",
            "tolerance_mm": "Its length to within",
            "corner_radius_mm": "Corner radius",
            "tip_diameter_mm": "Flat, or arbor screw",
            "flutes": "Teeth",
            "holder": "Holder",
            "repeats": "Its holder",
            "edge_deg": "First edge at",
            "centre_cutting": "Cuts to its centre",
            "hand": "Cuts turning",
            "material": "Edges of",
        },
        grid={
            "number": 80,
            "kind": 130,
            "description": 0,
            "diameter_mm": 108,
            "length_mm": 140,
            "corner_radius_mm": 138,
            "flutes": 70,
            "holder": 180,
            "hand": 120,
        },
        choices={
            "kind": kinds(*get_args(ToolKind)),
            "repeats": (("yes", "comes back to the same length"), ("no", "does not: a shank in the collet")),
            "centre_cutting": (("yes", "yes"), ("no", "no, open in the middle")),
            "hand": (("right", "right"), ("left", "left")),
            "material": (("carbide", "carbide"), ("hss", "high-speed steel")),
        },
        behind={
            "diameter_mm": "{unit}",
            "corner_radius_mm": "{unit}",
            "tip_diameter_mm": "{unit}",
            "length_mm": "{unit}, or about 80, or nothing",
            "tolerance_mm": "{unit}, ±",
            "holder": "mm: 63 x 20, 40 x 15, from the gauge line down",
            "edge_deg": "°, spindle oriented",
        },
        new={"kind": "end-mill", "hand": "right", "material": "carbide"},
        hint="Number, kind and diameter are enough. Ctrl+V pastes what a spreadsheet copied. A length may be rough, "
        "“about 80”, or left out.",
    )
