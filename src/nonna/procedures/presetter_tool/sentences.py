"""Tool on the presetter: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("presetter-tool")


SENTENCES = {
    "length": "Length {value:length}, ± {U:small}, put right by the calibration.",
    "diameter": "Diameter {value:length}, ± {U:small}, put right by the calibration.",
    "pass": "Sign it; the machine that takes the tool adds its own transfer.",
    "none": "Sign it; the machine that takes the tool adds its own transfer.",
    "fail": "Is it the right tool, well seated and clean? If so, sign it and tell the next shift.",
    "undecided": "Measure it again, or sign it as it is.",
}
