"""What a shop owns beside masters: indicators, setters' screws, probes (``nonna-gear/1``)."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nonna.shop.strict_model import NotNegative, Number, Positive, Strict


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


class IndicatorCard(Strict):
    """A dial or lever indicator."""

    id: str
    name: str
    resolution_mm: NotNegative = 0.001
    range_mm: NotNegative = 0.0  #: the most it shows either way; 0: not known
    pattern: str = ""  #: how a line it sends reads, such as ``{skip}A{value}``; "": a line with one number
    mpe_mm: NotNegative = 0.0
    lever_deg: Annotated[float, Field(gt=-90.0, lt=90.0, allow_inf_nan=False)] = 0.0
    due: str = ""
    kept: str = ""
    retired: bool = False


class SetterCard(Strict):
    """A setter: contact or light beam, on which machine, and what levels it."""

    id: str
    name: str
    kind: Literal["contact", "beam"]
    machine: str = ""
    screws: list[LevelScrew] = []
    span_mm: NotNegative = 0.0
    adjuster: Adjuster | None = None
    kept: str = ""
    mounted: bool = True  #: whether it stands on its machine now: then it is a link of the loop
    retired: bool = False


class ProbeCard(Strict):
    """A spindle probe."""

    id: str
    name: str
    machine: str = ""
    ball_mm: Positive = 6.0
    length_mm: Positive = 120.0  #: about, from the gauge line to the ball's lowest point
    screws_deg: list[Number] = [0.0, 90.0, 180.0, 270.0]
    kept: str = ""
    retired: bool = False


class ChangerCard(Strict):
    """A machine's tool changer."""

    id: str
    name: str
    machine: str = ""
    largest_mm: NotNegative = 0.0  #: diameter it takes; 0: not known
    kept: str = ""
    retired: bool = False


class Gear(Strict):
    """Everything of these kinds in a shop."""

    format: Literal["nonna-gear/1"] = "nonna-gear/1"
    indicators: list[IndicatorCard] = []
    setters: list[SetterCard] = []
    probes: list[ProbeCard] = []
    changers: list[ChangerCard] = []

    def changer_mm(self, machine: str) -> float:
        """Return the largest diameter a machine's changer takes, 0 where nobody said."""
        return next((c.largest_mm for c in self.changers if not c.retired and c.machine == machine), 0.0)

    def indicator(self) -> IndicatorCard | None:
        """Return the first indicator in use."""
        return next((card for card in self.indicators if not card.retired), None)

    def setter(self, machine: str, kind: str) -> SetterCard | None:
        """Return a machine's setter of a kind: the first that stands there, else one that lies in its box."""
        cards = [c for c in self.setters if not c.retired and c.kind == kind and c.machine == machine]
        return next((c for c in cards if c.mounted), cards[0] if cards else None)

    def probe(self, machine: str) -> ProbeCard | None:
        """Return a machine's probe."""
        return next((card for card in self.probes if not card.retired and card.machine == machine), None)
