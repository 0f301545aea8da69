"""Tip on the arm: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("lathe-tip")


SENTENCES = {
    "offset": "{axis} offset {value:length}, ± {U:small}.",
    "plain": "{axis} offset {value:length}, taken from the centre line.",
    "change": "{axis} changed by {d:signed} against the last offset.",
    "pass": "Sign it and load the offset.",
    "none": "Sign it and load the offset.",
    "flank": "Z is the tool's axis, half way between its flanks; across them it is {width:length}.",
    "fail": "Too much for a change: is it the right insert or tool, does it sit flat, is the seat clean? Then touch "
    "again.",
    "undecided": "Touch it once more.",
}
