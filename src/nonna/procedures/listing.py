"""The list of procedures: one line each. Imports nothing, so that the first picture may use it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Listed:
    """A procedure in the list: what it is called, where it is, and what it is done on ("" for each tool)."""

    title: str
    where: str
    subject: str


PROCEDURES = {
    "probe-length": Listed("Probe length", "nonna.procedures.probe_length:ProbeLength", "Probe"),
    "repeatability": Listed("Repeatability", "nonna.procedures.repeatability:Repeatability", "Setter"),
    "setter-calibration": Listed(
        "Setter calibration", "nonna.procedures.setter_calibration:SetterCalibration", "Setter"
    ),
    "tool-length": Listed("Tool length", "nonna.procedures.tool_length:ToolLength", ""),
}
