"""Readings files that many tests begin with, and the day on which all of them happen."""

from datetime import datetime, timedelta, timezone

TOOL = {
    "format": "nonna-readings/1",
    "procedure": "tool-length",
    "setup": {"trigger_plane_mm": -452.4, "trigger_plane_u_mm": 0.0006, "expected_mm": 112.418, "limit_mm": 0.02},
    "readings": [{"position_mm": -339.981}, {"position_mm": -339.9805}, {"position_mm": -339.9812}],
}


SETTER = {
    "format": "nonna-readings/1",
    "procedure": "setter-calibration",
    "conditions": {"temperature_c": 21.4, "temperature_u_c": 0.3},
    "masters": {
        "master": {
            "length_mm": 140.0032,
            "U_length_mm": 0.0008,
            "diameter_mm": 16.0006,
            "U_diameter_mm": 0.0008,
            "k": 2,
            "cte_per_k": 11.5e-6,
            "cte_u_per_k": 1e-6,
        }
    },
    "setup": {"limit_range_mm": 0.003},
    "readings": [
        *({"face": "top", "position_mm": z} for z in (-312.4, -312.401, -312.4004)),
        *({"face": "+x", "position_mm": x} for x in (735.0, 735.0006)),
        *({"face": "-x", "position_mm": x} for x in (705.001, 705.0004)),
    ],
}


REPEAT = {
    "format": "nonna-readings/1",
    "procedure": "repeatability",
    "setup": {"limit_2s_mm": 0.003},
    "readings": [{"value_mm": v} for v in (0.001, 0.0012, 0.0009, 0.0011, 0.0008, 0.0013, 0.0007)],
}


START = datetime(2026, 11, 25, 10, 0, tzinfo=timezone(timedelta(hours=1)))
