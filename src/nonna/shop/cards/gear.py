"""What a shop owns beside masters: indicators, setters' screws, probes (``nonna-gear/1``)."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field, field_validator

from nonna.shop.cards.connection import Connected
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict


class LevelScrew(Strict):
    """A levelling screw under a setter; places about the pad's middle."""

    name: str
    x_mm: Number
    y_mm: Number
    pitch_mm: Positive
    pivot: bool = False


class Adjuster(Strict):
    """The screw that tilts a light beam."""

    distance_mm: Number
    pitch_mm: Positive


class IndicatorCard(Connected):
    """A dial or lever indicator."""

    id: str
    name: str = Field(..., title="Name")
    resolution_mm: NotNegative = Field(0.001, title="Resolution, mm")
    range_mm: NotNegative = Field(
        0.0, title="Shows at most, either way, mm"
    )  #: the most it shows either way; 0: not known
    pattern: str = Field(
        "", title="A line it sends", examples=["{skip}A{value}"]
    )  #: how a line it sends reads, such as ``{skip}A{value}``; "": a line with one number
    button: bool = Field(False, title="Sends when its button is pressed")
    mpe_mm: NotNegative = Field(0.0, title="Maximum permissible error, mm")
    lever_deg: Annotated[float, Field(gt=-90.0, lt=90.0, allow_inf_nan=False)] = Field(
        0.0, title="Lever angle, degrees"
    )
    due: str = Field("", title="Due, year-month-day")
    kept: str = Field("", title="Where it lies")
    retired: bool = False


class MicrometerCard(Connected):
    """A micrometer: what a part, or what the reference tool turned, is measured with."""

    id: str
    name: str = Field(..., title="Name")
    resolution_mm: NotNegative = Field(0.001, title="Resolution, mm")
    mpe_mm: NotNegative = Field(0.0, title="Maximum permissible error, mm")
    pattern: str = Field("", title="A line it sends", examples=["{skip}A{value}"])
    due: str = Field("", title="Due, year-month-day")
    kept: str = Field("", title="Where it lies")
    retired: bool = False


class PrintoutCard(Connected):
    """What a machine prints when its own cycle has measured a tool: its lines go into the tray."""

    id: str
    name: str = Field(..., title="Name")
    machine: str = Field("", title="On machine")
    pattern: str = Field("T{tool} Z{value}", title="A line it prints", examples=["T{tool} Z{value}"])
    kept: str = Field("", title="Where it stands")
    retired: bool = False


class SetterCard(Strict):
    """A setter: contact or light beam, on which machine, and what levels it."""

    id: str
    name: str = Field(..., title="Name")
    kind: Literal["contact", "beam"] = Field(..., title="Kind")
    machine: str = Field("", title="On machine")
    screws: list[LevelScrew] = Field([], title="Levelling screws")
    span_mm: NotNegative = Field(0.0, title="Span between the ends, mm")
    adjuster: Adjuster | None = Field(None, title="Adjuster")
    kept: str = Field("", title="Where it lies")
    mounted: bool = Field(
        True, title="Stands on its machine"
    )  #: whether it stands on its machine now: then it is a link of the loop
    retired: bool = False


class ProbeCard(Strict):
    """A spindle probe."""

    id: str
    name: str = Field(..., title="Name")
    machine: str = Field("", title="On machine")
    ball_mm: Positive = Field(6.0, title="Ball diameter, mm")
    length_mm: Positive = Field(
        120.0, title="Length at reference, mm"
    )  #: about, from the gauge line to the ball's lowest point
    reach_mm: NotNegative = Field(0.0, title="Ball stands out of the stem, mm")  #: 0: not known
    screws_deg: list[Number] = Field([0.0, 90.0, 180.0, 270.0], title="Adjusting screws, degrees")
    kept: str = Field("", title="Where it lies")
    retired: bool = False


class ChangerCard(Strict):
    """A machine's tool changer."""

    id: str
    name: str = Field(..., title="Name")
    machine: str = Field("", title="On machine")
    largest_mm: NotNegative = Field(0.0, title="Largest diameter, mm")  #: diameter it takes; 0: not known
    kept: str = Field("", title="Where it lies")
    retired: bool = False


class PresetterCard(Connected):
    """A presetter: which station it is, what its display shows, how the lines it sends read."""

    id: str
    name: str = Field(..., title="Name")
    machine: str = Field("", title="Its station")
    x_shows: Literal["diameter", "radius"] = Field("diameter", title="X shows")
    resolution_mm: NotNegative = Field(0.001, title="Resolution, mm")
    pattern: str = Field("{axis} {value}", title="A line it sends", examples=["{axis} {value}"])
    kept: str = Field("", title="Where it stands")
    retired: bool = False


class ServiceCard(Strict):
    """A part that wears out by use, with its limits and what its maker says of it."""

    id: str
    name: str = Field(..., title="Name")
    part: Literal["collet", "nut", "clip", "battery", "stylus"] = Field("collet", title="What it is")
    machine: str = Field("", title="On machine")
    since: str = Field("", title="In use since, year-month-day")
    limit_days: NotNegative = Field(0.0, title="Lasts days (0: no limit)")
    limit_changes: NotNegative = Field(0.0, title="Lasts tool changes (0: no limit)")
    limit_hours: NotNegative = Field(0.0, title="Lasts hours (0: no limit)")
    torque_nm: NotNegative = Field(0.0, title="Torque as its maker says, N m")
    kept: str = Field("", title="Where new ones lie")
    retired: bool = False

    @field_validator("since")
    @classmethod
    def _is_a_day(cls, value: str) -> str:
        if value:
            date.fromisoformat(value)
        return value


class Gear(Strict):
    """Everything of these kinds in a shop."""

    format: Literal["nonna-gear/1"] = "nonna-gear/1"
    indicators: list[IndicatorCard] = []
    setters: list[SetterCard] = []
    probes: list[ProbeCard] = []
    changers: list[ChangerCard] = []
    presetters: list[PresetterCard] = []
    micrometers: list[MicrometerCard] = []
    printouts: list[PrintoutCard] = []
    services: list[ServiceCard] = []

    def changer_mm(self, machine: str) -> float:
        """Return the largest diameter a machine's changer takes, 0 where nobody said."""
        return next((c.largest_mm for c in self.changers if not c.retired and c.machine == machine), 0.0)

    def indicator(self) -> IndicatorCard | None:
        """Return the first indicator in use."""
        return next((card for card in self.indicators if not card.retired), None)

    def micrometer(self) -> MicrometerCard | None:
        """Return the first micrometer in use."""
        return next((card for card in self.micrometers if not card.retired), None)

    def setter(self, machine: str, kind: str) -> SetterCard | None:
        """Return a machine's setter of a kind: the first that stands there, else one that lies in its box."""
        cards = [c for c in self.setters if not c.retired and c.kind == kind and c.machine == machine]
        return next((c for c in cards if c.mounted), cards[0] if cards else None)

    def presetter(self, machine: str) -> PresetterCard | None:
        """Return a station's presetter."""
        return next((card for card in self.presetters if not card.retired and card.machine == machine), None)

    def probe(self, machine: str) -> ProbeCard | None:
        """Return a machine's probe."""
        return next((card for card in self.probes if not card.retired and card.machine == machine), None)
