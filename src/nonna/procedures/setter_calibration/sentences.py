"""Setter calibration: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("setter-calibration")


SENTENCES = {
    "plane-none": (_PLANE := "Trigger plane at {plane:length}, ± {U:small}."),
    "plane-pass": _PLANE + " The touches agree within {range:small}.",
    "plane-fail": _PLANE + " The touches differ by {range:small}, over {limit:small}.",
    "plane-undecided": _PLANE + " One touch has no range.",
    "centre-none": (_CENTRE := "Centre and width found."),
    "centre-pass": _CENTRE + " The touches agree within {range:small}.",
    "centre-fail": _CENTRE + " The touches differ by {range:small}, over {limit:small}.",
    "centre-undecided": _CENTRE + " One touch has no range.",
    "more-touches": "More touches on top would lower the doubt most.",
    "mostly": "Most of the doubt is the {source}, {percent:0f} %: more touches would not help.",
    "relative": "Relative school: tools agree with each other, not with the world.",
    "pass": "Sign it, then measure the tools.",
    "none": "Sign it, then measure the tools.",
    "fail": "Clean pad and master and start again.",
    "undecided": "Touch the top again.",
}
