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
    "artefact-check": Listed("Artefact check", "nonna.procedures.artefact_check:ArtefactCheck", "Artefact"),
    "beam-level": Listed("Beam level", "nonna.procedures.beam_level:BeamLevel", "Beam setter"),
    "breakage": Listed("Breakage", "nonna.procedures.breakage:Breakage", ""),
    "breakage-threshold": Listed(
        "Breakage threshold", "nonna.procedures.breakage_threshold:BreakageThreshold", "Setter"
    ),
    "face-level": Listed("Face level", "nonna.procedures.face_level:FaceLevel", "Setter"),
    "loop-closure": Listed("Loop closure", "nonna.procedures.loop_closure:LoopClosure", "Setter and probe"),
    "probe-length": Listed("Probe length", "nonna.procedures.probe_length:ProbeLength", "Probe"),
    "probe-ring": Listed("Probe ring", "nonna.procedures.probe_ring:ProbeRing", "Probe"),
    "repeatability": Listed("Repeatability", "nonna.procedures.repeatability:Repeatability", "Setter"),
    "setter-calibration": Listed(
        "Setter calibration", "nonna.procedures.setter_calibration:SetterCalibration", "Setter"
    ),
    "tip-runout": Listed("Tip run-out", "nonna.procedures.tip_runout:TipRunout", "Probe"),
    "tool-diameter": Listed("Tool diameter", "nonna.procedures.tool_diameter:ToolDiameter", ""),
    "tool-length": Listed("Tool length", "nonna.procedures.tool_length:ToolLength", ""),
    "tooth-runout": Listed("Tooth run-out", "nonna.procedures.tooth_runout:ToothRunout", ""),
    "work-offset": Listed("Work offset", "nonna.procedures.work_offset:WorkOffset", "Part"),
}
