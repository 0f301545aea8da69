"""What a presetter is asked, and the files that follow."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.shop.texts.given import Plain
from nonna.stations.questions import Answer, Founded, SetUpQuestion, answered

_SLIDES = "On its plate, or move the slide from end to end and read the display."

QUESTIONS = (
    SetUpQuestion("travel_x", "How far does its X go?", _SLIDES, "What can be measured on it.", least=20.0,
        most=2_000.0, needed=True),
    SetUpQuestion("travel_z", "How far does its Z go?", _SLIDES, "What can be measured on it.", least=20.0,
        most=3_000.0, needed=True),
    SetUpQuestion("x_shows", "Does X show diameter or radius?", "Put in a master of known diameter and read it.",
        "Half or whole is a wrong tool.", "choice", "diameter", choices=("diameter", "radius")),
    SetUpQuestion("resolution", "What is the last digit of its display?", "Look at it.",
        "No reading is better than that.", usual=0.001, least=0.0, most=0.1),
)  # fmt: skip


def founded(kind: str, name: str, answers: Mapping[str, Answer | None]) -> Founded:
    """Return a presetter's files from the answers (mm). Raises: NonnaError naming a needed answer that is missing."""
    got = answered(QUESTIONS, answers)
    machine: dict[str, Plain] = {
        "format": "nonna-machine/1", "name": name, "kind": kind,
        "travel_mm": {"x": [0.0, got["travel_x"]], "y": [0.0, 1.0], "z": [0.0, got["travel_z"]]},
        "rapid_mm_min": {"xy": 3000.0, "z": 3000.0}, "acceleration_mm_s2": {"xy": 300.0, "z": 300.0},
        "repeatability_mm": 0.001, "setter": None,
    }  # fmt: skip
    card = {"name": f"Presetter {name}", "machine": name, "x_shows": got["x_shows"], "resolution_mm": got["resolution"]}
    return Founded(machine, {"presetters": (card,)})
