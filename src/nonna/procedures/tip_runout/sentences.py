"""Tip run-out: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("tip-runout")


SENTENCES = {
    "found-none": "Run-out {runout:small}, ± {U:small}.",
    "found-pass": "Run-out {runout:small}, within {limit:small} even with its doubt.",
    "found-fail": "Run-out {runout:small}, over {limit:small}.",
    "found-undecided": "Run-out {runout:small}; the doubt of ± {U:small} leaves {limit:small} open.",
    "tighten": "{screw} screw under the dial: tighten, until the dial drops {drop:small}.",
    "tighten-ease": "{screw} screw under the dial: tighten, ease {other}, until the dial drops {drop:small}.",
    "tighten-key": "{screw} screw under the dial: tighten, until the dial drops {drop:small} (about {key:0f}° of key).",
    "tighten-ease-key": "{screw} screw under the dial: tighten, ease {other}, until the dial drops {drop:small} "
    "(about {key:0f}° of key).",
    "clean": "Take it out, clean taper, shank and ball, look for burrs, and measure again.",
    "form": "{form:small} of it is form, not eccentricity: no screw will help that.",
    "more-angles": "Measure more angles.",
    "turn-round": "Take it out, clean taper and shank, turn it half round in the holder and measure again.",
    "finer-dial": "Measure more angles, or with a finer dial.",
    "never-more": "Never more than {half:small}: half the run-out is all there is.",
    "not-smaller": "It is not getting smaller. Is a screw loose, or already at its end?",
    "one-more": "One more pass should do.",
    "more-passes": "About {passes} more passes at this rate.",
    "sign": "Sign it.",
}
