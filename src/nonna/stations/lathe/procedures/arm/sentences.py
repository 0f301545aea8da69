"""Arm calibration: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("lathe-arm")


SENTENCES = {
    "found": "{count} faces found, the first ± {U:small}. Touches of one face agree within {range:small}.",
    "pass": "Sign it, swing the arm in, then set the tips.",
    "none": "Sign it, swing the arm in, then set the tips.",
    "fail": "Swing the arm in and out, wipe its stylus and the tip, and touch again: a chip, or it does not seat.",
}
