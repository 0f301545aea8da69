"""The list of procedures: one line each. Imports nothing slow, so that the first picture may use it."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.shop.subjects import ANY, ARTEFACT, PART, PROBE, SETTER, SETTER_AND_PROBE, Subject, SubjectKind


@dataclass(frozen=True, slots=True)
class Listed:
    """A procedure in the list: what it is called, where it is, and what it is usually done on (ANY: on each tool)."""

    title: str
    where: str
    subject: Subject


PROCEDURES = {
    "artefact-check": Listed("Artefact check", "nonna.procedures.artefact_check:ArtefactCheck", ARTEFACT),
    "beam-level": Listed("Beam level", "nonna.procedures.beam_level:BeamLevel", Subject(SubjectKind.BEAM_SETTER)),
    "breakage": Listed("Breakage", "nonna.procedures.breakage:Breakage", ANY),
    "breakage-threshold": Listed("Breakage threshold", "nonna.procedures.breakage_threshold:BreakageThreshold", SETTER),
    "face-level": Listed("Face level", "nonna.procedures.face_level:FaceLevel", SETTER),
    "loop-closure": Listed("Loop closure", "nonna.procedures.loop_closure:LoopClosure", SETTER_AND_PROBE),
    "probe-length": Listed("Probe length", "nonna.procedures.probe_length:ProbeLength", PROBE),
    "probe-ring": Listed("Probe ring", "nonna.procedures.probe_ring:ProbeRing", PROBE),
    "repeatability": Listed("Repeatability", "nonna.procedures.repeatability:Repeatability", SETTER),
    "setter-calibration": Listed("Setter calibration", "nonna.procedures.setter_calibration:SetterCalibration", SETTER),
    "tip-runout": Listed("Tip run-out", "nonna.procedures.tip_runout:TipRunout", PROBE),
    "tool-diameter": Listed("Tool diameter", "nonna.procedures.tool_diameter:ToolDiameter", ANY),
    "tool-length": Listed("Tool length", "nonna.procedures.tool_length:ToolLength", ANY),
    "tooth-runout": Listed("Tooth run-out", "nonna.procedures.tooth_runout:ToothRunout", ANY),
    "work-offset": Listed("Work offset", "nonna.procedures.work_offset:WorkOffset", PART),
}
