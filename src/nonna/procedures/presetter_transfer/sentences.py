"""Presetter transfer: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("presetter-transfer")


SENTENCES = {
    "found": "The machine finds tools {transfer:signed} against the presetter. One more, corrected: ± {U:small}.",
    "trend": "The difference grows with the length, {slope:1f} ppm: take the line instead of one offset.",
    "line": "By the line: {slope:1f} ppm of the length. It holds from the shortest to the longest of these tools.",
    "pass": "Sign it: lengths from the presetter are good enough for this machine.",
    "none": "Sign it.",
    "fail": "That is not good enough: calibrate presetter and setter, seat the tools again, or measure on the machine.",
}
