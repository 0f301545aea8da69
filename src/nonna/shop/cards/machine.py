"""Machines and tools as files describe them (``nonna-machine/1``, ``nonna-tools/1``)."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field, WithJsonSchema, model_validator
from pydantic_core import PydanticCustomError

from nonna.shop.cards.control_card import ControlCard
from nonna.shop.cards.kinds import known_kinds
from nonna.shop.links.subjects import Subject, tool
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict

SHORTEST_MM = 10.0  #: no tool in a holder is shorter from the gauge line; a search for an unknown length ends there
ToolKind = Literal[
    "drill", "spot-drill", "tap", "reamer", "end-mill", "ball-mill", "bull-mill", "face-mill", "chamfer-mill",
    "slitting-saw", "t-slot", "dovetail", "thread-mill", "boring-bar", "turning-tool", "probe", "master",
]  # fmt: skip


def _known(kind: object) -> object:
    """Take a word of the list; refuse others as the library refuses a word that is none of a fixed list."""
    if not isinstance(kind, str) or kind not in known_kinds():
        *most, last = (repr(each) for each in known_kinds())
        raise PydanticCustomError(
            "literal_error", "Input should be {most} or {last}", {"most": ", ".join(most), "last": last}
        )
    return kind


StationKindName = Annotated[
    str, BeforeValidator(_known), WithJsonSchema({"type": "string", "enum": list(known_kinds())})
]


class Travel(Strict):
    """Machine travel, each axis (lowest, highest), mm."""

    x: list[Number] = Field(min_length=2, max_length=2)
    y: list[Number] = Field(min_length=2, max_length=2)
    z: list[Number] = Field(min_length=2, max_length=2)

    @model_validator(mode="after")
    def _ordered(self) -> Travel:
        for axis in (self.x, self.y, self.z):
            if axis[0] >= axis[1]:
                raise ValueError("travel goes from the lowest to the highest position")
        return self


class PlaneAndHeight(Strict):
    """One figure for the table's axes, one for the spindle's."""

    xy: Positive
    z: Positive


class SetterSpec(Strict):
    """A contact setter on the table; positions in machine coordinates."""

    x_mm: Number
    y_mm: Number
    trigger_plane_mm: Number
    shape: Literal["disc", "square"]
    width_x_mm: Positive
    width_y_mm: Positive
    height_mm: Positive
    overtravel_mm: Positive
    clear_sides: list[Literal["+x", "-x", "+y", "-y"]] = []


class SpindleNose(Strict):
    """The end of the spindle above the gauge line, as far as it could meet anything."""

    nose_diameter_mm: Positive
    nose_length_mm: Positive
    bore_mm: NotNegative = 0.0  #: how wide its taper is open at the face; 0: nobody said

    @model_validator(mode="after")
    def _has_a_face(self) -> SpindleNose:
        if self.bore_mm >= self.nose_diameter_mm:
            raise ValueError("the bore is wider than the nose")
        return self


class HolderPart(Strict):
    """A cylinder of a tool's holder."""

    diameter_mm: Positive
    length_mm: Positive


class Obstacle(Strict):
    """Something in the way: a box between two corners, mm."""

    name: str
    box_mm: list[list[Number]] = Field(min_length=2, max_length=2)


class ArmSpec(Strict):
    """A lathe's swing-arm setter, swung out; real millimetres from the spindle's axis (X as a radius) and face."""

    x_mm: Number  #: of the middle of its stylus
    z_mm: Number
    width_mm: Positive = 10.0
    overtravel_mm: Positive = 2.0
    swing_mm: Positive = 60.0  #: how far round the stylus there must be nothing while it swings
    out_m: int = Field(61, ge=10, le=999)  #: the M word that swings it out
    in_m: int = Field(62, ge=10, le=999)


class LatheSpec(Strict):
    """What stands in a lathe, for rehearsals; real millimetres from the spindle's axis (X as a radius) and face."""

    chuck_radius_mm: Positive
    chuck_length_mm: Positive  #: from the spindle's face to the end of the jaws
    part_radius_mm: NotNegative = 0.0
    part_length_mm: NotNegative = 0.0  #: beyond the jaws
    tailstock_z_mm: Number | None = None  #: where its body begins; absent: there is none, or it is away
    turret_x_mm: Number  #: of the middle of the turret's face when the machine shows X 0 and Z 0
    turret_z_mm: Number
    turret_radius_mm: Positive = 90.0  #: of its body
    turret_swing_mm: Positive = 220.0  #: how far round it there must be nothing while it indexes
    arm: ArmSpec | None = None


class Machine(Strict):
    """A machine tool with its setter."""

    format: Literal["nonna-machine/1"]
    name: str
    kind: StationKindName
    travel_mm: Travel
    rapid_mm_min: PlaneAndHeight
    acceleration_mm_s2: PlaneAndHeight
    tool_change_s: NotNegative = 5.0
    tool_change_z_mm: Number = 0.0
    max_rpm: Positive = 8000.0
    spindle_run_down_s: NotNegative = 2.0  #: from full speed until the spindle stands
    pocket_count: NotNegative = 24
    setter: SetterSpec | None = None
    trigger_latency_s: NotNegative = 0.0
    trigger_jitter_s: NotNegative = 0.0
    repeatability_mm: NotNegative = 0.0
    obstacles: list[Obstacle] = []
    spindle: SpindleNose | None = None  #: absent: not drawn, not looked at for collisions
    spindle_orient: bool = False  #: whether the spindle can be turned to an angle and held there
    lathe: LatheSpec | None = None
    control: ControlCard | None = None
    x_shows: Literal["diameter", "radius"] = "diameter"  #: of a lathe: what its display of X means
    assumed: list[str] = Field([], max_length=50)  #: fields that stand on a usual value: nobody read them off yet


class Tool(Strict):
    """A tool in a pocket of the changer."""

    number: int = Field(ge=1, le=1_000_000)
    kind: ToolKind
    diameter_mm: Positive
    corner_radius_mm: NotNegative = 0.0
    tip_diameter_mm: NotNegative = 0.0
    flutes: int = Field(0, ge=0, le=1000)
    centre_cutting: bool = True
    point_angle_deg: NotNegative = 0.0
    length_mm: Positive | None = None
    true_length_mm: Positive | None = None
    length_uncertainty_mm: NotNegative = 0.0
    hand: Literal["right", "left"] = "right"
    material: Literal["carbide", "hss"] = "carbide"
    max_rpm: Positive | None = None
    description: str = ""
    holder: list[HolderPart] = Field(
        [], max_length=20
    )  #: from the gauge line down; empty: as wide as the tool up to there
    tolerance_mm: Positive | None = None  #: how well its length has to be known, expanded
    edge_deg: Number = (
        0.0  #: of its (first) edge about the spindle, counter-clockwise from +x seen from above, oriented at 0
    )
    repeats: bool = True  #: whether its holder comes back to the same length; not so: a shank in the spindle's collet
    edge: str = Field("", max_length=40)  #: of a lathe's tip: which way it cuts, as its sheet names it
    offset_x_mm: Number | None = None  #: of a lathe's tip: what the machine's table holds, as it shows X
    offset_z_mm: Number | None = None
    wear_x_mm: Number | None = None  #: as the machine shows X
    wear_z_mm: Number | None = None
    id: str = Field("", max_length=60)  #: given once and kept when the tool moves to another pocket; "": by its number

    @model_validator(mode="after")
    def _reaches_out_of_its_holder(self) -> Tool:
        deep = sum(part.length_mm for part in self.holder)
        if self.length_mm is not None and deep >= self.length_mm:
            raise ValueError(f"the holder is {deep:g} mm long and the whole tool only {self.length_mm:g} mm")
        return self

    @property
    def subject(self) -> Subject:
        """What its records are about."""
        return tool(self.id or self.number)

    @property
    def edges(self) -> int:
        """How many of its edges can be turned to a pad one by one."""
        return 1 if self.kind == "boring-bar" else self.flutes

    def of_its_own(self, taken: Collection[Subject]) -> Tool:
        """Return it as a tool of its own, with an identity that none of these subjects has."""
        count = 2
        while tool(f"T{self.number}-{count}") in taken:
            count += 1
        return self.model_copy(update={"id": f"T{self.number}-{count}"})


class Tools(Strict):
    """The tools of a machine."""

    format: Literal["nonna-tools/1"]
    tools: list[Tool]

    def by_number(self, number: int) -> Tool:
        """Return a tool. Raises: KeyError."""
        for each in self.tools:
            if each.number == number:
                return each
        raise KeyError(number)
