"""The list of procedures: one line each, and those that a kind of station brings along. Imports nothing slow."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from functools import cache
from pathlib import Path
from typing import NamedTuple

from nonna.shop.kinds import station_folders
from nonna.shop.subjects import (
    ANY,
    ARTEFACT,
    PART,
    PRESETTER,
    PROBE,
    RACK,
    SETTER,
    SETTER_AND_PROBE,
    Subject,
    SubjectKind,
)


class Listed(NamedTuple):
    """A procedure in the list: what it is called, where it is, and what it is usually done on (ANY: on each tool)."""

    title: str
    where: str
    subject: Subject
    kind: str = ""  #: the kind of station it belongs to alone, "" for all


_SHARED = {
    "artefact-check": Listed("Artefact check", "nonna.procedures.artefact_check:ArtefactCheck", ARTEFACT),
    "beam-level": Listed("Beam level", "nonna.procedures.beam_level:BeamLevel", Subject(SubjectKind.BEAM_SETTER)),
    "breakage": Listed("Breakage", "nonna.procedures.breakage:Breakage", ANY),
    "breakage-threshold": Listed("Breakage threshold", "nonna.procedures.breakage_threshold:BreakageThreshold", SETTER),
    "face-level": Listed("Face level", "nonna.procedures.face_level:FaceLevel", SETTER),
    "gauge-study": Listed(
        "Gauge study", "nonna.procedures.gauge_study:GaugeStudy", Subject(SubjectKind.OTHER, "Gauge")
    ),
    "loop-closure": Listed("Loop closure", "nonna.procedures.loop_closure:LoopClosure", SETTER_AND_PROBE),
    "presetter-calibration": Listed(
        "Presetter calibration", "nonna.procedures.presetter_calibration:PresetterCalibration", PRESETTER
    ),
    "presetter-tool": Listed("Tool on the presetter", "nonna.procedures.presetter_tool:PresetterTool", ANY),
    "presetter-transfer": Listed(
        "Presetter transfer", "nonna.procedures.presetter_transfer:PresetterTransfer", PRESETTER
    ),
    "probe-length": Listed("Probe length", "nonna.procedures.probe_length:ProbeLength", PROBE),
    "probe-ring": Listed("Probe ring", "nonna.procedures.probe_ring:ProbeRing", PROBE),
    "rack-pockets": Listed("Rack pockets", "nonna.procedures.rack_pockets:RackPockets", RACK),
    "repeatability": Listed("Repeatability", "nonna.procedures.repeatability:Repeatability", SETTER),
    "setter-calibration": Listed("Setter calibration", "nonna.procedures.setter_calibration:SetterCalibration", SETTER),
    "tip-runout": Listed("Tip run-out", "nonna.procedures.tip_runout:TipRunout", PROBE),
    "tool-diameter": Listed("Tool diameter", "nonna.procedures.tool_diameter:ToolDiameter", ANY),
    "tool-from-presetter": Listed(
        "Tool from the presetter", "nonna.procedures.tool_from_presetter:ToolFromPresetter", ANY
    ),
    "tool-length": Listed("Tool length", "nonna.procedures.tool_length:ToolLength", ANY),
    "tooth-runout": Listed("Tooth run-out", "nonna.procedures.tooth_runout:ToothRunout", ANY),
    "trigger-latency": Listed("Trigger latency", "nonna.procedures.trigger_latency:TriggerLatency", SETTER),
    "work-offset": Listed("Work offset", "nonna.procedures.work_offset:WorkOffset", PART),
}


class _Listing(Mapping[str, Listed]):
    """The shared procedures, and those in ``procedures.json`` of each station's folder (title, where, subject)."""

    def __getitem__(self, name: str) -> Listed:
        return _SHARED[name] if name in _SHARED else self._own()[name]

    def __iter__(self) -> Iterator[str]:
        yield from _SHARED
        yield from self._own()

    def __len__(self) -> int:
        return len(_SHARED) + len(self._own())

    def _own(self) -> dict[str, Listed]:
        return _of_folders(station_folders())


@cache
def _of_folders(folders: tuple[Path, ...]) -> dict[str, Listed]:
    found: dict[str, Listed] = {}
    for folder in folders:
        found |= _of_folder(folder / "procedures.json")
    return found


@cache
def _of_folder(file: Path) -> dict[str, Listed]:
    if not file.is_file():
        return {}
    rows = json.loads(file.read_text(encoding="utf-8"))
    return {
        name: Listed(row["title"], row["where"], Subject.of(row["subject"]), file.parent.name)
        for name, row in rows.items()
        if name not in _SHARED  # a shared one keeps its meaning everywhere
    }


PROCEDURES: Mapping[str, Listed] = _Listing()
